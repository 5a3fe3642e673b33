package nodley.bench;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Optional;
import org.junit.jupiter.api.Test;

/** A short, seeded part of what strangers could send; bench/strangers runs the long one. */
class StrangerFuzzTest {

  private static final String KEY = "key-of-the-fuzzer";
  private static final String READY = "Nodley is ready at ";

  private static Process demo() throws IOException {
    ProcessBuilder demo =
        new ProcessBuilder(
            Path.of(System.getProperty("java.home"), "bin", "java").toString(),
            "--enable-native-access=ALL-UNNAMED",
            "-Xmx512m",
            "-jar",
            "../service/target/nodley-service-app.jar",
            "demo",
            "--port",
            "0");
    demo.environment().put("NODLEY_ADMIN_KEY", KEY);
    for (String limit : new String[] {"ADDS", "CHECKS", "GUESSES"}) {
      demo.environment().put("NODLEY_LIMITS_STRANGER_" + limit, "1000000");
    }
    return demo.redirectErrorStream(true).start();
  }

  private static void readToItsEnd(BufferedReader out) {
    try {
      out.lines().forEach(_ -> {});
    } catch (UncheckedIOException e) {
      // The service has been ended.
    }
  }

  @Test
  void whateverIsSentIsAnsweredAndTheServiceGoesOn() throws Exception {
    Process demo = demo();
    try {
      var out =
          new BufferedReader(new InputStreamReader(demo.getInputStream(), StandardCharsets.UTF_8));
      var said = new StringBuilder();
      String line = out.readLine();
      while (line != null && !line.startsWith(READY)) {
        said.append(line).append('\n');
        line = out.readLine();
      }
      assertThat(line).as("the service has started; it said: %s", said).isNotNull();
      // What it says from now on must not stop it.
      Thread.ofVirtual().start(() -> readToItsEnd(out));
      var fuzz = new StrangerFuzz(URI.create(line.substring(READY.length())), Optional.of(KEY));
      assertThat(fuzz.run(20_261_129, 2_000)).isEmpty();
      // A run in which nothing is ever understood would say little.
      assertThat(fuzz.statuses()).containsKeys(200, 303, 400, 401, 404, 405, 415, 422);
      assertThat(demo.isAlive()).isTrue();
    } finally {
      demo.destroy();
      demo.waitFor();
    }
  }
}
