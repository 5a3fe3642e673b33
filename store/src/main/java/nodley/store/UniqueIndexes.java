package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.core.line.Claim;
import nodley.core.line.Context;
import nodley.core.line.Submission;
import nodley.core.value.Fold;

/** The unique indexes of a table, and how they follow the form from revision to revision. */
final class UniqueIndexes {

  private final Connection on;
  private final Table shape;
  private final Optional<Form> earlier;
  private final List<StoreException.Objection> objections;

  /**
   * Of one table.
   *
   * @param objections is added to where kept records are not distinct
   */
  UniqueIndexes(
      Connection on,
      Table shape,
      Optional<Form> earlier,
      List<StoreException.Objection> objections) {
    this.on = on;
    this.shape = shape;
    this.earlier = earlier;
    this.objections = objections;
  }

  /** The unique indexes as the form has them; those that it has no longer go. */
  void follow() throws SQLException {
    for (Column column : shape.columns()) {
      if (column.isFolded()) {
        fold(column);
      }
    }
    List<UniqueIndex> wanted = shape.uniques();
    List<String> names = wanted.stream().map(UniqueIndex::plainName).toList();
    List<String> there =
        Sql.list(
            on,
            row -> row.getString(1),
            "SELECT name FROM pragma_index_list(?) WHERE \"unique\" = 1 AND origin = 'c'",
            shape.plainName());
    for (String name : there) {
      if (!names.contains(name)) {
        Sql.run(on, "DROP INDEX " + Sql.quoted(name));
      }
    }
    for (UniqueIndex index : wanted) {
      unique(index, there.contains(index.plainName()));
    }
  }

  private void unique(UniqueIndex index, boolean there) throws SQLException {
    boolean same = there && index.columnsIn(on).equals(index.columns()) && countsAsBefore(index);
    if (same) {
      return;
    }
    Sql.run(on, "DROP INDEX IF EXISTS " + index.name());
    if (index.guard().isPresent()) {
      guard(index);
    }
    if (isDistinct(index)) {
      Sql.run(on, index.creation());
    }
  }

  private boolean countsAsBefore(UniqueIndex index) {
    return earlier.filter(form -> form.uniques().contains(index.unique())).isPresent();
  }

  /** Works out for each kept record whether a unique with {@code when} counts there. */
  private void guard(UniqueIndex index) throws SQLException {
    if (!hasColumn(index.plainGuard())) {
      alter("ADD COLUMN " + index.guard().orElseThrow() + " INTEGER");
    }
    Sql.run(on, "UPDATE " + shape.name() + " SET " + index.guard().orElseThrow() + " = NULL");
    Context context = Context.add(Clock.systemUTC());
    for (StoredRecord record : Records.all(on, shape.form())) {
      // As in an edit: what is kept blank stays so, whatever the form begins with now.
      Context kept = context.editing(record.id(), record.values());
      for (Claim claim : Submission.claims(shape.form(), record.values(), kept)) {
        if (claim.unique().equals(index.unique())) {
          mark(index, record.id(), claim.rows());
        }
      }
    }
  }

  private void mark(UniqueIndex index, String id, List<Integer> rows) throws SQLException {
    List<Object> bound = new ArrayList<>(List.of(id));
    bound.addAll(rows);
    String row =
        shape.numbers().stream()
            .map(number -> " AND " + number + " = ?")
            .collect(Collectors.joining());
    Sql.run(
        on,
        "UPDATE "
            + shape.name()
            + " SET "
            + index.guard().orElseThrow()
            + " = 1 WHERE "
            + shape.key()
            + " = ?"
            + row,
        bound.toArray());
  }

  /** Fills the folded column, unless the form had it before and it has been kept up since. */
  private void fold(Column column) throws SQLException {
    if (!hasColumn(column.path() + "_folded")) {
      alter("ADD COLUMN " + column.foldedName() + " TEXT");
    }
    boolean keptUp =
        earlier.stream()
            .flatMap(form -> Table.of(form).stream())
            .filter(before -> before.plainName().equals(shape.plainName()))
            .flatMap(before -> before.columns().stream())
            .anyMatch(before -> before.path().equals(column.path()) && before.isFolded());
    if (keptUp) {
      return;
    }
    record Kept(long row, String text) {}
    List<Kept> all =
        Sql.list(
            on,
            row -> new Kept(row.getLong(1), row.getString(2)),
            "SELECT rowid, " + column.name() + " FROM " + shape.name());
    for (Kept kept : all) {
      Sql.run(
          on,
          "UPDATE " + shape.name() + " SET " + column.foldedName() + " = ? WHERE rowid = ?",
          kept.text() == null ? null : Fold.of(kept.text()),
          kept.row());
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
            FormTable.MAX_NAMED);
    if (!ids.isEmpty()) {
      List<String> labels =
          index.unique().paths().stream().map(path -> shape.column(path).field().label()).toList();
      objections.add(
          new StoreException.Objection(
              shape.pathOf(shape.column(index.unique().at())),
              "Kept values of "
                  + String.join(" and ", labels)
                  + (labels.size() > 1 ? " together" : "")
                  + " are not unique.",
              ids,
              Sql.number(on, "SELECT count(*) " + twice)));
    }
    return ids.isEmpty();
  }

  private boolean hasColumn(String name) throws SQLException {
    return Sql.number(
            on, "SELECT count(*) FROM pragma_table_info(?) WHERE name = ?", shape.plainName(), name)
        > 0;
  }

  private void alter(String change) throws SQLException {
    Sql.run(on, "ALTER TABLE " + shape.name() + " " + change);
  }
}
