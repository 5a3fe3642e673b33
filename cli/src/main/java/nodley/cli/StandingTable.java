package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/** How others stand that the service needs, as a table: whether each is asked, and what it said. */
final class StandingTable {

  private StandingTable() {}

  /**
   * Prints what the service tells of them, or its reply as it is if that was asked for.
   *
   * @param name the path of the call, and the name of their list in its reply
   * @param none what is said where the settings have none
   */
  static int print(ServiceCommand command, String name, String none) {
    JsonNode reply = command.client().get("/" + name);
    if (command.printedJson(reply)) {
      return Cli.ACCEPTED;
    }
    if (reply.path(name).isEmpty()) {
      command.out().println(none);
      return Cli.ACCEPTED;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("NAME", "WHERE", "STATE", "ASKED", "SAID"));
    for (JsonNode each : reply.path(name)) {
      rows.add(
          List.of(
              each.path("name").asString(),
              each.path("where").asString(),
              each.path("resting").asBoolean() ? "rests, it did not answer" : "is asked",
              each.path("asked").asString(""),
              each.path("said").asString("")));
    }
    Table.print(rows, command.out());
    return Cli.ACCEPTED;
  }
}
