package nodley.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley check}: asks for a verdict on values; nothing is kept. */
@Command(
    name = "check",
    description = "Asks for a verdict on values; nothing is kept.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley check vessel name='Grey Heron' callSign=MQ7AB rig=sail length=11.4",
      "  nodley check vessel --fields callSign callSign=mq-7ab",
      "  nodley check vessel --record 0199… name='Grey Heron' …      (as an edit of it)"
    })
final class CheckCommand extends ServiceCommand {

  @Option(
      names = "--fields",
      paramLabel = "A,B",
      description = "Speak only of these fields, not of the whole submission.")
  private String fields;

  @Option(
      names = "--record",
      paramLabel = "ID",
      description = "Check as an edit of this record, whose own values are not taken.")
  private String record;

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1..*", paramLabel = "field=value", description = "The values.")
  private List<String> values = List.of();

  @Override
  public Integer call() {
    String query = "";
    if (fields != null) {
      query += "&fields=" + Client.part(fields);
    }
    if (record != null) {
      query += "&record=" + Client.part(record);
    }
    Client client = client();
    String path = "/forms/" + Client.part(name);
    JsonNode verdict =
        client.post(
            path + "/checks" + query.replaceFirst("&", "?"),
            TypedValues.of(values, client.get(path), commands(), files(client, name)));
    boolean accepted = verdict.path("verdict").asString().equals("accepted");
    if (!printedJson(verdict)) {
      out().println(accepted ? "Accepted; nothing was kept." : "Refused.");
      Errors.print(verdict.path("errors"), out());
      verdict.path("unasked").forEach(it -> out().println("  not asked: " + it.asString()));
    }
    return accepted ? Cli.ACCEPTED : Cli.REFUSED;
  }
}
