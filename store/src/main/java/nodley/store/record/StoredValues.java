package nodley.store.record;

import java.util.List;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** What of a submission's values is stored and can be read again. */
final class StoredValues {

  private StoredValues() {}

  /** Returns what a record is read as: without secrets and fields with {@code keep: false}. */
  static Values of(Fields fields, Values values) {
    Value[] kept = new Value[fields.size()];
    for (int i = 0; i < kept.length; i++) {
      Field field = fields.list().get(i);
      kept[i] =
          switch (values.get(field.name())) {
            case Value.Group(Values inside) -> group(of(field.fields(), inside));
            case Value.Rows(List<Values> rows) ->
                new Value.Rows(rows.stream().map(row -> of(field.fields(), row)).toList());
            case Value.Files files -> files.asStored();
            case Value value -> field.isKept() && !field.isSecret() ? value : Value.BLANK;
          };
    }
    return fields.values(kept).ofRow(values.row());
  }

  /** True if nothing of what is kept would become another; a secret that is sent is a new one. */
  static boolean areSame(Fields fields, Values before, Values values) {
    return !hasSecret(fields, values)
        && Raw.withRows(of(fields, values)).equals(Raw.withRows(of(fields, before)));
  }

  private static boolean hasSecret(Fields fields, Values values) {
    for (Field field : fields) {
      boolean has =
          switch (values.get(field.name())) {
            case Value.Group(Values inside) -> hasSecret(field.fields(), inside);
            case Value.Rows(List<Values> rows) ->
                rows.stream().anyMatch(row -> hasSecret(field.fields(), row));
            case Value value -> field.isSecret() && !value.isBlank();
          };
      if (has) {
        return true;
      }
    }
    return false;
  }

  private static Value group(Values inside) {
    return inside.isBlank() ? Value.BLANK : new Value.Group(inside);
  }
}
