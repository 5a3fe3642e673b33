package nodley.bench.store;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;

/**
 * Fills the tables of a form with vessels, as the service would have, but all at once: nobody else
 * has the data folder open, and if it fails, it is thrown away. Unique indexes are made when the
 * rows are there, for sorting is quicker than looking for a place for each. The words, which take
 * longest, are noted at the same time in a database of their own, and then moved over.
 */
final class Fill {

  private static final int BATCH = 10_000;

  private Fill() {}

  /**
   * Fills a data folder in which the form is published.
   *
   * @param args the data folder, and how many vessels
   */
  public static void main(String[] args) throws Exception {
    long rows = Long.parseLong(args[1]);
    long began = System.nanoTime();
    try (Connection connection = open(Path.of(args[0], "nodley.db"));
        ExecutorService other = Executors.newSingleThreadExecutor();
        Statement statement = connection.createStatement()) {
      Words words = Words.like(statement, Path.of(args[0], "words.db"));
      Future<?> noted = other.submit(() -> words.note(rows));
      List<String> indexes = takeIndexes(statement);
      statement.execute("BEGIN");
      insert(connection, rows);
      for (String index : indexes) {
        statement.execute(index);
      }
      statement.execute("COMMIT");
      noted.get();
      words.moveTo(statement);
      statement.execute("PRAGMA journal_mode = WAL");
    }
    double seconds = (System.nanoTime() - began) / 1e9;
    System.out.printf("%,d vessels, %,.0f a second%n", rows, rows / seconds);
  }

  static Connection open(Path file) throws SQLException {
    Connection connection = DriverManager.getConnection("jdbc:sqlite:" + file);
    try (Statement statement = connection.createStatement()) {
      statement.execute("PRAGMA journal_mode = OFF");
      statement.execute("PRAGMA synchronous = OFF");
      statement.execute("PRAGMA cache_size = -1000000");
      statement.execute("PRAGMA temp_store = MEMORY");
    }
    return connection;
  }

  private static List<String> takeIndexes(Statement statement) throws SQLException {
    List<String> names = new ArrayList<>();
    List<String> made = new ArrayList<>();
    try (ResultSet found =
        statement.executeQuery(
            "SELECT name, sql FROM sqlite_schema"
                + " WHERE type = 'index' AND tbl_name = 'vessel' AND sql IS NOT NULL")) {
      while (found.next()) {
        names.add(found.getString(1));
        made.add(found.getString(2));
      }
    }
    for (String name : names) {
      statement.execute("DROP INDEX \"" + name + "\"");
    }
    return made;
  }

  private static void insert(Connection connection, long rows) throws SQLException {
    try (PreparedStatement vessel =
        connection.prepareStatement(
            """
            INSERT INTO vessel (record_number, id, version, revision, created_at, updated_at,
              updated_by, name, callSign, officialNumber, rig, length, built, insured)
            VALUES (?1, ?2, 1, 1, ?3, ?3, '', ?4, ?5, ?6, 'sail', ?7, ?8, 1)
            """)) {
      for (long n = 1; n <= rows; n++) {
        vessel.setLong(1, n);
        vessel.setString(2, Vessels.id(n));
        vessel.setString(3, Vessels.createdAt(n).toString());
        vessel.setString(4, Vessels.name(n));
        vessel.setString(5, Vessels.callSign(n));
        vessel.setString(6, Vessels.officialNumber(n));
        vessel.setDouble(7, Vessels.length(n));
        vessel.setString(8, Vessels.built(n).toString());
        vessel.addBatch();
        if (n % BATCH == 0 || n == rows) {
          vessel.executeBatch();
        }
      }
    }
  }
}
