package nodley.begin;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import nodley.begin.TableDescription.Column;
import nodley.begin.TableDescription.Reference;
import nodley.begin.TableDescription.Unique;
import nodley.core.name.Near;

/**
 * Begins a form from a table or view: of an SQLite file, or of any database that is open already
 * (SQLite, PostgreSQL, MariaDB). It is read and never written.
 */
public final class FromTable {

  /** Rows of a file that are looked at; a database that serves others is asked for fewer. */
  private static final int MOST_ROWS_OF_A_FILE = 1_000_000;

  private static final int MOST_ROWS = 5_000;

  /** So many tables are named where none is of the name that is wanted. */
  private static final int MOST_NAMED = 20;

  private static final Pattern LITERAL = Pattern.compile("'((?:[^']|'')*)'|(-?[0-9.]+)");

  /** What PostgreSQL writes behind a default: {@code 'sail'::text}. */
  private static final Pattern CAST = Pattern.compile("::[a-z][a-z ]*(\\([0-9, ]+\\))?$");

  private final TableDescription table;
  private final Sketch sketch;
  private final Map<String, FieldSketch> byColumn = new LinkedHashMap<>();

  private FromTable(TableDescription table, Sketch sketch) {
    this.table = table;
    this.sketch = sketch;
  }

  /**
   * Begins a form from a table of an SQLite file, which is opened for reading only.
   *
   * @throws BadSource if there is no such file or table
   */
  public static Sketch read(String form, Path file, String table) throws BadSource {
    if (!Files.isRegularFile(file)) {
      throw new BadSource("The file " + file + " is not there.");
    }
    String address = "jdbc:sqlite:" + file.toUri() + "?mode=ro";
    try (Connection connection = DriverManager.getConnection(address)) {
      List<String> found = named(table, file.toString(), names(connection));
      String source = "the table " + found.getLast() + " of " + file.getFileName();
      return read(new Sketch(form, source), connection, found, MOST_ROWS_OF_A_FILE);
    } catch (SQLException e) {
      throw new BadSource("The file " + file + " cannot be read as an SQLite database.");
    }
  }

  /**
   * Begins a form from a table of a database that is open. Takes as long as reading the first five
   * thousand rows up to four times.
   *
   * @param database what it is called where something is said of it
   * @param table its name, or those of its schema and itself with a dot between
   * @throws BadSource if there is no such table
   * @throws SQLException if the database does not answer, or does not let it be read
   */
  public static Sketch read(String form, Connection connection, String database, String table)
      throws BadSource, SQLException {
    List<String> found = named(table, database, names(connection));
    Sketch sketch = new Sketch(form, "the table " + String.join(".", found) + " of " + database);
    return read(sketch, connection, found, MOST_ROWS);
  }

  /**
   * Returns the tables and views of a database, with their schema where it is not the usual one.
   */
  public static List<List<String>> names(Connection connection) throws SQLException {
    return isSqlite(connection)
        ? SqliteTable.names(connection).stream().map(List::of).toList()
        : JdbcTable.names(connection);
  }

  private static boolean isSqlite(Connection connection) throws SQLException {
    return connection.getMetaData().getDatabaseProductName().equals("SQLite");
  }

  private static List<String> named(String table, String database, List<List<String>> all)
      throws BadSource {
    Optional<List<String>> exact =
        all.stream().filter(it -> String.join(".", it).equals(table)).findFirst();
    return exact
        .or(() -> all.stream().filter(it -> String.join(".", it).equalsIgnoreCase(table)).findAny())
        .orElseThrow(
            () -> noTable(database, table, all.stream().map(it -> String.join(".", it)).toList()));
  }

  private static BadSource noTable(String database, String table, List<String> tables) {
    return new BadSource(
        "There is no table "
            + table
            + " in "
            + database
            + Near.to(table, tables)
                .map(near -> "; did you mean " + near + "?")
                .orElse(
                    tables.isEmpty()
                        ? ", nor any other."
                        : "; it has "
                            + tables.stream().limit(MOST_NAMED).collect(Collectors.joining(", "))
                            + (tables.size() > MOST_NAMED ? " and others." : ".")));
  }

  private static Sketch read(Sketch sketch, Connection connection, List<String> table, int mostRows)
      throws SQLException, BadSource {
    boolean sqlite = isSqlite(connection);
    TableDescription description =
        sqlite ? SqliteTable.read(connection, table.getLast()) : JdbcTable.read(connection, table);
    FromTable from = new FromTable(description, sketch);
    from.sketch();
    new RowCheck(connection, table, from.byColumn, sketch).run(mostRows, !sqlite);
    return sketch;
  }

  private void sketch() {
    boolean oneKey = table.columns().stream().filter(Column::key).count() == 1;
    table.columns().forEach(column -> column(column, oneKey));
    table.references().forEach(this::reference);
    table.unique().forEach(this::unique);
    table.checks().forEach(this::check);
  }

  /** The field of a column, whose name some databases give back in another case. */
  private FieldSketch field(String column) {
    FieldSketch exact = byColumn.get(column);
    return exact != null
        ? exact
        : byColumn.entrySet().stream()
            .filter(it -> it.getKey().equalsIgnoreCase(column))
            .map(Map.Entry::getValue)
            .findFirst()
            .orElse(null);
  }

