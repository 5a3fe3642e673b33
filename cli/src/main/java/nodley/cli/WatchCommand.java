package nodley.cli;

import java.util.List;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code nodley watch}: shows attempts as they come, until it is stopped. */
@Command(
    name = "watch",
    description = "Shows attempts as they come, until it is stopped.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley watch",
      "  nodley watch vessel --verdict refused",
      "  nodley watch vessel --checks                       (for 10 minutes)"
    })
final class WatchCommand extends ServiceCommand {

  @Parameters(index = "0", arity = "0..1", paramLabel = "NAME", description = "Of this form only.")
  private String form;

  @Option(
      names = "--verdict",
      paramLabel = "WORD",
      description = "accepted, refused, repeated, trapped or failed.")
  private String verdict;

  @Option(names = "--checks", description = "Live checks of the form, too, for 10 minutes.")
  private boolean checks;

  @Option(
      names = "--count",
      paramLabel = "N",
      description = "Ends after this number (default: runs until it is stopped).")
  private Integer count;

  @Override
  public Integer call() {
    Client client = client();
    if (form != null) {
      client.get("/forms/" + Client.part(form));
    }
    if (checks) {
      if (form == null) {
        throw new CommandLine.ParameterException(commands(), "--checks needs the name of a form.");
      }
      client.put("/attempts/checks/" + Client.part(form));
    }
    String query =
        (form == null ? "" : "&form=" + Client.part(form))
            + (verdict == null ? "" : "&verdict=" + Client.part(verdict));
    int[] left = {count == null ? Integer.MAX_VALUE : count};
    client.events(
        "/attempts/live" + (query.isEmpty() ? "" : "?" + query.substring(1)),
        (event, data) -> {
          JsonNode json = JsonMapper.shared().readTree(data);
          if (event.equals("missed")) {
            out().println("(" + json.path("missed").asString() + " came too fast to be shown)");
          } else if (!printedJson(json)) {
            List<String> row = AttemptsCommand.row(json);
            out().println(String.join("  ", row.stream().filter(it -> !it.isEmpty()).toList()));
          }
          out().flush();
          return --left[0] > 0;
        });
    return Cli.ACCEPTED;
  }
}
