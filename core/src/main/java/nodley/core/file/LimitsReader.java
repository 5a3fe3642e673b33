package nodley.core.file;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import nodley.core.form.End;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.DateUnit;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * Reads the limits of a field: length, range, step, decimals, pattern, count, size and accept.
 * Checks that they can be met at all (an end before its beginning, a step that no number in the
 * range meets), at any time of the year where an end depends on the clock.
 */
final class LimitsReader {

  /** Beyond this no body could be sent. */
  private static final int MAX_LENGTH = 1_000_000;

  /** An e-mail address has at most this many characters (RFC 5321, section 4.5.3.1.3). */
  private static final int MAX_EMAIL = 254;

  private static final int MAX_URL = 2_048;
  private static final int MAX_SECRET = 1_000;
  private static final int MAX_DAYS = 1_000_000;
  private static final int MAX_MONTHS = 12_000;

  /** How many months are checked when both ends of a range depend on the clock. */
  private static final int MONTHS = 24;

  private static final Pattern SPAN = Pattern.compile("(.*?)\\s*\\.\\.\\s*(.*)");
  private static final Pattern TODAY =
      Pattern.compile("today(?:\\s*([+-])\\s*([0-9]{1,7})(?:\\s*([a-z]+))?)?");
  private static final Pattern SIZE = Pattern.compile("([0-9]{1,9})\\s*(B|kB|KiB|MB|MiB|GB|GiB)?");
  private static final Map<String, Long> UNITS =
      Map.of(
          "B",
          1L,
          "kB",
          1_000L,
          "KiB",
          1L << 10,
          "MB",
          1_000_000L,
          "MiB",
          1L << 20,
          "GB",
          1_000_000_000L,
          "GiB",
          1L << 30);
  private static final Pattern ACCEPT =
      Pattern.compile("\\.[A-Za-z0-9]{1,20}|[a-z]+/(\\*|[A-Za-z0-9.+-]+)");

  private final Section keys;
  private final Errors errors;

  LimitsReader(Section keys, Errors errors) {
    this.keys = keys;
    this.errors = errors;
  }

  Limits read(Type type) {
    return new Limits(
        type.isWritten() || type == Type.SECRET ? length(type) : Span.open(),
        range(type),
        type.isNumber() ? step(type) : Optional.empty(),
        type == Type.DECIMAL ? decimals() : Optional.empty(),
        type.isWritten() || type == Type.SECRET ? pattern() : Optional.empty(),
        type == Type.CHOICES || type == Type.ROWS || type == Type.FILE
            ? span("count", LimitsReader::count, "whole numbers, such as 1..12", Integer::compare)
            : Span.open(),
        type == Type.FILE
            ? span("size", LimitsReader::size, "sizes, such as ..5 MiB", Long::compare)
            : Span.open(),
        type == Type.FILE ? accept() : List.of());
  }

  private Span<Integer> length(Type type) {
    Span<Integer> written =
        span("length", LimitsReader::count, "whole numbers, such as 2..60", Integer::compare);
    Optional<Integer> own =
        switch (type) {
          case EMAIL -> Optional.of(MAX_EMAIL);
          case URL -> Optional.of(MAX_URL);
          case SECRET -> Optional.of(MAX_SECRET);
          default -> Optional.empty();
        };
    return own.map(
            max -> new Span<>(written.min(), Optional.of(Math.min(max, written.max().orElse(max)))))
        .orElse(written);
  }

  private Span<End> range(Type type) {
    return switch (type) {
      case INTEGER -> range(LimitsReader::integer, "whole numbers, such as 0..40");
      case DECIMAL -> range(LimitsReader::decimal, "numbers, such as 0.5..12.5");
      case DATE ->
          range(
              LimitsReader::date,
              "dates, such as 2027-01-01..2027-12-31 or today..today + 6 months");
      case TIME ->
          range(
              text -> Dates.time(text).map(Value.Time::new).map(End.Fixed::new),
              "times, such as 08:00..20:30");
      case DATETIME -> range(LimitsReader::moment, "moments, such as 2027-03-01T08:00:00Z..now");
      default -> Span.open();
    };
  }

