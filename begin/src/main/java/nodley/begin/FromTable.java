package nodley.begin;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
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
import nodley.core.name.Near;

/** A table of an SQLite database; the file is opened for reading only. */
public final class FromTable {

  private static final Pattern LENGTH = Pattern.compile("\\(\\s*([0-9]{1,6})\\s*\\)");
  private static final Pattern PLACES =
      Pattern.compile("\\(\\s*[0-9]{1,3}\\s*,\\s*([0-9]{1,2})\\s*\\)");
  private static final String NAME = "[\"`\\[]?([A-Za-z_][A-Za-z0-9_]*)[\"`\\]]?";
  private static final Pattern CHECK_IN =
      Pattern.compile(
          "CHECK\\s*\\(\\s*" + NAME + "\\s+IN\\s*\\(([^()]*)\\)\\s*\\)", Pattern.CASE_INSENSITIVE);
  private static final Pattern CHECK_BETWEEN =
      Pattern.compile(
          "CHECK\\s*\\(\\s*" + NAME + "\\s+BETWEEN\\s+(-?[0-9.]+)\\s+AND\\s+(-?[0-9.]+)\\s*\\)",
          Pattern.CASE_INSENSITIVE);
  private static final Pattern CHECK_LENGTH =
      Pattern.compile(
          "CHECK\\s*\\(\\s*LENGTH\\s*\\(\\s*" + NAME + "\\s*\\)\\s*(<=?)\\s*([0-9]{1,6})\\s*\\)",
          Pattern.CASE_INSENSITIVE);
  private static final Pattern LITERAL = Pattern.compile("'((?:[^']|'')*)'|(-?[0-9.]+)");

  private final Connection connection;
  private final String table;
  private final Sketch sketch;
  private final Map<String, FieldSketch> byColumn = new LinkedHashMap<>();

  /** How many columns the primary key has. */
  private long keys;

  private FromTable(Connection connection, String table, Sketch sketch) {
    this.connection = connection;
    this.table = table;
    this.sketch = sketch;
  }

  /**
   * Begins a form from a table.
   *
   * @throws BadSource if there is no such file or table
   */
  public static Sketch read(String form, Path file, String table) throws BadSource {
    if (!Files.isRegularFile(file)) {
      throw new BadSource("The file " + file + " is not there.");
    }
    String address = "jdbc:sqlite:" + file.toUri() + "?mode=ro";
    try (Connection connection = DriverManager.getConnection(address)) {
      List<String> tables = tables(connection);
      String found =
          tables.stream()
              .filter(table::equalsIgnoreCase)
              .findFirst()
              .orElseThrow(() -> noTable(file, table, tables));
      String source = "the table " + found + " of " + file.getFileName();
      Sketch sketch = new Sketch(form, source);
      new FromTable(connection, found, sketch).read();
      return sketch;
    } catch (SQLException e) {
      throw new BadSource("The file " + file + " cannot be read as an SQLite database.");
    }
  }

  private static BadSource noTable(Path file, String table, List<String> tables) {
    return new BadSource(
        "There is no table "
            + table
            + " in "
            + file
            + Near.to(table, tables)
                .map(near -> "; did you mean " + near + "?")
                .orElse(
                    tables.isEmpty()
                        ? ", nor any other."
                        : "; it has " + String.join(", ", tables) + "."));
  }

  private static List<String> tables(Connection connection) throws SQLException {
    List<String> tables = new ArrayList<>();
    for (Map<String, String> row :
        rows(
            connection,
            "SELECT name FROM sqlite_schema WHERE type IN ('table', 'view')"
                + " AND name NOT LIKE 'sqlite%' ORDER BY name")) {
      tables.add(row.get("name"));
    }
    return tables;
  }

