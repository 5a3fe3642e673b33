package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import tools.jackson.databind.JsonNode;

/** Lists the databases in which forms look things up. */
@Command(
    name = "sources",
    header = "Lists the databases in which forms look things up.",
    description = "Those that the settings have, what came of the last question, and which rest.",
    footerHeading = "%nExample:%n",
    footer = "  nodley sources")
final class SourcesCommand extends ServiceCommand {

  @Override
  public Integer call() {
    JsonNode reply = client().get("/sources");
    if (printedJson(reply)) {
      return Cli.ACCEPTED;
    }
    if (reply.path("sources").isEmpty()) {
      out().println("The settings have no database to look things up in.");
      return Cli.ACCEPTED;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("NAME", "WHERE", "STATE", "ASKED", "SAID"));
    for (JsonNode source : reply.path("sources")) {
      rows.add(
          List.of(
              source.path("name").asString(),
              source.path("where").asString(),
              source.path("resting").asBoolean() ? "rests, it did not answer" : "is asked",
              source.path("asked").asString(""),
              source.path("said").asString("")));
    }
    Table.print(rows, out());
    return Cli.ACCEPTED;
  }
}
