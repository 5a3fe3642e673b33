package nodley.core.line;

import java.math.BigDecimal;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * Station three, judge: required, then the type's own rule, limits, pattern, options. The first
 * that is not met is the field's one error; a blank value meets all but {@code required}.
 */
final class Rules {

  /** HTML, "valid email address" (the production behind {@code type=email}). */
  private static final Pattern EMAIL =
      Pattern.compile(
          "[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+"
              + "@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?"
              + "(?:\\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*");

  private Rules() {}

  /** The code of the first rule that the value does not meet. */
  static Optional<String> fault(Field field, Value value) {
    return Optional.ofNullable(first(field, value));
  }

  private static String first(Field field, Value value) {
    return switch (value) {
      case Value.Blank _ -> field.required() ? "value-missing" : null;
      case Value.Bool(boolean yes) -> field.required() && !yes ? "value-missing" : null;
      case Value.Text(String text) -> ofText(field, text);
      case Value.Number(BigDecimal number) -> ofNumber(field, number);
      case Value.Date(LocalDate date) -> outside(field.limits().range(), date);
      case Value.Unread _ -> "bad-input";
    };
  }

  private static String ofText(Field field, String text) {
    Limits limits = field.limits();
    if (field.type() == Type.EMAIL && !EMAIL.matcher(text).matches()) {
      return "type-mismatch";
    }
    int length = text.codePointCount(0, text.length());
    if (limits.length().min().filter(min -> length < min).isPresent()) {
      return "too-short";
    }
    if (limits.length().max().filter(max -> length > max).isPresent()) {
      return "too-long";
    }
    if (limits.pattern().filter(pattern -> !pattern.matches(text)).isPresent()) {
      return "pattern-mismatch";
    }
    boolean offered =
        field.type() != Type.CHOICE
            || field.options().stream().anyMatch(option -> option.value().equals(text));
    return offered ? null : "not-an-option";
  }

  private static String ofNumber(Field field, BigDecimal number) {
    if (field.type() == Type.DECIMAL && Numbers.significantDigits(number) > Numbers.MAX_DIGITS) {
      return "too-precise";
    }
    Limits limits = field.limits();
    if (limits.range().min().filter(min -> compare(number, min) < 0).isPresent()) {
      return "range-underflow";
    }
    if (limits.range().max().filter(max -> compare(number, max) > 0).isPresent()) {
      return "range-overflow";
    }
    boolean onStep =
        limits
            .step()
            .map(step -> number.subtract(limits.stepBase()).remainder(step).signum() == 0)
            .orElse(true);
    return onStep ? null : "step-mismatch";
  }

  private static String outside(Span<Value> range, LocalDate date) {
    if (range.min().filter(min -> date.isBefore(day(min))).isPresent()) {
      return "range-underflow";
    }
    return range.max().filter(max -> date.isAfter(day(max))).isPresent() ? "range-overflow" : null;
  }

  private static int compare(BigDecimal number, Value end) {
    return number.compareTo(((Value.Number) end).number());
  }

  private static LocalDate day(Value end) {
    return ((Value.Date) end).date();
  }
}
