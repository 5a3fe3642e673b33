package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.form.Unique;
import nodley.core.submission.UniqueKey;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * A unique index of SQLite. NULLs are distinct there, so blank values never collide. A unique with
 * {@code when} has one column more, which is 1 where the condition is true and NULL otherwise.
 */
public final class UniqueIndex {

  /** No field can have two underscores in its name. */
  static final String WHEN = "__when";

  private final Table table;
  private final Unique unique;
  private final List<String> columns = new ArrayList<>();
  private final String question;

  /** The index of one {@code unique} of a form, on the table where its fields are. */
  public UniqueIndex(Table table, Unique unique) {
    this.table = table;
    this.unique = unique;
    for (List<String> path : unique.paths()) {
      Column column = table.column(path);
      columns.add(folds(column) ? column.foldedName() : column.name());
    }
    guard().ifPresent(columns::add);
    this.question =
        "SELECT ? FROM "
            + table.name()
            + columns.stream()
                .map(column -> column + " = ?")
                .collect(Collectors.joining(" AND ", " WHERE ", " AND "))
            + table.key()
            + " <> ?";
  }

  /** Returns the unique that the index enforces. */
  public Unique unique() {
    return unique;
  }

  /** The name without quotes: {@code visit__vessel+arrives}. */
  public String plainName() {
    return table.plainName() + "__" + unique.name();
  }

  /** Returns the name of the index as a quoted identifier. */
  public String name() {
    return Sql.quoted(plainName());
  }

  /** The columns that it is over, in their order. */
  public List<String> columns() {
    return columns;
  }

  /** The columns that an index has in a database; none if it is not there. */
  public static List<String> columnsIn(Connection on, String plainName) throws SQLException {
    return Catalog.indexColumns(on, plainName).stream().map(Sql::quoted).toList();
  }

  private boolean folds(Column column) {
    return unique.ignoreCase() && column.isFolded();
  }

  /** The column that says whether it counts. */
  public Optional<String> guard() {
    return unique.when().map(_ -> Sql.quoted(plainGuard()));
  }

  /** Returns the name of the column for {@code when}, without quotes. */
  public String plainGuard() {
    return unique.name() + WHEN;
  }

  /** Returns the CREATE UNIQUE INDEX statement. */
  public String creation() {
    return "CREATE UNIQUE INDEX "
        + name()
        + " ON "
        + table.name()
        + " ("
        + String.join(", ", columns())
        + ")";
  }

  /** A query whether another record has a key: one row, with the index of the key, if so. */
  public String question() {
    return question;
  }

  /** What is bound there, between the place and the record that does not count. */
  public List<Object> bound(UniqueKey key) {
    List<Object> bound = new ArrayList<>();
    for (int i = 0; i < unique.paths().size(); i++) {
      Column column = table.column(unique.paths().get(i));
      bound.add(
          folds(column)
              ? column.toFoldedSql(key.values().get(i))
              : column.toSql(key.values().get(i)));
    }
    guard().ifPresent(_ -> bound.add(1));
    return bound;
  }
}
