package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import tools.jackson.databind.JsonNode;

/** Lists the services outside that are asked about submissions. */
@Command(
    name = "asks",
    header = "Lists the services that are asked about submissions.",
    description = "Those that the settings have, what each said last, and which rest.",
    footerHeading = "%nExample:%n",
    footer = "  nodley asks")
final class AsksCommand extends ServiceCommand {

  @Override
  public Integer call() {
    JsonNode reply = client().get("/asks");
    if (printedJson(reply)) {
      return Cli.ACCEPTED;
    }
    if (reply.path("asks").isEmpty()) {
      out().println("The settings have nobody to ask.");
      return Cli.ACCEPTED;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("NAME", "WHERE", "STATE", "ASKED", "SAID"));
    for (JsonNode ask : reply.path("asks")) {
      rows.add(
          List.of(
              ask.path("name").asString(),
              ask.path("where").asString(),
              ask.path("resting").asBoolean() ? "rests, it did not answer" : "is asked",
              ask.path("asked").asString(""),
              ask.path("said").asString("")));
    }
    Table.print(rows, out());
    return Cli.ACCEPTED;
  }
}
