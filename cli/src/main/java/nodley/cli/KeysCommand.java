package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Makes, lists and ends keys of programs. */
@Command(
    name = "keys",
    header = "Makes, lists and ends the keys of programs.",
    description = "Without more, lists them. Needs a key with the role admin.",
    subcommands = {KeysCommand.ListAll.class, KeysCommand.Make.class, KeysCommand.End.class},
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley keys",
      "  nodley keys make night-export --forms vessel,visit --until 2027-06-30",
      "  nodley keys make web-team --role author",
      "  nodley keys end night-export"
    })
final class KeysCommand extends ServiceCommand {

  @Override
  public Integer call() {
    list(this);
    return Cli.ACCEPTED;
  }

  private static void list(ServiceCommand command) {
    JsonNode reply = command.client().get("/keys");
    if (command.printedJson(reply)) {
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("NAME", "ROLES", "FORMS", "UNTIL", "LAST USED"));
    for (JsonNode key : reply.path("keys")) {
      JsonNode use = key.path("lastUse");
      rows.add(
          List.of(
              key.path("name").asString(),
              Table.or(Table.words(key.path("roles")), "none"),
              Table.or(Table.words(key.path("forms")), "all"),
              key.path("until").asString(""),
              use.isMissingNode()
                  ? ""
                  : use.path("day").asString() + " from " + use.path("address").asString()));
    }
    Table.print(rows, command.out());
  }

  /** {@code nodley keys list}. */
  @Command(
      name = "list",
      description = "Lists the keys: their roles, forms, last day, and last use.")
  static final class ListAll extends ServiceCommand {

    @Override
    public Integer call() {
      list(this);
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley keys make}. */
  @Command(
      name = "make",
      description =
          "Makes a key and prints it: this once, for only its digest is stored. Without --role it"
              + " may do on its forms what a form gives to signed-in.",
      footerHeading = "%nExamples:%n",
      footer = {
        "  nodley keys make night-export --forms vessel,visit --until 2027-06-30",
        "  nodley keys make web-team --role author"
      })
  static final class Make extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "What the key is called in lists and logs.")
    private String name;

    @Option(
        names = "--role",
        paramLabel = "ROLE",
        description = "admin, author, operator, or a role that forms name. More than one: again.")
    private List<String> roles = List.of();

    @Option(
        names = "--forms",
        paramLabel = "NAME",
        split = ",",
        description = "For these forms alone, with commas between them.")
    private List<String> forms = List.of();

    @Option(
        names = "--until",
        paramLabel = "DATE",
        description = "The last day that it is good for, such as 2027-06-30 (UTC).")
    private Optional<String> until;

    @Override
    public Integer call() {
      Map<String, Object> values = new LinkedHashMap<>();
      values.put("name", name);
      values.put("roles", roles);
      values.put("forms", forms);
      until.ifPresent(day -> values.put("until", day));
      JsonNode reply = client().post("/keys", JsonMapper.shared().valueToTree(values));
      if (!printedJson(reply)) {
        print(reply);
      }
      return Cli.ACCEPTED;
    }

    private void print(JsonNode key) {
      String roles = Table.words(key.path("roles"));
      String forms = Table.words(key.path("forms"));
      String until = key.path("until").asString("");
      out()
          .println(
              "Key "
                  + key.path("name").asString()
                  + (roles.isEmpty() ? ", without a role" : ", with the role " + roles)
                  + (forms.isEmpty() ? ", for all forms" : ", for " + forms)
                  + (until.isEmpty() ? "" : ", until " + until)
                  + ":");
      out().println();
      out().println("  " + key.path("key").asString());
      out().println();
      out().println("It is shown this once. A program sends it as Authorization: Bearer KEY.");
      for (JsonNode warning : key.path("warnings")) {
        out().println("Warning: " + warning.asString());
      }
    }
  }

  /** {@code nodley keys end}. */
  @Command(
      name = "end",
      description = "Ends a key at once, with the sessions that were opened with it.",
      footerHeading = "%nExample:%n",
      footer = "  nodley keys end night-export")
  static final class End extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The name of the key.")
    private String name;

    @Override
    public Integer call() {
      client().delete("/keys/" + Client.part(name));
      if (!json()) {
        out().println("Key " + name + " has ended.");
      }
      return Cli.ACCEPTED;
    }
  }
}
