package nodley.service.api;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Raw;
import nodley.core.value.Values;

/** Reduces an old version to the fields that the form still has. */
final class Known {

  private Known() {}

  static Raw.Members of(Fields fields, Raw.Members values) {
    Map<String, Raw> known = new LinkedHashMap<>();
    values
        .members()
        .forEach(
            (name, raw) -> {
              if (name.equals(Values.ROW)) {
                known.put(name, raw);
              }
              fields.find(name).ifPresent(field -> known.put(name, of(field, raw)));
            });
    return new Raw.Members(known);
  }

  private static Raw of(Field field, Raw raw) {
    return switch (raw) {
      case Raw.Members members when !field.type().isScalar() -> of(field.fields(), members);
      case Raw.Many(List<Raw> items) when !field.type().isScalar() ->
          new Raw.Many(items.stream().map(item -> of(field, item)).toList());
      default -> raw;
    };
  }
}
