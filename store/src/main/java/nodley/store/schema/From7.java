package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * The step from data version 7 to 8: each row has an identity of its own, and inner rows that of
 * the row they are inside of.
 */
final class From7 {

  private From7() {}

  static void migrate(Connection connection, String form) throws SQLException {
    List<String> tables = new ArrayList<>(Columns.tables(connection, form));
    tables.remove(form);
    for (String table : tables) {
      List<String> outer = tables.stream().filter(it -> table.startsWith(it + ".")).toList();
      migrate(connection, form, table, outer);
    }
  }

  /**
   * One table.
   *
   * @param outer the tables of rows around it, the outermost first
   */
  private static void migrate(Connection connection, String form, String table, List<String> outer)
      throws SQLException {
    String next = Sql.quoted(table + "_next");
    String inside = outer.isEmpty() ? "" : Sql.quoted(outer.getLast());
    Sql.run(connection, Catalog.newTable(next, List.of(Table.ofRows(Sql.quoted(form), inside))));
    List<String> columns = new ArrayList<>();
    for (Columns.Found column : Columns.all(connection, table)) {
      if (!column.name().startsWith("row_number") && !column.name().equals("record_id")) {
        columns.add(column.quoted());
        Sql.run(
            connection,
            "ALTER TABLE %s ADD COLUMN %s %s%s"
                .formatted(
                    next,
                    column.quoted(),
                    column.sqlType(),
                    column.references().isEmpty()
                        ? ""
                        : " REFERENCES " + Sql.quoted(column.references()) + " (\"id\")"));
      }
    }
    String number = outer.isEmpty() ? "row_number" : "row_number_" + (outer.size() + 1);
    String own = columns.isEmpty() ? "" : ", " + String.join(", ", columns);
    Sql.run(
        connection,
        "INSERT INTO %s (\"record_id\", \"row_number\"%s%s) SELECT \"record_id\", \"%s\"%s%s FROM %s AS own%s ORDER BY %s"
            .formatted(
                next,
                outer.isEmpty() ? "" : ", \"outer_row\"",
                own,
                number,
                outer.isEmpty() ? "" : ", " + outerRow(outer),
                own,
                Sql.quoted(table),
                // What is left of rows whose outer row is gone belongs to nobody.
                outer.isEmpty() ? "" : " WHERE " + outerRow(outer) + " IS NOT NULL",
                outer.isEmpty() ? "1, 2" : "1, \"row_number\", 2"));
    Columns.replaceTable(connection, table, next);
    for (Map.Entry<String, String> index :
        Table.indexesOfRows(table, !outer.isEmpty()).entrySet()) {
      Sql.run(
          connection,
          "CREATE INDEX %s ON %s %s"
              .formatted(Sql.quoted(index.getKey()), Sql.quoted(table), index.getValue()));
    }
  }

  /** The identity of the row around a row of the table that is being read. */
  private static String outerRow(List<String> outer) {
    int depth = outer.size();
    return "(SELECT \"row_id\" FROM "
        + Sql.quoted(outer.getLast())
        + " WHERE \"record_id\" = own.\"record_id\" AND \"row_number\" = own.\"row_number"
        + (depth == 1 ? "" : "_" + depth)
        + "\""
        + (depth == 1 ? "" : " AND \"outer_row\" = " + outerRow(outer.subList(0, depth - 1)))
        + ")";
  }
}
