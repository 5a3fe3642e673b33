package nodley.bench;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** A short, seeded part of the comparison; bench/fuzz runs the long one. */
class FuzzTest {

  @Test
  void coreAndPageAgreeOnRandomFormsAndInputs() throws Exception {
    try (Fuzz fuzz = new Fuzz()) {
      assertThat(fuzz.run(20_261_123, 20_000)).isEmpty();
      // A comparison in which nothing is ever accepted would say little.
      assertThat(fuzz.accepted()).isGreaterThan(1_000);
    }
  }
}
