package nodley.store.record;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.store.schema.Columns;
import nodley.store.schema.Rename;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The rows of one removed record as they stood in the tables of its form, as JSON: the name of each
 * table, outer ones first, with its rows; of each row its columns, those of retired fields and
 * digests of secrets too. What is worked out from other columns is left out. In the caller's
 * transaction.
 */
final class RemovedRows {

  private static final JsonMapper JSON = new JsonMapper();

  private final Map<String, List<Map<String, Object>>> tables;

  private RemovedRows(Map<String, List<Map<String, Object>>> tables) {
    this.tables = tables;
  }

  /** Reads those of a record that is there. */
  static RemovedRows of(Connection on, Form form, String id) throws SQLException {
    Map<String, List<Map<String, Object>>> tables = new LinkedHashMap<>();
    for (String table : Columns.tables(on, form.name())) {
      List<String> columns =
          Columns.all(on, table).stream()
              .map(Columns.Found::name)
              .filter(RemovedRows::isKept)
              .toList();
      String key = table.equals(form.name()) ? "id" : "record_id";
      List<Map<String, Object>> rows =
          Sql.list(
              on,
              row -> read(row, columns),
              columns.stream()
                  .map(Sql::quoted)
                  .collect(
                      Collectors.joining(
                          ", ",
                          "SELECT ",
                          " FROM " + Sql.quoted(table) + " WHERE " + Sql.quoted(key) + " = ?")),
              id);
      if (!rows.isEmpty()) {
        tables.put(table, rows);
      }
    }
    return new RemovedRows(tables);
  }

  /** Its number among all records is given anew; case and conditions of uniques are worked out. */
  private static boolean isKept(String column) {
    return !column.equals("record_number")
        && !column.endsWith("_folded")
        && !column.endsWith("__when");
  }

  private static Map<String, Object> read(ResultSet row, List<String> columns) throws SQLException {
    Map<String, Object> values = new LinkedHashMap<>();
    for (int i = 0; i < columns.size(); i++) {
      Object value = row.getObject(i + 1);
      if (value != null) {
        values.put(columns.get(i), value);
      }
    }
    return values;
  }

  /** Reads what {@link #toJson} wrote. */
  static RemovedRows of(String json) {
    Map<String, List<Map<String, Object>>> tables = new LinkedHashMap<>();
    for (Map.Entry<String, JsonNode> table : JSON.readTree(json).properties()) {
      List<Map<String, Object>> rows = new ArrayList<>();
      for (JsonNode row : table.getValue()) {
        Map<String, Object> values = new LinkedHashMap<>();
        row.properties().forEach(it -> values.put(it.getKey(), plain(it.getValue())));
        rows.add(values);
      }
      tables.put(table.getKey(), rows);
    }
    return new RemovedRows(tables);
  }

  private static Object plain(JsonNode value) {
    return value.isIntegralNumber()
        ? (Object) value.longValue()
        : value.isNumber() ? (Object) value.doubleValue() : value.asString();
  }

  String toJson() {
    return JSON.writeValueAsString(tables);
  }

  /** Returns the fields whose records are not there any more, as paths of the form. */
  List<String> missing(Connection on, String form) throws SQLException {
    List<String> missing = new ArrayList<>();
    for (Map.Entry<String, List<Map<String, Object>>> table : tables.entrySet()) {
      for (Columns.Found column : Columns.all(on, table.getKey())) {
        if (column.references().isEmpty() || !Columns.isOfField(column.name())) {
          continue;
        }
        for (Map<String, Object> row : table.getValue()) {
          Object id = row.get(column.name());
          if (id != null
              && !(column.references().equals(form) && id.equals(id()))
              && !RecordReader.exists(on, column.references(), id.toString())) {
            missing.add(column.path());
            break;
          }
        }
      }
    }
    return missing;
  }

  private Object id() {
    return tables.values().iterator().next().getFirst().get("id");
  }

  /** Returns the fields of uniques that another record has by now, as far as a look here tells. */
  List<String> taken(Connection on, Form form) throws SQLException {
    for (Table table : Table.of(form)) {
      for (UniqueIndex index : table.uniques()) {
        for (Map<String, Object> row : tables.getOrDefault(table.plainName(), List.of())) {
          Object[] key =
              index.columns().stream()
                  .map(it -> row.get(it.substring(1, it.length() - 1)))
                  .toArray();
          if (Arrays.stream(key).allMatch(it -> it != null) && isThere(on, table, index, key)) {
            return paths(table, index);
          }
        }
      }
    }
    return List.of();
  }

