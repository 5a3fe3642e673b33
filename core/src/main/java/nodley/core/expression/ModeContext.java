package nodley.core.expression;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import nodley.core.value.Value;

/** Evaluation context of expressions that read the mode only. */
record ModeContext(String mode) implements EvaluationContext {

  @Override
  public Value get(int up, Path path) {
    throw asked();
  }

  @Override
  public void each(int up, Path path, List<Value> values) {
    throw asked();
  }

  @Override
  public Value through(String form, String record, List<String> path) {
    throw asked();
  }

  @Override
  public LocalDate today() {
    throw asked();
  }

  @Override
  public Instant now() {
    throw asked();
  }

  @Override
  public Value caller(String what) {
    throw asked();
  }

  private static IllegalStateException asked() {
    return new IllegalStateException("an expression asked for what it said it does not read");
  }
}
