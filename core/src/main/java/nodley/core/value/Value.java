package nodley.core.value;

import java.math.BigDecimal;
import java.time.LocalDate;

/** A value once it is read as its field's type. */
public sealed interface Value {

  /** Absent, null, or empty once tidied. */
  Value BLANK = new Blank();

  record Blank() implements Value {}

  /** The value of a text, an email, a choice, or the id of a record. */
  record Text(String text) implements Value {}

  /** An integer or a decimal, in the one form that {@link Numbers#standard} gives. */
  record Number(BigDecimal number) implements Value {
    public Number {
      number = Numbers.standard(number);
    }
  }

  record Bool(boolean value) implements Value {}

  /** A day of the proleptic Gregorian calendar, years 0001 to 9999. */
  record Date(LocalDate date) implements Value {}

  /** What could not be read as its type: kept only to be shown again beside its error. */
  record Unread(Raw raw) implements Value {}

  default boolean isBlank() {
    return this instanceof Blank;
  }

  /** The leaf a JSON writer takes: text, a number, a boolean or null. */
  default Object toJson() {
    return switch (this) {
      case Blank _ -> null;
      case Text(String text) -> text;
      case Number(BigDecimal number) -> number;
      case Bool(boolean value) -> value;
      case Date(LocalDate date) -> date.toString();
      case Unread(Raw raw) -> raw.toJson();
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
      case Unread(Raw raw) -> raw.shown();
    };
  }
}
