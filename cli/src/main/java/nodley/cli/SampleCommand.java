package nodley.cli;

import java.util.Set;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code nodley sample}: makes up values that a form accepts, or refuses with a given code. */
@Command(
    name = "sample",
    header = "Makes up values for a form: right ones, or with one fault each.",
    description =
        "Each is a line of JSON; a wrong one has the code and the sentence that are expected. The"
            + " same seed makes the same.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley sample vessel --count 5",
      "  nodley sample vessel --wrong",
      "  nodley sample vessel --wrong --cases > vessel.cases.yaml"
    })
final class SampleCommand extends ServiceCommand {

  /** What depends on the records of a service cannot be expected of a case file. */
  private static final Set<String> OF_RECORDS = Set.of("taken", "no-such-record");

  @Parameters(paramLabel = "NAME", description = "The name of the form.")
  private String name;

  @Option(names = "--count", paramLabel = "N", description = "How many, 1 to 50.")
  private int count = 1;

  @Option(names = "--seed", paramLabel = "N", description = "1 to 999999; 1 if left out.")
  private int seed = 1;

  @Option(names = "--wrong", description = "With one fault each, for every field and rule.")
  private boolean wrong;

  @Option(names = "--cases", description = "As a case file, which `nodley try` runs.")
  private boolean cases;

  @Override
  public Integer call() {
    if (wrong && count != 1) {
      throw new CommandLine.ParameterException(
          commands(), "--count goes with right values; of wrong ones there is one for each fault.");
    }
    JsonNode reply =
        client()
            .get(
                "/forms/"
                    + Client.part(name)
                    + "/samples?seed="
                    + seed
                    + (wrong ? "&wrong=true" : "&count=" + count));
    if (printedJson(reply)) {
      return Cli.ACCEPTED;
    }
    if (cases) {
      printCases(reply);
    } else {
      for (JsonNode sample : reply.path("samples")) {
        out().println(write(wrong ? sample : sample.path("values")));
      }
    }
    return Cli.ACCEPTED;
  }

  private void printCases(JsonNode reply) {
    out().println("# Made by nodley sample; the values are made up.");
    out().println("now: " + reply.path("now").asString());
    out().println("cases:");
    int number = 1;
    for (JsonNode sample : reply.path("samples")) {
      String code = sample.path("code").asString("");
      if (OF_RECORDS.contains(code)) {
        continue;
      }
      String place = sample.path("pointer").asString("").replaceFirst("^#/?", "");
      String title = code.isEmpty() ? "accepted " + number++ : code + " at " + place;
      out().println("  - name: " + write(title));
      out().println("    in: " + write(sample.path("values")));
      if (code.isEmpty()) {
        out().println("    verdict: accepted");
      } else {
        out().println("    errors: { " + write(place) + ": " + code + " }");
      }
    }
  }

  /** JSON, which is YAML as well. */
  private static String write(Object value) {
    return JsonMapper.shared().writeValueAsString(value);
  }
}
