package nodley.core.sample;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import nodley.core.form.Choice;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.submission.Literal;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * Makes valid values for one field, as far as the field's own limits tell: rules and conditions
 * over other fields are not looked at. Names and words are those of the harbour of Marrow Quay, so
 * that a form full of samples can be read. For one thread, as its random is.
 *
 * @param records the ids of records of another form, by its name
 */
record FieldSample(
    SeededRandom random, LocalDate today, Instant now, Function<String, List<String>> records) {

  private static final List<String> PEOPLE =
      List.of(
          "Ann Ferrow",
          "Jory Penn",
          "Ives Holt",
          "Sam Orme",
          "Tamsin Grey",
          "Piet Dunmore",
          "Carla Voss",
          "Noor Haddad",
          "Eddie Quill",
          "Marta Lund");
  private static final List<String> WORDS =
      List.of(
          "harbour", "quay", "tide", "mast", "anchor", "slate", "timber", "salt", "lantern",
          "north", "heron", "crane");
  private static final int TRIES = 60;
  private static final int SOON = 30;

  /** Days in a working life. */
  private static final int LONG = 15_000;

  /** Values for all fields that a person fills in. */
  Map<String, Raw> of(Fields fields) {
    Map<String, Raw> values = new LinkedHashMap<>();
    for (Field field : fields) {
      if (isTyped(field)) {
        of(field).ifPresent(raw -> values.put(field.name(), raw));
      }
    }
    repeat(fields, values);
    return values;
  }

  static boolean isTyped(Field field) {
    return field.source().compute().isEmpty() && !field.presence().editable().isNever();
  }

  /** What is typed twice is the same. */
  static void repeat(Fields fields, Map<String, Raw> values) {
    for (Field field : fields) {
      String first = field.repeats().orElse("");
      if (values.containsKey(first)) {
        values.put(field.name(), values.get(first));
      }
    }
  }

  /** Nothing for a file, and for a reference to a form without records. */
  Optional<Raw> of(Field field) {
    return switch (field.type()) {
      case TEXT -> Optional.of(text(fitting(field, (it, _) -> words(it))));
      case EMAIL -> Optional.of(text(fitting(field, (_, tried) -> email(tried))));
      case URL ->
          Optional.of(
              text(
                  fitting(
                      field, (_, _) -> "https://" + random.one(WORDS) + number(999) + ".example")));
      case PHONE -> Optional.of(text(fitting(field, (_, tried) -> phone(tried))));
      case SECRET -> Optional.of(text(fitting(field, (it, _) -> secret(it))));
      case INTEGER, DECIMAL -> Optional.of(new Raw.Number(number(field)));
      case BOOLEAN -> Optional.of(new Raw.Bool(true));
      case DATE -> Optional.of(text(date(field).toString()));
      case TIME -> Optional.of(text(time(field).toString()));
      case DATETIME -> Optional.of(text(moment(field).toString()));
      case CHOICE ->
          offered(field).isEmpty()
              ? Optional.empty()
              : Optional.of(text(random.one(offered(field))));
      case CHOICES -> choices(field);
      case RECORD -> {
        List<String> ids = records.apply(field.refersTo().orElse(""));
        yield ids.isEmpty() ? Optional.empty() : Optional.of(text(random.one(ids)));
      }
      case FILE -> Optional.empty();
      case GROUP -> Optional.of(new Raw.Members(of(field.fields())));
      case ROWS -> {
        List<Raw> rows = new ArrayList<>();
        for (long i = count(field, 3); i > 0; i--) {
          rows.add(new Raw.Members(of(field.fields())));
        }
        yield Optional.of(new Raw.Many(rows));
      }
    };
  }

  private static Raw text(String text) {
    return new Raw.Text(text);
  }

  private long number(int below) {
    return random.between(0, below);
  }

  /** Makes a text for a field; what is tried later is shorter. */
  private interface Maker {
    String make(Field field, int tried);
  }

  /**
   * A text that the field accepts, tidied, if one turns up among some: by its pattern, where it has
   * one, in turns with what is usual for its type.
   */
  private String fitting(Field field, Maker maker) {
    String text = "";
    for (int i = 0; i < TRIES; i++) {
      int tried = i;
      text =
          field
              .limits()
              .pattern()
              .filter(_ -> tried % 2 == 0 || field.type() == Type.TEXT)
              .map(it -> PatternSample.of(it, random, 2 + tried))
              .orElseGet(() -> maker.make(field, tried));
      Literal read = Literal.read(field, text);
      if (read.fault().isEmpty() && read.value() instanceof Value.Text(String tidied)) {
        return field.isSecret() ? text : tidied;
      }
    }
    return text;
  }

  private String email(int tried) {
    if (tried < TRIES / 4) {
      return random.one(PEOPLE).toLowerCase(Locale.ROOT).replace(' ', '.')
          + number(9_999)
          + "@harbour.example";
    }
    String name = random.one(WORDS).toLowerCase(Locale.ROOT);
    return tried < TRIES / 2
        ? name + number(99) + "@quay.example"
        : name.substring(0, 1) + number(999) + "@b.example";
  }

  private String phone(int tried) {
    return switch (tried % 3) {
      case 0 -> "+351210000" + (100 + number(899));
      case 1 -> "210000" + (100 + number(899));
      default -> Long.toString(1_000_000 + number(8_999_999));
    };
  }

  private String secret(Field field) {
    StringBuilder out = new StringBuilder();
    long length = Math.max(16, field.limits().length().min().orElse(0));
    while (out.length() < Math.min(length, field.limits().length().max().orElse(200))) {
      out.append((char) random.between('a', 'z'));
    }
    return out.toString();
  }

  private String words(Field field) {
    List<Choice> suggested = field.options().choices();
    if (!suggested.isEmpty()) {
      return random.one(suggested).value();
    }
    int min = field.limits().length().min().orElse(0);
    int max = field.limits().length().max().orElse(200);
    String made =
        field.name().toLowerCase(Locale.ROOT).endsWith("name")
            ? random.one(PEOPLE)
            : field.unique().isPresent()
                ? random.one(WORDS) + number(9_999)
                : random.one(WORDS) + " " + random.one(WORDS);
    StringBuilder out = new StringBuilder(made);
    while (out.length() < min) {
      out.append(' ').append(random.one(WORDS));
    }
    // Cut to the longest that may be, and never so that a space is at the end.
    String text = out.substring(0, Math.min(out.length(), max)).strip();
    while (text.length() < min) {
      text += (char) random.between('a', 'z');
    }
    return text;
  }

  private BigDecimal number(Field field) {
    Span<End> range = field.limits().range();
    BigDecimal step =
        field
            .limits()
            .step()
            .orElseGet(
                () ->
                    field.type() == Type.INTEGER
                        ? BigDecimal.ONE
                        : BigDecimal.ONE.movePointLeft(field.limits().decimals().orElse(1)));
    BigDecimal min = end(range.min());
    BigDecimal max = end(range.max());
    if (min == null) {
      min = max == null ? BigDecimal.ZERO : max.subtract(step.multiply(BigDecimal.valueOf(100)));
    }
    if (max == null) {
      max = min.add(step.multiply(BigDecimal.valueOf(100)));
    }
    BigDecimal base = field.limits().stepBase();
    long low = min.subtract(base).divide(step, 0, RoundingMode.CEILING).longValue();
    long high = max.subtract(base).divide(step, 0, RoundingMode.FLOOR).longValue();
    return Numbers.standard(base.add(step.multiply(BigDecimal.valueOf(random.between(low, high)))));
  }

  private static BigDecimal end(Optional<End> end) {
    return end.orElse(null) instanceof End.Fixed(Value.Number(BigDecimal number)) ? number : null;
  }

  /** Between the ends of a range; from an end that stands alone, or from today, not far. */
  private LocalDate date(Field field) {
    Span<End> range = field.limits().range();
    LocalDate from = date(range.min());
    LocalDate to = date(range.max());
    if (from != null && to != null && !range.min().filter(End::isRelative).isPresent()) {
      return from.plusDays(random.between(0, ChronoUnit.DAYS.between(from, to)));
    }
    if (from != null) {
      LocalDate date = from.plusDays(number(SOON));
      return to != null && date.isAfter(to) ? to : date;
    }
    return to != null ? to.minusDays(number(LONG)) : today.plusDays(number(SOON));
  }

  private LocalDate date(Optional<End> end) {
    return end.map(it -> it.at(today, now)).orElse(null) instanceof Value.Date(LocalDate date)
        ? date
        : null;
  }

  private LocalTime time(Field field) {
    Span<End> range = field.limits().range();
    LocalTime from =
        range.min().map(it -> it.at(today, now)).orElse(null) instanceof Value.Time(LocalTime it)
            ? it
            : LocalTime.of(8, 0);
    LocalTime to =
        range.max().map(it -> it.at(today, now)).orElse(null) instanceof Value.Time(LocalTime it)
            ? it
            : from.isBefore(LocalTime.of(18, 0)) ? LocalTime.of(18, 0) : LocalTime.of(23, 59);
    return from.plusMinutes(random.between(0, Math.max(0, ChronoUnit.MINUTES.between(from, to))));
  }

  private Instant moment(Field field) {
    Span<End> range = field.limits().range();
    Instant around = now.truncatedTo(ChronoUnit.MINUTES);
    if (range.min().map(it -> it.at(today, now)).orElse(null) instanceof Value.Moment(Instant it)) {
      return it.plus(number(1_000) + 1, ChronoUnit.MINUTES).truncatedTo(ChronoUnit.MINUTES);
    }
    return around.minus(number(1_000), ChronoUnit.MINUTES);
  }

  private static List<String> offered(Field field) {
    return field.options().choices().stream().filter(Choice::offered).map(Choice::value).toList();
  }

  private Optional<Raw> choices(Field field) {
    List<String> options = new ArrayList<>(offered(field));
    List<Raw> chosen = new ArrayList<>();
    for (long i = count(field, 2); i > 0 && !options.isEmpty(); i--) {
      String option = random.one(options);
      options.remove(option);
      chosen.add(text(option));
    }
    return Optional.of(new Raw.Many(chosen));
  }

  private long count(Field field, int usual) {
    Span<Integer> span = field.limits().count();
    long min = Math.max(1, span.min().orElse(1));
    return random.between(min, Math.max(min, Math.min(span.max().orElse(usual), min + usual - 1)));
  }
}
