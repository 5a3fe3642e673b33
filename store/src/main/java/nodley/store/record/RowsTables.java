package nodley.store.record;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.common.StoredRecord;
import nodley.store.schema.Table;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tables for the rows of records. A row keeps its identity, {@code row_id}, through every edit, and
 * with it what the edit does not contain: secrets, columns of retired fields, nested rows of
 * retired fields.
 */
final class RowsTables {

  private static final JsonMapper JSON = new JsonMapper();

  private final Connection on;
  private final String record;
  private final List<UniqueKey> keys;
  private final Map<String, Table> tables = new LinkedHashMap<>();

  /** Those that were there before, by table; a row that is none of them is inserted. */
  private final Map<String, Set<Long>> existing = new HashMap<>();

  private RowsTables(Connection on, Form form, String record, List<UniqueKey> keys) {
    this.on = on;
    this.record = record;
    this.keys = keys;
    Table.of(form).forEach(table -> tables.put(table.plainName(), table));
  }

  /** Inserts the rows of a new record; returns the values with the identities of their rows. */
  static Values insert(Connection on, Form form, String id, Values values, List<UniqueKey> keys)
      throws SQLException {
    if (Table.of(form).size() == 1) {
      return values;
    }
    return new RowsTables(on, form, id, keys)
        .write(form.name(), form.fields(), values, 0, List.of());
  }

  /**
   * Brings the rows of a record to other values: those that {@link Values#row} names are updated
   * where they are, others are inserted, and what is named no longer is deleted.
   *
   * @return the values with the identities of their rows
   */
  static Values replace(Connection on, Form form, String id, Values values, List<UniqueKey> keys)
      throws SQLException {
    if (Table.of(form).size() == 1) {
      return values;
    }
    RowsTables rows = new RowsTables(on, form, id, keys);
    rows.clear(form.name(), form.fields(), values);
    return rows.write(form.name(), form.fields(), values, 0, List.of());
  }

  /**
   * Deletes the rows that are gone, with all that is inside them; those that stay give their unique
   * values free, so that two can be exchanged.
   */
  private void clear(String outer, Fields fields, Values values) throws SQLException {
    Map<String, Set<Long>> staying = new HashMap<>();
    named(outer, fields, values, staying);
    for (Table table : tables.values()) {
      if (table.isOwn()) {
        continue;
      }
      Set<Long> named = staying.getOrDefault(table.plainName(), Set.of());
      Set<Long> there =
          new HashSet<>(
              Sql.list(
                  on,
                  row -> row.getLong(1),
                  "SELECT \"row_id\" FROM " + table.name() + " WHERE \"record_id\" = ?",
                  record));
      for (long row : there) {
        if (!named.contains(row)) {
          Sql.run(on, "DELETE FROM " + table.name() + " WHERE \"row_id\" = ?", row);
        }
      }
      there.retainAll(named);
      existing.put(table.plainName(), there);
      if (!there.isEmpty() && !table.uniques().isEmpty()) {
        Sql.run(
            on,
            table.uniques().stream()
                .flatMap(unique -> unique.columns().stream())
                .distinct()
                .map(column -> column + " = NULL")
                .collect(
                    Collectors.joining(
                        ", ", "UPDATE " + table.name() + " SET ", " WHERE \"record_id\" = ?")),
            record);
      }
    }
  }

  /** The rows that values name, by table. */
  private static void named(
      String outer, Fields fields, Values values, Map<String, Set<Long>> named) {
    for (Field field : fields) {
      String name = outer + "." + field.name();
      switch (values.get(field.name())) {
        case Value.Group(Values inside) -> named(name, field.fields(), inside, named);
        case Value.Rows(List<Values> rows) -> {
          for (Values row : rows) {
            named.computeIfAbsent(name, _ -> new HashSet<>()).add(row.row());
            named(name, field.fields(), row, named);
          }
        }
        default -> {
          // It has no rows inside.
        }
      }
    }
  }

