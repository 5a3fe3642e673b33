package nodley.core.line;

import java.math.BigDecimal;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/** Station one, read: what arrived becomes a value of the field's type, or stays unread. */
final class Reading {

  private static final Set<String> YES = Set.of("true", "on", "yes", "1");
  private static final Set<String> NO = Set.of("false", "off", "no", "0");

  private Reading() {}

  static Value of(Field field, Optional<Raw> arrived, Input.Door door) {
    Raw raw = arrived.filter(it -> !it.isBlank()).orElse(null);
    if (raw == null) {
      boolean unticked = field.type() == Type.BOOLEAN && door == Input.Door.FORM;
      return unticked ? new Value.Bool(false) : Value.BLANK;
    }
    Optional<Value> value =
        switch (raw) {
          case Raw.Text(String text) when Wellformed.is(text) -> fromText(field, text, door);
          case Raw.Number(BigDecimal number) -> fromNumber(field.type(), number);
          case Raw.Bool(boolean yes) when field.type() == Type.BOOLEAN ->
              Optional.of(new Value.Bool(yes));
          default -> Optional.empty();
        };
    return value.orElse(new Value.Unread(raw));
  }

  private static Optional<Value> fromText(Field field, String text, Input.Door door) {
    String trimmed = Tidy.trim(text);
    return switch (field.type()) {
      case TEXT, EMAIL, CHOICE, RECORD -> Optional.of(new Value.Text(text));
      case Type _ when trimmed.isEmpty() -> Optional.of(Value.BLANK);
      case INTEGER, DECIMAL ->
          Numbers.read(trimmed).flatMap(number -> fromNumber(field.type(), number));
      case DATE -> Dates.read(trimmed).map(Value.Date::new);
      case BOOLEAN -> door == Input.Door.FORM ? fromWord(trimmed) : Optional.empty();
    };
  }

  private static Optional<Value> fromWord(String word) {
    if (YES.contains(word)) {
      return Optional.of(new Value.Bool(true));
    }
    return NO.contains(word) ? Optional.of(new Value.Bool(false)) : Optional.empty();
  }

  private static Optional<Value> fromNumber(Type type, BigDecimal number) {
    boolean fits = type == Type.DECIMAL || type == Type.INTEGER && Numbers.isInteger(number);
    return fits ? Optional.of(new Value.Number(number)) : Optional.empty();
  }
}
