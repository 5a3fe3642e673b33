package nodley.begin;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.begin.TableDescription.Column;
import nodley.begin.TableDescription.Reference;
import nodley.begin.TableDescription.Unique;

/**
 * Reads what SQLite says of its tables. Its own pragmas say more than JDBC does: collations, hidden
 * columns, and the type as it was written. Stateless.
 */
final class SqliteTable {

  private static final Pattern LENGTH = Pattern.compile("\\(\\s*([0-9]{1,6})\\s*\\)");
  private static final Pattern PLACES =
      Pattern.compile("\\(\\s*[0-9]{1,3}\\s*,\\s*([0-9]{1,2})\\s*\\)");

  private SqliteTable() {}

  /** Returns the names of all tables and views, in their order. */
  static List<String> names(Connection connection) throws SQLException {
    return rows(
            connection,
            "SELECT name FROM sqlite_schema WHERE type IN ('table', 'view')"
                + " AND name NOT LIKE 'sqlite%' ORDER BY name")
        .stream()
        .map(row -> row.get("name"))
        .toList();
  }

  static TableDescription read(Connection connection, String table) throws SQLException {
    List<Column> columns =
        rows(connection, "SELECT * FROM pragma_table_xinfo(?)", table).stream()
            .map(SqliteTable::column)
            .toList();
    String sql =
        rows(connection, "SELECT sql FROM sqlite_schema WHERE name = ?", table).stream()
            .map(row -> Optional.ofNullable(row.get("sql")).orElse(""))
            .findFirst()
            .orElse("");
    return new TableDescription(
        table,
        columns,
        unique(connection, table),
        references(connection, table),
        CheckClause.within(sql));
  }

  private static List<Map<String, String>> rows(Connection connection, String sql, String... given)
      throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      for (int i = 0; i < given.length; i++) {
        statement.setString(i + 1, given[i]);
      }
      List<Map<String, String>> rows = new ArrayList<>();
      try (ResultSet result = statement.executeQuery()) {
        while (result.next()) {
          Map<String, String> row = new LinkedHashMap<>();
          for (int i = 1; i <= result.getMetaData().getColumnCount(); i++) {
            row.put(result.getMetaData().getColumnLabel(i), result.getString(i));
          }
          rows.add(row);
        }
      }
      return rows;
    }
  }

  private static Column column(Map<String, String> row) {
    String type = Optional.ofNullable(row.get("type")).orElse("").toUpperCase(Locale.ROOT);
    Column column =
        typed(Column.named(row.get("name")), type)
            .declared(
                !row.get("pk").equals("0"), row.get("notnull").equals("1"), row.get("dflt_value"));
    if (!row.get("hidden").equals("0")) {
      return column.leftOut(Column.GENERATED);
    }
    return type.contains("BLOB") ? column.leftOut(Column.BYTES) : column;
  }

  /** SQLite's affinities (datatype3, section 3.1), and the words beside them that people write. */
  private static Column typed(Column column, String type) {
    if (type.contains("BOOL")) {
      return of(column, "boolean");
    }
    if (type.contains("INT")) {
      return of(column, "integer");
    }
    if (type.startsWith("DATETIME") || type.startsWith("TIMESTAMP")) {
      return of(column, "datetime");
    }
    if (type.startsWith("DATE")) {
      return of(column, "date");
    }
    if (type.startsWith("TIME")) {
      return of(column, "time");
    }
    if (type.matches("(REAL|FLOA|DOUB|NUM|DEC).*")) {
      return column.withType(Optional.of("decimal"), Optional.empty(), number(PLACES, type));
    }
    return column.withType(Optional.empty(), number(LENGTH, type), Optional.empty());
  }

  private static Column of(Column column, String type) {
    return column.withType(Optional.of(type), Optional.empty(), Optional.empty());
  }

  private static Optional<Integer> number(Pattern pattern, String type) {
    Matcher found = pattern.matcher(type);
    return found.find() ? Optional.of(Integer.valueOf(found.group(1))) : Optional.empty();
  }

  private static List<Unique> unique(Connection connection, String table) throws SQLException {
    List<Unique> unique = new ArrayList<>();
    for (Map<String, String> index :
        rows(connection, "SELECT * FROM pragma_index_list(?) WHERE \"unique\" = 1", table)) {
      List<Map<String, String>> columns =
          rows(
              connection,
              "SELECT * FROM pragma_index_xinfo(?) WHERE key = 1 ORDER BY seqno",
              index.get("name"));
      unique.add(
          new Unique(
              columns.stream().map(it -> Optional.ofNullable(it.get("name"))).toList(),
              columns.stream().anyMatch(it -> "NOCASE".equalsIgnoreCase(it.get("coll"))),
              index.get("partial").equals("1")));
    }
    return unique;
  }

  private static List<Reference> references(Connection connection, String table)
      throws SQLException {
    Map<String, List<String>> columns = new LinkedHashMap<>();
    Map<String, String> tables = new LinkedHashMap<>();
    for (Map<String, String> part :
        rows(connection, "SELECT * FROM pragma_foreign_key_list(?) ORDER BY id, seq", table)) {
      columns.computeIfAbsent(part.get("id"), _ -> new ArrayList<>()).add(part.get("from"));
      tables.put(part.get("id"), part.get("table"));
    }
    return columns.entrySet().stream()
        .map(it -> new Reference(it.getValue(), tables.get(it.getKey())))
        .toList();
  }
}
