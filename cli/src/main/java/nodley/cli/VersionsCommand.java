package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley versions}: tells who changed which field of a record, and puts a version back. */
@Command(
    name = "versions",
    description = "Tells who changed which field of a record, and puts a version back.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley versions vessel 0199…",
      "  nodley versions vessel 0199… --restore 2           (judged like any edit)"
    })
final class VersionsCommand extends ServiceCommand {

  @Option(names = "--restore", paramLabel = "N", description = "Put this version back.")
  private Long restored;

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1", paramLabel = "ID", description = "The id of the record.")
  private String id;

  @Override
  public Integer call() {
    String path = "/forms/" + Client.part(name) + "/records/" + Client.part(id);
    return restored == null ? list(path) : restore(path);
  }

  private int list(String path) {
    JsonNode reply = client().get(path + "/versions");
    if (!printedJson(reply)) {
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("VERSION", "SAVED", "BY", "FIELD", "FROM", "TO"));
      for (JsonNode version : reply.path("versions")) {
        String number = version.path("version").asString();
        String at = version.path("at").asString();
        String by = version.path("by").asString();
        if (version.path("changes").isEmpty()) {
          rows.add(List.of(number, at, by, "", "", ""));
        }
        for (JsonNode change : version.path("changes")) {
          boolean first = !number.isEmpty();
          rows.add(
              List.of(
                  first ? number : "",
                  first ? at : "",
                  first ? by : "",
                  Errors.name(change),
                  FieldValues.text(change.path("from")),
                  FieldValues.text(change.path("to"))));
          number = "";
        }
      }
      Table.print(rows, out());
    }
    return Cli.ACCEPTED;
  }

  private int restore(String path) {
    Client client = client();
    long known = client.get(path).path("version").asLong();
    JsonNode record = client.post(path + "/versions/" + restored + "/restore", known);
    if (!printedJson(record)) {
      out()
          .println(
              record.path("called").asString()
                  + " is as it was in version "
                  + restored
                  + "; that is now version "
                  + record.path("version").asString()
                  + ".");
    }
    return Cli.ACCEPTED;
  }
}
