package nodley.core.form;

import java.util.Optional;

/** From one end to the other, both included; a missing end is open. */
public record Span<T>(Optional<T> min, Optional<T> max) {

  public boolean isLimited() {
    return min.isPresent() || max.isPresent();
  }

  public static <T> Span<T> open() {
    return new Span<>(Optional.empty(), Optional.empty());
  }
}
