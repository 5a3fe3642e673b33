package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.name.Near;
import nodley.store.record.RecordFiles;
import nodley.store.record.RemovedRecords;
import nodley.store.record.Versions;
import nodley.store.schema.Columns;
import nodley.store.schema.Rename;
import nodley.store.sqlite.Sql;

/**
 * Renames fields ({@code was}): their columns and tables, and their names in stored versions of
 * records. Going back to a revision from before a {@code was} renames the field back.
 */
public final class Renames {

  private final FormMigration migration;
  private final Connection on;
  private final String form;

  /** What there is now: read anew after each rename. */
  private List<Columns.Found> columns;

  public Renames(FormMigration migration) throws SQLException {
    this.migration = migration;
    this.on = migration.on();
    this.form = migration.form().name();
    this.columns = Columns.of(on, form);
  }

  /**
   * Renames columns, tables and stored versions, in the caller's transaction.
   *
   * @param earlier the form in its current revision
   */
  void follow(Form earlier) throws SQLException {
    for (Form.Placed placed : migration.form().everyField()) {
      if (earlier.fields().find(migration.before(placed.path())).isEmpty()) {
        Optional<List<String>> from = from(placed, earlier);
        if (from.isPresent() && isThere(from.get())) {
          rename(new Rename(from.get(), placed.path()));
        } else if (from.isPresent() && isWrong(placed)) {
          objectToName(placed, earlier);
        }
      }
    }
    for (Form.Placed placed : migration.form().everyField()) {
      Optional<List<String>> now = isThere(placed.path()) ? Optional.empty() : since(placed.path());
      if (now.isPresent()
          && isThere(now.get())
          && migration.form().fields().find(now.get()).isEmpty()) {
        rename(new Rename(now.get(), placed.path()));
      }
    }
    for (Form.Placed placed : earlier.everyField()) {
      List<String> from = now(placed.path());
      Optional<List<String>> to = placed.field().source().was().map(was -> beside(from, was));
      boolean back =
          to.isPresent()
              && migration.form().fields().find(from).isEmpty()
              && migration.form().fields().find(to.get()).isPresent()
              && !isThere(to.get());
      if (back) {
        rename(new Rename(from, to.get()));
      }
    }
  }

  /** True if a field's {@code was} names nothing that there is, and nothing that there ever was. */
  private boolean isWrong(Form.Placed placed) throws SQLException {
    return placed.field().source().was().isPresent()
        && !isThere(placed.path())
        && since(beside(placed.path(), placed.field().source().was().get())).isEmpty();
  }

  private void objectToName(Form.Placed placed, Form earlier) throws SQLException {
    String was = placed.field().source().was().orElseThrow();
    List<String> before = migration.before(placed.path());
    List<String> outer = before.subList(0, before.size() - 1);
    Fields beside =
        outer.isEmpty()
            ? earlier.fields()
            : earlier.fields().find(outer).map(Field::fields).orElse(Fields.NONE);
    migration.object(
        placed.dotted(),
        "`was: %s` names no field that the form has, had, or keeps values of.%s"
            .formatted(
                was,
                Near.to(was, beside.names()).map(it -> " Did you mean `" + it + "`?").orElse("")),
        List.of(),
        0);
  }

  /**
   * Where a field is now that had this path once, by all renames since it last had it; nothing if
   * it was never renamed.
   */
  private Optional<List<String>> since(List<String> path) throws SQLException {
    List<Rename> history =
        Sql.list(
            on,
            row ->
                new Rename(
                    List.of(row.getString(1).split("\\.")), List.of(row.getString(2).split("\\."))),
            "SELECT was, now FROM nodley_renames WHERE form = ? ORDER BY number",
            form);
    Optional<List<String>> now = Optional.empty();
    for (Rename rename : history) {
      List<String> here = rename.forth(path);
      now = here.equals(path) ? now.map(rename::forth) : Optional.of(here);
    }
    return now;
  }

  /** Where a field was before: as it says itself, or under the same name in other letters. */
  private Optional<List<String>> from(Form.Placed placed, Form earlier) {
    Optional<String> was = placed.field().source().was();
    if (was.isPresent()) {
      return was.map(name -> beside(placed.path(), name));
    }
    List<String> before = migration.before(placed.path());
    return earlier.everyField().stream()
        .map(Form.Placed::path)
        .filter(it -> String.join(".", it).equalsIgnoreCase(String.join(".", before)))
        .findFirst()
        .map(it -> beside(placed.path(), it.getLast()));
  }

  private List<String> now(List<String> path) {
    List<String> now = path;
    for (Rename rename : migration.renames()) {
      now = rename.forth(now);
    }
    return now;
  }

  private static List<String> beside(List<String> path, String name) {
    List<String> beside = new ArrayList<>(path.subList(0, path.size() - 1));
    beside.add(name);
    return beside;
  }

  private boolean isThere(List<String> path) {
    return !Columns.under(columns, path).isEmpty();
  }

  private void rename(Rename rename) throws SQLException {
    String from = String.join(".", rename.from());
    String to = String.join(".", rename.to());
    List<Columns.Found> inTheWay = Columns.under(columns, rename.to());
    long kept = RetiredFields.values(on, inTheWay);
    if (kept > 0) {
      migration.object(
          to,
          "An earlier field `%s` is retired, and still has %s; `nodley form %s --forget %s` makes room."
              .formatted(to, RetiredFields.words(kept), form, to),
          List.of(),
          kept);
      return;
    }
    if (!inTheWay.isEmpty()) {
      RetiredFields.drop(on, form, rename.to());
    }
    Columns.rename(on, form, rename);
    columns = Columns.of(on, form);
    Versions.rename(on, form, rename);
    RecordFiles.rename(on, form, rename);
    RemovedRecords.rename(on, form, rename);
    RetiredFields.rename(on, form, rename);
    Sql.run(on, "INSERT INTO nodley_renames (form, was, now) VALUES (?, ?, ?)", form, from, to);
    migration.renames().add(rename);
    migration.changed(to, TableChange.Kind.RENAMED, "`%s` is `%s` now.".formatted(from, to));
  }
}
