package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.Repository;
import nodley.core.describe.Description;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.value.Value;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.json.JsonMapper;

/**
 * Runs every line of the check blocks of docs/expressions.md, on the form and values that it has.
 */
public class ExpressionsDocTest {

  private static final Pattern BLOCK =
      Pattern.compile("```(check|form|values)\\n(.*?)```", Pattern.DOTALL);

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  /** The types that an expression may come to; one of them fits. */
  private static final List<String> TYPES =
      List.of("decimal", "boolean", "text", "date", "datetime", "time");

  /** With this begins what a line says of an expression that cannot be read. */
  private static final String ERROR = "error: ";

  private static String block(String what) throws IOException {
    return blocks(what).getFirst();
  }

  private static List<String> blocks(String what) throws IOException {
    List<String> blocks = new ArrayList<>();
    Matcher matcher = BLOCK.matcher(Files.readString(Repository.file("docs/expressions.md")));
    while (matcher.find()) {
      if (matcher.group(1).equals(what)) {
        blocks.add(matcher.group(2));
      }
    }
    return blocks;
  }

  /** What an expression comes to by itself, and its tree. */
  private record Told(Value value, Object tree) {}

  /**
   * Writes the trees of the document's expressions for the page's tests, with what each comes to by
   * the core.
   */
  public static void write(Path file) throws Exception {
    Files.createDirectories(file.getParent());
    List<Map<String, Object>> trees = new ArrayList<>();
    for (Line line : lines()) {
      if (!line.expected().startsWith(ERROR)) {
        Told told = value(line.expression());
        trees.add(
            Map.of(
                "expression",
                line.expression(),
                "tree",
                told.tree(),
                "expected",
                told.value().shown()));
      }
    }
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("values", JsonMapper.shared().readTree(block("values")));
    json.put("description", Description.of(FormFile.read(block("form")), 1, ADD));
    json.put("trees", trees);
    Files.write(file, JsonMapper.shared().writeValueAsBytes(json));
  }

  /** A line of the document: an expression, and what it comes to. */
  private record Line(String expression, String expected) {}

  static List<Line> lines() throws IOException {
    List<Line> lines = new ArrayList<>();
    for (String block : blocks("check")) {
      for (String line : block.lines().toList()) {
        String[] parts = line.split(" → ", 2);
        lines.add(new Line(parts[0], parts[1]));
      }
    }
    return lines;
  }

  @ParameterizedTest
  @MethodSource("lines")
  void aLineComesToWhatItSays(Line line) throws Exception {
    String expression = line.expression();
    String expected = line.expected();
    if (expected.startsWith(ERROR)) {
      FormFileException refused =
          catchThrowableOfType(
              FormFileException.class, () -> FormFile.read(formWith(expression, "decimal")));
      assertThat(refused).as("nothing was wrong with it").isNotNull();
      assertThat(refused.errors().getFirst().detail()).contains(expected.substring(ERROR.length()));
      return;
    }
    Told told = value(expression);
    assertThat(shown(told.value())).isEqualTo(expected);
  }

  private static Told value(String expression) throws Exception {
    String values = block("values");
    FormFileException last = null;
    for (String type : TYPES) {
      try {
        var form = FormFile.read(formWith(expression, type));
        var input = JsonInput.read(values.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
        // The value itself, not what a field makes of it: a quotient has more than 15 digits.
        Request request = Request.of(form, input, ADD, Lookups.NONE, java.util.Optional.empty());
        Tidied tidied = Tidier.tidy(Binder.bind(request));
        var compute = form.field("outcome").orElseThrow().source().compute().orElseThrow();
        return new Told(compute.value(tidied.root().context(request)), compute.toJson());
      } catch (FormFileException e) {
        last = e;
      }
    }
    throw last;
  }

  private static String formWith(String expression, String type) throws IOException {
    return block("form")
        + "  outcome: { type: "
        + type
        + ", compute: '"
        + expression.replace("'", "''")
        + "' }\n";
  }

  private static String shown(Value value) {
    return switch (value) {
      case Value.Blank _ -> "blank";
      case Value.Text(String text) ->
          "\"" + text.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
      default -> value.shown();
    };
  }
}