  private Span<End> range(Function<String, Optional<End>> end, String words) {
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
                  step.signum() > 0
                      && Numbers.isPrecise(step)
                      && (type == Type.DECIMAL || Numbers.isInteger(step));
              if (!right) {
                keys.bad(
                    "step",
                    "bad-value",
                    type == Type.DECIMAL
                        ? "`step` is a number above 0, of at most 15 significant digits."
                        : "`step` of an integer is a whole number above 0.");
              }
              return right;
            });
  }

  private Optional<Integer> decimals() {
    return keys.number("decimals")
        .filter(
            number -> {
              boolean right =
                  Numbers.isInteger(number)
                      && number.signum() >= 0
                      && number.intValue() <= Numbers.MAX_DIGITS;
              if (!right) {
                keys.bad("decimals", "bad-value", "`decimals` is a whole number from 0 to 15.");
              }
              return right;
            })
        .map(BigDecimal::intValue);
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

  private List<String> accept() {
    List<String> accepted = new ArrayList<>();
    for (Node item : keys.items("accept").orElse(List.of())) {
      String text = Section.textOf(item).orElse("");
      if (ACCEPT.matcher(text).matches()) {
        accepted.add(text.toLowerCase(Locale.ROOT));
      } else {
        errors.add(
            item.place(),
            keys.pointer("accept"),
            "bad-value",
            "`accept` lists media types and endings, such as image/png, image/* or .pdf.");
      }
    }
    return accepted;
  }

  private static Optional<Integer> count(String text) {
    return text.matches("[0-9]{1,7}") && Integer.parseInt(text) <= MAX_LENGTH
        ? Optional.of(Integer.valueOf(text))
        : Optional.empty();
  }

  private static Optional<Long> size(String text) {
    Matcher size = SIZE.matcher(text);
    if (!size.matches()) {
      return Optional.empty();
    }
    long unit = size.group(2) == null ? 1 : UNITS.get(size.group(2));
    return Optional.of(Long.parseLong(size.group(1)) * unit);
  }

  private static Optional<End> integer(String text) {
    return Numbers.read(text)
        .filter(Numbers::isInteger)
        .map(number -> new End.Fixed(new Value.Number(number)));
  }

  private static Optional<End> decimal(String text) {
    return Numbers.read(text)
        .filter(number -> Numbers.isPrecise(number))
        .map(number -> new End.Fixed(new Value.Number(number)));
  }

  @SuppressWarnings("JavaPeriodGetDays") // The period is of days or of months, never of both.
  private static Optional<End> date(String text) {
    Matcher today = TODAY.matcher(text);
    if (today.matches()) {
      int count = today.group(2) == null ? 0 : Integer.parseInt(today.group(2));
      int signed = "-".equals(today.group(1)) ? -count : count;
      return DateUnit.of(Optional.ofNullable(today.group(3)).orElse("days"))
          .map(unit -> unit.times(signed))
          .filter(it -> Math.abs(it.getMonths()) <= MAX_MONTHS)
          .filter(it -> Math.abs(it.getDays()) <= MAX_DAYS)
          .map(End.Today::new);
    }
    return Dates.read(text).map(Value.Date::new).map(End.Fixed::new);
  }

  private static Optional<End> moment(String text) {
    if (text.equals("now")) {
      return Optional.of(new End.Now());
    }
    // A range stands for all places, so a time without an offset says too little.
    boolean placed = text.matches(".*([Zz]|[+-][0-9]{2}:[0-9]{2})");
    return placed
        ? Dates.moment(text, ZoneOffset.UTC).map(Value.Moment::new).map(End.Fixed::new)
        : Optional.empty();
  }

  /**
   * Two literals, or two ends that move together, have an order; others are never impossible. What
   * is possible in some month is possible.
   */
  private static int compare(End a, End b) {
    if (a.isRelative() != b.isRelative()) {
      return 0;
    }
    return Stream.iterate(LocalDate.of(2000, 1, 1), it -> it.plusMonths(1))
        .limit(MONTHS)
        .mapToInt(it -> Value.compare(a.at(it, Instant.EPOCH), b.at(it, Instant.EPOCH)))
        .min()
        .orElseThrow();
  }
}
