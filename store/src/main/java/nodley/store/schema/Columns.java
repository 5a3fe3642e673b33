package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import nodley.core.form.Type;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * Reads which columns a table has, those of retired fields included. Looks only in the connection's
 * main database, because a dry run of a publish has another one attached.
 */
public final class Columns {

  /** Columns of Nodley's own whose names a field could have, if they were not barred. */
  private static final Set<String> OWN =
      Set.of(
          "id",
          "version",
          "revision",
          "record_number",
          "created_at",
          "updated_at",
          "updated_by",
          "row_id",
          "record_id",
          "row_number",
          "outer_row");

  private Columns() {}

  /**
   * A column of a table.
   *
   * @param table without quotes
   * @param name without quotes
   * @param path the field that it is for, as a path of the form: {@code crew.name}
   * @param references the form that it points at; empty for none
   */
  public record Found(String table, String name, String path, String sqlType, String references) {

    /** Returns the name in quotes, as SQL takes it. */
    public String quoted() {
      return Sql.quoted(name);
    }

    /** What a column holds of which nothing else is known. */
    public Type plainType() {
      return switch (sqlType) {
        case "INTEGER" -> Type.INTEGER;
        case "REAL" -> Type.DECIMAL;
        default -> Type.TEXT;
      };
    }
  }

  /** The form's own table first, then those of rows, outer ones first. */
  public static List<String> tables(Connection on, String form) throws SQLException {
    return Catalog.under(on, Catalog.Kind.TABLE, form);
  }

  /** One for each field, in all tables of the form. */
  public static List<Found> of(Connection on, String form) throws SQLException {
    List<Found> found = new ArrayList<>();
    for (String table : tables(on, form)) {
      found.addAll(all(on, table));
    }
    return found.stream().filter(column -> isOfField(column.name())).toList();
  }

  /** All of one table, Nodley's own too. */
  public static List<Found> all(Connection on, String table) throws SQLException {
    String rows = table.contains(".") ? table.substring(table.indexOf('.') + 1) + "." : "";
    return Catalog.columns(on, table).stream()
        .map(it -> new Found(table, it.name(), rows + it.name(), it.type(), it.references()))
        .toList();
  }

  /** Those of one field, or of all fields inside it. */
  public static List<Found> under(Connection on, String form, List<String> path)
      throws SQLException {
    return under(of(on, form), path);
  }

  /** The same among those that were read already. */
  public static List<Found> under(List<Found> columns, List<String> path) {
    String dotted = String.join(".", path);
    return columns.stream()
        .filter(it -> it.path().equals(dotted) || it.path().startsWith(dotted + "."))
        .toList();
  }

  /** True unless it is a column of Nodley's own: these have a barred name, or two underscores. */
  public static boolean isOfField(String column) {
    return !OWN.contains(column) && !column.contains("__") && !column.endsWith("_folded");
  }

  /** The table that has a path, without quotes: the innermost rows around it. */
  static String tableOf(Connection on, String form, List<String> path) throws SQLException {
    List<String> tables = tables(on, form);
    for (int end = path.size() - 1; end > 0; end--) {
      String rows = form + "." + String.join(".", path.subList(0, end));
      if (tables.contains(rows)) {
        return rows;
      }
    }
    return form;
  }

  /** Renames the columns, those that fold their case too, and the tables inside. */
  public static void rename(Connection on, String form, Rename rename) throws SQLException {
    String table = tableOf(on, form, rename.from());
    int outer = table.equals(form) ? 0 : table.substring(form.length() + 1).split("\\.").length;
    String from = String.join(".", rename.from().subList(outer, rename.from().size()));
    String to = String.join(".", rename.to().subList(outer, rename.to().size()));
    for (String column : names(on, table)) {
      if (column.equals(from) || column.equals(from + "_folded") || column.startsWith(from + ".")) {
        Sql.run(
            on,
            "ALTER TABLE "
                + Sql.quoted(table)
                + " RENAME COLUMN "
                + Sql.quoted(column)
                + " TO "
                + Sql.quoted(to + column.substring(from.length())));
      }
    }
    String inside = form + "." + String.join(".", rename.from());
    String after = form + "." + String.join(".", rename.to());
    for (String name : tables(on, form)) {
      if (name.equals(inside) || name.startsWith(inside + ".")) {
        Sql.run(
            on,
            "ALTER TABLE "
                + Sql.quoted(name)
                + " RENAME TO "
                + Sql.quoted(after + name.substring(inside.length())));
      }
    }
  }

  /** All columns of a table, Nodley's own too. */
  public static List<String> names(Connection on, String table) throws SQLException {
    return Catalog.columns(on, table).stream().map(Catalog.Column::name).toList();
  }

  /** Takes a column away, after the indexes over it. */
  public static void drop(Connection on, String table, String column) throws SQLException {
    for (String index : Catalog.indexesOver(on, table, column)) {
      Sql.run(on, "DROP INDEX " + Sql.quoted(index));
    }
    Sql.run(on, "ALTER TABLE " + Sql.quoted(table) + " DROP COLUMN " + Sql.quoted(column));
  }

  /**
   * Puts a table in the place of another, with the indexes that this had. SQLite alters little of a
   * table, so that one is made anew.
   *
   * @param next the name of the new table, in quotes
   */
  static void replaceTable(Connection on, String table, String next) throws SQLException {
    List<String> indexes = Catalog.declarations(on, Catalog.Kind.INDEX, table);
    Sql.run(on, "DROP TABLE " + Sql.quoted(table));
    Sql.run(on, "ALTER TABLE " + next + " RENAME TO " + Sql.quoted(table));
    for (String index : indexes) {
      Sql.run(on, index);
    }
  }
}
