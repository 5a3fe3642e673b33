package nodley.core.sample;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Limits;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.pattern.IRegexp;
import nodley.core.submission.Literal;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * Makes invalid values for a field, each with the error code that it should have: one for each
 * limit of the field, and one for its type. A value may turn out to be refused for another reason,
 * so whoever asked runs it through the pipeline. Immutable.
 */
record InvalidSamples(Field field, LocalDate today, Instant now) {

  private static final String NOBODY = "01900000-0000-7000-8000-000000000000";

  /** In the order of judging; some may turn out to be refused for another reason. */
  Map<String, Raw> all(Raw right) {
    Map<String, Raw> found = new LinkedHashMap<>();
    found.put("value-missing", new Raw.Null());
    found.put("bad-input", unreadable());
    mismatch().ifPresent(it -> found.put("type-mismatch", it));
    length(found);
    range(found);
    digits(found, right);
    field
        .limits()
        .pattern()
        .flatMap(this::strange)
        .ifPresent(it -> found.put("pattern-mismatch", it));
    options(found);
    count(found, right);
    if (field.repeats().isPresent()) {
      found.put("not-repeated", text("something else altogether"));
    }
    if (field.source().compute().isPresent() || field.presence().editable().isNever()) {
      found.put("not-editable", field.type() == Type.BOOLEAN ? new Raw.Bool(true) : other());
    }
    return found;
  }

  private static Raw text(String text) {
    return new Raw.Text(text);
  }

  private static Raw number(BigDecimal number) {
    return new Raw.Number(number);
  }

  private Raw unreadable() {
    return switch (field.type()) {
      case INTEGER -> text("twelve");
      case DECIMAL -> text("1,5");
      case BOOLEAN -> text("perhaps");
      case DATE -> text("2027-02-30");
      case TIME -> text("25:00");
      case DATETIME -> text("2027-02-30T10:00Z");
      case TEXT, EMAIL, URL, PHONE, SECRET, CHOICE, RECORD, FILE ->
          new Raw.Members(Map.of("a", text("b")));
      case CHOICES, GROUP, ROWS -> text("nonsense");
    };
  }

  /** A text of the right length, of one character over and over, that the pattern does not take. */
  private Optional<Raw> strange(IRegexp pattern) {
    int length = Math.max(1, field.limits().length().min().orElse(1));
    return Stream.of("?", "0", "a", "Z", "-")
        .map(it -> it.repeat(length))
        .filter(it -> Literal.tidied(field, it).filter(tidy -> !pattern.matches(tidy)).isPresent())
        .<Raw>map(Raw.Text::new)
        .findFirst();
  }

  private Raw other() {
    return switch (field.type()) {
      case INTEGER, DECIMAL -> number(new BigDecimal("987654"));
      case DATE -> text("1999-12-31");
      case TIME -> text("00:01");
      default -> text("something else");
    };
  }

  private Optional<Raw> mismatch() {
    return switch (field.type()) {
      case EMAIL -> Optional.of(text("ann at harbour"));
      case URL -> Optional.of(text("https://"));
      case PHONE -> Optional.of(text("12"));
      default -> Optional.empty();
    };
  }

  private void length(Map<String, Raw> found) {
    Span<Integer> span = field.limits().length();
    boolean mail = field.type() == Type.EMAIL;
    span.min()
        .filter(min -> min > 1)
        .ifPresent(min -> found.put("too-short", text(mail ? "a@b" : "a".repeat(min - 1))));
    span.max()
        .ifPresent(
            max ->
                found.put("too-long", text(mail ? "a".repeat(max) + "@b" : "a".repeat(max + 1))));
  }

  private void range(Map<String, Raw> found) {
    Span<End> range = field.limits().range();
    range
        .min()
        .flatMap(end -> beyond(end.at(today, now), -1))
        .ifPresent(it -> found.put("range-underflow", it));
    range
        .max()
        .flatMap(end -> beyond(end.at(today, now), 1))
        .ifPresent(it -> found.put("range-overflow", it));
  }

  private static Optional<Raw> beyond(Value end, int side) {
    return switch (end) {
      case Value.Number(BigDecimal number) ->
          Optional.of(number(number.add(BigDecimal.valueOf(side))));
      case Value.Date(LocalDate date) -> Optional.of(text(date.plusDays(side).toString()));
      case Value.Time(LocalTime time) -> Optional.of(text(time.plusMinutes(side).toString()));
      case Value.Moment(Instant moment) ->
          Optional.of(text(moment.plusSeconds(side * 86_400L).toString()));
      default -> Optional.empty();
    };
  }

  private void digits(Map<String, Raw> found, Raw right) {
    Limits limits = field.limits();
    if (!(right instanceof Raw.Number(BigDecimal number))) {
      return;
    }
    limits
        .decimals()
        .ifPresent(
            places ->
                found.put(
                    "too-precise", number(number.add(BigDecimal.ONE.movePointLeft(places + 1)))));
    limits
        .step()
        .ifPresent(
            step ->
                found.put(
                    "step-mismatch",
                    number(
                        field.type() == Type.INTEGER
                            ? number.add(BigDecimal.ONE)
                            : number.add(step.divide(BigDecimal.valueOf(2))))));
  }

  private void options(Map<String, Raw> found) {
    if (field.type() == Type.CHOICE) {
      found.put("not-an-option", text("no-such-option"));
    }
    if (field.type() == Type.CHOICES) {
      found.put("not-an-option", new Raw.Many(List.of(text("no-such-option"))));
    }
    if (field.type() == Type.RECORD) {
      found.put("no-such-record", text(NOBODY));
    }
    if (field.type() == Type.FILE) {
      found.put("no-such-upload", text(NOBODY));
    }
  }

  private void count(Map<String, Raw> found, Raw right) {
    Span<Integer> span = field.limits().count();
    if (!(right instanceof Raw.Many(List<Raw> items))) {
      return;
    }
    span.min()
        .filter(min -> min > 0 && items.size() >= min)
        .ifPresent(min -> found.put("too-few", new Raw.Many(items.subList(0, min - 1))));
    span.max()
        .ifPresent(
            max -> {
              List<Raw> many =
                  field.type() == Type.CHOICES
                      ? field.options().choices().stream()
                          .filter(it -> it.offered())
                          .map(it -> text(it.value()))
                          .limit(max + 1L)
                          .toList()
                      : IntStream.rangeClosed(0, max)
                          .mapToObj(i -> items.get(i % items.size()))
                          .toList();
              found.put("too-many", new Raw.Many(many));
            });
  }
}
