package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Lists, adds, changes and removes the people who sign in with a password. */
@Command(
    name = "people",
    header = "Lists, adds, changes and removes the people who sign in.",
    description = "Without more, lists them. Needs a key with the role admin.",
    subcommands = {
      PeopleCommand.ListAll.class,
      PeopleCommand.Add.class,
      PeopleCommand.Change.class,
      PeopleCommand.Link.class,
      PeopleCommand.Remove.class
    },
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley people",
      "  nodley people add ann --email ann@harbour.example --role clerk",
      "  nodley people change ann --role clerk --role author",
      "  nodley people link ann",
      "  nodley people remove ann"
    })
final class PeopleCommand extends ServiceCommand {

  private static final String ROLE =
      "admin, author, operator, or a role that forms name. More than one: again.";

  @Override
  public Integer call() {
    list(this);
    return Cli.ACCEPTED;
  }

  private static void list(ServiceCommand command) {
    JsonNode reply = command.client().get("/people");
    if (command.printedJson(reply)) {
      return;
    }
    if (reply.path("people").isEmpty()) {
      command
          .out()
          .println("Nobody signs in with a password yet. Add somebody: nodley people add NAME");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("NAME", "E-MAIL", "ROLES", "PASSWORD", "SIGNED IN"));
    for (JsonNode person : reply.path("people")) {
      rows.add(
          List.of(
              person.path("name").asString(),
              person.path("email").asString(),
              Table.or(Table.words(person.path("roles")), "none"),
              person.path("hasPassword").asBoolean() ? "set" : "not yet",
              person.path("signedInAt").asString("never")));
    }
    Table.print(rows, command.out());
  }

  private static String path(String name) {
    return "/people/" + Client.part(name);
  }

  private static void printLink(ServiceCommand command, JsonNode reply) {
    command.out().println("  " + reply.path("link").asString());
    command.out().println();
    command
        .out()
        .println(
            "It is shown this once, and is good for one use until "
                + reply.path("until").asString()
                + ".");
  }

  private static void printWarnings(ServiceCommand command, JsonNode reply) {
    for (JsonNode warning : reply.path("warnings")) {
      command.out().println("Warning: " + warning.asString());
    }
  }

  /** {@code nodley people list}. */
  @Command(name = "list", description = "Lists the people: their roles, and when they signed in.")
  static final class ListAll extends ServiceCommand {

    @Override
    public Integer call() {
      list(this);
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley people add}. */
  @Command(
      name = "add",
      description =
          "Adds somebody, and prints a link where they set their password. Without --role they may"
              + " do what a form gives to signed-in.",
      footerHeading = "%nExample:%n",
      footer = "  nodley people add ann --email ann@harbour.example --role clerk")
  static final class Add extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "What they sign in with.")
    private String name;

    @Option(
        names = "--email",
        paramLabel = "ADDRESS",
        description = "An address, with which they may sign in as well.")
    private String email = "";

    @Option(names = "--role", paramLabel = "ROLE", description = ROLE)
    private List<String> roles = List.of();

    @Override
    public Integer call() {
      Map<String, Object> values = new LinkedHashMap<>();
      values.put("name", name);
      values.put("email", email);
      values.put("roles", roles);
      JsonNode reply = client().post("/people", JsonMapper.shared().valueToTree(values));
      if (!printedJson(reply)) {
        String given = Table.words(reply.path("roles"));
        out()
            .println(
                reply.path("name").asString()
                    + (given.isEmpty() ? ", without a role," : ", with the role " + given + ",")
                    + " sets a password here:");
        out().println();
        printLink(this, reply);
        printWarnings(this, reply);
      }
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley people change}. */
  @Command(
      name = "change",
      description =
          "Gives somebody other roles or another address, at once. What is not named stays.",
      footerHeading = "%nExamples:%n",
      footer = {
        "  nodley people change ann --role clerk --role author",
        "  nodley people change ann --no-roles --email ann@office.example"
      })
  static final class Change extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The person's name.")
    private String name;

    @Option(names = "--email", paramLabel = "ADDRESS", description = "The address from now on.")
    private String email;

    @Option(names = "--role", paramLabel = "ROLE", description = ROLE)
    private List<String> roles;

    @Option(names = "--no-roles", description = "Takes all roles away.")
    private boolean noRoles;

    @Override
    public Integer call() {
      JsonNode before = client().get(path(name));
      Map<String, Object> values = new LinkedHashMap<>();
      values.put("email", email == null ? before.path("email").asString() : email);
      values.put(
          "roles",
          noRoles
              ? List.of()
              : roles == null
                  ? before.path("roles").valueStream().map(JsonNode::asString).toList()
                  : roles);
      JsonNode reply = client().put(path(name), JsonMapper.shared().valueToTree(values));
      if (!printedJson(reply)) {
        String given = Table.words(reply.path("roles"));
        out()
            .println(
                reply.path("name").asString()
                    + (given.isEmpty() ? " has no role" : " has the role " + given)
                    + (reply.path("email").asString().isEmpty()
                        ? "."
                        : ", and the address " + reply.path("email").asString() + "."));
        printWarnings(this, reply);
      }
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley people link}. */
  @Command(
      name = "link",
      description = "Prints a new link to set a password, such as for one that was forgotten.",
      footerHeading = "%nExample:%n",
      footer = "  nodley people link ann")
  static final class Link extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The person's name.")
    private String name;

    @Override
    public Integer call() {
      JsonNode reply = client().post(path(name) + "/link");
      if (!printedJson(reply)) {
        out().println(reply.path("name").asString() + " sets a password here:");
        out().println();
        printLink(this, reply);
      }
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley people remove}. */
  @Command(
      name = "remove",
      description = "Removes somebody at once, with their sessions. Their records stay.",
      footerHeading = "%nExample:%n",
      footer = "  nodley people remove ann")
  static final class Remove extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The person's name.")
    private String name;

    @Override
    public Integer call() {
      client().delete(path(name));
      if (!json()) {
        out().println(name + " can sign in no longer.");
      }
      return Cli.ACCEPTED;
    }
  }
}
