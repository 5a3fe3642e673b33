package nodley.cli;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import nodley.cli.page.HeldPage;
import nodley.cli.page.MendedPage;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code nodley page}: checks an HTML page against a form. */
@Command(
    name = "page",
    description =
        "Checks an HTML page against a form. Lists unknown field names, missing fields and whatever"
            + " prevents submission, each with a fix.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley page register.html --form vessel",
      "  nodley page register.html --form vessel --mend",
      "  nodley page https://harbour.example/register --form vessel"
    })
final class PageCommand extends ServiceCommand {

  @Parameters(paramLabel = "FILE|URL", description = "The page: a file, or an http(s) address.")
  private String page;

  @Option(
      names = "--form",
      required = true,
      paramLabel = "NAME",
      description = "The name of the form.")
  private String name;

  @Option(
      names = "--mend",
      description =
          "Puts into the file what binds its form: attributes, the script, places for errors; all"
              + " else stays byte for byte. What is left is told.")
  private boolean mend;

  @Override
  public Integer call() {
    JsonNode form = client().get("/forms/" + Client.part(name));
    List<HeldPage.Finding> findings;
    try {
      if (mend) {
        mend(form);
      }
      findings = HeldPage.findings(page, form);
    } catch (HeldPage.BadPage e) {
      throw new ParameterException(commands(), e.getMessage());
    }
    List<Object> json = new ArrayList<>(findings.stream().map(HeldPage.Finding::toJson).toList());
    if (!printedJson(JsonMapper.shared().valueToTree(json))) {
      findings.forEach(it -> out().println(page + ":" + it.line() + ": " + it.detail()));
      if (findings.isEmpty()) {
        out().println(page + ": fits the form " + name);
      }
    }
    return findings.isEmpty() ? Cli.ACCEPTED : Cli.REFUSED;
  }

  private void mend(JsonNode form) {
    if (page.matches("https?://.*")) {
      throw new ParameterException(commands(), "--mend writes a file, and " + page + " is none.");
    }
    int count = MendedPage.mend(Path.of(page), client().address(), form);
    commands()
        .getErr()
        .println(page + ": " + count + (count == 1 ? " thing" : " things") + " put in");
  }
}
