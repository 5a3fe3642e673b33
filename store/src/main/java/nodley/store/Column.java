package nodley.store;

import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.value.Dates;
import nodley.core.value.Value;

/** How one field stands in its table: under its own name, typed, NULL when blank. */
record Column(Field field) {

  String name() {
    return Sql.quoted(field.name());
  }

  /** The column that uniqueness is judged by: the field's own, or one with its case folded. */
  String uniqueName() {
    return isFolded() ? foldedName() : name();
  }

  boolean isFolded() {
    return field.unique().filter(Field.Unique::ignoreCase).isPresent();
  }

  String foldedName() {
    return Sql.quoted(field.name() + "_folded");
  }

  String sqlType() {
    return switch (field.type()) {
      case TEXT, EMAIL, CHOICE, RECORD, DATE -> "TEXT";
      case INTEGER, BOOLEAN -> "INTEGER";
      case DECIMAL -> "REAL";
    };
  }

  String references() {
    return field.refersTo().orElse("");
  }

  String declaration() {
    String reference =
        field.refersTo().map(form -> " REFERENCES " + Sql.quoted(form) + " (\"id\")").orElse("");
    return name() + " " + sqlType() + reference;
  }

  /** What is bound for a value. */
  Object toSql(Value value) {
    return switch (value) {
      case Value.Blank _ -> null;
      case Value.Text(String text) -> text;
      case Value.Number(BigDecimal number) ->
          field.type() == Type.INTEGER ? (Object) number.longValueExact() : number.doubleValue();
      case Value.Bool(boolean yes) -> yes ? 1 : 0;
      case Value.Date(LocalDate date) -> date.toString();
      case Value.Unread _ -> throw new IllegalArgumentException("an unread value cannot be kept");
    };
  }

  /** What is bound for a value where it is compared for uniqueness. */
  Object toUniqueSql(Value value) {
    return isFolded() && value instanceof Value.Text(String text) ? Fold.of(text) : toSql(value);
  }

  Value fromSql(ResultSet row) throws SQLException {
    String name = field.name();
    return switch (row.getObject(name)) {
      case null -> Value.BLANK;
      case String text when field.type() == Type.DATE ->
          Dates.read(text).<Value>map(Value.Date::new).orElse(Value.BLANK);
      case String text -> new Value.Text(text);
      case Number number when field.type() == Type.BOOLEAN ->
          new Value.Bool(number.longValue() != 0);
      case Double number -> new Value.Number(new BigDecimal(Double.toString(number)));
      case Number number -> new Value.Number(BigDecimal.valueOf(number.longValue()));
      default -> Value.BLANK;
    };
  }
}
