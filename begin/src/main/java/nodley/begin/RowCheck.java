package nodley.begin;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.value.Raw;

/**
 * Holds a form that is being begun against the rows of its table: what rows that are there would be
 * refused by is taken out again, and a comment says of how many.
 */
final class RowCheck {

  private static final int FETCHED_AT_ONCE = 500;

  /** When something is taken out, other rules may refuse what it hid. */
  private static final int MOST_ROUNDS = 4;

  /** The key that a refusal comes of; any other comes of the type. */
  private static final Map<String, String> KEYS =
      Map.of(
          "value-missing", "required",
          "too-short", "length",
          "too-long", "length",
          "range-underflow", "range",
          "range-overflow", "range",
          "step-mismatch", "step",
          "too-precise", "decimals");

  /** SQLite's own functions write moments so, in UTC. */
  private static final String SPACED = "\\d{4}-\\d{2}-\\d{2} \\d{2}:\\d{2}.*";

  private final Connection connection;
  private final List<String> table;
  private final Map<String, FieldSketch> byColumn;
  private final Sketch sketch;

  /** By field and code, how many rows are refused. */
  private final Map<String, Map<String, Integer>> refused = new TreeMap<>();

  private final Set<String> spaced = new TreeSet<>();
  private int rows;

  /**
   * A check.
   *
   * @param table its name, or those of its schema and itself
   * @param byColumn the fields, by the column that each begins from
   */
  RowCheck(
      Connection connection, List<String> table, Map<String, FieldSketch> byColumn, Sketch sketch) {
    this.connection = connection;
    this.table = table;
    this.byColumn = new LinkedHashMap<>(byColumn);
    this.sketch = sketch;
  }

  /**
   * Checks the rows.
   *
   * @param mostRows how many are looked at
   * @param typed true if the database keeps each value in the type of its column, and so may print
   *     it otherwise than it was written
   */
  void run(int mostRows, boolean typed) throws SQLException, BadSource {
    if (byColumn.isEmpty()) {
      return;
    }
    boolean changed = true;
    for (int round = 0; changed && round < MOST_ROUNDS; round++) {
      read(mostRows, typed);
      changed = takeOut();
    }
    for (FieldSketch field : byColumn.values()) {
      if (spaced.contains(field.name)) {
        field.say("There a space stands between date and time; here a T does.");
      }
    }
    sketch.say("It was held against %d rows that are there.".formatted(rows));
  }

  private void read(int mostRows, boolean typed) throws SQLException, BadSource {
    Form form;
    try {
      form = FormFile.read(sketch.yaml());
    } catch (FormFileException e) {
      throw new IllegalStateException("a sketch has no errors", e);
    }
    refused.clear();
    rows = 0;
    Context now = Context.add(Clock.systemUTC());
    String quote = connection.getMetaData().getIdentifierQuoteString();
    String sql =
        "SELECT "
            + byColumn.keySet().stream()
                .map(it -> quoted(quote, it))
                .collect(Collectors.joining(", "))
            + " FROM "
            + table.stream().map(it -> quoted(quote, it)).collect(Collectors.joining("."))
            + " LIMIT "
            + mostRows;
    try (Statement statement = connection.createStatement()) {
      statement.setFetchSize(FETCHED_AT_ONCE);
      ResultSet result = statement.executeQuery(sql);
      while (result.next()) {
        rows++;
        Input row = new Input(values(result, typed), Input.Encoding.FORM);
        for (FieldError error : Submission.check(form, row, now, Lookups.NONE).errors()) {
          refused
              .computeIfAbsent(error.pointer().replace("#/", ""), _ -> new TreeMap<>())
              .merge(KEYS.getOrDefault(error.code(), "type"), 1, Integer::sum);
        }
      }
    }
  }

  private static String quoted(String quote, String name) {
    return quote + name.replace(quote, quote + quote) + quote;
  }

  private Map<String, Raw> values(ResultSet result, boolean typed) throws SQLException {
    Map<String, Raw> values = new LinkedHashMap<>();
    int column = 0;
    for (FieldSketch field : byColumn.values()) {
      String text = result.getString(++column);
      if (text != null && typed && field.type().equals("datetime")) {
        values.put(field.name, new Raw.Text(result.getTimestamp(column).toInstant().toString()));
      } else if (text != null) {
        values.put(field.name, new Raw.Text(written(field, text)));
      }
    }
    return values;
  }

  /** A value as it would be sent. */
  private String written(FieldSketch field, String text) {
    if (field.type().equals("boolean")) {
      return text.matches("1|t") ? "true" : text.matches("0|f") ? "false" : text;
    }
    if (field.type().equals("datetime") && text.matches(SPACED)) {
      spaced.add(field.name);
      return text.replaceFirst(" ", "T");
    }
    return text;
  }

  /** Takes out what refuses rows; false if there is nothing. */
  private boolean takeOut() {
    boolean changed = false;
    for (FieldSketch field : byColumn.values()) {
      for (Map.Entry<String, Integer> each :
          refused.getOrDefault(field.name, Map.of()).entrySet()) {
        changed |= takeOut(field, each.getKey(), each.getValue());
      }
    }
    return changed;
  }

  private boolean takeOut(FieldSketch field, String key, int count) {
    String many = "%d of %d rows there".formatted(count, rows);
    Object value = field.keys.get(key);
    if (key.equals("decimals") && value == null) {
      String digits = many + " have more than the 15 digits that a number has here.";
      if (!field.comments.contains(digits)) {
        field.say(digits);
      }
      return false;
    }
    if (value == null || field.type().equals("text") && key.equals("type")) {
      return false;
    }
    field.say("Left out: `%s: %s`, which refuses %s.".formatted(key, value, many));
    if (key.equals("type")) {
      List<String> kept =
          new ArrayList<>(List.of("type", "label", "required", "unique", "default"));
      if (field.type().matches("email|url")) {
        kept.add("length");
      }
      field.keys.keySet().retainAll(kept);
      field.type("text");
    } else {
      field.keys.remove(key);
    }
    return true;
  }
}
