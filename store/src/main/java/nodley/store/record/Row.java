package nodley.store.record;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.schema.Column;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Sql;

/**
 * Builds the INSERT or UPDATE of one row: its columns and the values to bind, which are never part
 * of the SQL text. For one row and one thread.
 */
final class Row {
  private final Table table;
  private final Map<String, Object> columns = new LinkedHashMap<>();

  Row(Table table, Values values) {
    this.table = table;
    for (Column column : table.columns()) {
      Value value = values.at(column.placed().path());
      columns.put(column.name(), column.toSql(value));
      if (column.isFolded()) {
        columns.put(column.foldedName(), column.toFoldedSql(value));
      }
    }
  }

  /** Marks which of its uniques count, for the row of these numbers. */
  void guard(List<UniqueKey> keys, List<Integer> rows) {
    for (UniqueIndex index : table.uniques()) {
      boolean counts =
          keys.stream()
              .anyMatch(it -> it.unique().equals(index.unique()) && it.rows().equals(rows));
      index.guard().ifPresent(column -> columns.put(column, counts ? 1 : null));
    }
  }

  /**
   * Sets the value of a column.
   *
   * @param column as a quoted identifier
   */
  void put(String column, Object value) {
    columns.put(column, value);
  }

  /** A blank secret leaves the kept one where it is. */
  void leaveBlankSecrets() {
    for (Column column : table.columns()) {
      if (column.field().isSecret()) {
        columns.remove(column.name(), null);
      }
    }
  }

  /** Returns the INSERT statement; its values are those of {@link #bound}. */
  String insert() {
    return table.insertion(columns.keySet());
  }

  /**
   * Updates the row that is bound after all columns.
   *
   * @param key the column that tells it, without quotes
   */
  String update(String key) {
    return columns.keySet().stream()
        .map(column -> column + " = ?")
        .collect(
            Collectors.joining(
                ", ", "UPDATE " + table.name() + " SET ", " WHERE " + Sql.quoted(key) + " = ?"));
  }

  /** Returns the values of the columns in their order, followed by more. */
  Object[] bound(Object... more) {
    return Stream.concat(columns.values().stream(), Stream.of(more)).toArray();
  }
}
