package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import nodley.core.submission.Context;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Fold;
import nodley.store.common.StoredRecord;
import nodley.store.record.RecordReader;
import nodley.store.schema.Column;
import nodley.store.schema.Columns;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Sql;

/**
 * Creates, replaces and drops the unique indexes of a table when its form changes. Where stored
 * values stand in the way of a new index they are named as an objection, and nothing is changed. In
 * the caller's transaction, on the writer's thread.
 */
final class UniqueIndexes {

  private final FormMigration migration;
  private final Connection on;
  private final Table shape;

  UniqueIndexes(FormMigration migration, Table shape) {
    this.migration = migration;
    this.on = migration.on();
    this.shape = shape;
  }

  /** Drops the indexes that the form has no longer, or over other columns. */
  void dropStale() throws SQLException {
    Map<String, List<String>> wanted = new HashMap<>();
    shape.uniques().forEach(it -> wanted.put(it.plainName(), it.columns()));
    for (String name : indexes(true)) {
      if (!wanted.containsKey(name)) {
        String fields = name.substring(name.indexOf("__") + 2).replace("+", " and ");
        migration.changed(
            shape.isOwn()
                ? fields
                : shape.plainName().substring(migration.form().name().length() + 1) + "." + fields,
            TableChange.Kind.NOT_UNIQUE,
            "It need not be unique any more.");
      }
      if (!UniqueIndex.columnsIn(on, name).equals(wanted.get(name))) {
        Sql.run(on, "DROP INDEX " + Sql.quoted(name));
      }
    }
    List<String> references =
        shape.columns().stream()
            .filter(column -> !column.references().isEmpty())
            .map(column -> FormTable.referenceIndex(shape, column))
            .toList();
    for (String name : indexes(false)) {
      if (!references.contains(name) && !shape.ownIndexes().containsKey(name)) {
        Sql.run(on, "DROP INDEX " + Sql.quoted(name));
      }
    }
  }

  /** Those over fields: that of owners is not among them. */
  private List<String> indexes(boolean unique) throws SQLException {
    String ofOwners = FormTable.oneEachIndex(shape);
    return Catalog.indexes(on, shape.plainName(), unique).stream()
        .filter(name -> !name.equals(ofOwners))
        .toList();
  }

  /** The unique indexes as the form has them. */
  void follow() throws SQLException {
    for (Column column : shape.columns()) {
      if (column.isFolded()) {
        fold(column);
      }
    }
    List<String> there = indexes(true);
    for (UniqueIndex index : shape.uniques()) {
      unique(index, there.contains(index.plainName()));
    }
  }

  private void unique(UniqueIndex index, boolean there) throws SQLException {
    if (there && countsAsBefore(index)) {
      return;
    }
    Sql.run(on, "DROP INDEX IF EXISTS main." + index.name());
    if (index.guard().isPresent()) {
      guard(index);
    }
    if (isDistinct(index)) {
      Sql.run(on, index.creation());
      if (!there && !migration.isNew()) {
        migration.changed(
            shape.pathOf(shape.column(index.unique().at())),
            TableChange.Kind.UNIQUE,
            labels(index)
                + (index.unique().isTogether() ? " together are" : " is")
                + " unique now.");
      }
    }
  }

  private String labels(UniqueIndex index) {
    return index.unique().paths().stream()
        .map(path -> shape.column(path).field().label())
        .collect(Collectors.joining(" and "));
  }

  private boolean countsAsBefore(UniqueIndex index) {
    return migration.earlier().filter(form -> form.uniques().contains(index.unique())).isPresent();
  }

  /** Works out for each kept record whether a unique with {@code when} counts there. */
  private void guard(UniqueIndex index) throws SQLException {
    if (!hasColumn(index.plainGuard())) {
      alter("ADD COLUMN " + index.guard().orElseThrow() + " INTEGER");
    }
    Sql.run(on, "UPDATE " + shape.name() + " SET " + index.guard().orElseThrow() + " = NULL");
    Context context = Context.add(Clock.systemUTC());
    RecordReader.each(
        on,
        migration.form(),
        record -> {
          // As in an edit: what is kept blank stays so, whatever the form begins with now.
          Context kept = context.editing(record.id(), record.values());
          for (UniqueKey uniqueKey : Submission.keys(migration.form(), record.values(), kept)) {
            if (uniqueKey.unique().equals(index.unique())) {
              mark(index, record, uniqueKey.rows());
            }
          }
        });
  }

  private void mark(UniqueIndex index, StoredRecord record, List<Integer> rows)
      throws SQLException {
    Sql.run(
        on,
        "UPDATE "
            + shape.name()
            + " SET "
            + index.guard().orElseThrow()
            + " = 1 WHERE "
            + (shape.isOwn() ? "\"id\"" : "\"row_id\"")
            + " = ?",
        shape.isOwn() ? record.id() : (Object) record.values().row(shape.path(), rows));
  }

  /** Fills the folded column, unless the form had it before and it has been kept up since. */
  private void fold(Column column) throws SQLException {
    boolean isNew = !hasColumn(column.path() + "_folded");
    if (isNew) {
      alter("ADD COLUMN " + column.foldedName() + " TEXT");
    }
    boolean keptUp =
        migration.tableBefore(shape.plainName()).stream()
            .flatMap(before -> before.columns().stream())
            .anyMatch(before -> before.path().equals(column.path()) && before.isFolded());
    if (isNew || !keptUp) {
      Sql.runWith(
          on,
          text -> Fold.of(text.toString()),
          "UPDATE "
              + shape.name()
              + " SET "
              + column.foldedName()
              + " = "
              + Sql.FUNCTION
              + "("
              + column.name()
              + ")");
    }
  }

  private boolean isDistinct(UniqueIndex index) throws SQLException {
    String columns = String.join(", ", index.columns());
    String twice =
        "FROM "
            + shape.name()
            + " WHERE ("
            + columns
            + ") IN (SELECT "
            + columns
            + " FROM "
            + shape.name()
            + index.columns().stream()
                .map(column -> column + " IS NOT NULL")
                .collect(Collectors.joining(" AND ", " WHERE ", " GROUP BY "))
            + columns
            + " HAVING count(*) > 1)";
    List<String> ids =
        Sql.list(
            on,
            row -> row.getString(1),
            "SELECT DISTINCT " + shape.key() + " " + twice + " ORDER BY " + columns + " LIMIT ?",
            FormMigration.MAX_NAMED);
    if (!ids.isEmpty()) {
      migration.object(
          shape.pathOf(shape.column(index.unique().at())),
          "Kept values of "
              + labels(index)
              + (index.unique().isTogether() ? " together" : "")
              + " are not unique.",
          ids,
          Sql.number(on, "SELECT count(*) " + twice));
    }
    return ids.isEmpty();
  }

  private boolean hasColumn(String name) throws SQLException {
    return Columns.names(on, shape.plainName()).contains(name);
  }

  private void alter(String change) throws SQLException {
    Sql.run(on, "ALTER TABLE " + shape.name() + " " + change);
  }
}
