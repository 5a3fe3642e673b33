package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley attempts}: lists what was sent of late, and what became of it. */
@Command(
    name = "attempts",
    description = "Lists what was sent of late, and what became of it.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley attempts",
      "  nodley attempts vessel --verdict refused --field callSign",
      "  nodley attempts --code taken --since 2026-11-23T08:00:00Z"
    })
final class AttemptsCommand extends ServiceCommand {

  @Parameters(index = "0", arity = "0..1", paramLabel = "NAME", description = "Of this form only.")
  private String form;

  @Option(
      names = "--verdict",
      paramLabel = "WORD",
      description = "accepted, refused, repeated, trapped or failed.")
  private String verdict;

  @Option(
      names = "--code",
      paramLabel = "CODE",
      description = "With an error of this code, such as taken.")
  private String code;

  @Option(
      names = "--field",
      paramLabel = "FIELD",
      description = "With an error at this field, such as contact.email.")
  private String field;

  @Option(names = "--since", paramLabel = "TIME", description = "From this moment on (RFC 3339).")
  private String since;

  @Option(names = "--until", paramLabel = "TIME", description = "Before this moment.")
  private String until;

  @Mixin private LimitOption limit;

  @Override
  public Integer call() {
    Map<String, String> wanted = new LinkedHashMap<>();
    wanted.put("form", form);
    wanted.put("verdict", verdict);
    wanted.put("code", code);
    wanted.put("field", field);
    wanted.put("since", since);
    wanted.put("until", until);
    wanted.put("limit", limit.text());
    Client client = client();
    if (form != null) {
      // A form that is not there has no attempts either; that it is not is what helps.
      client.get("/forms/" + Client.part(form));
    }
    JsonNode reply = client.get("/attempts" + Client.query(wanted));
    if (!printedJson(reply)) {
      print(reply);
    }
    return Cli.ACCEPTED;
  }

  private void print(JsonNode reply) {
    if (reply.path("attempts").isEmpty()) {
      out().println("Nothing like that was sent.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("AT", "FORM", "WHAT", "VERDICT", "WHY", "TOOK", "ATTEMPT"));
    for (JsonNode attempt : reply.path("attempts")) {
      rows.add(row(attempt));
    }
    Table.print(rows, out());
  }

  /** An attempt in one line. */
  static List<String> row(JsonNode attempt) {
    return List.of(
        attempt.path("at").asString(),
        attempt.path("form").asString(),
        attempt.path("mode").asString(),
        attempt.path("verdict").asString(),
        why(attempt),
        millis(attempt.path("micros").asLong()),
        attempt.path("id").asString());
  }

  private static String why(JsonNode attempt) {
    if (attempt.path("errors").isEmpty()) {
      return attempt.path("problem").asString("");
    }
    List<String> words = new ArrayList<>();
    for (JsonNode error : attempt.path("errors")) {
      String name = Errors.name(error);
      words.add((name.isEmpty() ? "" : name + ": ") + error.path("code").asString());
    }
    return String.join(", ", words);
  }

  static String millis(long micros) {
    return String.format(Locale.ROOT, "%.1f ms", micros / 1_000.0);
  }
}
