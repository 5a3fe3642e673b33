package nodley.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley add}: adds a record. */
@Command(
    name = "add",
    description = "Adds a record.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley add vessel name='Grey Heron' callSign=MQ7AB rig=sail length=11.4 insured=yes",
      "  nodley add berth code=A9 pontoon=north length=14 depth=2.8 --json",
      "  nodley add incident sort=spill photos=@quay.jpg photos=@oil.jpg account='…'"
    })
final class AddCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1..*", paramLabel = "field=value", description = "The values.")
  private List<String> values = List.of();

  @Override
  public Integer call() {
    Client client = client();
    String path = "/forms/" + Client.part(name);
    JsonNode record =
        client.post(
            path + "/records",
            TypedValues.of(values, client.get(path), commands(), files(client, name)));
    if (!printedJson(record)) {
      out().println(record.path("after").path("say").asString());
      out().println(record.path("id").asString());
    }
    return Cli.ACCEPTED;
  }
}