  private static List<Map<String, String>> rows(Connection connection, String sql, String... given)
      throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      for (int i = 0; i < given.length; i++) {
        statement.setString(i + 1, given[i]);
      }
      List<Map<String, String>> rows = new ArrayList<>();
      try (ResultSet result = statement.executeQuery()) {
        while (result.next()) {
          Map<String, String> row = new LinkedHashMap<>();
          for (int i = 1; i <= result.getMetaData().getColumnCount(); i++) {
            row.put(result.getMetaData().getColumnLabel(i), result.getString(i));
          }
          rows.add(row);
        }
      }
      return rows;
    }
  }

  private void read() throws SQLException, BadSource {
    List<Map<String, String>> columns =
        rows(connection, "SELECT * FROM pragma_table_xinfo(?)", table);
    keys = columns.stream().filter(column -> !column.get("pk").equals("0")).count();
    for (Map<String, String> column : columns) {
      column(column);
    }
    references();
    unique();
    String sql =
        rows(connection, "SELECT sql FROM sqlite_schema WHERE name = ?", table).stream()
            .map(row -> Optional.ofNullable(row.get("sql")).orElse(""))
            .findFirst()
            .orElse("");
    checks(sql);
    new RowCheck(connection, table, byColumn, sketch).run();
  }

  private void column(Map<String, String> column) {
    String name = column.get("name");
    String type = Optional.ofNullable(column.get("type")).orElse("").toUpperCase(Locale.ROOT);
    boolean key = !column.get("pk").equals("0");
    if (key && keys == 1 && (type.startsWith("INT") || name.equalsIgnoreCase("id"))) {
      sketch.say("The key column " + name + " is left out: a record has an id of its own.");
      return;
    }
    if (!column.get("hidden").equals("0")) {
      sketch.say("The column " + name + " is left out: the database generates it.");
      return;
    }
    if (type.contains("BLOB")) {
      sketch.say("The column " + name + " is left out: it holds bytes (see `type: file`).");
      return;
    }
    FieldSketch field = sketch.fields.add(name);
    byColumn.put(name.toLowerCase(Locale.ROOT), field);
    type(field, type);
    // A column that is empty unless something is put there need not be filled in.
    boolean empty = "''".equals(column.get("dflt_value"));
    boolean needed = column.get("notnull").equals("1") && !empty || key;
    if (needed && !field.type().equals("boolean")) {
      field.put("required", true);
    }
    first(field, column.get("dflt_value"));
  }

  /** SQLite's affinities (datatype3, section 3.1), and the words beside them that people write. */
  private static void type(FieldSketch field, String type) {
    if (type.contains("BOOL")) {
      field.type("boolean");
    } else if (type.contains("INT")) {
      field.type("integer");
    } else if (type.startsWith("DATETIME") || type.startsWith("TIMESTAMP")) {
      field.type("datetime");
    } else if (type.startsWith("DATE")) {
      field.type("date");
    } else if (type.startsWith("TIME")) {
      field.type("time");
    } else if (type.matches("(REAL|FLOA|DOUB|NUM|DEC).*")) {
      field.type("decimal");
      Matcher places = PLACES.matcher(type);
      if (places.find()) {
        field.put("decimals", Integer.valueOf(places.group(1)));
      }
    } else {
      guess(field);
      Matcher length = LENGTH.matcher(type);
      if (length.find() && field.type().matches("text|email|url|secret")) {
        field.span("length", null, length.group(1));
      }
    }
  }

  private static void guess(FieldSketch field) {
    Guess.byName(field.name)
        .ifPresent(type -> field.type(type).say("Its type is guessed from its name."));
  }

  private static void first(FieldSketch field, String written) {
    if (written == null || written.equalsIgnoreCase("NULL")) {
      return;
    }
    Matcher literal = LITERAL.matcher(written);
    if (literal.matches()) {
      String text =
          literal.group(1) != null ? literal.group(1).replace("''", "'") : literal.group(2);
      if (text.isEmpty()) {
        return;
      }
      boolean yes = field.type().equals("boolean");
      field.put("default", yes ? (Object) text.equals("1") : text);
    } else if (written.equalsIgnoreCase("CURRENT_DATE") && field.type().equals("date")) {
      field.put("default", "today");
    } else {
      field.say("Its default there is " + written + ".");
    }
  }

  private void references() throws SQLException {
    Map<String, List<Map<String, String>>> byKey = new LinkedHashMap<>();
    for (Map<String, String> part :
        rows(connection, "SELECT * FROM pragma_foreign_key_list(?) ORDER BY id, seq", table)) {
      byKey.computeIfAbsent(part.get("id"), _ -> new ArrayList<>()).add(part);
    }
    byKey.values().forEach(this::reference);
  }

  private void reference(List<Map<String, String>> key) {
    String table = key.getFirst().get("table");
    if (key.size() > 1) {
      sketch.say(
          "There the columns %s together refer to the table %s; a reference here is one field."
              .formatted(
                  key.stream().map(part -> part.get("from")).collect(Collectors.joining(", ")),
                  table));
      return;
    }
    FieldSketch field = byColumn.get(key.getFirst().get("from").toLowerCase(Locale.ROOT));
    if (field == null) {
      return;
    }
    String other = table.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]+", "-");
    Object required = field.keys.get("required");
    field.keys.clear();
    field.type("record").put("form", other);
    if (required != null) {
      field.put("required", required);
    }
    field.say("It refers to the table " + table + ": form " + other + " has to be there.");
  }

  private void unique() throws SQLException {
    for (Map<String, String> index :
        rows(connection, "SELECT * FROM pragma_index_list(?) WHERE \"unique\" = 1", table)) {
      List<Map<String, String>> columns =
          rows(
              connection,
              "SELECT * FROM pragma_index_xinfo(?) WHERE key = 1 ORDER BY seqno",
              index.get("name"));
      List<String> names = columns.stream().map(it -> it.get("name")).toList();
      if (names.size() > 1) {
        boolean folded = columns.stream().anyMatch(it -> "NOCASE".equalsIgnoreCase(it.get("coll")));
        together(names, index.get("partial").equals("1"), folded);
        continue;
      }
      FieldSketch field =
          names.getFirst() == null ? null : byColumn.get(names.getFirst().toLowerCase(Locale.ROOT));
      if (field == null) {
        continue;
      }
      boolean folded = "NOCASE".equalsIgnoreCase(columns.getFirst().get("coll"));
      field.put("unique", folded ? Map.of("ignore-case", true) : true);
      if (index.get("partial").equals("1")) {
        field.say("There it is unique only among some rows.");
      }
    }
  }

  /** What is unique among some rows only, or over more than columns, is left to who reads it. */
  private void together(List<String> columns, boolean partial, boolean folded) {
    List<String> names = new ArrayList<>();
    for (String column : columns) {
      FieldSketch field = column == null ? null : byColumn.get(column.toLowerCase(Locale.ROOT));
      if (field != null) {
        names.add(field.name);
      }
    }
    if (partial || names.size() < columns.size()) {
      sketch.say(
          "Unique together there"
              + (partial ? ", among some rows: " : ": ")
              + columns.stream()
                  .map(it -> it == null ? "an expression" : it)
                  .collect(Collectors.joining(", "))
              + ".");
    } else {
      sketch.together(names, folded);
    }
  }

  private void checks(String sql) {
    Matcher in = CHECK_IN.matcher(sql);
    while (in.find()) {
      FieldSketch field = byColumn.get(in.group(1).toLowerCase(Locale.ROOT));
      List<String> options = new ArrayList<>();
      Matcher literal = LITERAL.matcher(in.group(2));
      while (literal.find()) {
        options.add(
            literal.group(1) != null ? literal.group(1).replace("''", "'") : literal.group(2));
      }
      if (field != null && options.equals(List.of("0", "1"))) {
        field.type("boolean").keys.remove("required");
      } else if (field != null) {
        field.keys.keySet().retainAll(List.of("type", "required", "default"));
        field.type("choice").put("options", options);
      }
    }
    Matcher length = CHECK_LENGTH.matcher(sql);
    while (length.find()) {
      FieldSketch field = byColumn.get(length.group(1).toLowerCase(Locale.ROOT));
      if (field != null && field.type().matches("text|email|url|secret")) {
        int most = Integer.parseInt(length.group(3)) - (length.group(2).equals("<") ? 1 : 0);
        field.span("length", null, Integer.toString(most));
      }
    }
    Matcher between = CHECK_BETWEEN.matcher(sql);
    while (between.find()) {
      FieldSketch field = byColumn.get(between.group(1).toLowerCase(Locale.ROOT));
      if (field != null) {
        field.span("range", between.group(2), between.group(3));
      }
    }
  }
}
