package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley texts}: lists what a form says in a language, and where each text comes from. */
@Command(
    name = "texts",
    header = "Lists what a form says in a language, and where each text comes from.",
    description =
        "A text is used, missing or unused. Without --lang: the languages that the form has texts"
            + " in.",
    footerHeading = "%nExamples:%n",
    footer = {"  nodley texts vessel --lang de", "  nodley texts vessel --lang fr --missing"})
final class TextsCommand extends ServiceCommand {

  private static final int WIDEST = 60;

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Option(names = "--lang", paramLabel = "TAG", description = "A language, such as de or pt-BR.")
  private Optional<String> lang;

  @Option(names = "--missing", description = "Only what is missing or unused.")
  private boolean missing;

  @Option(
      names = "--all",
      description = "Also what Nodley itself says, and what is said for all forms.")
  private boolean all;

  @Override
  public Integer call() {
    String path = "/texts/" + Client.part(name);
    if (lang.isEmpty()) {
      JsonNode reply = client().get(path);
      if (!printedJson(reply)) {
        List<String> languages = new ArrayList<>();
        reply.path("languages").forEach(it -> languages.add(it.asString()));
        out()
            .println(
                languages.isEmpty()
                    ? name + " has texts in its form file only."
                    : name + " has texts in " + String.join(", ", languages) + ".");
      }
      return Cli.ACCEPTED;
    }
    JsonNode reply = client().get(path + "/" + Client.part(lang.get()) + "/keys");
    if (!printedJson(reply)) {
      print(reply);
    }
    return Cli.ACCEPTED;
  }

  private void print(JsonNode reply) {
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("KEY", "STATE", "FROM", "TEXT"));
    int used = 0;
    int lacking = 0;
    int unused = 0;
    int own = 0;
    int shared = 0;
    for (JsonNode text : reply.path("keys")) {
      String state = text.path("state").asString();
      String from = text.path("from").asString();
      used += state.equals("used") && from.equals("texts") ? 1 : 0;
      lacking += state.equals("missing") ? 1 : 0;
      unused += state.equals("unused") ? 1 : 0;
      own += state.equals("used") && from.equals("nodley") ? 1 : 0;
      shared += from.equals("service-texts") ? 1 : 0;
      boolean ofForm = !from.equals("nodley") && !from.equals("service-texts");
      boolean wanted = missing ? !state.equals("used") : all || ofForm;
      if (wanted) {
        rows.add(
            List.of(
                text.path("key").asString(),
                state,
                from(from, reply.path("language").asString()),
                cut(text.path("text").asString())));
      }
    }
    if (rows.size() > 1) {
      Table.print(rows, out());
      out().println();
    }
    String language =
        Locale.forLanguageTag(reply.path("language").asString()).getDisplayLanguage(Locale.ENGLISH);
    out()
        .println(
            name
                + " in "
                + language
                + ": "
                + used
                + " used, "
                + lacking
                + " missing, "
                + unused
                + " unused; "
                + (own > 0
                    ? own + " of Nodley's own sentences and words ship in this language."
                    : "Nodley's own sentences do not ship in this language (say: gives them).")
                + (shared > 0 ? " Said for all forms: " + shared + "." : ""));
  }

  private String from(String from, String language) {
    return switch (from) {
      case "texts" -> name + "." + language;
      case "service-texts" -> "service." + language;
      case "form-file" -> "form file";
      case "nodley" -> "Nodley";
      default -> "";
    };
  }

  private static String cut(String text) {
    String line = text.replaceAll("\\s+", " ");
    return line.length() > WIDEST ? line.substring(0, WIDEST - 1) + "…" : line;
  }
}
