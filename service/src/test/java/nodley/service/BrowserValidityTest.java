package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.file.FormFile;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.Verdict;
import nodley.core.value.Raw;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.JavascriptExecutor;
import tools.jackson.databind.json.JsonMapper;

/**
 * Chromium's constraint validation on the same inputs: each difference is one that is documented.
 */
class BrowserValidityTest {

  private static final JsonMapper JSON = JsonMapper.shared();
  private static final Pattern ROW =
      Pattern.compile("\\| ([\\w-]+) \\| `(.+?)`[^|]* \\| (yes|no) \\| (yes|no) \\| .+ \\|");
  private static final int SHOWN = 40;

  /** Asks a control whether it takes a value; what it empties, it does not take. */
  private static final String ASK =
      """
      return arguments[0].map(([type, pattern, value]) => {
        const input = document.createElement('input');
        input.type = type === 'pattern' ? 'text' : type;
        input.step = 'any';
        if (pattern) input.pattern = pattern;
        input.value = value;
        return input.value !== '' && input.validity.valid;
      });
      """;

  private static List<List<String>> inputs() throws IOException {
    List<List<String>> inputs = new ArrayList<>();
    for (String line : Files.readAllLines(Repository.file("corpus/browser.tsv"))) {
      if (!line.startsWith("#")) {
        String[] parts = line.split("\t");
        inputs.add(List.of(parts[0], parts[1], JSON.readTree(parts[2]).asString()));
      }
    }
    return inputs;
  }

  private static boolean isAcceptedHere(String type, String pattern, String value)
      throws Exception {
    Map<String, Object> field = new LinkedHashMap<>();
    field.put(
        "type",
        Map.of("number", "decimal", "pattern", "text", "datetime-local", "datetime")
            .getOrDefault(type, type));
    if (!pattern.isEmpty()) {
      field.put("pattern", pattern);
    }
    Form form =
        FormFile.read(
            JSON.writeValueAsString(Map.of("form", "f", "fields", Map.of("v", field))),
            Format.JSON,
            FormRegistry.UNKNOWN);
    Input input = new Input(Map.of("v", new Raw.Text(value)), Input.Encoding.FORM);
    Verdict verdict = Submission.check(form, input, Context.add(Clock.systemUTC()), Lookups.NONE);
    return verdict.isAccepted() && !verdict.values().get("v").isBlank();
  }

  private static String row(String type, String value, boolean here, boolean there) {
    String shown = value.length() > SHOWN ? value.substring(0, 5) + "…" : value;
    return type + " " + shown + " " + (here ? "yes" : "no") + " " + (there ? "yes" : "no");
  }

  @Test
  void theyDifferOnlyWhereTheDocumentsSay() throws Exception {
    List<String> documented = new ArrayList<>();
    for (String line : Files.readAllLines(Repository.file("docs/browsers.md"))) {
      Matcher row = ROW.matcher(line);
      if (row.matches()) {
        documented.add(row.group(1) + " " + row.group(2) + " " + row.group(3) + " " + row.group(4));
      }
    }
    List<List<String>> inputs = inputs();
    assertThat(inputs).hasSizeGreaterThan(150);
    List<?> answers;
    try (Browser browser = Browser.withScript("about:")) {
      browser.driver().get("about:blank");
      answers = (List<?>) ((JavascriptExecutor) browser.driver()).executeScript(ASK, inputs);
    }
    List<String> differences = new ArrayList<>();
    for (int i = 0; i < inputs.size(); i++) {
      String type = inputs.get(i).getFirst();
      String value = inputs.get(i).getLast();
      boolean here = isAcceptedHere(type, inputs.get(i).get(1), value);
      boolean there = (Boolean) answers.get(i);
      if (here != there) {
        differences.add(row(type, value, here, there));
      }
    }
    assertThat(differences).containsExactlyInAnyOrderElementsOf(documented);
  }
}
