package nodley.core.form;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import nodley.core.value.Value;

/** One end of a range. */
public sealed interface End {

  /** What it comes to at a moment. */
  Value at(LocalDate today, Instant now);

  /** True if it moves with the clock. */
  boolean isRelative();

  /** A literal, or {@code ["today", days]}, or {@code ["now"]}. */
  Object toJson();

  /** A literal. */
  record Fixed(Value value) implements End {
    @Override
    public Value at(LocalDate today, Instant now) {
      return value;
    }

    @Override
    public boolean isRelative() {
      return false;
    }

    @Override
    public Object toJson() {
      return value.toJson();
    }
  }

  /** So many days after today; before it, if negative. */
  record Today(int days) implements End {
    @Override
    public Value at(LocalDate today, Instant now) {
      try {
        return new Value.Date(today.plusDays(days));
      } catch (DateTimeException e) {
        return new Value.Date(today);
      }
    }

    @Override
    public boolean isRelative() {
      return true;
    }

    @Override
    public Object toJson() {
      return List.of("today", days);
    }
  }

  /** The moment of judging. */
  record Now() implements End {
    @Override
    public Value at(LocalDate today, Instant now) {
      return new Value.Moment(now);
    }

    @Override
    public boolean isRelative() {
      return true;
    }

    @Override
    public Object toJson() {
      return List.of("now");
    }
  }
}
