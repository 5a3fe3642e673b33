package nodley.service.attempt;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.submission.FieldError;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;

/**
 * Masks values for the log: secrets and masked fields, also where a message contains them; and cuts
 * what is too large.
 */
final class MaskedValues {

  /** Stands for a value that was sent. */
  static final String MASK = "•••";

  /** Maximum length of a message, which may contain a value. */
  private static final int MOST_OF_SENTENCE = 500;

  private final Form form;
  private int room;
  private int leftOut;
  private final List<String> hidden = new ArrayList<>();
  private final Map<String, Object> values;

  /**
   * Masks values.
   *
   * @param room characters of names and values that are kept
   */
  MaskedValues(Form form, Values values, int room) {
    this.room = room;
    this.form = form;
    this.values =
        form.isKeepingNone() ? hidden(values.toJson()) : masked(form.fields(), values.toJson());
  }

  /** How many values are left out or cut, for there was no room. */
  int leftOut() {
    return leftOut;
  }

  Map<String, Object> values() {
    return values;
  }

  /** Of what is not kept, nothing is logged, nor in any message. */
  private Map<String, Object> hidden(Map<String, Object> json) {
    json.values().forEach(this::hideIfAny);
    return Map.of();
  }

  private Map<String, Object> masked(Fields fields, Map<?, ?> json) {
    Map<String, Object> masked = new LinkedHashMap<>();
    json.forEach(
        (name, value) -> {
          room -= name.toString().length();
          if (room <= 0) {
            leftOut++;
            return;
          }
          masked.put(
              name.toString(),
              fields
                  .find(name.toString())
                  .map(field -> masked(field, value))
                  .orElseGet(() -> cut(value)));
        });
    return masked;
  }

  private Object masked(Field field, Object value) {
    if (value == null) {
      return null;
    }
    if (field.isMasked()) {
      hide(value);
      return MASK;
    }
    return switch (value) {
      case Map<?, ?> group -> masked(field.fields(), group);
      case List<?> rows when !field.fields().list().isEmpty() -> rows(field.fields(), rows);
      // What should have been a set of fields may hold anything, also of those that are masked.
      default -> field.fields().list().isEmpty() ? cut(value) : MASK;
    };
  }

  private List<Object> rows(Fields fields, List<?> rows) {
    List<Object> masked = new ArrayList<>();
    for (Object row : rows) {
      if (room-- <= 0) {
        leftOut++;
      } else {
        masked.add(row instanceof Map<?, ?> map ? masked(fields, map) : MASK);
      }
    }
    return masked;
  }

  /** A value as far as there is room for it. */
  private Object cut(Object value) {
    String text = String.valueOf(value);
    int had = Math.max(room, 0);
    room -= text.length();
    if (text.length() <= had) {
      return value;
    }
    leftOut++;
    return Wellformed.of(text.substring(0, had)) + "…";
  }

  private void hide(Object value) {
    switch (value) {
      case Map<?, ?> map -> map.values().forEach(this::hideIfAny);
      case List<?> list -> list.forEach(this::hideIfAny);
      default -> hidden.add(value.toString());
    }
  }

  private void hideIfAny(Object value) {
    if (value != null) {
      hide(value);
    }
  }

  /**
   * An error without its parameters. One that stands at a masked field has no sentence, for it
   * could tell the value in any form; in others the value is masked.
   */
  Map<String, Object> error(FieldError error) {
    Map<String, Object> json = new LinkedHashMap<>();
    json.put("pointer", error.pointer());
    json.put("code", error.code());
    boolean told = !form.isKeepingNone() && !isAtMasked(error.pointer());
    String detail = told ? error.detail() : "";
    for (String text : hidden) {
      detail = text.isBlank() ? detail : detail.replace(text, MASK);
    }
    json.put(
        "detail",
        detail.length() > MOST_OF_SENTENCE
            ? Wellformed.of(detail.substring(0, MOST_OF_SENTENCE)) + "…"
            : detail);
    return json;
  }

  private boolean isAtMasked(String pointer) {
    Fields fields = form.fields();
    for (String name : pointer.split("/")) {
      Optional<Field> field = fields.find(name);
      if (field.isPresent() && field.get().isMasked()) {
        return true;
      }
      // Numbers of rows are no names, and leave the fields as they are.
      fields = field.map(Field::fields).orElse(fields);
    }
    return false;
  }
}
