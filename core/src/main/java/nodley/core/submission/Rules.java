package nodley.core.submission;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.value.Addresses;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * Validates a value by itself: against its type, limits and pattern. A blank value meets all of
 * them except {@code count}, which counts 0. Stateless.
 */
final class Rules {

  private Rules() {}

  /**
   * Returns the code of the first rule that the value violates; null if there is none.
   *
   * @param kept the stored value of an edited record: an unchanged value is not compared with the
   *     clock
   */
  static String fault(Field field, Value value, Value kept, LocalDate today, Instant now) {
    // One test after the other, the frequent ones first: small enough to be compiled in place.
    if (value instanceof Value.Text text) {
      return ofText(field, text.text());
    }
    if (value instanceof Value.Number number) {
      return ofNumber(field, number.number());
    }
    return value == Value.BLANK ? count(field, 0) : ofOthers(field, value, kept, today, now);
  }

  private static String ofOthers(
      Field field, Value value, Value kept, LocalDate today, Instant now) {
    return switch (value) {
      case Value.Date _, Value.Time _, Value.Moment _ ->
          outside(field.limits().range(), value, kept, today, now);
      case Value.Chosen chosen -> count(field, chosen.options().size());
      case Value.Files files -> count(field, files.files().size());
      case Value.Rows rows -> count(field, rows.rows().size());
      case Value.Unread _ -> "bad-input";
      case Value.Bool _, Value.Group _, Value.Text _, Value.Number _, Value.Blank _ -> null;
    };
  }

  static String count(Field field, int count) {
    Span<Integer> span = field.limits().count();
    if (span.min().isPresent() && count < span.min().get()) {
      return "too-few";
    }
    return span.max().isPresent() && count > span.max().get() ? "too-many" : null;
  }

  private static String ofText(Field field, String text) {
    Limits limits = field.limits();
    boolean mismatch =
        switch (field.type()) {
          case EMAIL -> !Addresses.isEmail(text);
          case URL -> !Addresses.isUrl(text);
          case PHONE -> !isPhone(text);
          default -> false;
        };
    if (mismatch) {
      return "type-mismatch";
    }
    int length = text.codePointCount(0, text.length());
    if (limits.length().min().isPresent() && length < limits.length().min().get()) {
      return "too-short";
    }
    if (limits.length().max().isPresent() && length > limits.length().max().get()) {
      return "too-long";
    }
    return limits.pattern().isPresent() && !limits.pattern().get().matches(text)
        ? "pattern-mismatch"
        : null;
  }

  /** A plus, or none, and 7 to 15 digits (ITU-T E.164 has at most 15). */
  private static boolean isPhone(String text) {
    int start = text.startsWith("+") ? 1 : 0;
    int digits = text.length() - start;
    for (int i = start; i < text.length(); i++) {
      if (text.charAt(i) < '0' || text.charAt(i) > '9') {
        return false;
      }
    }
    return digits >= 7 && digits <= 15;
  }

  private static String ofNumber(Field field, BigDecimal number) {
    Limits limits = field.limits();
    if (field.type() == Type.DECIMAL && !Numbers.isPrecise(number)) {
      return "too-precise";
    }
    if (limits.range().min().isPresent() && compare(number, limits.range().min().get()) < 0) {
      return "range-underflow";
    }
    if (limits.range().max().isPresent() && compare(number, limits.range().max().get()) > 0) {
      return "range-overflow";
    }
    if (limits.decimals().isPresent() && number.scale() > limits.decimals().get()) {
      return "too-precise";
    }
    boolean onStep =
        limits.step().isEmpty()
            || number.subtract(limits.stepBase()).remainder(limits.step().get()).signum() == 0;
    return onStep ? null : "step-mismatch";
  }

  private static int compare(BigDecimal number, End end) {
    return end instanceof End.Fixed fixed && fixed.value() instanceof Value.Number limit
        ? number.compareTo(limit.number())
        : 0;
  }

  private static String outside(
      Span<End> range, Value value, Value kept, LocalDate today, Instant now) {
    if (range.min().isPresent() && isBeyond(range.min().get(), value, kept, today, now, -1)) {
      return "range-underflow";
    }
    return range.max().isPresent() && isBeyond(range.max().get(), value, kept, today, now, 1)
        ? "range-overflow"
        : null;
  }

  private static boolean isBeyond(
      End end, Value value, Value kept, LocalDate today, Instant now, int side) {
    boolean judged = !(end.isRelative() && value.equals(kept));
    return judged && Value.compare(value, end.at(today, now)) * side > 0;
  }
}
