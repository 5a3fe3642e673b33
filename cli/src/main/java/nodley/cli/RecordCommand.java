package nodley.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley record}: shows one record. */
@Command(
    name = "record",
    description = "Shows one record.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley record vessel 0199…", "  nodley record vessel 0199… --json"})
final class RecordCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1", paramLabel = "ID", description = "The id of the record.")
  private String id;

  @Override
  public Integer call() {
    JsonNode record = client().get("/forms/" + Client.part(name) + "/records/" + Client.part(id));
    if (!printedJson(record)) {
      out().println(record.path("called").asString());
      Table.print(FieldValues.lines(record.path("values")), out());
      out()
          .println(
              "Version "
                  + record.path("version").asString()
                  + ", saved "
                  + record.path("updatedAt").asString()
                  + confirmed(record.path("confirmedAt").asString("")));
    }
    return Cli.ACCEPTED;
  }

  private static String confirmed(String at) {
    return at.isEmpty() ? "" : ", address confirmed " + at;
  }
}
