package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.FileRef;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Full-text index of a form's records: SQLite's FTS5 without content of its own. Words are split by
 * Unicode, regardless of case and accents. Deleting needs the very text that was indexed, which
 * works in SQLite 3.9 and later. Runs inside a write of {@link BatchWriter}; updates wait for the
 * end of the batch, because FTS5 flushes at each savepoint.
 */
public final class FullText {

  /**
   * Stands as a word between two texts, so that no phrase is found across them. A character of
   * Unicode's private use, which FTS5 counts as a letter; it is taken out of what is looked for.
   */
  private static final String BETWEEN = "\uE000";

  private FullText() {}

  /** The name without quotes; that of no other table, for names of forms have no underscore. */
  public static String plainName(String form) {
    return form + "_words";
  }

  private static String name(Form form) {
    return Sql.quoted(plainName(form.name()));
  }

  /** The names of all forms that have an index. */
  public static Set<String> forms(Connection on) throws SQLException {
    String ending = plainName("");
    return Set.copyOf(
        Sql.list(
            on,
            row -> row.getString(1).substring(0, row.getString(1).length() - ending.length()),
            "SELECT name FROM sqlite_schema WHERE type = 'table' AND substr(name, ?) = ?",
            -ending.length(),
            ending));
  }

  /** Creates an empty index, in place of one that is there. */
  public static void create(Connection on, Form form) throws SQLException {
    drop(on, form.name());
    Sql.run(
        on,
        "CREATE VIRTUAL TABLE "
            + name(form)
            + " USING fts5 (words, content = '', tokenize = 'unicode61 remove_diacritics 2')");
  }

  /** Removes the index of a form, if there is one. */
  public static void drop(Connection on, String form) throws SQLException {
    Sql.run(on, "DROP TABLE IF EXISTS " + Sql.quoted(plainName(form)));
  }

  /** Adds the words of a record that is stored already. */
  public static void add(Connection on, Form form, String id, Values values) throws SQLException {
    insert(on, form, id, words(form, values));
  }

  /** The number of the last record that is in the index; 0 if none is. */
  public static long last(Connection on, String form) throws SQLException {
    return Sql.number(on, "SELECT max(id) FROM " + entries(form));
  }

  /** Returns whether there are records beyond the last one in the index. */
  public static boolean isBehind(Connection on, String form) throws SQLException {
    return Sql.number(on, "SELECT max(\"record_number\") FROM " + Sql.quoted(form))
        > last(on, form);
  }

  /** Returns whether a record that is there is in the index. */
  public static boolean has(Connection on, Form form, String id) throws SQLException {
    return Sql.number(
            on,
            "SELECT count(*) FROM "
                + entries(form.name())
                + " WHERE id = (SELECT \"record_number\" FROM "
                + Sql.quoted(form.name())
                + " WHERE \"id\" = ?)",
            id)
        > 0;
  }

  /** FTS5's own table with a row for each record that is indexed. */
  public static String entries(String form) {
    return Sql.quoted(plainName(form) + "_docsize");
  }

  /**
   * Changes the words of an indexed record that is being edited. SQLite writes its index out at
   * each savepoint that touches it, so this waits for the commit, where it is done for all at once.
   */
  public static void change(
      BatchWriter writer, Form form, String id, Values replaced, Values values) {
    String before = words(form, replaced);
    String words = words(form, values);
    if (!before.equals(words)) {
      writer.beforeCommit(
          on -> {
            delete(on, form, id, before);
            insert(on, form, id, words);
          });
    }
  }

  private static void insert(Connection on, Form form, String id, String words)
      throws SQLException {
    // With a SELECT of its own this would be a savepoint again.
    Sql.run(
        on,
        "INSERT INTO "
            + name(form)
            + " (rowid, words) VALUES ((SELECT \"record_number\" FROM "
            + Sql.quoted(form.name())
            + " WHERE \"id\" = ?), ?)",
        id,
        words);
  }

  private static String words(Form form, Values values) {
    List<String> texts = new ArrayList<>();
    collect(form.fields(), values, texts);
    return String.join(" " + BETWEEN + " ", texts);
  }

  /** Forgets the words of a record that is about to go. */
  public static void remove(Connection on, Form form, String id, Values values)
      throws SQLException {
    delete(on, form, id, words(form, values));
  }

  /** FTS5's own command for it, which must be given the very text that was noted. */
  private static void delete(Connection on, Form form, String id, String words)
      throws SQLException {
    String name = name(form);
    Sql.run(
        on,
        "INSERT INTO %s (%s, rowid, words) VALUES ('delete', (SELECT \"record_number\" FROM %s WHERE \"id\" = ?), ?)"
            .formatted(name, name, Sql.quoted(form.name())),
        id,
        words);
  }

  private static void collect(Fields fields, Values values, List<String> texts) {
    for (Field field : fields) {
      // Finding a record by a word tells that the word is in it.
      if (field.isSecret()
          || field.refersTo().isPresent()
          || !field.isKept()
          || field.access().isForSome()) {
        continue;
      }
      switch (values.get(field.name())) {
        case Value.Text(String text) -> texts.add(text);
        case Value.Chosen(List<String> options) -> texts.addAll(options);
        case Value.Files(List<FileRef> files, boolean _) ->
            files.forEach(file -> texts.add(file.name()));
        case Value.Date date -> texts.add(date.shown());
        case Value.Group(Values inside) -> collect(field.fields(), inside, texts);
        case Value.Rows(List<Values> rows) ->
            rows.forEach(row -> collect(field.fields(), row, texts));
        default -> {
          // Numbers, truths and times are nothing to look for by words.
        }
      }
    }
  }

  /** The condition that a record has all the words, each as a whole or as its beginning. */
  public static String condition(Form form) {
    return "\"record_number\" IN (SELECT rowid FROM "
        + name(form)
        + " WHERE "
        + name(form)
        + " MATCH ?)";
  }

  /** The newest that have the words, found without looking at the others; its words come first. */
  public static String newest(Form form, boolean after) {
    return "\"record_number\" IN (SELECT rowid FROM "
        + name(form)
        + " WHERE "
        + name(form)
        + " MATCH ?"
        + (after
            ? " AND rowid <= (SELECT \"record_number\" FROM "
                + Sql.quoted(form.name())
                + " WHERE \"id\" < ? ORDER BY \"id\" DESC LIMIT 1)"
            : "")
        + " ORDER BY rowid DESC LIMIT ?)";
  }

  /** What is bound for the words: nothing of them is FTS5's own language. */
  public static String bound(String words) {
    List<String> needed = SearchWords.of(words.replace(BETWEEN, " "));
    return needed.isEmpty()
        ? "\"\""
        : needed.stream()
            .limit(SearchWords.MAX)
            .map(word -> "\"" + word.replace("\"", "\"\"") + "\"*")
            .collect(Collectors.joining(" "));
  }
}