  /**
   * Writes the rows in some values.
   *
   * @param outerRow the row that they are inside of; 0 for none
   * @param numbers the places of the rows around them, the outermost first
   */
  private Values write(
      String outer, Fields fields, Values values, long outerRow, List<Integer> numbers)
      throws SQLException {
    Value[] written = new Value[fields.size()];
    for (int i = 0; i < written.length; i++) {
      Field field = fields.at(i);
      String name = outer + "." + field.name();
      written[i] =
          switch (values.get(field.name())) {
            case Value.Group(Values inside) ->
                new Value.Group(write(name, field.fields(), inside, outerRow, numbers));
            case Value.Rows(List<Values> rows) -> write(name, field, rows, outerRow, numbers);
            case Value value -> value;
          };
    }
    return fields.values(written).ofRow(values.row());
  }

  private Value write(
      String name, Field field, List<Values> rows, long outerRow, List<Integer> numbers)
      throws SQLException {
    Table table = tables.get(name);
    Set<Long> there = existing.getOrDefault(name, Set.of());
    List<Values> written = new ArrayList<>(rows.size());
    for (int i = 0; i < rows.size(); i++) {
      List<Integer> here = new ArrayList<>(numbers);
      here.add(i);
      Row row = new Row(table, rows.get(i));
      row.guard(keys, here);
      row.put("\"row_number\"", i);
      long id = rows.get(i).row();
      if (there.contains(id)) {
        row.leaveBlankSecrets();
        Sql.run(on, row.update("row_id"), row.bound(id));
      } else {
        row.put("\"record_id\"", record);
        if (table.depth() > 1) {
          row.put("\"outer_row\"", outerRow);
        }
        id = Sql.number(on, row.insert() + " RETURNING \"row_id\"", row.bound());
      }
      written.add(write(name, field.fields(), rows.get(i), id, here).ofRow(id));
    }
    return new Value.Rows(written);
  }

  /** The records with their rows: one question for each table, whatever the number of records. */
  static List<StoredRecord> fill(Connection on, Form form, List<StoredRecord> records)
      throws SQLException {
    List<Table> tables = Table.of(form);
    if (tables.size() == 1 || records.isEmpty()) {
      return records;
    }
    String ids = JSON.writeValueAsString(records.stream().map(StoredRecord::id).toList());
    // Inner tables first, so that each row finds what is inside it.
    Map<String, List<Values>> rows = new HashMap<>();
    for (Table table : tables.subList(1, tables.size()).reversed()) {
      collect(on, table, ids, rows);
    }
    List<StoredRecord> full = new ArrayList<>();
    for (StoredRecord record : records) {
      Values values = nest(form.fields(), record.values(), form.name(), record.id(), rows);
      full.add(record.with(values));
    }
    return full;
  }

  /** Reads a table; its rows are found by their table and what they are inside of. */
  private static void collect(
      Connection on, Table table, String ids, Map<String, List<Values>> rows) throws SQLException {
    Sql.list(
        on,
        row -> {
          String outer = row.getString(table.depth() > 1 ? "outer_row" : "record_id");
          rows.computeIfAbsent(table.plainName() + "#" + outer, _ -> new ArrayList<>())
              .add(values(table, row, rows));
          return null;
        },
        table.select()
            + " WHERE "
            + EngineSql.isAmong("\"record_id\"")
            + " ORDER BY \"record_id\", \"row_number\"",
        ids);
  }

  private static Values values(Table table, ResultSet row, Map<String, List<Values>> rows)
      throws SQLException {
    long id = row.getLong("row_id");
    return nest(
            table.fields(), table.layout().read(row), table.plainName(), Long.toString(id), rows)
        .ofRow(id);
  }

  /** Puts rows where they belong: those inside a record, or inside a row. */
  private static Values nest(
      Fields fields, Values flat, String table, String within, Map<String, List<Values>> rows) {
    Value[] values = new Value[fields.size()];
    for (int i = 0; i < values.length; i++) {
      Field field = fields.at(i);
      String name = table + "." + field.name();
      Value value = flat.get(field.name());
      if (field.type() == Type.ROWS) {
        List<Values> own = rows.getOrDefault(name + "#" + within, List.of());
        value = own.isEmpty() ? Value.BLANK : new Value.Rows(own);
      } else if (field.type() == Type.GROUP) {
        Values inside = value instanceof Value.Group(Values group) ? group : Values.NONE;
        Values nested = nest(field.fields(), inside, name, within, rows);
        value = nested.isBlank() ? Value.BLANK : new Value.Group(nested);
      }
      values[i] = value;
    }
    return fields.values(values);
  }
}
