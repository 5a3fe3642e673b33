package nodley.store;

import com.zaxxer.hikari.HikariConfig;
import com.zaxxer.hikari.HikariDataSource;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.sqlite.SQLiteConfig;

/** The one file: a connection for the writer, a pool of read-only ones for everybody else. */
final class Database implements AutoCloseable {

  private static final int READERS = 8;
  private static final int BUSY_MILLIS = 10_000;

  private final String url;
  private final HikariDataSource readers;

  /** A question to the database. */
  interface Question<T> {
    T ask(Connection connection) throws SQLException;
  }

  Database(Path file) throws SQLException {
    url = "jdbc:sqlite:" + file;
    try (Connection connection = openWriter()) {
      Schema.bringUp(connection);
    }
    var config = new HikariConfig();
    config.setJdbcUrl(url);
    config.setMaximumPoolSize(READERS);
    config.setPoolName("readers");
    config.setReadOnly(true);
    SQLiteConfig settings = settings();
    settings.setReadOnly(true);
    config.setDataSourceProperties(settings.toProperties());
    readers = new HikariDataSource(config);
  }

  /** WAL lets readers go on while the writer writes; FULL makes every commit durable. */
  Connection openWriter() throws SQLException {
    return settings().createConnection(url);
  }

  private static SQLiteConfig settings() {
    var settings = new SQLiteConfig();
    settings.setJournalMode(SQLiteConfig.JournalMode.WAL);
    settings.setSynchronous(SQLiteConfig.SynchronousMode.FULL);
    settings.enforceForeignKeys(true);
    settings.setBusyTimeout(BUSY_MILLIS);
    return settings;
  }

  <T> T read(Question<T> question) {
    try (Connection connection = readers.getConnection()) {
      return question.ask(connection);
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    }
  }

  @Override
  public void close() {
    readers.close();
    // Brings the write-ahead log into the one file, so that a copy of it is whole.
    try (Connection connection = settings().createConnection(url);
        Statement statement = connection.createStatement()) {
      statement.execute("PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store could not be closed in good order.", e);
    }
  }
}
