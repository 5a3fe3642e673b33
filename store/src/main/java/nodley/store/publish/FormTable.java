package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.store.common.StoreException;
import nodley.store.record.RecordReader;
import nodley.store.schema.Column;
import nodley.store.schema.Columns;
import nodley.store.schema.Table;
import nodley.store.sqlite.FullText;
import nodley.store.sqlite.Sql;

/**
 * Migrates one table of a form when the form changes: creates it, adds and renames columns,
 * rebuilds it where SQLite cannot alter it. Called for a dry run as well, on a database beside the
 * real one. In the caller's transaction.
 */
public final class FormTable {

  /** What SQLite has room for in one table, unless it is built anew. */
  private static final int MOST_COLUMNS = 2_000;

  private final FormMigration migration;
  private final Connection on;
  private final Table shape;

  public FormTable(FormMigration migration, Table shape) {
    this.migration = migration;
    this.on = migration.on();
    this.shape = shape;
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
    FullText.drop(on, form);
    FileTables.drop(on, form);
    for (String table : Columns.tables(on, form).reversed()) {
      Sql.run(on, "DROP TABLE " + Sql.quoted(table));
    }
    for (String own :
        List.of(
            "nodley_versions",
            "nodley_record_files",
            "nodley_removed",
            "nodley_uploads",
            "nodley_drafts",
            "nodley_confirmations",
            "nodley_answers",
            "nodley_revisions",
            "nodley_retired",
            "nodley_renames",
            "nodley_holds")) {
      Sql.run(on, "DELETE FROM " + own + " WHERE form = ?", form);
    }
    Sql.run(
        on,
        "DELETE FROM nodley_shared WHERE kind = 'TEXTS' AND substr(name, 1, ?) = ?",
        form.length() + 1,
        form + ".");
    Sql.run(on, "DELETE FROM nodley_forms WHERE name = ?", form);
  }

  void follow() throws SQLException {
    List<Columns.Found> columns = Columns.all(on, shape.plainName());
    boolean isNew = columns.isEmpty();
    if (!fits(columns)) {
      return;
    }
    if (isNew) {
      Sql.run(on, shape.declaration());
    }
    UniqueIndexes uniques = new UniqueIndexes(migration, shape);
    uniques.dropStale();
    Map<String, Columns.Found> byName = new HashMap<>();
    columns.forEach(column -> byName.put(column.name(), column));
    for (Column column : shape.columns()) {
      Columns.Found found = byName.get(column.path());
      if (found != null) {
        follow(column, found);
      } else {
        if (!isNew) {
          alter("ADD COLUMN " + column.declaration());
        }
        tellAdded(column, isNew);
      }
    }
    for (Map.Entry<String, String> own : shape.ownIndexes().entrySet()) {
      Sql.run(
          on,
          "CREATE INDEX IF NOT EXISTS %s ON %s %s"
              .formatted(Sql.quoted(own.getKey()), shape.name(), own.getValue()));
    }
    if (shape.isOwn()) {
      indexOneEach();
    }
    for (Column column : shape.columns()) {
      index(column);
    }
    uniques.follow();
  }

  static String oneEachIndex(Table shape) {
    return shape.plainName() + "__one__each";
  }

  /** Where each person has one record, an index sees to it; more than one are a conflict. */
  private void indexOneEach() throws SQLException {
    String name = Sql.quoted(oneEachIndex(shape));
    if (!migration.form().isOneEach()) {
      // A dry run has another database beside its own, in which nothing may be dropped.
      Sql.run(on, "DROP INDEX IF EXISTS main." + name);
    } else if (migration.ownersOfMore().isEmpty()) {
      Sql.run(
          on,
          "CREATE UNIQUE INDEX IF NOT EXISTS %s ON %s (\"owner__id\") WHERE \"owner__id\" <> ''"
              .formatted(name, shape.name()));
    }
  }

  /** Retired fields still have their columns. Too many for SQLite are a conflict. */
  private boolean fits(List<Columns.Found> columns) {
    Set<String> names = columns.stream().map(Columns.Found::name).collect(Collectors.toSet());
    int before = names.size();
    for (Column column : shape.columns()) {
      names.add(column.path());
      if (column.isFolded()) {
        names.add(column.path() + "_folded");
      }
    }
    shape.uniques().stream()
        .filter(index -> index.guard().isPresent())
        .forEach(index -> names.add(index.plainGuard()));
    if (names.size() <= MOST_COLUMNS) {
      return true;
    }
    migration.object(
        String.join(".", shape.path()),
        "A table has room for %d columns: there are %d, those of retired fields too, and this needs %d more. `nodley form %s --forget FIELD` makes room."
            .formatted(MOST_COLUMNS, before, names.size() - before, migration.form().name()),
        List.of(),
        0);
    return false;
  }

  private void tellAdded(Column column, boolean isNew) {
    if (!migration.isNew()) {
      migration.changed(
          shape.pathOf(column),
          TableChange.Kind.ADDED,
          "A column for %s.".formatted(Conversion.words(column.field()))
              + (isNew ? "" : " Kept records have nothing there."));
    }
  }

  private void follow(Column column, Columns.Found found) throws SQLException {
    Type was = migration.typeBefore(shape.pathOf(column)).orElse(found.plainType());
    boolean alike =
        was == column.field().type()
            && found.sqlType().equals(column.sqlType())
            && found.references().equals(column.references());
    if (!alike) {
      new Conversion(migration, shape, column).run(found, was);
    }
  }

  private void index(Column column) throws SQLException {
    if (!column.references().isEmpty()) {
      Sql.run(
          on,
          "CREATE INDEX IF NOT EXISTS "
              + Sql.quoted(referenceIndex(shape, column))
              + " ON "
              + shape.name()
              + " ("
              + column.name()
              + ")");
    }
  }

  private void alter(String change) throws SQLException {
    Sql.run(on, "ALTER TABLE " + shape.name() + " " + change);
  }

  /** The name without quotes. */
  static String referenceIndex(Table shape, Column column) {
    return shape.plainName() + "__" + column.path() + "__ref";
  }

  /** Creates the full-text index of a form, of all its records. */
  static void indexWords(Connection on, Form form) throws SQLException {
    FullText.create(on, form);
    RecordReader.each(on, form, record -> FullText.add(on, form, record.id(), record.values()));
  }
}
