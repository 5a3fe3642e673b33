package nodley.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
    name = "drop",
    description = "Removes a record, which can be put back for a while: nodley removed.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley drop vessel 0199…"})
final class DropCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1", paramLabel = "ID", description = "The id of the record.")
  private String id;

  @Override
  public Integer call() {
    String path = "/forms/" + Client.part(name) + "/records/" + Client.part(id);
    Client client = client();
    JsonNode record = client.get(path);
    client.delete(path, record.path("version").asLong());
    if (!printedJson(record)) {
      out().println(record.path("called").asString() + " is removed.");
    }
    return Cli.ACCEPTED;
  }
}
