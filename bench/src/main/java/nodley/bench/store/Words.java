package nodley.bench.store;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;

/**
 * The words of the vessels, noted in a database of their own. What SQLite's FTS5 knows stands in
 * tables beside it ("shadow tables", FTS5 section 9), and these are moved as they are.
 *
 * @param made the statement that makes the index of words
 */
record Words(Path file, String made) {

  private static final int BATCH = 10_000;

  /** Bytes of words in memory before they are written; SQLite has 1 MiB without being told. */
  private static final int AT_ONCE = 1 << 25;

  /** What the service notes between two texts. */
  private static final String BETWEEN = " \uE000 ";

  private static final List<String> TABLES = List.of("data", "idx", "docsize");

  /** For an index like that of the vessels in another database. */
  static Words like(Statement original, Path file) throws SQLException {
    try (ResultSet found =
        original.executeQuery("SELECT sql FROM sqlite_schema WHERE name = 'vessel_words'")) {
      return new Words(file, found.getString(1));
    }
  }

  /** What the service notes of each: its texts and dates, in the order of the form. */
  Void note(long rows) throws SQLException {
    try (Connection connection = Fill.open(file);
        Statement statement = connection.createStatement()) {
      statement.execute(made);
      statement.execute(
          "INSERT INTO vessel_words (vessel_words, rank) VALUES ('hashsize', " + AT_ONCE + ")");
      statement.execute("BEGIN");
      try (PreparedStatement words =
          connection.prepareStatement("INSERT INTO vessel_words (rowid, words) VALUES (?, ?)")) {
        for (long n = 1; n <= rows; n++) {
          words.setLong(1, n);
          words.setString(2, of(n));
          words.addBatch();
          if (n % BATCH == 0 || n == rows) {
            words.executeBatch();
          }
        }
      }
      statement.execute("COMMIT");
    }
    return null;
  }

  private static String of(long n) {
    return String.join(
        BETWEEN,
        Vessels.name(n),
        Vessels.callSign(n),
        Vessels.officialNumber(n),
        "sail",
        Vessels.built(n).toString());
  }

  /** Moves them into the database of the vessels; their own is gone then. */
  void moveTo(Statement statement) throws SQLException, IOException {
    statement.execute("ATTACH '" + file + "' AS words");
    statement.execute("BEGIN");
    for (String table : TABLES) {
      statement.execute("DELETE FROM main.vessel_words_" + table);
      statement.execute(
          "INSERT INTO main.vessel_words_%s SELECT * FROM words.vessel_words_%s"
              .formatted(table, table));
    }
    statement.execute("COMMIT");
    statement.execute("DETACH words");
    Files.delete(file);
  }
}
