package nodley.store;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.apache.commons.dbcp2.BasicDataSource;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteErrorCode;
import org.sqlite.SQLiteException;

/** The one file: a connection for the writer, a pool of read-only ones for everybody else. */
final class Database implements AutoCloseable {

  private static final int READERS = 8;
  private static final int BUSY_MILLIS = 10_000;

  /** Statements that a connection keeps prepared; a form needs some twenty. */
  private static final int STATEMENTS = 500;

  private final String url;
  private final BasicDataSource writers;
  private final BasicDataSource readers;

  /** A question to the database. */
  interface Question<T> {
    T ask(Connection connection) throws SQLException;
  }

  Database(Path file) throws SQLException {
    url = "jdbc:sqlite:" + file;
    try (Connection connection = settings().createConnection(url)) {
      Schema.bringUp(connection);
    }
    writers = pool(settings(), 1);
    SQLiteConfig readOnly = settings();
    readOnly.setReadOnly(true);
    readers = pool(readOnly, READERS);
  }

  private BasicDataSource pool(SQLiteConfig settings, int size) {
    var pool = new BasicDataSource();
    pool.setUrl(url);
    settings
        .toProperties()
        .forEach((name, value) -> pool.addConnectionProperty(name.toString(), value.toString()));
    pool.setMaxTotal(size);
    pool.setMaxIdle(size);
    // A connection to a file does not go stale, and nobody leaves it within a transaction.
    pool.setTestOnBorrow(false);
    pool.setRollbackOnReturn(false);
    pool.setAutoCommitOnReturn(false);
    // A backup needs the connection itself.
    pool.setAccessToUnderlyingConnectionAllowed(true);
    pool.setPoolPreparedStatements(true);
    pool.setMaxOpenPreparedStatements(STATEMENTS);
    return pool;
  }

  /** The one connection that writes. */
  Connection writer() throws SQLException {
    Connection connection = writers.getConnection();
    Sql.addFunction(connection);
    return connection;
  }

  /** A file as it is, which nothing is brought up in. */
  static Connection readOnly(Path file) throws SQLException {
    var settings = new SQLiteConfig();
    settings.setReadOnly(true);
    settings.setBusyTimeout(BUSY_MILLIS);
    return settings.createConnection("jdbc:sqlite:" + file);
  }

  /** WAL lets readers go on while the writer writes; FULL makes every commit durable. */
  private static SQLiteConfig settings() {
    var settings = new SQLiteConfig();
    settings.setJournalMode(SQLiteConfig.JournalMode.WAL);
    settings.setSynchronous(SQLiteConfig.SynchronousMode.FULL);
    settings.enforceForeignKeys(true);
    settings.setBusyTimeout(BUSY_MILLIS);
    // Nobody asks for them, and each would cost a question after each statement that writes.
    settings.setGetGeneratedKeys(false);
    return settings;
  }

  <T> T read(Question<T> question) {
    try (Connection connection = readers.getConnection()) {
      return question.ask(connection);
    } catch (SQLException e) {
      if (e instanceof SQLiteException sqlite
          && sqlite.getResultCode() == SQLiteErrorCode.SQLITE_ERROR
          && sqlite.getMessage().contains("no such ")) {
        // Asked by a form whose tables have followed a new revision at this very moment.
        throw new StoreException.FormChanged();
      }
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    }
  }

  @Override
  public void close() {
    try {
      readers.close();
      writers.close();
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store could not be closed in good order.", e);
    }
    // Brings the write-ahead log into the one file, so that a copy of it is whole.
    try (Connection connection = settings().createConnection(url);
        Statement statement = connection.createStatement()) {
      statement.execute("PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store could not be closed in good order.", e);
    }
  }
}
