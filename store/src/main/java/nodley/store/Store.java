package nodley.store;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * An open data folder: one SQLite file, {@code nodley.db}, locked for one process at a time.
 * Thread-safe; close it once.
 */
public final class Store implements AutoCloseable {

  /** The one file, in the data folder. */
  public static final String FILE = "nodley.db";

  private final FileChannel lock;
  private final Database database;
  private final BatchWriter writer;
  private final Forms forms;
  private final Records records;
  private final IdempotencyStore answers;
  private final Attempts attempts;
  private final Holds holds;
  private final Keys keys;
  private final OperatorLog operatorLog;
  private final SignedTokens seals;
  private final FormFolder folder;

  private Store(
      FileChannel lock, Database database, Path file, StoreLimits limits, Optional<String> build)
      throws SQLException, IOException {
    this.lock = lock;
    this.database = database;
    Clock clock = Clock.systemUTC();
    this.writer =
        new BatchWriter(
            database.writer(), limits.waiting(), limits.turn(), new FilePresence(file)::check);
    this.forms = new Forms(database, writer, build);
    this.answers = new IdempotencyStore(database, clock);
    this.attempts =
        new Attempts(database, writer, clock, limits, new Disk(file.toAbsolutePath().getParent()));
    this.holds = new Holds(database, writer, clock, limits.holdsPerAddress());
    this.records = new Records(database, writer, forms, answers, attempts, holds, ids(clock));
    this.operatorLog = new OperatorLog(database, writer, clock);
    this.keys = new Keys(database, writer, clock);
    this.seals = new SignedTokens(file.resolveSibling(SignedTokens.FILE), database, writer);
    this.folder = new FormFolder(database, writer);
  }

  private Ids ids(Clock clock) {
    List<String> latest = new ArrayList<>();
    for (PublishedForm form : forms.all()) {
      database
          .read(
              on ->
                  Sql.first(
                      on,
                      row -> row.getString(1),
                      "SELECT \"id\" FROM "
                          + Sql.quoted(form.name())
                          + " ORDER BY \"id\" DESC LIMIT 1"))
          .ifPresent(latest::add);
    }
    return new Ids(clock, latest.stream().max(Comparator.naturalOrder()));
  }

  /**
   * Opens a data folder, making it if it is not there.
   *
   * @throws StoreException.BadFolder if it cannot be written, is in use by another process, or was
   *     written by a newer Nodley
   */
  public static Store open(Path folder) {
    return open(folder, StoreLimits.DEFAULT);
  }

  /** The same within limits. */
  public static Store open(Path folder, StoreLimits limits) {
    return open(folder, limits, Build.current());
  }

  /** The same by a build of Nodley. */
  static Store open(Path folder, StoreLimits limits, Optional<String> build) {
    FileChannel lock = lock(folder);
    try {
      // SQLite's other files get the permissions of this one.
      Permissions.create(folder.resolve(FILE));
      return new Store(
          lock,
          new Database(folder.resolve(FILE), limits.turn()),
          folder.resolve(FILE),
          limits,
          build);
    } catch (IOException | SQLException | StoreException e) {
      release(lock);
      if (e instanceof StoreException.BadFolder bad) {
        throw bad;
      }
      throw new StoreException.BadFolder(
          "The data in " + folder + " cannot be opened: " + e.getMessage(), e);
    }
  }

  /** What is done to the files of a data folder that nobody has open. */
  interface Work {
    void run() throws IOException, SQLException;
  }

  /**
   * Locks a data folder that no process has open, does some work, and unlocks it.
   *
   * @throws StoreException.BadFolder if the folder is in use or cannot be written
   */
  static void whileLocked(Path folder, Work work) {
    FileChannel lock = lock(folder);
    try {
      work.run();
    } catch (IOException | SQLException e) {
      throw new StoreException.BadFolder(
          "The data folder " + folder + " cannot be written: " + e.getMessage(), e);
    } finally {
      release(lock);
    }
  }

  /**
   * Writes a copy of everything, as it is at one moment, to a file; submissions go on.
   *
   * @throws StoreException.Unavailable if there is no room for it
   */
  public void backUp(Path file) {
    database.read(
        connection -> {
          Backup.copy(connection, file);
          return file;
        });
  }

  private static FileChannel lock(Path folder) {
    try {
      Permissions.prepare(folder);
      Permissions.create(folder.resolve("nodley.lock"));
      FileChannel channel =
          FileChannel.open(
              folder.resolve("nodley.lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
      if (tryLock(channel) == null) {
        channel.close();
        throw new StoreException.BadFolder(
            "The data folder " + folder + " is in use by another Nodley.", null);
      }
      return channel;
    } catch (IOException e) {
      throw new StoreException.BadFolder(
          "The data folder "
              + folder
              + " cannot be written. Choose another with --data, or give this user the right to"
              + " write there.",
          e);
    }
  }

  private static FileLock tryLock(FileChannel channel) throws IOException {
    try {
      return channel.tryLock();
    } catch (OverlappingFileLockException e) {
      return null;
    }
  }

  private static void release(FileChannel lock) {
    try {
      lock.close();
    } catch (IOException e) {
      // The process is about to end, and with it the lock.
    }
  }

  /** Returns the published forms. */
  public Forms forms() {
    return forms;
  }

  /** Returns the records of all forms. */
  public Records records() {
    return records;
  }

  /** Returns the stored answers to submissions that may be repeated. */
  public IdempotencyStore answers() {
    return answers;
  }

  /** Returns the log of attempts. */
  public Attempts attempts() {
    return attempts;
  }

  /** Returns the unique values that are reserved for open pages. */
  public Holds holds() {
    return holds;
  }

  /** Returns the keys of programs and the sessions of people. */
  public Keys keys() {
    return keys;
  }

  /** Returns the operator's log. */
  public OperatorLog operatorLog() {
    return operatorLog;
  }

  /** Returns the signer of cursors and page names. */
  public SignedTokens seals() {
    return seals;
  }

  /** Returns what is known of the watched folder. */
  public FormFolder folder() {
    return folder;
  }

  /** Finishes what is being written, then closes the file; once closed, it stays so. */
  @Override
  public void close() {
    if (!lock.isOpen()) {
      return;
    }
    writer.close();
    database.close();
    release(lock);
  }
}
