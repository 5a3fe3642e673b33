package nodley.store;

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
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;

/**
 * Fields that a form no longer has. Their columns and values stay, listed in {@code
 * nodley_retired}, until the field returns or is dropped. They enforce nothing: a retired reference
 * keeps its text, and its record may be removed.
 */
final class RetiredFields {

  private final FormMigration following;
  private final Connection on;
  private final String form;

  RetiredFields(FormMigration following) {
    this.following = following;
    this.on = following.on();
    this.form = following.form().name();
  }

  /** Marks what has gone from the form; what has come back is marked no longer. */
  void follow() throws SQLException {
    Set<String> live =
        following.form().everyField().stream()
            .filter(it -> it.field().type().isScalar() && it.field().isKept())
            .map(Form.Placed::dotted)
            .collect(Collectors.toSet());
    Set<String> marked = marked();
    for (Columns.Found column : Columns.of(on, form)) {
      boolean isMarked = marked.contains(column.path());
      if (live.contains(column.path()) && isMarked) {
        Sql.run(on, "DELETE FROM nodley_retired WHERE form = ? AND field = ?", form, column.path());
        following.changed(
            column.path(), TableChange.Kind.BACK, "It is back, with the values that were kept.");
      } else if (!live.contains(column.path()) && !isMarked) {
        retire(column);
      }
    }
    dropOwnColumns();
  }

  private void retire(Columns.Found column) throws SQLException {
    Optional<Field> field = following.earlier().flatMap(it -> earlierField(it, column.path()));
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
        following.revision(),
        Times.now());
    following.changed(
        column.path(),
        TableChange.Kind.RETIRED,
        "Its column stays, with %s, until `nodley form %s --forget %s`."
            .formatted(words(values(on, List.of(column))), form, column.path()));
  }

  /**
   * A record with the values of its retired fields, which are kept though the form has them not.
   */
  static StoredRecord read(Connection on, Form form, StoredRecord record) throws SQLException {
    Map<String, String> types = new LinkedHashMap<>();
    Sql.list(
        on,
        row -> types.put(row.getString(1), row.getString(2)),
        "SELECT field, type FROM nodley_retired WHERE form = ? ORDER BY field",
        form.name());
    if (types.isEmpty()) {
      return record;
    }
    Set<String> tables = Set.copyOf(Columns.tables(on, form.name()));
    Fields fields = form.fields();
    for (Map.Entry<String, String> type : types.entrySet()) {
      List<String> path = List.of(type.getKey().split("\\."));
      fields = with(fields, form.name(), path, Type.of(type.getValue()).orElseThrow(), tables);
    }
    return Records.find(on, form.with(fields), record.id()).orElse(record);
  }

  /** The fields with one more at a path, in groups or rows as its column is. */
  private static Fields with(
      Fields fields, String outer, List<String> path, Type type, Set<String> tables) {
    String name = path.getFirst();
    Optional<Field> there = fields.find(name);
    List<Field> all = new ArrayList<>(fields.list());
    if (path.size() == 1) {
      if (there.isEmpty() && type != Type.SECRET) {
        // What it refers to may be gone; its id is a text then.
        all.add(Field.bare(name, type == Type.RECORD ? Type.TEXT : type, Fields.NONE));
      }
      return new Fields(all);
    }
    String table = outer + "." + name;
    Field holder =
        there.orElseGet(
            () -> Field.bare(name, tables.contains(table) ? Type.ROWS : Type.GROUP, Fields.NONE));
    if (holder.type().isScalar() || (holder.type() == Type.ROWS) != tables.contains(table)) {
      // Another field has the name now, of another kind.
      return fields;
    }
    List<String> rest = path.subList(1, path.size());
    Field filled = holder.with(with(holder.fields(), table, rest, type, tables));
    int place = there.map(all::indexOf).orElse(-1);
    if (place < 0) {
      all.add(filled);
    } else {
      all.set(place, filled);
    }
    return new Fields(all);
  }

  private Optional<Field> earlierField(Form earlier, String dotted) {
    return earlier.fields().find(following.before(List.of(dotted.split("\\."))));
  }

  private Set<String> marked() throws SQLException {
    return Set.copyOf(
        Sql.list(
            on, row -> row.getString(1), "SELECT field FROM nodley_retired WHERE form = ?", form));
  }

  /** Columns that fold the case of a field, or guard an index, go with it. */
  private void dropOwnColumns() throws SQLException {
    List<String> wanted = new ArrayList<>();
    for (Table table : Table.of(following.form())) {
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
        boolean own = column.endsWith("_folded") || column.endsWith("_when");
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
