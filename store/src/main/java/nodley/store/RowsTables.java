package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.line.Claim;
import nodley.core.value.Value;
import nodley.core.value.Values;
import tools.jackson.databind.json.JsonMapper;

/** The rows of records, in tables of their own: replaced by delete, then insert. */
final class RowsTables {

  private static final JsonMapper JSON = new JsonMapper();

  private RowsTables() {}

  static void replace(Connection on, Form form, String id, Values values, List<Claim> claims)
      throws SQLException {
    for (Table table : Table.of(form)) {
      if (!table.isOwn()) {
        Sql.run(on, "DELETE FROM " + table.name() + " WHERE \"record_id\" = ?", id);
      }
    }
    insert(on, form, id, values, claims);
  }

  static void insert(Connection on, Form form, String id, Values values, List<Claim> claims)
      throws SQLException {
    if (Table.of(form).size() == 1) {
      return;
    }
    Map<String, Table> tables = new LinkedHashMap<>();
    Table.of(form).forEach(table -> tables.put(table.plainName(), table));
    insert(on, tables, form.name(), form.fields(), values, claims, id, List.of());
  }

  private static void insert(
      Connection on,
      Map<String, Table> tables,
      String outer,
      Fields fields,
      Values values,
      List<Claim> claims,
      String id,
      List<Integer> numbers)
      throws SQLException {
    for (Field field : fields) {
      String name = outer + "." + field.name();
      Value value = values.get(field.name());
      if (value instanceof Value.Group(Values inside)) {
        insert(on, tables, name, field.fields(), inside, claims, id, numbers);
      } else if (value instanceof Value.Rows(List<Values> rows)) {
        Table table = tables.get(name);
        for (int i = 0; i < rows.size(); i++) {
          List<Integer> here = new ArrayList<>(numbers);
          here.add(i);
          Row row = new Row(table, rows.get(i));
          row.guard(claims, here);
          row.put("\"record_id\"", id);
          for (int n = 0; n < here.size(); n++) {
            row.put(table.numbers().get(n), here.get(n));
          }
          Sql.run(on, row.insert(), row.bound());
          insert(on, tables, name, field.fields(), rows.get(i), claims, id, here);
        }
      }
    }
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
    Map<String, List<Values>> rows = new LinkedHashMap<>();
    for (Table table : tables.subList(1, tables.size()).reversed()) {
      collect(on, table, ids, rows);
    }
    List<StoredRecord> full = new ArrayList<>();
    for (StoredRecord record : records) {
      Values values = nest(form.fields(), record.values(), form.name(), record.id(), rows);
      full.add(
          new StoredRecord(
              record.id(),
              record.revision(),
              record.version(),
              record.createdAt(),
              record.updatedAt(),
              record.updatedBy(),
              values));
    }
    return full;
  }

  private static void collect(
      Connection on, Table table, String ids, Map<String, List<Values>> rows) throws SQLException {
    String order = "\"record_id\", " + String.join(", ", table.numbers());
    Sql.list(
        on,
        row -> {
          var parent =
              new StringBuilder(table.plainName()).append('#').append(row.getString("record_id"));
          var own = new StringBuilder(row.getString("record_id"));
          for (int i = 1; i <= table.depth(); i++) {
            int number = row.getInt(i == 1 ? "row_number" : "row_number_" + i);
            own.append('/').append(number);
            if (i < table.depth()) {
              parent.append('/').append(number);
            }
          }
          rows.computeIfAbsent(parent.toString(), _ -> new ArrayList<>())
              .add(values(table, row, rows, own.toString()));
          return null;
        },
        table.select()
            + " WHERE \"record_id\" IN (SELECT value FROM json_each(?)) ORDER BY "
            + order,
        ids);
  }

  /** The values of one row of a table; {@code key} is its record and the numbers of its rows. */
  static Values values(Table table, ResultSet row, Map<String, List<Values>> rows, String key)
      throws SQLException {
    return nest(table.fields(), table.layout().read(row), table.plainName(), key, rows);
  }

  /** Puts rows where they belong. */
  private static Values nest(
      Fields fields, Values flat, String table, String key, Map<String, List<Values>> rows) {
    Map<String, Value> values = new LinkedHashMap<>(flat.byName());
    for (Field field : fields) {
      String name = table + "." + field.name();
      if (field.type() == Type.ROWS) {
        List<Values> own = rows.getOrDefault(name + "#" + key, List.of());
        values.put(field.name(), own.isEmpty() ? Value.BLANK : new Value.Rows(own));
      } else if (field.type() == Type.GROUP) {
        Values inside =
            values.get(field.name()) instanceof Value.Group(Values group) ? group : Values.NONE;
        Values nested = nest(field.fields(), inside, name, key, rows);
        values.put(field.name(), nested.isBlank() ? Value.BLANK : new Value.Group(nested));
      }
    }
    return new Values(values);
  }
}
