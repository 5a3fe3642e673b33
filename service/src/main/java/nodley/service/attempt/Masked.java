package nodley.service.attempt;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.line.FieldError;
import nodley.core.value.Values;

/**
 * What the log gets to see of values: not what is in secrets and masked fields, nor what sentences
 * would tell of it.
 */
final class Masked {

  /** Stands for a value that was sent. */
  static final String MASK = "•••";

  private final Form form;
  private final List<String> hidden = new ArrayList<>();
  private final Map<String, Object> values;

  Masked(Form form, Values values) {
    this.form = form;
    this.values = masked(form.fields(), values.toJson());
  }

  Map<String, Object> values() {
    return values;
  }

  private Map<String, Object> masked(Fields fields, Map<?, ?> json) {
    Map<String, Object> masked = new LinkedHashMap<>();
    json.forEach(
        (name, value) ->
            masked.put(
                name.toString(),
                fields.find(name.toString()).map(field -> masked(field, value)).orElse(value)));
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
      case List<?> rows when !field.fields().list().isEmpty() ->
          rows.stream()
              .map(row -> row instanceof Map<?, ?> map ? masked(field.fields(), map) : MASK)
              .toList();
      // What should have been a set of fields may hold anything, also of those that are masked.
      default -> field.fields().list().isEmpty() ? value : MASK;
    };
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
    String detail = isAtMasked(error.pointer()) ? "" : error.detail();
    for (String text : hidden) {
      detail = text.isBlank() ? detail : detail.replace(text, MASK);
    }
    json.put("detail", detail);
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
