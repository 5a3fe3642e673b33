package nodley.store;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** The columns of one row and what is bound to them. */
final class Row {
  private final String table;
  private final Map<String, Object> columns = new LinkedHashMap<>();

  Row(Form form, Values values) {
    table = Sql.quoted(form.name());
    for (Field field : form.fields()) {
      Column column = new Column(field);
      Value value = values.get(field.name());
      columns.put(column.name(), column.toSql(value));
      if (column.isFolded()) {
        columns.put(column.foldedName(), column.toUniqueSql(value));
      }
    }
  }

  void put(String column, Object value) {
    columns.put(column, value);
  }

  String insert() {
    String marks =
        Stream.generate(() -> "?").limit(columns.size()).collect(Collectors.joining(", "));
    return "INSERT INTO "
        + table
        + " ("
        + String.join(", ", columns.keySet())
        + ") VALUES ("
        + marks
        + ")";
  }

  String update() {
    return columns.keySet().stream()
        .map(column -> column + " = ?")
        .collect(Collectors.joining(", ", "UPDATE " + table + " SET ", " WHERE \"id\" = ?"));
  }

  Object[] bound(Object... more) {
    return Stream.concat(columns.values().stream(), Stream.of(more)).toArray();
  }
}
