package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.store.common.StoredRecord;
import nodley.store.schema.Columns;
import nodley.store.sqlite.Sql;

/**
 * Reads the stored values of retired fields: those that the form has no longer, whose columns are
 * kept until somebody forgets them, and which come back with the field. In the caller's
 * transaction.
 */
final class RetiredValues {

  private RetiredValues() {}

  /**
   * A record with the values of its retired fields, which are kept though the form has them not.
   */
  static StoredRecord read(Connection on, Form form, StoredRecord record) throws SQLException {
    Map<String, String> types = new LinkedHashMap<>();
    Sql.list(
        on,
        row -> types.put(row.getString(1), row.getString(2)),
        "SELECT field, type FROM nodley_retired WHERE form = ? ORDER BY field",
        form.name());
    if (types.isEmpty()) {
      return record;
    }
    Set<String> tables = Set.copyOf(Columns.tables(on, form.name()));
    Fields fields = form.fields();
    for (Map.Entry<String, String> type : types.entrySet()) {
      List<String> path = List.of(type.getKey().split("\\."));
      fields = with(fields, form.name(), path, Type.of(type.getValue()).orElseThrow(), tables);
    }
    return RecordReader.find(on, form.with(fields), record.id()).orElse(record);
  }

  /** The fields with one more at a path, in groups or rows as its column is. */
  private static Fields with(
      Fields fields, String outer, List<String> path, Type type, Set<String> tables) {
    String name = path.getFirst();
    Optional<Field> there = fields.find(name);
    List<Field> all = new ArrayList<>(fields.list());
    if (path.size() == 1) {
      if (there.isEmpty() && type != Type.SECRET) {
        // What it refers to may be gone; its id is a text then.
        all.add(Field.builder(name, type == Type.RECORD ? Type.TEXT : type).build());
      }
      return new Fields(all);
    }
    String table = outer + "." + name;
    Field holder =
        there.orElseGet(
            () -> Field.builder(name, tables.contains(table) ? Type.ROWS : Type.GROUP).build());
    if (holder.type().isScalar() || (holder.type() == Type.ROWS) != tables.contains(table)) {
      // Another field has the name now, of another kind.
      return fields;
    }
    List<String> rest = path.subList(1, path.size());
    Field filled = holder.with(with(holder.fields(), table, rest, type, tables));
    int place = there.map(all::indexOf).orElse(-1);
    if (place < 0) {
      all.add(filled);
    } else {
      all.set(place, filled);
    }
    return new Fields(all);
  }
}