  private void column(Column column, boolean oneKey) {
    String name = column.name();
    boolean ownId = column.type().equals(Optional.of("integer")) || name.equalsIgnoreCase("id");
    if (column.key() && oneKey && ownId) {
      sketch.say("The key column " + name + " is left out: a record has an id of its own.");
      return;
    }
    if (column.leftOut().isPresent()) {
      sketch.say("The column " + name + " is left out: " + column.leftOut().get());
      return;
    }
    FieldSketch field = sketch.fields.add(name);
    byColumn.put(name, field);
    type(field, column);
    // A column that is empty unless something is put there need not be filled in.
    String written = CAST.matcher(column.written().orElse("")).replaceFirst("");
    boolean needed = column.filled() && !written.equals("''") || column.key();
    if (needed && !field.type().equals("boolean")) {
      field.put("required", true);
    }
    first(field, written);
  }

  private static void type(FieldSketch field, Column column) {
    column.said().ifPresent(field::say);
    if (!column.options().isEmpty()) {
      field.type("choice").put("options", column.options());
      return;
    }
    column
        .type()
        .ifPresentOrElse(
            field::type,
            () ->
                Guess.byName(field.name)
                    .ifPresent(it -> field.type(it).say("Its type is guessed from its name.")));
    column.decimals().ifPresent(it -> field.put("decimals", it));
    if (field.type().matches("text|email|url|secret")) {
      column.length().ifPresent(it -> field.span("length", null, it.toString()));
    }
  }

  private static void first(FieldSketch field, String written) {
    if (written.isEmpty() || written.equalsIgnoreCase("NULL")) {
      return;
    }
    Matcher literal = LITERAL.matcher(written);
    if (literal.matches()) {
      String text =
          literal.group(1) != null ? literal.group(1).replace("''", "'") : literal.group(2);
      if (!text.isEmpty()) {
        boolean yes = field.type().equals("boolean");
        field.put("default", yes ? (Object) text.equals("1") : text);
      }
    } else if (field.type().equals("boolean") && written.matches("(?i)true|false")) {
      field.put("default", Boolean.valueOf(written));
    } else if (field.type().equals("date")
        && written.matches("(?i)current_date(\\(\\))?|curdate\\(\\)")) {
      field.put("default", "today");
    } else {
      field.say("Its default there is " + written + ".");
    }
  }

  private void reference(Reference reference) {
    String to = reference.table();
    if (reference.columns().size() > 1) {
      sketch.say(
          "There the columns %s together refer to the table %s; a reference here is one field."
              .formatted(String.join(", ", reference.columns()), to));
      return;
    }
    FieldSketch field = field(reference.columns().getFirst());
    if (field == null) {
      return;
    }
    String other = to.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
    Object required = field.keys.get("required");
    field.keys.clear();
    field.type("record").put("form", other);
    if (required != null) {
      field.put("required", required);
    }
    field.say("It refers to the table " + to + ": form " + other + " has to be there.");
  }

  private void unique(Unique unique) {
    if (unique.columns().size() > 1) {
      together(unique);
      return;
    }
    FieldSketch field = unique.columns().getFirst().map(this::field).orElse(null);
    if (field == null) {
      return;
    }
    field.put("unique", unique.ignoreCase() ? Map.of("ignore-case", true) : true);
    if (unique.partial()) {
      field.say("There it is unique only among some rows.");
    }
  }

  /** What is unique among some rows only, or over more than columns, is left to who reads it. */
  private void together(Unique unique) {
    List<String> names = new ArrayList<>();
    for (Optional<String> column : unique.columns()) {
      column.map(this::field).ifPresent(it -> names.add(it.name));
    }
    if (unique.partial() || names.size() < unique.columns().size()) {
      sketch.say(
          "Unique together there"
              + (unique.partial() ? ", among some rows: " : ": ")
              + unique.columns().stream()
                  .map(it -> it.orElse("an expression"))
                  .collect(Collectors.joining(", "))
              + ".");
    } else {
      sketch.together(names, unique.ignoreCase());
    }
  }

  private void check(String sql) {
    boolean carried =
        switch (CheckClause.read(sql)) {
          case CheckClause.OneOf oneOf -> options(field(oneOf.column()), oneOf.values());
          case CheckClause.Length length -> length(field(length.column()), length.most());
          case CheckClause.Between between -> range(field(between.column()), between);
          case CheckClause.Other _ -> false;
        };
    if (!carried) {
      sketch.say("Rows are checked there by: " + sql.strip() + ".");
    }
  }

  private static boolean options(FieldSketch field, List<String> options) {
    if (field != null && options.equals(List.of("0", "1"))) {
      field.type("boolean").keys.remove("required");
    } else if (field != null) {
      field.keys.keySet().retainAll(List.of("type", "required", "default"));
      field.type("choice").put("options", options);
    }
    return field != null;
  }

  private static boolean length(FieldSketch field, int most) {
    boolean has = field != null && field.type().matches("text|email|url|secret");
    if (has) {
      field.span("length", null, Integer.toString(most));
    }
    return has;
  }

  private static boolean range(FieldSketch field, CheckClause.Between between) {
    boolean has = field != null && field.type().matches("integer|decimal");
    if (has) {
      field.span("range", between.least().orElse(null), between.most().orElse(null));
    }
    return has;
  }
}
