package nodley.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley drop}: removes a record. */
@Command(
    name = "drop",
    description = "Removes a record.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley drop vessel 0199…                  (for good)",
      "  nodley drop vessel 0199… --restorable     (nodley removed puts it back)"
    })
final class DropCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1", paramLabel = "ID", description = "The id of the record.")
  private String id;

  @Option(names = "--restorable", description = "Let it be put back for a while.")
  private boolean restorable;

  @Override
  public Integer call() {
    String path = "/forms/" + Client.part(name) + "/records/" + Client.part(id);
    Client client = client();
    JsonNode record = client.get(path);
    client.delete(path + (restorable ? "?restorable=true" : ""), record.path("version").asLong());
    if (!printedJson(record)) {
      out().println(record.path("called").asString() + " is removed.");
      if (restorable) {
        out().println("To put it back: nodley removed " + name + " " + id + " --restore");
      }
    }
    return Cli.ACCEPTED;
  }
}
