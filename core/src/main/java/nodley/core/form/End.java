package nodley.core.form;

import java.time.Instant;
import java.time.LocalDate;
import java.time.Period;
import java.util.List;
import nodley.core.value.Dates;
import nodley.core.value.Value;

/**
 * One end of a range of numbers, dates, times or moments, as {@code range} in a form file gives it:
 * a literal, or a distance from today or now. Immutable. What it comes to depends on the clock, so
 * whoever compares with it passes the moment that holds for the whole submission.
 */
public sealed interface End {

  /** What it comes to at a moment. */
  Value at(LocalDate today, Instant now);

  /** True if it moves with the clock. */
  boolean isRelative();

  /** A literal, or {@code ["today", days]}, {@code ["today", days, months]}, or {@code ["now"]}. */
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

  /** A number of days or months after today; before it, if negative. */
  record Today(Period after) implements End {
    @Override
    public Value at(LocalDate today, Instant now) {
      return new Value.Date(Dates.moved(today, after).orElse(today));
    }

    @Override
    public boolean isRelative() {
      return true;
    }

    @Override
    public Object toJson() {
      return after.getMonths() == 0
          ? List.of("today", after.getDays())
          : List.of("today", after.getDays(), after.getMonths());
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
