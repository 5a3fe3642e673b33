package nodley.core.form;

import java.util.Optional;

/** A range with both ends included; a missing end is open. */
public record Span<T>(Optional<T> min, Optional<T> max) {

  /** True if it has at least one end. */
  public boolean isLimited() {
    return min.isPresent() || max.isPresent();
  }

  /** A span without ends. */
  public static <T> Span<T> open() {
    return new Span<>(Optional.empty(), Optional.empty());
  }
}
