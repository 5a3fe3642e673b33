package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.line.Literal;

/**
 * The tables of one form, and how they follow the form from revision to revision. A dropped field
 * leaves its column and data where they are; kept values that do not fit stand against the
 * revision.
 */
final class FormTable {

  static final int MAX_NAMED = 50;

  private final Connection on;
  private final Optional<Form> earlier;
  private final Table shape;
  private final String table;
  private final List<StoreException.Objection> objections;

  /** A column as SQLite has it. */
  private record Existing(String name, String sqlType) {}

  private FormTable(
      Connection on,
      Table shape,
      Optional<Form> earlier,
      List<StoreException.Objection> objections) {
    this.on = on;
    this.shape = shape;
    this.earlier = earlier;
    this.table = shape.name();
    this.objections = objections;
  }

  /**
   * Brings the tables to the form, in the transaction of the connection.
   *
   * @throws StoreException.StandsAgainst if kept records do not fit; the caller rolls back
   */
  static void follow(Connection on, Form form, Optional<Form> earlier) throws SQLException {
    List<StoreException.Objection> objections = new ArrayList<>();
    for (Table shape : Table.of(form)) {
      new FormTable(on, shape, earlier, objections).follow();
    }
    if (!objections.isEmpty()) {
      throw new StoreException.StandsAgainst(objections);
    }
  }

  /**
   * Takes away all that there is of a form, in the transaction of the connection.
   *
   * @throws StoreException.HasRecords if it has records that are to stay; the caller rolls back
   */
  static void drop(Connection on, String form, boolean withRecords) throws SQLException {
    long records = Sql.number(on, "SELECT count(*) FROM " + Sql.quoted(form));
    if (records > 0 && !withRecords) {
      throw new StoreException.HasRecords(form, records);
    }
    List<String> tables =
        Sql.list(
            on,
            row -> row.getString(1),
            "SELECT name FROM sqlite_schema WHERE type = 'table'"
                + " AND (name = ? OR substr(name, 1, ?) = ?) ORDER BY length(name) DESC",
            form,
            form.length() + 1,
            form + ".");
    for (String table : tables) {
      Sql.run(on, "DROP TABLE " + Sql.quoted(table));
    }
    for (String own : List.of("nodley_versions", "nodley_answers", "nodley_revisions")) {
      Sql.run(on, "DELETE FROM " + own + " WHERE form = ?", form);
    }
    Sql.run(
        on,
        "DELETE FROM nodley_shared WHERE kind = 'TEXTS' AND substr(name, 1, ?) = ?",
        form.length() + 1,
        form + ".");
    Sql.run(on, "DELETE FROM nodley_forms WHERE name = ?", form);
  }

  private void follow() throws SQLException {
    Sql.run(on, shape.declaration());
    for (Column column : shape.columns()) {
      column(column);
    }
    for (Column column : shape.columns()) {
      index(column);
    }
    new UniqueIndexes(on, shape, earlier, objections).follow();
  }

  private void column(Column column) throws SQLException {
    Optional<Existing> found = existing(column.path());
    if (found.isPresent() && !found.get().name().equals(column.path())) {
      alter("RENAME COLUMN " + Sql.quoted(found.get().name()) + " TO " + column.name());
    }
    if (found.isEmpty()) {
      alter("ADD COLUMN " + column.declaration());
    } else if (!isOfShape(column, found.get())) {
      replace(column);
    } else if (!wasOfType(column)) {
      checkReadable(column);
    }
  }

  private Optional<Existing> existing(String name) throws SQLException {
    return Sql.first(
        on,
        row -> new Existing(row.getString("name"), row.getString("type")),
        "SELECT name, type FROM pragma_table_info(?) WHERE name = ? COLLATE NOCASE",
        shape.plainName(),
        name);
  }

