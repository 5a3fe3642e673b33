package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.stream.Collectors;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/** The step from data version 6 to 7: each record has a number, by which an index knows it. */
final class From6 {

  private From6() {}

  static void migrate(Connection connection, String form) throws SQLException {
    String next = Sql.quoted(form + "_next");
    String columns =
        Columns.names(connection, form).stream().map(Sql::quoted).collect(Collectors.joining(", "));
    Sql.run(
        connection,
        Catalog.declarations(connection, Catalog.Kind.TABLE, form)
            .getFirst()
            .replaceFirst("\"[^\"]+\"", next)
            .replaceFirst(
                "\"id\" TEXT NOT NULL PRIMARY KEY",
                "\"record_number\" INTEGER PRIMARY KEY, \"id\" TEXT NOT NULL UNIQUE"));
    Sql.run(
        connection,
        "INSERT INTO %s (%s) SELECT %s FROM %s ORDER BY \"id\""
            .formatted(next, columns, columns, Sql.quoted(form)));
    Columns.replaceTable(connection, form, next);
  }
}
