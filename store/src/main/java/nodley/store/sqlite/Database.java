package nodley.store.sqlite;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.NoSuchElementException;
import nodley.store.common.StoreException;
import org.apache.commons.pool2.BasePooledObjectFactory;
import org.apache.commons.pool2.ObjectPool;
import org.apache.commons.pool2.PooledObject;
import org.apache.commons.pool2.impl.DefaultPooledObject;
import org.apache.commons.pool2.impl.GenericObjectPool;
import org.apache.commons.pool2.impl.GenericObjectPoolConfig;
import org.sqlite.ProgressHandler;
import org.sqlite.SQLiteConfig;
import org.sqlite.SQLiteConnection;
import org.sqlite.SQLiteOpenMode;
import org.sqlite.core.Codes;

/**
 * The SQLite file: one connection for the writer, a pool of up to 8 read-only ones for everybody
 * else. Reads are thread-safe and never wait for writes (WAL).
 */
public final class Database implements AutoCloseable {

  private static final int READERS = 8;

  /**
   * Steps of SQLite's virtual machine between two checks of a reader's time limit: well under a ms.
   */
  private static final int STEPS_BETWEEN_LOOKS = 20_000;

  private static final int BUSY_MILLIS = 10_000;

  /** Between two looks whether somebody still reads from what is being closed. */
  private static final long CLOSING_MILLIS = 5;

  /** What the file is called where it is attached to {@link #scratch}. */
  public static final String KEPT = "kept";

  private final Path file;
  private final String url;
  private final PreparedConnection writer;
  private final ObjectPool<PreparedConnection> readers;

  /** A question to the database. */
  public interface Question<T> {
    T ask(Connection connection) throws SQLException;
  }

  /** Creates or migrates the tables of a file that is being opened. */
  public interface Migration {
    void run(Connection connection) throws SQLException;
  }

  /**
   * Opens a file, creating it if it does not exist.
   *
   * @param turn how long somebody who reads waits for a connection while all are in use
   * @param migration runs on the writer's connection before anything else does
   */
  public Database(Path file, Duration turn, Migration migration) throws SQLException {
    this.file = file;
    url = "jdbc:sqlite:" + file;
    readers = pool(turn);
    writer = new PreparedConnection(withoutAutoCommit(settings().createConnection(url)));
    try {
      migration.run(writer);
      Sql.addFunction(writer);
    } catch (SQLException | RuntimeException e) {
      writer.close();
      throw e;
    }
  }

  /**
   * A pool that opens a connection when none is free: with many tables each takes a while, and
   * memory. The one that was given back last comes first: it knows the tables as they are by now.
   */
  private ObjectPool<PreparedConnection> pool(Duration turn) {
    var settings = new GenericObjectPoolConfig<PreparedConnection>();
    settings.setMaxTotal(READERS);
    settings.setMaxIdle(READERS);
    settings.setLifo(true);
    settings.setMaxWait(turn);
    settings.setJmxEnabled(false);
    return new GenericObjectPool<>(
        new BasePooledObjectFactory<>() {
          @Override
          public PreparedConnection create() throws SQLException {
            return openReader();
          }

          @Override
          public PooledObject<PreparedConnection> wrap(PreparedConnection connection) {
            return new DefaultPooledObject<>(connection);
          }

          @Override
          public void destroyObject(PooledObject<PreparedConnection> pooled) throws SQLException {
            pooled.getObject().close();
          }
        },
        settings);
  }

  /** The one connection that writes, for one user at a time. */
  public Connection writer() {
    return writer;
  }

