package nodley.store.publish;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.submission.Literal;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.store.record.Versions;
import nodley.store.schema.Column;
import nodley.store.schema.Columns;
import nodley.store.schema.Table;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Converts the stored values of a field whose type has changed: each is read anew, as if a person
 * had typed it. If one cannot be read, all stay as they are and its record is reported as a
 * conflict. Runs on the writer thread, in the transaction of the publish.
 */
final class Conversion {

  private static final JsonMapper JSON = new JsonMapper();
  private static final String NEXT = "_next";

  private final FormMigration migration;
  private final Connection on;
  private final Table shape;
  private final Column column;

  Conversion(FormMigration migration, Table shape, Column column) {
    this.migration = migration;
    this.on = migration.on();
    this.shape = shape;
    this.column = column;
  }

  /**
   * Converts what is in a column.
   *
   * @param was what its values were kept as
   */
  void run(Columns.Found existing, Type was) throws SQLException {
    String table = shape.name();
    String old = existing.quoted();
    String next = Sql.quoted(column.path() + NEXT);
    alter("ADD COLUMN " + column.declaration(next));
    String there =
        column.references().isEmpty()
            ? ""
            : " AND " + old + " IN (SELECT \"id\" FROM " + Sql.quoted(column.references()) + ")";
    Sql.runWith(
        on,
        value -> read(was, value),
        "UPDATE "
            + table
            + " SET "
            + next
            + " = "
            + Sql.FUNCTION
            + "("
            + old
            + ") WHERE "
            + old
            + " IS NOT NULL"
            + there);
    String unfit = " FROM " + table + " WHERE " + old + " IS NOT NULL AND " + next + " IS NULL";
    List<String> ids =
        Sql.list(
            on,
            row -> row.getString(1),
            "SELECT DISTINCT " + shape.key() + unfit + " LIMIT ?",
            FormMigration.MAX_NAMED);
    if (!ids.isEmpty()) {
      migration.object(
          shape.pathOf(column),
          "Kept values cannot become " + words(column.field()) + ".",
          ids,
          Sql.number(on, "SELECT count(*)" + unfit));
      Columns.drop(on, shape.plainName(), column.path() + NEXT);
      return;
    }
    long converted = Sql.number(on, "SELECT count(" + next + ") FROM " + table);
    Columns.drop(on, shape.plainName(), existing.name());
    if (Columns.names(on, shape.plainName()).contains(existing.name() + "_folded")) {
      Columns.drop(on, shape.plainName(), existing.name() + "_folded");
    }
    alter("RENAME COLUMN " + next + " TO " + column.name());
    Versions.convert(
        on,
        migration.form().name(),
        List.of(shape.pathOf(column).split("\\.")),
        kept -> Literal.converted(column.field(), raw(kept), zone()).map(Value::toJson));
    migration.changed(
        shape.pathOf(column),
        TableChange.Kind.CONVERTED,
        "From %s to %s: %s."
            .formatted(was.word(), words(column.field()), RetiredFields.words(converted)));
  }

  /** What is bound for a value as one of the new type; null if it cannot be read as that. */
  private Object read(Type was, Object kept) {
    Field field = column.field();
    if (was == Type.SECRET || field.isSecret() || was == Type.FILE || field.type() == Type.FILE) {
      return null;
    }
    Raw raw = raw(was, kept);
    if (raw instanceof Raw.Many(List<Raw> items) && field.type() != Type.CHOICES) {
      raw = items.size() == 1 ? items.getFirst() : raw;
    }
    return Literal.converted(field, raw, zone()).map(column::toSql).orElse(null);
  }

  private ZoneId zone() {
    return migration.form().zone().orElse(ZoneOffset.UTC);
  }

  /** A value as a version keeps it, as a person would have typed it. */
  private Raw raw(JsonNode kept) {
    if (!kept.isArray()) {
      return new Raw.Text(kept.isNumber() ? kept.decimalValue().toPlainString() : kept.asString());
    }
    List<Raw> items = kept.valueStream().map(this::raw).toList();
    return items.size() == 1 && column.field().type() != Type.CHOICES
        ? items.getFirst()
        : new Raw.Many(items);
  }

  private static Raw raw(Type was, Object kept) {
    return switch (kept) {
      case Number number when was == Type.BOOLEAN ->
          new Raw.Text(Boolean.toString(number.longValue() != 0));
      case Double number ->
          new Raw.Text(
              new BigDecimal(Double.toString(number)).stripTrailingZeros().toPlainString());
      case String text when was == Type.CHOICES ->
          new Raw.Many(
              Arrays.stream(JSON.readValue(text, String[].class)).<Raw>map(Raw.Text::new).toList());
      default -> new Raw.Text(kept.toString());
    };
  }

  static String words(Field field) {
    Optional<String> other = field.refersTo();
    return other.map(form -> "a reference to " + form).orElse(field.type().word());
  }

  /** Makes a reference a plain text: its record may be removed from then on. */
  static void unbind(Connection on, Columns.Found column) throws SQLException {
    String table = Sql.quoted(column.table());
    String next = Sql.quoted(column.name() + NEXT);
    Sql.run(on, "ALTER TABLE " + table + " ADD COLUMN " + next + " TEXT");
    Sql.run(on, "UPDATE " + table + " SET " + next + " = " + column.quoted());
    Columns.drop(on, column.table(), column.name());
    Sql.run(on, "ALTER TABLE " + table + " RENAME COLUMN " + next + " TO " + column.quoted());
  }

  private void alter(String change) throws SQLException {
    Sql.run(on, "ALTER TABLE " + shape.name() + " " + change);
  }
}
