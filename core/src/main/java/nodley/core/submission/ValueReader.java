package nodley.core.submission;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Dates;
import nodley.core.value.FileRef;
import nodley.core.value.Numbers;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * Reads a raw value that was sent as a value of the field's type; {@link Value.Unread} if it is
 * none. Immutable and safe for many threads. Private methods return null for a value that cannot be
 * read, because one is read for every field of every submission.
 */
final class ValueReader {

  private static final Set<String> YES = Set.of("true", "on", "yes", "1");
  private static final Set<String> NO = Set.of("false", "off", "no", "0");

  private final Input.Encoding encoding;
  private final ZoneId zone;
  private final boolean adds;

  ValueReader(Input.Encoding encoding, ZoneId zone) {
    this(encoding, zone, false);
  }

  /**
   * Reads values of an encoding.
   *
   * @param adds true on add, where an absent field takes its default
   */
  ValueReader(Input.Encoding encoding, ZoneId zone, boolean adds) {
    this.encoding = encoding;
    this.zone = zone;
    this.adds = adds;
  }

  /**
   * Reads the value of a field that has no nested fields.
   *
   * @param arrived null if the field was not sent
   */
  Value of(Field field, Raw arrived) {
    // Most of what arrives is text.
    boolean blank =
        arrived == null
            || (arrived instanceof Raw.Text(String text) ? text.isEmpty() : arrived.isBlank());
    if (blank) {
      // A checkbox that is not checked sends nothing. One that is checked by default sends a
      // marker.
      boolean unticked =
          field.type() == Type.BOOLEAN
              && encoding == Input.Encoding.FORM
              && !(adds && arrived == null && field.source().hasDefault());
      return unticked ? Value.Bool.FALSE : Value.BLANK;
    }
    Value value =
        switch (field.type()) {
          case CHOICES -> many(arrived);
          case FILE -> files(field, arrived);
          default -> one(field, arrived);
        };
    return value == null ? new Value.Unread(arrived) : value;
  }

  private Value many(Raw arrived) {
    return switch (arrived) {
      case Raw.Many(List<Raw> items) -> chosen(items);
      case Raw.Text _ when encoding == Input.Encoding.FORM -> chosen(List.of(arrived));
      default -> null;
    };
  }

  private Value one(Field field, Raw arrived) {
    return switch (arrived) {
      case Raw.Text(String text) -> fromText(field, text);
      case Raw.Number(BigDecimal number) -> fromNumber(field.type(), number);
      case Raw.Many(List<Raw> items)
          when field.type() == Type.BOOLEAN
              && encoding == Input.Encoding.FORM
              && !items.isEmpty() ->
          // A checked checkbox comes after the marker of an unchecked one.
          of(field, items.getLast());
      case Raw.Bool(boolean yes) -> field.type() == Type.BOOLEAN ? Value.Bool.of(yes) : null;
      default -> null;
    };
  }

  /** Leaves out blank items, and options that were named before. */
  private static Value chosen(List<Raw> items) {
    List<String> chosen = new ArrayList<>(items.size());
    for (Raw item : items) {
      if (item instanceof Raw.Null) {
        continue;
      }
      String option = item instanceof Raw.Text(String text) ? Tidy.of(text, Tidying.TRIM) : null;
      if (option == null) {
        return null;
      }
      if (!option.isEmpty() && !chosen.contains(option)) {
        chosen.add(option);
      }
    }
    return chosen.isEmpty() ? Value.BLANK : new Value.Chosen(chosen);
  }

  /** Reads references to files, and files as records tell them, each once. */
  private Value files(Field field, Raw arrived) {
    boolean many = field.takesFiles();
    List<Raw> items =
        arrived instanceof Raw.Many(List<Raw> all) && (many || encoding == Input.Encoding.FORM)
            ? all
            : many && encoding == Input.Encoding.JSON ? List.of() : List.of(arrived);
    List<FileRef> files = new ArrayList<>(items.size());
    for (Raw item : items) {
      if (item.isBlank() || item instanceof Raw.Text(String text) && Tidy.isBlank(text)) {
        continue;
      }
      FileRef file =
          switch (item) {
            case Raw.Text(String text) -> reference(text);
            case Raw.Members members -> FileRef.of(members).orElse(null);
            default -> null;
          };
      if (file == null) {
        return null;
      }
      if (files.stream().noneMatch(it -> it.reference().equals(file.reference()))) {
        files.add(file);
      }
    }
    if (files.size() > 1 && !many) {
      // On a page without script a new file is chosen beside the one that is there.
      return encoding == Input.Encoding.FORM
          ? new Value.Files(List.of(files.getLast()), false)
          : null;
    }
    if (items.isEmpty()) {
      return null;
    }
    return files.isEmpty() ? Value.BLANK : new Value.Files(files, many);
  }

  private static FileRef reference(String text) {
    String trimmed = Tidy.of(text, Tidying.TRIM);
    return trimmed == null ? null : FileRef.sent(trimmed);
  }

  private Value fromText(Field field, String text) {
    return switch (field.type()) {
      // Whether it can be kept at all is seen when it is tidied: each character is looked at once.
      case TEXT, EMAIL, URL, PHONE, SECRET, CHOICE, RECORD -> new Value.Text(text);
      default -> {
        // Of these, each character is looked at anyway.
        String trimmed = Tidy.trim(text);
        yield trimmed.isEmpty() ? Value.BLANK : fromTrimmed(field, trimmed);
      }
    };
  }

  private Value fromTrimmed(Field field, String trimmed) {
    return switch (field.type()) {
      case INTEGER, DECIMAL -> {
        BigDecimal number = Numbers.read(trimmed).orElse(null);
        yield number == null ? null : fromNumber(field.type(), number);
      }
      case DATE -> {
        LocalDate date = Dates.read(trimmed).orElse(null);
        yield date == null ? null : new Value.Date(date);
      }
      case TIME -> {
        LocalTime time = Dates.time(trimmed).orElse(null);
        yield time == null ? null : new Value.Time(time);
      }
      case DATETIME -> {
        Instant moment = Dates.moment(trimmed, zone).orElse(null);
        yield moment == null ? null : new Value.Moment(moment);
      }
      case BOOLEAN -> encoding == Input.Encoding.FORM ? fromWord(trimmed) : null;
      default -> null;
    };
  }

  private static Value fromWord(String word) {
    if (YES.contains(word)) {
      return Value.Bool.TRUE;
    }
    return NO.contains(word) ? Value.Bool.FALSE : null;
  }

  private static Value fromNumber(Type type, BigDecimal number) {
    return fits(type, number) ? new Value.Number(number) : null;
  }

  static boolean fits(Type type, BigDecimal number) {
    return type == Type.DECIMAL && Numbers.isInReach(number)
        || type == Type.INTEGER && Numbers.isInteger(number);
  }
}
