package nodley.store;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.form.Unique;

/**
 * One table of a form: its own, with a column for each scalar field, those in groups too; or that
 * of some rows, named by their path, whose key is the record and the number of the row.
 *
 * @param path the names that lead to the rows; empty for the form's own table
 * @param depth how many rows are around a row of this table, itself counted; 0 for the form's own
 */
record Table(Form form, List<String> path, int depth, Fields fields) {

  /** All tables of a form, outer ones first. */
  static List<Table> of(Form form) {
    List<Table> tables = new ArrayList<>();
    tables.add(new Table(form, List.of(), 0, form.fields()));
    rows(form, form.fields(), List.of(), 0, tables);
    return tables;
  }

  private static void rows(
      Form form, Fields fields, List<String> outer, int depth, List<Table> tables) {
    for (Field field : fields) {
      List<String> path = new ArrayList<>(outer);
      path.add(field.name());
      if (field.type() == Type.ROWS) {
        tables.add(new Table(form, path, depth + 1, field.fields()));
        rows(form, field.fields(), path, depth + 1, tables);
      } else if (field.type() == Type.GROUP) {
        rows(form, field.fields(), path, depth, tables);
      }
    }
  }

  boolean isOwn() {
    return depth == 0;
  }

  /** The name without quotes: {@code visit}, {@code visit.crew}. */
  String plainName() {
    return isOwn() ? form.name() : form.name() + "." + String.join(".", path);
  }

  String name() {
    return Sql.quoted(plainName());
  }

  /** The column that holds the id of the record. */
  String key() {
    return isOwn() ? "\"id\"" : "\"record_id\"";
  }

  /** The columns that number the rows, the outermost first. */
  List<String> numbers() {
    List<String> numbers = new ArrayList<>();
    for (int i = 1; i <= depth; i++) {
      numbers.add(i == 1 ? "\"row_number\"" : "\"row_number_" + i + "\"");
    }
    return numbers;
  }

  List<Column> columns() {
    Set<List<String>> folded =
        uniques().stream()
            .map(UniqueIndex::unique)
            .filter(Unique::ignoreCase)
            .flatMap(unique -> unique.paths().stream())
            .collect(Collectors.toSet());
    return fields.columns().stream()
        .map(
            placed ->
                new Column(
                    placed, folded.contains(placed.path()) && placed.field().type().isWritten()))
        .toList();
  }

  /** What is unique in this table. */
  List<UniqueIndex> uniques() {
    return form.uniques().stream()
        .filter(unique -> unique.rows().equals(path))
        .map(unique -> new UniqueIndex(this, unique))
        .toList();
  }

  Column column(List<String> path) {
    return columns().stream()
        .filter(column -> column.placed().path().equals(path))
        .findFirst()
        .orElseThrow();
  }

  /** A field of this table as a path of the form: {@code crew.name}. */
  String pathOf(Column column) {
    return isOwn() ? column.path() : String.join(".", path) + "." + column.path();
  }

  String declaration() {
    if (isOwn()) {
      return "CREATE TABLE IF NOT EXISTS "
          + name()
          + " (\"id\" TEXT NOT NULL PRIMARY KEY, \"version\" INTEGER NOT NULL,"
          + " \"revision\" INTEGER NOT NULL, \"created_at\" TEXT NOT NULL,"
          + " \"updated_at\" TEXT NOT NULL, \"updated_by\" TEXT NOT NULL DEFAULT '') STRICT";
    }
    var columns = new StringBuilder();
    numbers().forEach(number -> columns.append(", ").append(number).append(" INTEGER NOT NULL"));
    return "CREATE TABLE IF NOT EXISTS "
        + name()
        + " (\"record_id\" TEXT NOT NULL REFERENCES "
        + Sql.quoted(form.name())
        + " (\"id\") ON DELETE CASCADE"
        + columns
        + ", PRIMARY KEY (\"record_id\", "
        + String.join(", ", numbers())
        + ")) STRICT";
  }
}
