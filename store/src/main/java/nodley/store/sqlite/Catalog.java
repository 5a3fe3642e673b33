package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;

/**
 * What SQLite tells of a database: its tables, columns and indexes (the table {@code sqlite_schema}
 * and the table-valued pragmas, sqlite.org/pragma.html), its data version, and whether it is sound.
 * Looks in the connection's database {@code main} unless another is named, because a dry run of a
 * publish has a second one attached. Stateless; on the thread and in the transaction of the caller.
 */
public final class Catalog {

  /** The name of the database that a connection was opened on. */
  private static final String MAIN = "main";

  private Catalog() {}

  /** What has a name and a declaration. */
  public enum Kind {
    TABLE,
    VIEW,
    INDEX;

    private String sql() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /**
   * A column.
   *
   * @param type as it was declared
   * @param references the table that it refers to; empty for none
   */
  public record Column(String name, String type, String references) {}

  /** Returns the data version that was set; 0 if none was. */
  public static long version(Connection on) throws SQLException {
    return Sql.number(on, "PRAGMA user_version");
  }

  /** Sets the data version, which is part of the transaction. */
  public static void setVersion(Connection on, long version) throws SQLException {
    Sql.run(on, "PRAGMA user_version = " + version);
  }

  /** True if nothing was made there yet. */
  public static boolean isEmpty(Connection on) throws SQLException {
    return Sql.number(on, "SELECT count(*) FROM sqlite_schema") == 0;
  }

  /**
   * Stops or goes on checking references at each statement, so that a table that others refer to
   * can be made anew. Has no effect within a transaction.
   */
  public static void checkReferences(Connection on, boolean check) throws SQLException {
    Sql.run(on, "PRAGMA foreign_keys = " + (check ? "ON" : "OFF"));
  }

  /** Returns what has a name, or one that begins with that name and a dot; shorter ones first. */
  public static List<String> under(Connection on, Kind kind, String name) throws SQLException {
    return under(on, MAIN, kind, name);
  }

  /** The same in a database that is attached under a name. */
  public static List<String> under(Connection on, String database, Kind kind, String name)
      throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT name FROM "
            + database
            + ".sqlite_schema WHERE type = ? AND (name = ? OR substr(name, 1, ?) = ?)"
            + " ORDER BY length(name), name",
        kind.sql(),
        name,
        name.length() + 1,
        name + ".");
  }

  /** True if there is a table of each of these names. */
  public static boolean hasTables(Connection on, List<String> names) throws SQLException {
    for (String name : names) {
      if (columns(on, name).isEmpty()) {
        return false;
      }
    }
    return true;
  }

  /**
   * Returns the statements that made a table, or the indexes on it.
   *
   * @param database the name that it is attached under
   */
  public static List<String> declarations(Connection on, String database, Kind kind, String table)
      throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT sql FROM "
            + database
            + ".sqlite_schema WHERE type = ? AND tbl_name = ? AND sql IS NOT NULL",
        kind.sql(),
        table);
  }

  /** The same in the database that the connection was opened on. */
  public static List<String> declarations(Connection on, Kind kind, String table)
      throws SQLException {
    return declarations(on, MAIN, kind, table);
  }

  /** Returns the columns of a table in their order; none if there is no such table. */
  public static List<Column> columns(Connection on, String table) throws SQLException {
    return Sql.list(
        on,
        row -> new Column(row.getString(1), row.getString(2), row.getString(3)),
        "SELECT c.name, c.type, coalesce((SELECT f.\"table\" FROM pragma_foreign_key_list(?1,"
            + " 'main') f WHERE f.\"from\" = c.name), '') FROM pragma_table_info(?1, 'main') c"
            + " ORDER BY c.cid",
        table);
  }

  /** Returns the indexes on a table that statements made, and not constraints of the table. */
  public static List<String> indexes(Connection on, String table, boolean unique)
      throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT name FROM pragma_index_list(?, 'main') WHERE \"unique\" = ? AND origin = 'c'",
        table,
        unique ? 1 : 0);
  }

  /** Returns those of them that have a column. */
  public static List<String> indexesOver(Connection on, String table, String column)
      throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT DISTINCT l.name FROM pragma_index_list(?, 'main') l, pragma_index_info(l.name,"
            + " 'main') i WHERE l.origin = 'c' AND i.name = ?",
        table,
        column);
  }

  /** Returns the columns of an index in their order; none if there is no such index. */
  public static List<String> indexColumns(Connection on, String index) throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT name FROM pragma_index_info(?, 'main') ORDER BY seqno",
        index);
  }

  /**
   * Returns what is wrong with the file; nothing if it is sound. Reads all of it.
   *
   * @param most so many faults are told
   */
  public static List<String> damage(Connection on, int most) throws SQLException {
    List<String> told =
        Sql.list(on, row -> row.getString(1), "PRAGMA integrity_check(" + most + ")");
    return told.equals(List.of("ok")) ? List.of() : told;
  }

  /**
   * Rows that refer to none.
   *
   * @param table where they are
   * @param referred the table that they refer to
   */
  public record BrokenReferences(String table, String referred, long rows) {}

  /** Returns the rows whose references lead nowhere, by table. Reads all tables that refer. */
  public static List<BrokenReferences> brokenReferences(Connection on) throws SQLException {
    return Sql.list(
        on,
        row -> new BrokenReferences(row.getString(1), row.getString(2), row.getLong(3)),
        "SELECT \"table\", parent, count(*) FROM pragma_foreign_key_check GROUP BY 1, 2");
  }

  /**
   * Returns the statement that makes a table whose columns take values of their type alone (STRICT
   * tables).
   *
   * @param name in quotes
   */
  public static String newTable(String name, List<String> columns) {
    return "CREATE TABLE " + name + " (" + String.join(", ", columns) + ") STRICT";
  }

  /**
   * Runs the statements of a script in their order, in the caller's transaction; each ends with a
   * semicolon at the end of a line. Tables that it makes take values of their columns' types alone
   * (STRICT tables). One whose text ends with the word CLUSTERED is stored in the order of its
   * primary key, without row numbers (WITHOUT ROWID).
   */
  public static void run(Connection on, String script) throws SQLException {
    for (String part : script.split(";\\n")) {
      if (!part.isBlank()) {
        Sql.run(on, part.startsWith("CREATE TABLE ") ? strict(part) : part);
      }
    }
  }

  private static String strict(String table) {
    String clustered = " CLUSTERED";
    return table.endsWith(clustered)
        ? table.substring(0, table.length() - clustered.length()) + " STRICT, WITHOUT ROWID"
        : table + " STRICT";
  }
}
