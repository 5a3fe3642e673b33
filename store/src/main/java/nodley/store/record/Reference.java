package nodley.store.record;

import java.util.ArrayList;
import java.util.List;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** A reference from a submission to a record: the record, and the dotted path of the field. */
record Reference(String path, String form, String id) {

  static List<Reference> of(Form form, Values values) {
    List<Reference> found = new ArrayList<>();
    collect(form.fields(), values, "", found);
    return found;
  }

  private static void collect(Fields fields, Values values, String outer, List<Reference> found) {
    for (Field field : fields) {
      String path = outer + field.name();
      switch (values.get(field.name())) {
        case Value.Text(String id) when field.refersTo().isPresent() && field.isKept() ->
            found.add(new Reference(path, field.refersTo().get(), id));
        case Value.Group(Values inside) -> collect(field.fields(), inside, path + ".", found);
        case Value.Rows(List<Values> rows) ->
            rows.forEach(row -> collect(field.fields(), row, path + ".", found));
        default -> {
          // Other values point at nothing.
        }
      }
    }
  }
}