  private static boolean isThere(Connection on, Table table, UniqueIndex index, Object[] key)
      throws SQLException {
    return Sql.number(
            on,
            index.columns().stream()
                .map(column -> column + " = ?")
                .collect(
                    Collectors.joining(
                        " AND ", "SELECT count(*) FROM " + table.name() + " WHERE ", "")),
            key)
        > 0;
  }

  /** The fields of a unique as paths of the form. */
  static List<String> paths(Table table, UniqueIndex index) {
    return index.unique().paths().stream()
        .map(path -> String.join(".", Stream.concat(table.path().stream(), path.stream()).toList()))
        .toList();
  }

  /** Inserts them. Returns a column that is not there any more; empty if all were. */
  Optional<String> insert(Connection on) throws SQLException {
    for (Map.Entry<String, List<Map<String, Object>>> table : tables.entrySet()) {
      Set<String> there =
          Columns.all(on, table.getKey()).stream()
              .map(Columns.Found::name)
              .collect(Collectors.toSet());
      for (Map<String, Object> row : table.getValue()) {
        Optional<String> gone = row.keySet().stream().filter(it -> !there.contains(it)).findFirst();
        if (gone.isPresent()) {
          return gone;
        }
        Sql.run(
            on,
            "INSERT INTO "
                + Sql.quoted(table.getKey())
                + row.keySet().stream()
                    .map(Sql::quoted)
                    .collect(Collectors.joining(", ", " (", ")"))
                + " VALUES ("
                + String.join(", ", Collections.nCopies(row.size(), "?"))
                + ")",
            row.values().toArray());
      }
    }
    return Optional.empty();
  }

  /** The same after a field has another name. */
  RemovedRows renamed(String form, Rename rename) {
    Map<String, List<Map<String, Object>>> renamed = new LinkedHashMap<>();
    tables.forEach(
        (table, rows) -> {
          List<String> outer = outer(form, table);
          renamed.put(
              String.join(
                  ".", Stream.concat(Stream.of(form), rename.forth(outer).stream()).toList()),
              rows.stream().map(row -> renamed(row, outer, rename)).toList());
        });
    return new RemovedRows(renamed);
  }

  private static Map<String, Object> renamed(
      Map<String, Object> row, List<String> outer, Rename rename) {
    Map<String, Object> renamed = new LinkedHashMap<>();
    row.forEach(
        (column, value) -> {
          List<String> path = rename.forth(path(outer, column));
          boolean isOfField = Columns.isOfField(column);
          renamed.put(
              isOfField ? String.join(".", path.subList(outer.size(), path.size())) : column,
              value);
        });
    return renamed;
  }

  /** The same without a field, and all that is inside it. */
  RemovedRows without(String form, List<String> field) {
    Map<String, List<Map<String, Object>>> left = new LinkedHashMap<>();
    tables.forEach(
        (table, rows) -> {
          List<String> outer = outer(form, table);
          if (!startsWith(outer, field)) {
            rows.forEach(
                row ->
                    row.keySet()
                        .removeIf(
                            it -> Columns.isOfField(it) && startsWith(path(outer, it), field)));
            left.put(table, rows);
          }
        });
    return new RemovedRows(left);
  }

  /** The same without the names of people who added or changed it. */
  RemovedRows withoutNames(Set<String> names) {
    for (List<Map<String, Object>> rows : tables.values()) {
      for (Map<String, Object> row : rows) {
        for (String column : List.of("created__by", "updated_by")) {
          row.computeIfPresent(column, (_, name) -> names.contains(name) ? "" : name);
        }
      }
    }
    return this;
  }

  private static boolean startsWith(List<String> path, List<String> head) {
    return path.size() >= head.size() && path.subList(0, head.size()).equals(head);
  }

  private static List<String> outer(String form, String table) {
    return table.equals(form)
        ? List.of()
        : List.of(table.substring(form.length() + 1).split("\\."));
  }

  private static List<String> path(List<String> outer, String column) {
    return Stream.concat(outer.stream(), Arrays.stream(column.split("\\."))).toList();
  }
}