  /**
   * A file as it is, which nothing is brought up in. If nobody has it open, nothing is left beside
   * it, and its folder need not be writable.
   */
  public static Connection readOnly(Path file) throws SQLException {
    var settings = new SQLiteConfig();
    settings.setReadOnly(true);
    settings.setBusyTimeout(BUSY_MILLIS);
    boolean inUse = Files.exists(file.resolveSibling(file.getFileName() + "-wal"));
    if (!inUse) {
      settings.setOpenMode(SQLiteOpenMode.OPEN_URI);
    }
    return settings.createConnection(
        "jdbc:sqlite:" + (inUse ? file : file.toUri() + "?immutable=1"));
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

  /**
   * Leaves transactions to SQLite, which commits by itself outside of them. A driver that sees to
   * it runs a BEGIN and a COMMIT of its own after each statement that returns no row.
   */
  private static Connection withoutAutoCommit(Connection connection) throws SQLException {
    // Of the connection itself the setting would begin a transaction.
    connection.unwrap(SQLiteConnection.class).getConnectionConfig().setAutoCommit(false);
    return connection;
  }

  /**
   * Copies the whole file as it is at one moment (SQLite's online backup); writers need not wait.
   *
   * @throws StoreException.Unavailable if there is no room for it
   */
  public void copy(Path to) {
    read(
        connection -> {
          // All pages in one step: between two, each commit would make it begin again.
          int result =
              connection
                  .unwrap(SQLiteConnection.class)
                  .getDatabase()
                  .backup("main", to.toString(), null, 0, 0, -1);
          if (result != Codes.SQLITE_OK) {
            throw new SQLException("SQLite's backup ended with code " + result);
          }
          return to;
        });
  }

  /**
   * Asks several statements that see one and the same state, whatever is written meanwhile.
   *
   * @throws StoreException.FormChanged if a table has followed another revision of its form
   * @throws StoreException.Unavailable if the file cannot be read
   */
  public <T> T snapshot(Question<T> question) {
    return read(
        connection -> {
          Sql.execute(connection, "BEGIN");
          try {
            return question.ask(connection);
          } finally {
            Sql.execute(connection, "ROLLBACK");
          }
        });
  }

  /**
   * Asks on an empty database of one's own, in which everything may be done; it is gone afterwards.
   * The file is attached to it as {@link #KEPT}, can be read only, and is seen in one state. A
   * table that is not in the empty one is found there without being told.
   *
   * @throws StoreException.Unavailable if the file cannot be read, or there is no room
   */
  public <T> T scratch(Question<T> question) {
    var settings = new SQLiteConfig();
    settings.setOpenMode(SQLiteOpenMode.OPEN_URI);
    settings.setJournalMode(SQLiteConfig.JournalMode.OFF);
    settings.setSynchronous(SQLiteConfig.SynchronousMode.OFF);
    settings.setBusyTimeout(BUSY_MILLIS);
    settings.setGetGeneratedKeys(false);
    // No name: SQLite makes a temporary file, of which nothing is left when it is closed.
    try (var connection = new PreparedConnection(settings.createConnection("jdbc:sqlite:"))) {
      Sql.addFunction(connection);
      Sql.run(connection, "ATTACH ? AS " + KEPT, file.toUri() + "?mode=ro");
      Sql.execute(connection, "BEGIN");
      return question.ask(connection);
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    }
  }

  /**
   * Asks one statement, which is cheaper than {@link #snapshot}.
   *
   * @throws StoreException.Busy if all connections stay in use
   */
  public <T> T read(Question<T> question) {
    PreparedConnection connection = reader();
    try {
      return question.ask(connection);
    } catch (SQLException e) {
      if (ErrorCodes.isUnknownName(e)) {
        // Asked by a form whose tables have followed a new revision at this very moment.
        throw new StoreException.FormChanged();
      }
      if (ErrorCodes.isInterrupted(e)) {
        throw new StoreException.TookTooLong();
      }
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    } finally {
      giveBack(connection);
    }
  }

  private PreparedConnection reader() {
    try {
      return readers.borrowObject();
    } catch (NoSuchElementException e) {
      throw new StoreException.Busy();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new StoreException.Unavailable("The store was not waited for.", e);
    } catch (Exception e) {
      // What the factory throws, the pool declares as Exception.
      throw new StoreException.Unavailable("The store cannot be read now.", e);
    }
  }

  private void giveBack(PreparedConnection connection) {
    try {
      readers.returnObject(connection);
    } catch (Exception e) {
      throw new StoreException.Unavailable("A connection could not be closed in good order.", e);
    }
  }

  private PreparedConnection openReader() throws SQLException {
    SQLiteConfig readOnly = settings();
    readOnly.setReadOnly(true);
    Connection connection = withoutAutoCommit(readOnly.createConnection(url));
    ProgressHandler.setHandler(
        connection,
        STEPS_BETWEEN_LOOKS,
        new ProgressHandler() {
          @Override
          protected int progress() {
            return ReadBudget.isOver() ? 1 : 0;
          }
        });
    return new PreparedConnection(connection);
  }

  /** Waits for those who still read. */
  @Override
  public void close() {
    readers.close();
    try {
      while (readers.getNumActive() > 0) {
        Thread.sleep(CLOSING_MILLIS);
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    // Brings the write-ahead log into the one file, so that a copy of it is whole.
    try (writer) {
      Sql.execute(writer, "PRAGMA wal_checkpoint(TRUNCATE)");
    } catch (SQLException e) {
      throw new StoreException.Unavailable("The store could not be closed in good order.", e);
    }
  }
}
