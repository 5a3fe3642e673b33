package nodley.cli;

import java.io.Console;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine;
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
      PeopleCommand.Remove.class,
      PeopleCommand.Export.class,
      PeopleCommand.Forget.class
    },
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley people",
      "  nodley people add ann --email ann@harbour.example --role clerk",
      "  nodley people change ann --role clerk --role author",
      "  nodley people link ann",
      "  nodley people remove ann",
      "  nodley people export ann ann.zip",
      "  nodley people forget ann"
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
    if (reply.has("mailedTo")) {
      command.out().println("It was mailed to " + reply.path("mailedTo").asString() + ".");
    } else if (reply.has("notMailed")) {
      command
          .out()
          .println(
              "It could not be mailed ("
                  + reply.path("notMailed").asString()
                  + "); hand it over yourself.");
    }
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
      footer = {
        "  nodley people add ann --email ann@harbour.example --role clerk",
        "",
        "Without a key, on the machine with the data folder, while no service runs on it:",
        "  nodley people add ida --role admin --data harbour"
      })
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

  /** {@code nodley people export}. */
  @Command(
      name = "export",
      description =
          "Saves all that is kept of somebody: the person, sessions, records with their versions,"
              + " and what they sent. A zip of JSON files, without secrets.",
      footerHeading = "%nExample:%n",
      footer = "  nodley people export ann ann.zip")
  static final class Export extends ServiceCommand {

    @Parameters(index = "0", paramLabel = "NAME", description = "The person's name, or id.")
    private String name;

    @Parameters(index = "1", paramLabel = "FILE", description = "A file that is not there yet.")
    private Path file;

    @Override
    public Integer call() {
      SavedFile.save(this, path(name) + "/export", file);
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley people forget}. */
  @Command(
      name = "forget",
      description =
          "Removes somebody, and does with their records what each form says by `forget`: removes"
              + " them, makes fields blank, or keeps them as nobody's. It cannot be taken back.",
      footerHeading = "%nExample:%n",
      footer = "  nodley people forget ann --yes")
  static final class Forget extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The person's name, or id.")
    private String name;

    @Option(names = "--yes", description = "Does not ask first.")
    private boolean yes;

    @Override
    public Integer call() {
      if (!yes && !isConfirmed()) {
        return Cli.REFUSED;
      }
      JsonNode reply = client().post(path(name) + "/forget");
      if (!printedJson(reply)) {
        out().println(name + " is forgotten. Of their records:");
        count(reply, "removed", "removed");
        count(reply, "blanked", "with fields made blank");
        count(reply, "kept", "kept, and nobody's");
        count(reply, "referred", "kept, since records of others refer to them");
      }
      return Cli.ACCEPTED;
    }

    private boolean isConfirmed() {
      // There is none where the input is no terminal, and it may be another program's.
      Console console =
          Optional.ofNullable(System.console())
              .filter(Console::isTerminal)
              .orElseThrow(
                  () ->
                      new CommandLine.ParameterException(
                          commands(),
                          "This cannot be taken back, and there is no terminal to ask at: say"
                              + " --yes."));
      String answer = console.readLine("Forget %s, for good? [y/N] ", name);
      return answer != null && answer.strip().equalsIgnoreCase("y");
    }

    private void count(JsonNode reply, String member, String what) {
      out().println("  " + reply.path(member).asInt() + " " + what);
    }
  }
}
