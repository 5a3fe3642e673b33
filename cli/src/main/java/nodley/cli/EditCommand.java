package nodley.cli;

import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** {@code nodley edit}: changes some values of a record; the others stay. */
@Command(
    name = "edit",
    description = "Changes some values of a record; the others stay.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley edit vessel 0199… crew=4",
      "  nodley edit vessel 0199… notes=                    (makes notes blank)",
      "  nodley edit visit 0199… services=water,power crew[1].name=Bo",
      "  nodley edit visit 0199… crew[2]=                   (takes the third row away)",
      "  nodley edit vessel 0199… crew=4 --if-version 3     (only if it is still at version 3)"
    })
final class EditCommand extends ServiceCommand {

  @Option(
      names = "--if-version",
      paramLabel = "N",
      description = "The version that you know. Default: the one it is at now.")
  private Long version;

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(index = "1", paramLabel = "ID", description = "The id of the record.")
  private String id;

  @Parameters(
      index = "2..*",
      arity = "1..*",
      paramLabel = "field=value",
      description = "What changes.")
  private List<String> values;

  @Override
  public Integer call() {
    String form = "/forms/" + Client.part(name);
    String path = form + "/records/" + Client.part(id);
    Client client = client();
    JsonNode before = client.get(path);
    ObjectNode all =
        TypedValues.changed(before, values, client.get(form), commands(), files(client, name));
    long known = version == null ? before.path("version").asLong() : version;
    JsonNode record = client.put(path, all, known);
    if (!printedJson(record)) {
      out().println(record.path("after").path("say").asString());
      out()
          .println(
              record.path("called").asString()
                  + " is at version "
                  + record.path("version").asString());
    }
    return Cli.ACCEPTED;
  }
}
