package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.store.common.Times;
import nodley.store.record.RecordFiles;
import nodley.store.record.RemovedRecords;
import nodley.store.record.Versions;
import nodley.store.schema.Column;
import nodley.store.schema.Columns;
import nodley.store.schema.Rename;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Sql;

/**
 * Fields that a form no longer has. Their columns and values stay, listed in {@code
 * nodley_retired}, until the field returns or is dropped. They enforce nothing: a retired reference
 * keeps its text, and its record may be removed.
 */
public final class RetiredFields {

  private final FormMigration migration;
  private final Connection on;
  private final String form;

  public RetiredFields(FormMigration migration) {
    this.migration = migration;
    this.on = migration.on();
    this.form = migration.form().name();
  }

  /** Marks what has gone from the form; what has come back is marked no longer. */
  void follow() throws SQLException {
    Set<String> live =
        migration.form().everyField().stream()
            .filter(it -> it.field().type().isScalar() && it.field().isKept())
            .map(Form.Placed::dotted)
            .collect(Collectors.toSet());
    Set<String> marked = marked();
    for (Columns.Found column : Columns.of(on, form)) {
      boolean isMarked = marked.contains(column.path());
      if (live.contains(column.path()) && isMarked) {
        Sql.run(on, "DELETE FROM nodley_retired WHERE form = ? AND field = ?", form, column.path());
        migration.changed(
            column.path(), TableChange.Kind.BACK, "It is back, with the values that were kept.");
      } else if (!live.contains(column.path()) && !isMarked) {
        retire(column);
      }
    }
    dropOwnColumns();
  }

  private void retire(Columns.Found column) throws SQLException {
    Optional<Field> field = migration.earlier().flatMap(it -> earlierField(it, column.path()));
    if (!column.references().isEmpty()) {
      // A reference that is no longer there must not hold back the record it points at.
      Conversion.unbind(on, column);
    }
    Sql.run(
        on,
        "INSERT INTO nodley_retired (form, field, type, revision, retired_at)"
            + " VALUES (?, ?, ?, ?, ?)",
        form,
        column.path(),
        field.map(Field::type).orElse(column.plainType()).word(),
        migration.revision(),
        Times.now());
    migration.changed(
        column.path(),
        TableChange.Kind.RETIRED,
        "Its column stays, with %s, until `nodley form %s --forget %s`."
            .formatted(words(values(on, List.of(column))), form, column.path()));
  }

  private Optional<Field> earlierField(Form earlier, String dotted) {
    return earlier.fields().find(migration.before(List.of(dotted.split("\\."))));
  }

  private Set<String> marked() throws SQLException {
    return Set.copyOf(
        Sql.list(
            on, row -> row.getString(1), "SELECT field FROM nodley_retired WHERE form = ?", form));
  }

  /** Columns that fold the case of a field, or guard an index, go with it. */
  private void dropOwnColumns() throws SQLException {
    List<String> wanted = new ArrayList<>();
    for (Table table : Table.of(migration.form())) {
      for (Column column : table.columns()) {
        if (column.isFolded()) {
          wanted.add(table.plainName() + " " + column.path() + "_folded");
        }
      }
      for (UniqueIndex index : table.uniques()) {
        wanted.add(table.plainName() + " " + index.plainGuard());
      }
    }
    for (String table : Columns.tables(on, form)) {
      for (String column : Columns.names(on, table)) {
        boolean own = column.endsWith("_folded") || column.endsWith("__when");
        if (own && !wanted.contains(table + " " + column)) {
          Columns.drop(on, table, column);
        }
      }
    }
  }

  /** What the values of a retired field were kept as. */
  static Optional<Type> type(Connection on, String form, String path) throws SQLException {
    return Sql.first(
            on,
            row -> row.getString(1),
            "SELECT type FROM nodley_retired WHERE form = ? AND field = ?",
            form,
            path)
        .flatMap(Type::of);
  }

  /** The retired fields of a form, the latest first. */
  static List<RetiredField> list(Connection on, String form) throws SQLException {
    Map<String, Columns.Found> columns = new LinkedHashMap<>();
    Columns.of(on, form).forEach(column -> columns.put(column.path(), column));
    List<RetiredField> fields = new ArrayList<>();
    for (RetiredField field :
        Sql.list(
            on,
            row ->
                new RetiredField(
                    row.getString("field"),
                    row.getString("type"),
                    row.getInt("revision"),
                    row.getString("retired_at"),
                    0),
            "SELECT field, type, revision, retired_at FROM nodley_retired WHERE form = ?"
                + " ORDER BY revision DESC, field",
            form)) {
      fields.add(field.of(values(on, List.of(columns.get(field.field())))));
    }
    return fields;
  }

  /** How many values are kept in some columns. */
  static long values(Connection on, List<Columns.Found> columns) throws SQLException {
    long values = 0;
    for (Columns.Found column : columns) {
      values +=
          Sql.number(
              on, "SELECT count(" + column.quoted() + ") FROM " + Sql.quoted(column.table()));
    }
    return values;
  }

  /** Returns a number of stored values in words. */
  static String words(long values) {
    return values == 1 ? "1 kept value" : values + " kept values";
  }

  /** Renames a retired field, in the caller's transaction. */
  static void rename(Connection on, String form, Rename rename) throws SQLException {
    String from = String.join(".", rename.from());
    Sql.run(
        on,
        "UPDATE nodley_retired SET field = ? || substr(field, ?)"
            + " WHERE form = ? AND (field = ? OR substr(field, 1, ?) = ?)",
        String.join(".", rename.to()),
        from.length() + 1,
        form,
        from,
        from.length() + 1,
        from + ".");
  }

  /**
   * Forgets a retired field and all that was inside it, in earlier versions of records too.
   *
   * @return what was forgotten; nothing if there is nothing retired of this name
   */
  static List<RetiredField> forget(Connection on, String form, List<String> path)
      throws SQLException {
    String dotted = String.join(".", path);
    List<RetiredField> found =
        list(on, form).stream()
            .filter(it -> it.field().equals(dotted) || it.field().startsWith(dotted + "."))
            .toList();
    if (!found.isEmpty()) {
      drop(on, form, path);
      Versions.forget(on, form, path);
      RecordFiles.forget(on, form, path);
      RemovedRecords.forget(on, form, path);
    }
    return found;
  }

  /** Takes away the columns and tables of a path, and their marks. */
  static void drop(Connection on, String form, List<String> path) throws SQLException {
    String rows = form + "." + String.join(".", path);
    for (String table : Columns.tables(on, form).reversed()) {
      if (table.equals(rows) || table.startsWith(rows + ".")) {
        Sql.run(on, "DROP TABLE " + Sql.quoted(table));
      }
    }
    for (Columns.Found column : Columns.under(on, form, path)) {
      Columns.drop(on, column.table(), column.name());
    }
    String dotted = String.join(".", path);
    Sql.run(
        on,
        "DELETE FROM nodley_retired WHERE form = ? AND (field = ? OR substr(field, 1, ?) = ?)",
        form,
        dotted,
        dotted.length() + 1,
        dotted + ".");
  }
}
