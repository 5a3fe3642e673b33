package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import nodley.cli.ClientRun;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.util.FileSystemUtils;

/**
 * Runs what the documents show. A block of {@code yaml} is a form file, and is linted; where the
 * line before names a file, it is written there. In a block of {@code console}, each line that
 * begins with {@code $} is run against a demo, and what it prints must be what stands below it; …
 * is anything.
 */
class WrittenExamplesIT {

  private static final Pattern BLOCK =
      Pattern.compile(
          "^([^\\n]*)\\n\\n?```(yaml|console)\\n(.*?)^```", Pattern.DOTALL | Pattern.MULTILINE);
  private static final Pattern FILE = Pattern.compile("`([a-z]+\\.form\\.yaml)`:\\s*$");
  private static final String MARK = "@@@";

  private static final Map<String, String> KEY = Map.of("NODLEY_ADMIN_KEY", RunningService.KEY);

  /** A demo's data folder, as it is made; each document gets a copy. */
  @TempDir private static Path made;

  @TempDir private Path folder;

  @BeforeAll
  static void makeDemo() {
    try (Program demo = Program.service(KEY, "demo", "--data", made, "--port", 0)) {
      demo.ready();
      demo.stop();
    }
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "README.md",
        "docs/form-file.md",
        "docs/wire.md",
        "docs/people.md",
        "docs/uploads.md",
        "docs/drafts.md",
        "docs/deliveries.md",
        "docs/asks.md",
        "docs/existing-data.md"
      })
  void whatADocumentShowsIsTrue(String document) throws Exception {
    String text = Files.readString(Repository.file(document));
    Path quay = folder.resolve("quay");
    FileSystemUtils.copyRecursively(made, quay);
    // Forms alone are read without a service.
    boolean asks = text.contains("```console\n");
    try (Program demo = asks ? Program.service(KEY, "demo", "--data", quay, "--port", 0) : null) {
      String at = asks ? demo.ready() : "";
      int run = 0;
      Matcher block = BLOCK.matcher(text);
      for (int from = 0; block.find(from); from = block.end()) {
        String before = block.group(1).lines().reduce((_, last) -> last).orElse("");
        if (block.group(2).equals("yaml")) {
          lint(before, block.group(3));
        } else {
          console(block.group(3), at);
        }
        run++;
      }
      assertThat(run)
          .as("every block is run")
          .isEqualTo(text.split("```(yaml|console)\n").length - 1);
    }
  }

  private void lint(String before, String yaml) throws IOException {
    Matcher name = FILE.matcher(before);
    Path file = folder.resolve(name.find() ? name.group(1) : "example.form.yaml");
    Files.writeString(file, yaml);
    ClientRun ended = ClientRun.of(Map.of(), "lint", file);
    assertThat(ended.status()).as(ended.out()).isZero();
  }

  private void console(String block, String at) throws Exception {
    List<String> commands = new ArrayList<>();
    List<String> expected = new ArrayList<>();
    for (String line : block.lines().toList()) {
      if (line.startsWith("$ ")) {
        commands.add(line.substring(2));
        expected.add("");
      } else {
        expected.add(expected.removeLast() + line + "\n");
      }
    }
    String script =
        commands.stream()
            .map(
                it ->
                    "echo; echo '"
                        + MARK
                        + "'; { "
                        + it.replace("./nodley", "nodley").replace("http://127.0.0.1:8420", at)
                        + "; } 2>&1\n")
            .collect(Collectors.joining());
    String[] printed = bash(script, at).split("\\n?" + MARK + "\\n", -1);
    for (int i = 0; i < commands.size(); i++) {
      String pattern =
          Pattern.compile("…")
              .splitAsStream(expected.get(i).strip())
              .map(Pattern::quote)
              .collect(Collectors.joining(".*"));
      assertThat(printed[i + 1].strip())
          .as(commands.get(i))
          .matches(
              Pattern.compile(
                  pattern + (expected.get(i).strip().endsWith("…") ? ".*" : ""), Pattern.DOTALL));
    }
  }

  private String bash(String script, String at) throws Exception {
    String client = String.join("' '", Program.clientCommand());
    ProcessBuilder bash =
        new ProcessBuilder("bash", "-c", "nodley() { '" + client + "' \"$@\"; }\n" + script);
    bash.directory(folder.toFile()).redirectErrorStream(true);
    bash.environment().put("NODLEY_AT", at);
    bash.environment().put("NODLEY_KEY", RunningService.KEY);
    bash.environment().put("LC_ALL", "C.UTF-8");
    Process process = bash.start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    process.waitFor();
    return out;
  }
}
