package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import tools.jackson.databind.JsonNode;

/** {@code nodley forms}: lists the forms. */
@Command(
    name = "forms",
    description = "Lists the forms.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley forms", "  nodley forms --json"})
final class FormsCommand extends ServiceCommand {

  @Override
  public Integer call() {
    JsonNode reply = client().get("/forms");
    if (!printedJson(reply)) {
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("FORM", "TITLE", "REVISION", "FIELDS", "RECORDS"));
      for (JsonNode form : reply.path("forms")) {
        rows.add(
            List.of(
                form.path("form").asString(),
                form.path("title").asString(),
                form.path("revision").asString(),
                form.path("fields").asString(),
                (form.path("estimated").asBoolean() ? "about " : "")
                    + form.path("records").asString("")));
      }
      Table.print(rows, out());
      if (rows.size() == 1) {
        out().println("No form is open to you. Publish one: nodley publish FILE");
      }
    }
    return Cli.ACCEPTED;
  }
}
