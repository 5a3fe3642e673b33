package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/**
 * {@code nodley removed}: lists the records that were removed lately and can be put back, puts one
 * back, or forgets one for good.
 */
@Command(
    name = "removed",
    description =
        "Lists the records that were removed lately and can be put back, puts one back, or forgets"
            + " one for good.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley removed vessel",
      "  nodley removed vessel 0199… --restore     (as it was, at its version)",
      "  nodley removed vessel 0199… --forget      (before its time is over)"
    })
final class RemovedCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Parameters(
      index = "1",
      arity = "0..1",
      paramLabel = "ID",
      description = "The id of a removed record.")
  private String id;

  @Option(names = "--restore", description = "Put the record back.")
  private boolean restore;

  @Option(names = "--forget", description = "Forget the record for good.")
  private boolean forget;

  @Override
  public Integer call() {
    if (id == null ? restore || forget : restore == forget) {
      throw new ParameterException(
          commands(),
          id == null
              ? "Say which record: nodley removed " + name + " ID"
              : "Say one of --restore and --forget.");
    }
    String path = "/forms/" + Client.part(name) + "/removed";
    if (id == null) {
      list(path);
    } else if (restore) {
      JsonNode record = client().post(path + "/" + Client.part(id) + "/restore");
      if (!printedJson(record)) {
        out().println(record.path("called").asString(id) + " is back.");
      }
    } else {
      JsonNode reply = client().delete(path + "/" + Client.part(id));
      if (!printedJson(reply)) {
        out().println("It is forgotten for good.");
      }
    }
    return Cli.ACCEPTED;
  }

  private void list(String path) {
    JsonNode reply = client().get(path + "?limit=1000");
    if (printedJson(reply)) {
      return;
    }
    if (reply.path("removed").isEmpty()) {
      out().println("Nothing was removed lately.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("ID", "CALLED", "REMOVED", "BY", "CAN BE PUT BACK UNTIL"));
    for (JsonNode it : reply.path("removed")) {
      rows.add(
          List.of(
              it.path("id").asString(),
              it.path("called").asString(""),
              it.path("removedAt").asString(),
              it.path("removedBy").asString(),
              it.path("until").asString()));
    }
    Table.print(rows, out());
  }
}
