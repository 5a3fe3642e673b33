package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** {@code nodley log}: lists who signed in, published, dropped or backed up, and from where. */
@Command(
    name = "log",
    description = "Lists who signed in, published, dropped or backed up, and from where.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley log",
      "  nodley log --what publish --since 2026-11-23T08:00:00Z",
      "  nodley log --who admin --limit 100"
    })
final class LogCommand extends ServiceCommand {

  @Option(
      names = "--what",
      paramLabel = "WORD",
      description =
          "sign-in, sign-out, publish, drop, forget, backup, make-key, end-key, add-person,"
              + " change-person, remove-person, export-person, forget-person, make-link,"
              + " set-password, end-session, hand-over, remove-by-age, trace-checks, send-again,"
              + " switch-outlet, test-outlet, wrong-keys, wrong-passwords or start.")
  private String what;

  @Option(names = "--who", paramLabel = "NAME", description = "By this caller only.")
  private String who;

  @Option(names = "--since", paramLabel = "TIME", description = "From this moment on (RFC 3339).")
  private String since;

  @Option(names = "--until", paramLabel = "TIME", description = "Before this moment.")
  private String until;

  @Mixin private LimitOption limit;

  @Override
  public Integer call() {
    Map<String, String> wanted = new LinkedHashMap<>();
    wanted.put("what", what);
    wanted.put("who", who);
    wanted.put("since", since);
    wanted.put("until", until);
    wanted.put("limit", limit.text());
    JsonNode reply = client().get("/log" + Client.query(wanted));
    if (!printedJson(reply)) {
      print(reply.path("entries"));
    }
    return Cli.ACCEPTED;
  }

  private void print(JsonNode entries) {
    if (entries.isEmpty()) {
      out().println("The log has no such entry.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("AT", "WHO", "WHAT", "TO", "FROM"));
    for (JsonNode entry : entries) {
      List<String> row = new ArrayList<>();
      for (String member : List.of("at", "who", "what", "subject", "from")) {
        row.add(entry.path(member).asString());
      }
      rows.add(row);
    }
    Table.print(rows, out());
  }
}
