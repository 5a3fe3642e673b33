package nodley.core.submission;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.End;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Span;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * A value that stands in a form file, such as a default, read and judged as if a person had typed
 * it. A default that the form itself would refuse is an error of the file. Immutable.
 *
 * @param fault what is wrong with it, in words
 */
public record Literal(Value value, Optional<String> fault) {

  /** Reads what a form file writes as a value of a field. */
  public static Literal read(Field field, Raw raw) {
    Value value =
        Tidy.of(field, new ValueReader(Input.Encoding.FORM, ZoneOffset.UTC).of(field, raw));
    LocalDate today = LocalDate.EPOCH;
    // Unticked is a fine first state of a box that must be ticked in the end; and what a literal is
    // to today, no one can say.
    boolean judged = !value.isBlank() && !isRelative(field);
    String code = judged ? Rules.fault(field, value, value, today, Instant.EPOCH) : null;
    if (code == null && value instanceof Value.Unread) {
      code = "bad-input";
    }
    if (code == null && (field.type() == Type.CHOICE || field.type() == Type.CHOICES)) {
      List<String> chosen =
          value instanceof Value.Chosen(List<String> options) ? options : List.of(value.shown());
      boolean offered =
          field.options().source().isPresent()
              || chosen.stream().allMatch(it -> field.options().find(it).isPresent());
      code = offered || value.isBlank() ? null : "not-an-option";
    }
    return new Literal(value, Optional.ofNullable(code).map(it -> sentence(field, it, value)));
  }

  /** Reads a text of a form file as a value of a field. */
  public static Literal read(Field field, String text) {
    return read(field, new Raw.Text(text));
  }

  /**
   * What a value that was kept as another type comes to in a field, whatever its limits and options
   * say; nothing if it cannot be read as its type.
   *
   * @param zone where local times are meant
   */
  public static Optional<Value> converted(Field field, Raw raw, ZoneId zone) {
    Value value = Tidy.of(field, new ValueReader(Input.Encoding.FORM, zone).of(field, raw));
    String code = Rules.fault(field, value, value, LocalDate.EPOCH, Instant.EPOCH);
    boolean unfit = "bad-input".equals(code) || "type-mismatch".equals(code) || value.isBlank();
    return unfit ? Optional.empty() : Optional.of(value);
  }

  /** A text as it is judged in a field; nothing if nothing of it stays. */
  public static Optional<String> tidied(Field field, String text) {
    return Tidy.of(field, new Value.Text(text)) instanceof Value.Text(String tidied)
        ? Optional.of(tidied)
        : Optional.empty();
  }

  private static boolean isRelative(Field field) {
    Span<End> range = field.limits().range();
    return range.min().filter(End::isRelative).isPresent()
        || range.max().filter(End::isRelative).isPresent();
  }

  private static String sentence(Field field, String code, Value value) {
    FieldStates siblings =
        new FieldStates(new Fields(List.of(field)), null, -1, new Values(Map.of()));
    FieldState state = siblings.states()[0];
    return Sentences.ENGLISH
        .error(state, code, value, siblings, LocalDate.EPOCH, Instant.EPOCH)
        .detail();
  }
}
