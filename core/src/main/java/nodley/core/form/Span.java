package nodley.core.form;

import java.util.Optional;

/** A range with both ends included; a missing end is open. */
public record Span<T>(Optional<T> min, Optional<T> max) {

  public boolean isLimited() {
    return min.isPresent() || max.isPresent();
  }

  public static <T> Span<T> open() {
    return new Span<>(Optional.empty(), Optional.empty());
  }
}
