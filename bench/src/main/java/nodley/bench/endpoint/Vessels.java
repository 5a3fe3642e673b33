package nodley.bench.endpoint;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import org.sqlite.SQLiteConfig;

/** The vessels' table. One connection writes, for SQLite has one writer; a pool of others reads. */
class Vessels {

  private final HikariDataSource writer;
  private final HikariDataSource readers;

  /** Which of the two unique values another vessel has. */
  record Taken(boolean callSign, boolean officialNumber) {}

  Vessels(Path file) {
    writer = pool(file, 1, false);
    try (Connection connection = writer.getConnection();
        Statement statement = connection.createStatement()) {
      statement.execute(
          """
          CREATE TABLE IF NOT EXISTS vessel (
            id INTEGER PRIMARY KEY,
            name TEXT NOT NULL,
            call_sign TEXT NOT NULL UNIQUE,
            official_number TEXT NOT NULL UNIQUE,
            rig TEXT NOT NULL,
            length NUMERIC NOT NULL,
            draught NUMERIC,
            crew INTEGER,
            built TEXT,
            insured INTEGER NOT NULL,
            notes TEXT)
          """);
    } catch (SQLException e) {
      throw new IllegalStateException("the table cannot be made", e);
    }
    readers = pool(file, 8, true);
  }

  private static HikariDataSource pool(Path file, int size, boolean readOnly) {
    var settings = new SQLiteConfig();
    settings.setJournalMode(SQLiteConfig.JournalMode.WAL);
    settings.setSynchronous(SQLiteConfig.SynchronousMode.FULL);
    settings.enforceForeignKeys(true);
    settings.setBusyTimeout(10_000);
    settings.setReadOnly(readOnly);
    var config = new HikariConfig();
    config.setJdbcUrl("jdbc:sqlite:" + file);
    config.setMaximumPoolSize(size);
    config.setReadOnly(readOnly);
    config.setDataSourceProperties(settings.toProperties());
    return new HikariDataSource(config);
  }

  Taken taken(Vessel vessel) throws SQLException {
    try (Connection connection = readers.getConnection();
        PreparedStatement statement =
            connection.prepareStatement(
                "SELECT EXISTS (SELECT 1 FROM vessel WHERE call_sign = ?),"
                    + " EXISTS (SELECT 1 FROM vessel WHERE official_number = ?)")) {
      statement.setString(1, vessel.callSign());
      statement.setString(2, vessel.officialNumber());
      try (ResultSet row = statement.executeQuery()) {
        row.next();
        return new Taken(row.getBoolean(1), row.getBoolean(2));
      }
    }
  }

  /** Inserts and commits; the new id. */
  long insert(Vessel vessel) throws SQLException {
    try (Connection connection = writer.getConnection();
        PreparedStatement statement =
            connection.prepareStatement(
                "INSERT INTO vessel (name, call_sign, official_number, rig, length, draught, crew,"
                    + " built, insured, notes) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?) RETURNING"
                    + " id")) {
      List<Object> values =
          Arrays.asList(
              vessel.name(),
              vessel.callSign(),
              vessel.officialNumber(),
              vessel.rig(),
              vessel.length().toPlainString(),
              vessel.draught() == null ? null : vessel.draught().toPlainString(),
              vessel.crew(),
              vessel.built() == null ? null : vessel.built().toString(),
              vessel.insured() ? 1 : 0,
              vessel.notes());
      for (int i = 0; i < values.size(); i++) {
        statement.setObject(i + 1, values.get(i));
      }
      try (ResultSet row = statement.executeQuery()) {
        row.next();
        return row.getLong(1);
      }
    }
  }
}
