package nodley.store.schema;

import java.math.BigDecimal;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.core.value.Dates;
import nodley.core.value.FileRef;
import nodley.core.value.Fold;
import nodley.core.value.Value;
import nodley.store.sqlite.Sql;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Column of one scalar field: named by the field's path, typed, NULL if blank. Choices are stored
 * as a JSON array, a secret as its digest. Immutable.
 */
public final class Column {

  private static final JsonMapper JSON = new JsonMapper();

  private final Form.Placed placed;
  private final boolean folded;
  private final String path;
  private final String name;
  private final String foldedName;

  /**
   * The column of a field.
   *
   * @param folded true if a second column has the value without case, for a unique index
   */
  public Column(Form.Placed placed, boolean folded) {
    this.placed = placed;
    this.folded = folded;
    this.path = placed.dotted();
    this.name = Sql.quoted(path);
    this.foldedName = Sql.quoted(path + "_folded");
  }

  /** Returns the field with its path. */
  public Form.Placed placed() {
    return placed;
  }

  /** True if a column beside it has the text with its case folded, to be unique by. */
  public boolean isFolded() {
    return folded;
  }

  /** Returns the field. */
  public Field field() {
    return placed.field();
  }

  /** The dotted path, which is the name without quotes. */
  public String path() {
    return path;
  }

  /** Returns the name as a quoted identifier. */
  public String name() {
    return name;
  }

  /**
   * Returns the name of the second column, for uniqueness that ignores case, as a quoted
   * identifier.
   */
  public String foldedName() {
    return foldedName;
  }

  /** Returns the SQL type of the column. */
  public String sqlType() {
    return switch (field().type()) {
      case INTEGER, BOOLEAN -> "INTEGER";
      case DECIMAL -> "REAL";
      default -> "TEXT";
    };
  }

  /** Returns the form that the column refers to; empty if it is no reference. */
  public String references() {
    return field().refersTo().orElse("");
  }

  /** All that makes it another column. */
  List<Object> shape() {
    return List.of(path, field().type(), sqlType(), references(), folded, field().isKept());
  }

  /** Returns the column as it is declared in CREATE TABLE. */
  public String declaration() {
    return declaration(name());
  }

  /** The same under another name, in quotes. */
  public String declaration(String name) {
    String reference =
        field().refersTo().map(form -> " REFERENCES " + Sql.quoted(form) + " (\"id\")").orElse("");
    return name + " " + sqlType() + reference;
  }

  /** What is bound for a value. */
  public Object toSql(Value value) {
    return switch (value) {
      case Value.Blank _ -> null;
      case Value.Text(String text) -> text;
      case Value.Number(BigDecimal number) ->
          field().type() == Type.INTEGER ? (Object) number.longValueExact() : number.doubleValue();
      case Value.Bool(boolean yes) -> yes ? 1 : 0;
      case Value.Chosen(List<String> options) -> JSON.writeValueAsString(options);
      case Value.Files files -> JSON.writeValueAsString(files.asStored().toJson());
      case Value.Date(LocalDate _), Value.Time(LocalTime _), Value.Moment(Instant _) ->
          value.shown();
      case Value.Group _, Value.Rows _ ->
          throw new IllegalArgumentException("a set of values has no column");
      case Value.Unread _ -> throw new IllegalArgumentException("an unread value cannot be kept");
    };
  }

  /** What is bound for a value in the column that folds its case. */
  public Object toFoldedSql(Value value) {
    return toSql(Fold.of(value));
  }

  /**
   * Reads the value of a row.
   *
   * @param index where the column stands in it, from 1 up
   */
  Value fromSql(ResultSet row, int index) throws SQLException {
    return switch (row.getObject(index)) {
      case null -> Value.BLANK;
      case String text -> fromText(text);
      case Number number when field().type() == Type.BOOLEAN ->
          new Value.Bool(number.longValue() != 0);
      case Double number -> new Value.Number(new BigDecimal(Double.toString(number)));
      case Number number -> new Value.Number(BigDecimal.valueOf(number.longValue()));
      default -> Value.BLANK;
    };
  }

  private Value files(JsonNode kept) {
    List<FileRef> files = new ArrayList<>();
    for (JsonNode file : kept.isArray() ? kept : List.of(kept)) {
      files.add(
          FileRef.stored(
              file.path("name").asString(),
              file.path("type").asString(),
              file.path("size").asLong(),
              file.path("sha256").asString()));
    }
    return new Value.Files(files, field().takesFiles());
  }

  private Value fromText(String text) {
    return switch (field().type()) {
      case DATE -> Dates.read(text).<Value>map(Value.Date::new).orElse(Value.BLANK);
      case TIME -> Dates.time(text).<Value>map(Value.Time::new).orElse(Value.BLANK);
      case DATETIME ->
          Dates.moment(text, ZoneOffset.UTC).<Value>map(Value.Moment::new).orElse(Value.BLANK);
      case CHOICES -> new Value.Chosen(List.of(JSON.readValue(text, String[].class)));
      case FILE -> files(JSON.readTree(text));
      default -> new Value.Text(text);
    };
  }
}
