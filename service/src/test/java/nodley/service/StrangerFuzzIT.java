package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URI;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A short, seeded part of what strangers could send; bench/strangers runs the long one. */
class StrangerFuzzIT {

  private static final Map<String, String> ENVIRONMENT =
      Map.of(
          "NODLEY_ADMIN_KEY", RunningService.KEY,
          "NODLEY_LIMITS_STRANGER_ADDS", "1000000",
          "NODLEY_LIMITS_STRANGER_CHECKS", "1000000",
          "NODLEY_LIMITS_STRANGER_GUESSES", "1000000",
          "JAVA_TOOL_OPTIONS", "-Xmx512m");

  @TempDir private Path data;

  @Test
  void whateverIsSentIsAnsweredAndTheServiceGoesOn() throws Exception {
    try (Program demo = Program.service(ENVIRONMENT, "demo", "--data", data, "--port", 0)) {
      String address = demo.ready();
      var fuzz = new StrangerFuzz(URI.create(address), Optional.of(RunningService.KEY));
      assertThat(fuzz.run(20_261_129, 2_000)).isEmpty();
      // A run in which nothing is ever understood would say little.
      assertThat(fuzz.statuses()).containsKeys(200, 303, 400, 401, 404, 405, 415, 422);
      assertThat(new Wire(address, Optional.empty()).get("/forms").status()).isEqualTo(200);
    }
  }
}
