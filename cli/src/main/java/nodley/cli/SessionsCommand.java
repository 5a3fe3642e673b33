package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Lists and ends sessions. */
@Command(
    name = "sessions",
    header = "Lists who is signed in, and ends sessions.",
    description = "Without more, lists them: an admin's key sees all, another its own.",
    subcommands = {SessionsCommand.ListAll.class, SessionsCommand.End.class},
    footerHeading = "%nExamples:%n",
    footer = {"  nodley sessions", "  nodley sessions end 3f9c1d27a0b4e685"})
final class SessionsCommand extends ServiceCommand {

  @Override
  public Integer call() {
    list(this);
    return Cli.ACCEPTED;
  }

  private static void list(ServiceCommand command) {
    JsonNode reply = command.client().get("/sessions");
    if (command.printedJson(reply)) {
      return;
    }
    if (reply.path("sessions").isEmpty()) {
      command.out().println("Nobody is signed in.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("SESSION", "WHO", "BY", "BEGUN", "LAST USED", "FROM"));
    for (JsonNode session : reply.path("sessions")) {
      rows.add(
          List.of(
              session.path("id").asString(),
              session.path("caller").asString(),
              session.path("by").asString(),
              session.path("begunAt").asString(),
              session.path("usedAt").asString(),
              session.path("address").asString()));
    }
    Table.print(rows, command.out());
  }

  /** {@code nodley sessions list}. */
  @Command(name = "list", description = "Lists who is signed in, from where, since when.")
  static final class ListAll extends ServiceCommand {

    @Override
    public Integer call() {
      list(this);
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley sessions end}. */
  @Command(
      name = "end",
      description = "Ends a session at once.",
      footerHeading = "%nExample:%n",
      footer = "  nodley sessions end 3f9c1d27a0b4e685")
  static final class End extends ServiceCommand {

    @Parameters(paramLabel = "SESSION", description = "Its id, as nodley sessions lists it.")
    private String id;

    @Override
    public Integer call() {
      client().delete("/sessions/" + Client.part(id));
      if (!json()) {
        out().println("The session has ended.");
      }
      return Cli.ACCEPTED;
    }
  }
}
