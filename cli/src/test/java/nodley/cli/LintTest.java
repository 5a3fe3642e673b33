package nodley.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import picocli.CommandLine;

/** How {@code nodley lint} shows the place of an error. */
class LintTest {

  @TempDir private Path folder;

  private List<String> linted(String text) throws Exception {
    return linted(text, 1);
  }

  private List<String> linted(String text, int status) throws Exception {
    Path file = Files.writeString(folder.resolve("boat.form.yaml"), text);
    StringWriter out = new StringWriter();
    CommandLine commands = Cli.commandLine(Map.of());
    commands.setOut(new PrintWriter(out, true)).setErr(new PrintWriter(out, true));
    assertThat(commands.execute("lint", file.toString())).isEqualTo(status);
    return out.toString().lines().toList();
  }

  @Test
  void theMarkStandsBelowThePlace() throws Exception {
    assertThat(linted("form: boat\nfields: { a: { type: txt } }\n"))
        .containsSubsequence(
            "     2 | fields: { a: { type: txt } }", "       |                      ^");
  }

  @Test
  void ofALongLineOnlyWhatIsAroundThePlaceIsShown() throws Exception {
    String before = "x".repeat(5_000);
    String after = "y".repeat(5_000);
    List<String> lines =
        linted(
            "form: boat\nfields: { a: { type: text, help: "
                + before
                + ", colour: "
                + after
                + " } }\n");
    int at =
        lines.indexOf(lines.stream().filter(it -> it.startsWith("     2 | ")).findFirst().get());
    String line = lines.get(at);
    String mark = lines.get(at + 1);
    assertThat(line).hasSizeLessThan(170).contains("| …").endsWith("…");
    assertThat(line.substring(mark.indexOf('^'))).startsWith("colour: yyy");
  }

  @Test
  void aPatternThatCouldHoldABrowserUpIsWarnedOf() throws Exception {
    List<String> lines =
        linted("form: boat\nfields: { a: { type: text, pattern: '([a-z]+)*' } }\n", 0);
    assertThat(lines.getFirst()).endsWith("boat.form.yaml: no errors");
    assertThat(lines.get(1)).startsWith("  warning: #/fields/a/pattern: Some values can be read");
  }
}
