package nodley.core.line;

import java.math.BigDecimal;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
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

  private final Input.Door door;
  private final ZoneId zone;

  Reading(Input.Door door, ZoneId zone) {
    this.door = door;
    this.zone = zone;
  }

  /**
   * Reads the value of a field without fields inside.
   *
   * @param arrived null if nothing did
   */
  Value of(Field field, Raw arrived) {
    if (arrived == null || arrived.isBlank()) {
      boolean unticked = field.type() == Type.BOOLEAN && door == Input.Door.FORM;
      return unticked ? new Value.Bool(false) : Value.BLANK;
    }
    boolean many = takesMany(field);
    Optional<Value> value =
        switch (arrived) {
          case Raw.Many(List<Raw> items) when many -> chosen(items);
          case Raw.Text _ when many && door == Input.Door.FORM -> chosen(List.of(arrived));
          case Raw _ when many -> Optional.empty();
          case Raw.Text(String text) when Wellformed.is(text) -> fromText(field, text);
          case Raw.Number(BigDecimal number) -> fromNumber(field.type(), number);
          case Raw.Bool(boolean yes) when field.type() == Type.BOOLEAN ->
              Optional.of(new Value.Bool(yes));
          default -> Optional.empty();
        };
    return value.orElseGet(() -> new Value.Unread(arrived));
  }

  private static boolean takesMany(Field field) {
    return field.type() == Type.CHOICES
        || field.type() == Type.FILE && field.limits().count().isLimited();
  }

  /** Blank items are left out, and each option counts once. */
  private static Optional<Value> chosen(List<Raw> items) {
    List<String> chosen = new ArrayList<>();
    for (Raw item : items) {
      if (item instanceof Raw.Null) {
        continue;
      }
      if (!(item instanceof Raw.Text(String text)) || !Wellformed.is(text)) {
        return Optional.empty();
      }
      String option = Tidy.trim(Tidy.standard(text));
      if (!option.isEmpty() && !chosen.contains(option)) {
        chosen.add(option);
      }
    }
    return Optional.of(chosen.isEmpty() ? Value.BLANK : new Value.Chosen(chosen));
  }

  private Optional<Value> fromText(Field field, String text) {
    return switch (field.type()) {
      case TEXT, EMAIL, URL, PHONE, SECRET, CHOICE, RECORD, FILE ->
          Optional.of(new Value.Text(text));
      default -> {
        String trimmed = Tidy.trim(text);
        yield trimmed.isEmpty() ? Optional.of(Value.BLANK) : fromTrimmed(field, trimmed);
      }
    };
  }

  private Optional<Value> fromTrimmed(Field field, String trimmed) {
    return switch (field.type()) {
      case INTEGER, DECIMAL ->
          Numbers.read(trimmed).flatMap(number -> fromNumber(field.type(), number));
      case DATE -> Dates.read(trimmed).map(Value.Date::new);
      case TIME -> Dates.time(trimmed).map(Value.Time::new);
      case DATETIME -> Dates.moment(trimmed, zone).map(Value.Moment::new);
      case BOOLEAN -> door == Input.Door.FORM ? fromWord(trimmed) : Optional.empty();
      default -> Optional.empty();
    };
  }

  private static Optional<Value> fromWord(String word) {
    if (YES.contains(word)) {
      return Optional.of(new Value.Bool(true));
    }
    return NO.contains(word) ? Optional.of(new Value.Bool(false)) : Optional.empty();
  }

  private static Optional<Value> fromNumber(Type type, BigDecimal number) {
    return fits(type, number) ? Optional.of(new Value.Number(number)) : Optional.empty();
  }

  static boolean fits(Type type, BigDecimal number) {
    return type == Type.DECIMAL && Numbers.isInReach(number)
        || type == Type.INTEGER && Numbers.isInteger(number);
  }
}
