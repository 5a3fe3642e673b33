package nodley.core.value;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.List;
import java.util.stream.Collectors;

/**
 * A value of a field's type, after it was read and tidied: what rules, expressions and the store
 * see. A closed set of immutable records, so that a {@code switch} over it is complete. Equal
 * values are equal in every way that a form can tell: numbers by what they amount to, texts by
 * their characters.
 */
public sealed interface Value {

  /** Absent, null, or empty once tidied; there is only one, so that {@code ==} tells it. */
  @SuppressWarnings("ClassInitializationDeadlock") // Blank is reached through this constant alone.
  Value BLANK = Blank.BLANK;

  /** The type of {@link #BLANK}. */
  enum Blank implements Value {
    BLANK
  }

  /** The value of a text, an email, a choice, a secret, or the id of a record. */
  record Text(String text) implements Value {}

  /** A text; blank if it is empty. */
  static Value text(String text) {
    return text.isEmpty() ? BLANK : new Text(text);
  }

  /** An integer or a decimal, in the one form that {@link Numbers#standard} gives. */
  record Number(BigDecimal number) implements Value {
    public Number {
      number = Numbers.standard(number);
    }
  }

  record Bool(boolean value) implements Value {
    public static final Bool TRUE = new Bool(true);
    public static final Bool FALSE = new Bool(false);

    /** Returns the value of a truth. */
    public static Bool of(boolean value) {
      return value ? TRUE : FALSE;
    }
  }

  /** A day of the proleptic Gregorian calendar, years 0001 to 9999. */
  record Date(LocalDate date) implements Value {}

  /** A time of day, to the second. */
  record Time(LocalTime time) implements Value {}

  /** A point in time, to the millisecond. */
  record Moment(Instant instant) implements Value {}

  /** Several options, each once, in the order in which they came; never empty. */
  record Chosen(List<String> options) implements Value {
    public Chosen {
      options = List.copyOf(options);
    }
  }

  /**
   * The files of a field, each once, in the order in which they came; never empty.
   *
   * @param many true if the field may have several: JSON tells them as an array
   */
  record Files(List<FileRef> files, boolean many) implements Value {
    public Files {
      files = List.copyOf(files);
    }

    /** The same as a record has them: without references. */
    public Files asStored() {
      return new Files(files.stream().map(FileRef::asStored).toList(), many);
    }

    Raw raw() {
      return many
          ? new Raw.Many(files.stream().map(FileRef::raw).toList())
          : files.getFirst().raw();
    }
  }

  /** The values of a group. */
  record Group(Values values) implements Value {}

  /** The values of rows, in their order; never empty. */
  record Rows(List<Values> rows) implements Value {
    public Rows {
      rows = List.copyOf(rows);
    }
  }

  /** What could not be read as its type: kept only to be shown again beside its error. */
  record Unread(Raw raw) implements Value {}

  default boolean isBlank() {
    return this == BLANK;
  }

  /** The tree a JSON writer takes: text, a number, a boolean, a list, an object, or null. */
  default Object toJson() {
    return switch (this) {
      case Blank _ -> null;
      case Number(BigDecimal number) -> number;
      case Bool(boolean value) -> value;
      case Chosen(List<String> options) -> options;
      case Files files -> files.raw().toJson();
      case Group(Values values) -> values.toJson();
      case Rows(List<Values> rows) -> rows.stream().map(Values::toJson).toList();
      case Unread(Raw raw) -> raw.toJson();
      case Text _, Date _, Time _, Moment _ -> shown();
    };
  }

  /** The value in standard form, as sentences and controls show it: {@code 61.5}, 2027-03-01. */
  default String shown() {
    return switch (this) {
      case Blank _ -> "";
      case Text(String text) -> text;
      case Number(BigDecimal number) -> Numbers.plain(number);
      case Bool(boolean value) -> Boolean.toString(value);
      case Date(LocalDate date) -> date.toString();
      case Time(LocalTime time) -> time.toString();
      case Moment(Instant instant) -> instant.toString();
      case Chosen(List<String> options) -> String.join(", ", options);
      case Files(List<FileRef> files, boolean _) ->
          files.stream().map(FileRef::shown).collect(Collectors.joining(", "));
      case Group(Values values) ->
          values.byName().values().stream()
              .filter(value -> !value.isBlank())
              .map(Value::shown)
              .collect(Collectors.joining(", "));
      case Rows(List<Values> rows) -> Integer.toString(rows.size());
      case Unread(Raw raw) -> raw.shown();
    };
  }

  /** Orders two values of one type: texts by code point; others have no order and are equal. */
  static int compare(Value a, Value b) {
    // One test after the other, the frequent ones first: small enough to be compiled in place.
    if (a instanceof Number x && b instanceof Number y) {
      return x.number.compareTo(y.number);
    }
    if (a instanceof Date x && b instanceof Date y) {
      return x.date.compareTo(y.date);
    }
    return compareOthers(a, b);
  }

  private static int compareOthers(Value a, Value b) {
    return switch (a) {
      case Text(String x) when b instanceof Text(String y) -> byCodePoint(x, y);
      case Time(LocalTime x) when b instanceof Time(LocalTime y) -> x.compareTo(y);
      case Moment(Instant x) when b instanceof Moment(Instant y) -> x.compareTo(y);
      default -> 0;
    };
  }

  private static int byCodePoint(String a, String b) {
    int length = Math.min(a.length(), b.length());
    for (int i = 0; i < length; i++) {
      char x = a.charAt(i);
      char y = b.charAt(i);
      if (x != y) {
        // Surrogates stand for code points above all others.
        return Character.isSurrogate(x) == Character.isSurrogate(y)
            ? Character.compare(x, y)
            : Character.isSurrogate(x) ? 1 : -1;
      }
    }
    return Integer.compare(a.length(), b.length());
  }
}
