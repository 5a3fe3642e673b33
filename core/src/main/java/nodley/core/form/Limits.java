package nodley.core.form;

import java.math.BigDecimal;
import java.util.Optional;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Value;

/**
 * The limits of a value; each may be missing.
 *
 * @param length code points of the tidied text
 * @param range numbers or dates, ends included
 * @param step distance between allowed numbers, counted from the range's start, else from 0
 * @param pattern what the whole tidied text must match
 */
public record Limits(
    Span<Integer> length, Span<Value> range, Optional<BigDecimal> step, Optional<IRegexp> pattern) {

  public static final Limits NONE =
      new Limits(Span.open(), Span.open(), Optional.empty(), Optional.empty());

  /** Where steps are counted from. */
  public BigDecimal stepBase() {
    return range.min().orElse(null) instanceof Value.Number(BigDecimal min) ? min : BigDecimal.ZERO;
  }
}
