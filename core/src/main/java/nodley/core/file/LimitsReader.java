package nodley.core.file;

import java.math.BigDecimal;
import java.util.Comparator;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/** The limits of a field: {@code length}, {@code range}, {@code step} and {@code pattern}. */
final class LimitsReader {

  /** Beyond this no body could be sent. */
  private static final int MAX_LENGTH = 1_000_000;

  /** An e-mail address has at most this many characters (RFC 5321, section 4.5.3.1.3). */
  private static final int MAX_EMAIL = 254;

  private static final Pattern SPAN = Pattern.compile("(.*?)\\s*\\.\\.\\s*(.*)");

  private final Section keys;

  LimitsReader(Section keys) {
    this.keys = keys;
  }

  Limits read(Type type) {
    return switch (type) {
      case TEXT -> new Limits(length(), Span.open(), Optional.empty(), pattern());
      case EMAIL -> new Limits(emailLength(), Span.open(), Optional.empty(), pattern());
      case INTEGER ->
          new Limits(
              Span.open(),
              range(LimitsReader::integer, "whole numbers, such as 0..40"),
              step(type),
              Optional.empty());
      case DECIMAL ->
          new Limits(
              Span.open(),
              range(LimitsReader::decimal, "numbers, such as 0.5..12.5"),
              step(type),
              Optional.empty());
      case DATE ->
          new Limits(
              Span.open(),
              range(
                  text -> Dates.read(text).map(Value.Date::new),
                  "dates, such as 2027-01-01..2027-12-31"),
              Optional.empty(),
              Optional.empty());
      case BOOLEAN, CHOICE, RECORD -> Limits.NONE;
    };
  }

  private Span<Integer> length() {
    return span("length", LimitsReader::count, "whole numbers, such as 2..60", Integer::compare);
  }

  private Span<Integer> emailLength() {
    Span<Integer> written = length();
    int max = Math.min(MAX_EMAIL, written.max().orElse(MAX_EMAIL));
    return new Span<>(written.min(), Optional.of(max));
  }

  private Span<Value> range(Function<String, Optional<Value>> end, String words) {
    return span("range", end, words, LimitsReader::compare);
  }

  private <T> Span<T> span(
      String key, Function<String, Optional<T>> end, String words, Comparator<T> order) {
    String text = keys.text(key).orElse(null);
    if (text == null) {
      return Span.open();
    }
    Matcher two = SPAN.matcher(text.strip());
    String from = two.matches() ? two.group(1) : text.strip();
    String to = two.matches() ? two.group(2) : from;
    Optional<T> min = from.isEmpty() ? Optional.empty() : end.apply(from);
    Optional<T> max = to.isEmpty() ? Optional.empty() : end.apply(to);
    boolean unread = !from.isEmpty() && min.isEmpty() || !to.isEmpty() && max.isEmpty();
    if (unread || from.isEmpty() && to.isEmpty()) {
      keys.bad(
          key,
          "bad-value",
          "`"
              + key
              + "` is two "
              + words
              + ", one of them may be left out; not \""
              + Wellformed.of(text)
              + "\".");
      return Span.open();
    }
    if (min.isPresent() && max.isPresent() && order.compare(min.get(), max.get()) > 0) {
      keys.bad(
          key,
          "bad-value",
          "No value can meet `" + key + "` " + text + ": it begins after its end.");
      return Span.open();
    }
    return new Span<>(min, max);
  }

  private Optional<BigDecimal> step(Type type) {
    return keys.number("step")
        .filter(
            step -> {
              boolean right =
                  step.signum() > 0 && (type == Type.DECIMAL || Numbers.isInteger(step));
              if (!right) {
                keys.bad(
                    "step",
                    "bad-value",
                    type == Type.DECIMAL
                        ? "`step` is a number above 0."
                        : "`step` of an integer is a whole number above 0.");
              }
              return right;
            });
  }

  private Optional<IRegexp> pattern() {
    return keys.text("pattern")
        .flatMap(
            text -> {
              try {
                return Optional.of(IRegexp.of(text));
              } catch (BadPattern e) {
                keys.bad(
                    "pattern",
                    "bad-pattern",
                    "The pattern goes wrong at its character "
                        + (text.codePointCount(0, Math.min(e.offset(), text.length())) + 1)
                        + ": "
                        + e.getMessage()
                        + ".");
                return Optional.empty();
              }
            });
  }

  private static Optional<Integer> count(String text) {
    return text.matches("[0-9]{1,7}") && Integer.parseInt(text) <= MAX_LENGTH
        ? Optional.of(Integer.valueOf(text))
        : Optional.empty();
  }

  private static Optional<Value> integer(String text) {
    return Numbers.read(text).filter(Numbers::isInteger).map(Value.Number::new);
  }

  private static Optional<Value> decimal(String text) {
    return Numbers.read(text)
        .filter(number -> Numbers.significantDigits(number) <= Numbers.MAX_DIGITS)
        .map(Value.Number::new);
  }

  private static int compare(Value a, Value b) {
    return switch (a) {
      case Value.Number(BigDecimal x) when b instanceof Value.Number(BigDecimal y) ->
          x.compareTo(y);
      case Value.Date(var x) when b instanceof Value.Date(var y) -> x.compareTo(y);
      default -> throw new IllegalStateException("a range has two ends of one type");
    };
  }
}
