package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/**
 * {@code nodley form}: shows one form, its revisions and retired fields, and publishes an earlier
 * revision again.
 */
@Command(
    name = "form",
    description =
        "Shows one form: its fields and their rules, and what it has no longer but keeps.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley form vessel",
      "  nodley form vessel --json",
      "  nodley form vessel --forget draught",
      "  nodley form vessel --revisions",
      "  nodley form vessel --go-back 2                     (published anew, as the next revision)",
      "  nodley form vessel --remove                        (with --records, its records too)"
    })
final class FormCommand extends ServiceCommand {

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Option(
      names = "--forget",
      paramLabel = "FIELD",
      description = "Forgets a field that the form has no longer, with all that it kept.")
  private String forget;

  @Option(names = "--revisions", description = "Lists what the form was published with.")
  private boolean revisions;

  @Option(
      names = "--go-back",
      paramLabel = "N",
      description = "Goes back to the text of revision N.")
  private Integer back;

  @Option(names = "--remove", description = "Removes the form, with its history and texts.")
  private boolean remove;

  @Option(names = "--records", description = "With --remove: with its records, if it has some.")
  private boolean records;

  @Override
  public Integer call() {
    long asked =
        Stream.of(forget != null, revisions, back != null, remove).filter(it -> it).count();
    if (asked > 1 || records && !remove) {
      throw new CommandLine.ParameterException(
          commands(),
          "Say one of --forget, --revisions, --go-back and --remove; --records goes with"
              + " --remove.");
    }
    if (forget != null) {
      return forget();
    }
    if (revisions) {
      return revisions();
    }
    if (back != null) {
      return goBack();
    }
    if (remove) {
      return remove();
    }
    Client client = client();
    JsonNode form = client.get("/forms/" + Client.part(name));
    if (!printedJson(form)) {
      out()
          .println(form.path("form").asString() + ", revision " + form.path("revision").asString());
      form.path("access")
          .propertyStream()
          .forEach(it -> out().println("  " + it.getKey() + ": " + words(it.getValue())));
      out().println();
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("FIELD", "TYPE", "LABEL", "RULES"));
      fields(form.path("fields"), "", rows);
      Table.print(rows, out());
      retired(client);
    }
    return Cli.ACCEPTED;
  }

  private static String words(JsonNode who) {
    return who.isArray()
        ? who.valueStream().map(JsonNode::asString).collect(Collectors.joining(", "))
        : who.asString();
  }

  private int revisions() {
    JsonNode reply = client().get("/forms/" + Client.part(name) + "/revisions");
    if (!printedJson(reply)) {
      List<List<String>> rows = new ArrayList<>();
      rows.add(List.of("REVISION", "PUBLISHED", ""));
      for (JsonNode revision : reply.path("revisions")) {
        rows.add(
            List.of(
                revision.path("revision").asString(),
                revision.path("publishedAt").asString(),
                revision.path("current").asBoolean() ? "current" : ""));
      }
      Table.print(rows, out());
    }
    return Cli.ACCEPTED;
  }

  private int goBack() {
    JsonNode reply =
        client().put("/forms/" + Client.part(name) + "/revisions/" + back + "/current");
    if (!printedJson(reply)) {
      out().println(PublishReport.revision(reply) + ", with the text of revision " + back);
      PublishReport.print(reply, out());
    }
    return Cli.ACCEPTED;
  }

  private int remove() {
    JsonNode reply =
        client().delete("/forms/" + Client.part(name) + (records ? "?records=drop" : ""));
    if (!printedJson(reply)) {
      out().println(name + " is removed" + (records ? ", with its records." : "."));
    }
    return Cli.ACCEPTED;
  }

  private void retired(Client client) {
    JsonNode retired;
    try {
      retired = client.get("/forms/" + Client.part(name) + "/retired").path("retired");
    } catch (ServiceRefusal told) {
      // Only an admin is told of it; the form itself is for all who may use it.
      return;
    }
    if (retired.isEmpty()) {
      return;
    }
    out().println();
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("RETIRED", "TYPE", "SINCE", "KEPT VALUES"));
    for (JsonNode field : retired) {
      rows.add(
          List.of(
              field.path("field").asString(),
              field.path("type").asString(),
              "revision " + field.path("revision").asString(),
              field.path("values").asString()));
    }
    Table.print(rows, out());
  }

  private int forget() {
    JsonNode reply =
        client().delete("/forms/" + Client.part(name) + "/retired/" + Client.part(forget));
    if (!printedJson(reply)) {
      for (JsonNode field : reply.path("forgotten")) {
        out()
            .println(
                field.path("field").asString()
                    + " is forgotten (kept values: "
                    + field.path("values").asString()
                    + ").");
      }
    }
    return Cli.ACCEPTED;
  }

  /** Fields inside groups and rows follow the one that they are in. */
  private static void fields(JsonNode fields, String prefix, List<List<String>> rows) {
    for (JsonNode field : fields) {
      String path = prefix + field.path("name").asString();
      rows.add(
          List.of(
              path,
              field.path("type").asString(),
              field.path("label").asString(),
              String.join(", ", rules(field))));
      fields(field.path("fields"), path + ".", rows);
    }
  }

  private static List<String> rules(JsonNode field) {
    List<String> rules = new ArrayList<>();
    for (String key : List.of("required", "shown", "editable")) {
      JsonNode condition = field.path(key);
      if (condition.isArray()) {
        rules.add(key + " at times");
      } else if (key.equals("required") && condition.asBoolean()) {
        rules.add(key);
      }
    }
    if (field.has("compute")) {
      rules.add("computed");
    }
    if (field.has("repeats")) {
      rules.add("repeats " + field.path("repeats").asString());
    }
    if (field.has("unique")) {
      rules.add("unique");
    }
    for (String limit : List.of("length", "range", "count")) {
      JsonNode span = field.path(limit);
      if (!span.isMissingNode()) {
        rules.add(limit + " " + end(span.path("min")) + ".." + end(span.path("max")));
      }
    }
    if (field.has("step")) {
      rules.add("step " + FieldValues.text(field.path("step")));
    }
    if (field.has("decimals")) {
      rules.add("decimals " + field.path("decimals").asString());
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
      boolean free = field.path("type").asString().equals("text");
      rules.add((free ? "suggests " : "") + String.join(" | ", options));
    }
    return rules;
  }

  /** A literal, or what moves with the clock. */
  private static String end(JsonNode end) {
    if (!end.isArray()) {
      return FieldValues.text(end);
    }
    int days = end.path(1).asInt(0);
    String sign = days < 0 ? " - " : " + ";
    return end.path(0).asString() + (days == 0 ? "" : sign + Math.abs(days));
  }
}