  private boolean isOfShape(Column column, Existing existing) throws SQLException {
    String references =
        Sql.first(
                on,
                row -> row.getString(1),
                "SELECT \"table\" FROM pragma_foreign_key_list(?) WHERE \"from\" = ?",
                shape.plainName(),
                column.path())
            .orElse("");
    return existing.sqlType().equals(column.sqlType()) && references.equals(column.references());
  }

  /** A column of another shape is only replaced while nothing is kept in it. */
  private void replace(Column column) throws SQLException {
    String filled = "FROM " + table + " WHERE " + column.name() + " IS NOT NULL";
    List<String> ids = ids("SELECT " + shape.key() + " " + filled);
    if (!ids.isEmpty()) {
      object(
          column,
          "Kept values cannot become " + words(column.field()) + ".",
          ids,
          Sql.number(on, "SELECT count(*) " + filled));
      return;
    }
    for (UniqueIndex index : shape.uniques()) {
      Sql.run(on, "DROP INDEX IF EXISTS " + index.name());
    }
    Sql.run(on, "DROP INDEX IF EXISTS " + Sql.quoted(shape.plainName() + "__" + column.path()));
    Sql.run(on, "DROP INDEX IF EXISTS " + referenceIndex(column));
    alter("DROP COLUMN " + column.name());
    alter("ADD COLUMN " + column.declaration());
  }

  private boolean wasOfType(Column column) {
    return earlier
        .flatMap(before -> before.fields().find(List.of(shape.pathOf(column).split("\\."))))
        .filter(before -> before.type() == column.field().type())
        .isPresent();
  }

  /** Values that were kept as another type, in a column of the same SQL type, must read as this. */
  private void checkReadable(Column column) throws SQLException {
    Field field = column.field();
    boolean secret = field.isSecret() || wasSecret(column);
    if (!secret && (field.type() == Type.TEXT || field.type() == Type.INTEGER)) {
      return;
    }
    List<String> unfit = new ArrayList<>();
    Sql.list(
        on,
        row -> {
          if (secret || !isReadable(field, row.getString(2))) {
            unfit.add(row.getString(1));
          }
          return null;
        },
        "SELECT "
            + shape.key()
            + ", CAST("
            + column.name()
            + " AS TEXT) FROM "
            + table
            + " WHERE "
            + column.name()
            + " IS NOT NULL");
    if (!unfit.isEmpty()) {
      object(
          column,
          "Kept values cannot be read as " + words(field) + ".",
          unfit.stream().limit(MAX_NAMED).toList(),
          unfit.size());
    }
  }

  /** What was kept as a secret is a digest, and never becomes a value; nor the other way. */
  private boolean wasSecret(Column column) {
    return earlier
        .flatMap(before -> before.fields().find(List.of(shape.pathOf(column).split("\\."))))
        .filter(Field::isSecret)
        .isPresent();
  }

  private static boolean isReadable(Field field, String text) {
    return field.type() == Type.CHOICES
        ? text.startsWith("[")
        : !text.startsWith("[") && Literal.read(field, text).fault().isEmpty();
  }

  private static String words(Field field) {
    return field.refersTo().map(other -> "a reference to " + other).orElse(field.type().word());
  }

  private void index(Column column) throws SQLException {
    if (column.field().refersTo().isPresent()) {
      Sql.run(
          on,
          "CREATE INDEX IF NOT EXISTS "
              + referenceIndex(column)
              + " ON "
              + table
              + " ("
              + column.name()
              + ")");
    }
  }

  private List<String> ids(String select) throws SQLException {
    return Sql.list(on, row -> row.getString(1), select + " LIMIT " + MAX_NAMED);
  }

  private void object(Column column, String detail, List<String> ids, long count) {
    objections.add(new StoreException.Objection(shape.pathOf(column), detail, ids, count));
  }

  private void alter(String change) throws SQLException {
    Sql.run(on, "ALTER TABLE " + table + " " + change);
  }

  private String referenceIndex(Column column) {
    return Sql.quoted(shape.plainName() + "__" + column.path() + "__ref");
  }
}
