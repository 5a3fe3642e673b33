package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley records}: lists records, newest first unless they are sorted. */
@Command(
    name = "records",
    description = "Lists records, newest first unless they are sorted.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley records vessel",
      "  nodley records vessel --q heron --limit 5",
      "  nodley records visit --where 'nights > 3 and vessel.length < 20' --sort=-arrives",
      "  nodley records vessel --cursor MDE5…               (the page after)"
    })
final class RecordsCommand extends ServiceCommand {

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "50",
      description = "How many, from 1 to 1000. Default: ${DEFAULT-VALUE}.")
  private int limit;

  @Option(names = "--q", paramLabel = "WORDS", description = "Only records whose text has this.")
  private String words;

  @Option(
      names = "--where",
      paramLabel = "CONDITION",
      description = "Only records for which an expression holds.")
  private String where;

  @Option(
      names = "--sort",
      paramLabel = "FIELDS",
      description = "By these fields, with commas between them; a - before one turns it round.")
  private String sort;

  @Option(names = "--cursor", paramLabel = "CURSOR", description = "Where the page begins.")
  private String cursor;

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Override
  public Integer call() {
    String query = "?limit=" + limit;
    if (words != null) {
      query += "&q=" + Client.part(words);
    }
    if (where != null) {
      query += "&where=" + Client.part(where);
    }
    if (sort != null) {
      query += "&sort=" + Client.part(sort);
    }
    if (cursor != null) {
      query += "&cursor=" + Client.part(cursor);
    }
    JsonNode page = client().get("/forms/" + Client.part(name) + "/records" + query);
    if (!printedJson(page)) {
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("ID", "CALLED", "VERSION", "SAVED"));
      for (JsonNode record : page.path("records")) {
        rows.add(
            List.of(
                record.path("id").asString(),
                record.path("called").asString(),
                record.path("version").asString(),
                record.path("updatedAt").asString()));
      }
      if (rows.size() == 1) {
        out().println("No records.");
      } else {
        Table.print(rows, out());
      }
      if (page.has("next")) {
        out().println("There are more: --cursor " + page.path("next").asString());
      }
    }
    return Cli.ACCEPTED;
  }
}
