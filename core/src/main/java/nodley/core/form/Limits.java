package nodley.core.form;

import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Value;

/**
 * Limits of a value; each may be missing.
 *
 * @param length code points of the tidied text
 * @param range numbers, dates, times or moments, ends included
 * @param step distance between allowed numbers, counted from the range's start, else from 0
 * @param decimals digits after the point, 0 to 15
 * @param pattern what the whole tidied text must match
 * @param count options chosen, rows, or files
 * @param size bytes of one file
 * @param accept media types ({@code image/png}, {@code image/*}) and endings ({@code .pdf}) of
 *     files
 */
public record Limits(
    Span<Integer> length,
    Span<End> range,
    Optional<BigDecimal> step,
    Optional<Integer> decimals,
    Optional<IRegexp> pattern,
    Span<Integer> count,
    Span<Long> size,
    List<String> accept) {

  public static final Limits NONE =
      new Limits(
          Span.open(),
          Span.open(),
          Optional.empty(),
          Optional.empty(),
          Optional.empty(),
          Span.open(),
          Span.open(),
          List.of());

  public Limits {
    accept = List.copyOf(accept);
  }

  /** Where steps are counted from. */
  public BigDecimal stepBase() {
    return range.min().orElse(null) instanceof End.Fixed(Value.Number(BigDecimal min))
        ? min
        : BigDecimal.ZERO;
  }
}
