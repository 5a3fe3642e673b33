package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

@Command(
    name = "form",
    description = "Shows one form: its fields and their rules.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley form vessel", "  nodley form vessel --json"})
final class FormCommand extends ServiceCommand {

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Override
  public Integer call() {
    JsonNode form = client().get("/forms/" + Client.part(name));
    if (!printedJson(form)) {
      out()
          .println(form.path("form").asString() + ", revision " + form.path("revision").asString());
      form.path("access")
          .propertyStream()
          .forEach(it -> out().println("  " + it.getKey() + ": " + it.getValue().asString()));
      out().println();
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("FIELD", "TYPE", "LABEL", "RULES"));
      for (JsonNode field : form.path("fields")) {
        rows.add(
            List.of(
                field.path("name").asString(),
                field.path("type").asString(),
                field.path("label").asString(),
                String.join(", ", rules(field))));
      }
      Table.print(rows, out());
    }
    return Cli.ACCEPTED;
  }

  private static List<String> rules(JsonNode field) {
    List<String> rules = new ArrayList<>();
    if (field.path("required").asBoolean()) {
      rules.add("required");
    }
    if (field.path("unique").asBoolean()) {
      rules.add("unique");
    }
    for (String limit : List.of("length", "range")) {
      JsonNode span = field.path(limit);
      if (!span.isMissingNode()) {
        rules.add(
            limit
                + " "
                + FieldValues.text(span.path("min"))
                + ".."
                + FieldValues.text(span.path("max")));
      }
    }
    if (field.has("step")) {
      rules.add("step " + FieldValues.text(field.path("step")));
    }
    if (field.has("pattern")) {
      rules.add("pattern");
    }
    if (field.has("refersTo")) {
      rules.add("a " + field.path("refersTo").asString());
    }
    if (field.has("options")) {
      List<String> options = new ArrayList<>();
      field.path("options").forEach(option -> options.add(option.path("value").asString()));
      rules.add(String.join(" | ", options));
    }
    return rules;
  }
}
