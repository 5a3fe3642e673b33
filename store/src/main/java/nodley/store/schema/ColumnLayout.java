package nodley.store.schema;

import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Maps the columns of a result row to fields. Columns are read by index, which is cheaper than by
 * name. Fields that are not read are blank: rows, secrets, fields that are not stored.
 */
public final class ColumnLayout {

  private final Fields fields;
  private final List<Part> parts;

  /** Reads one value of a row. */
  private interface Part {
    /** Returns the value of one column of the current row; blank for NULL. */
    Value read(ResultSet row) throws SQLException;
  }

  private ColumnLayout(Fields fields, List<Part> parts) {
    this.fields = fields;
    this.parts = parts;
  }

  /**
   * Of the fields of a table.
   *
   * @param columns that are read, in their order
   * @param first where the first of them stands in the row, counted from 1
   */
  static ColumnLayout of(Fields fields, List<Column> columns, int first) {
    List<List<String>> paths = columns.stream().map(column -> column.placed().path()).toList();
    return of(fields, List.of(), columns, paths, first);
  }

  private static ColumnLayout of(
      Fields fields,
      List<String> outer,
      List<Column> columns,
      List<List<String>> paths,
      int first) {
    List<Part> parts = new ArrayList<>();
    for (Field field : fields) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      int place = paths.indexOf(path);
      if (field.type() == Type.GROUP) {
        ColumnLayout inside = of(field.fields(), path, columns, paths, first);
        parts.add(row -> group(inside.read(row)));
      } else if (place < 0) {
        parts.add(_ -> Value.BLANK);
      } else {
        Column column = columns.get(place);
        parts.add(row -> column.fromSql(row, first + place));
      }
    }
    return new ColumnLayout(fields, parts);
  }

  private static Value group(Values values) {
    return values.isBlank() ? Value.BLANK : new Value.Group(values);
  }

  /** Returns the values of the current row. */
  public Values read(ResultSet row) throws SQLException {
    Value[] values = new Value[parts.size()];
    for (int i = 0; i < values.length; i++) {
      values[i] = parts.get(i).read(row);
    }
    return fields.values(values);
  }
}
