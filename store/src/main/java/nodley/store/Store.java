package nodley.store;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import nodley.store.access.Keys;
import nodley.store.access.OperatorLog;
import nodley.store.access.People;
import nodley.store.access.SessionCache;
import nodley.store.access.Sessions;
import nodley.store.access.SignedTokens;
import nodley.store.attempt.Attempts;
import nodley.store.care.BackupArchive;
import nodley.store.care.DiskUse;
import nodley.store.care.Doctor;
import nodley.store.care.Unfinished;
import nodley.store.common.Ids;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import nodley.store.delivery.Deliveries;
import nodley.store.draft.Drafts;
import nodley.store.folder.DataFolder;
import nodley.store.folder.Disk;
import nodley.store.folder.FilePresence;
import nodley.store.folder.Permissions;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.publish.FormFolder;
import nodley.store.publish.FormPublisher;
import nodley.store.record.IdempotencyStore;
import nodley.store.record.Owners;
import nodley.store.record.RecordWriter;
import nodley.store.record.Records;
import nodley.store.schema.Schema;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import nodley.store.unique.Holds;
import nodley.store.upload.Uploads;

/**
 * An open data folder: one SQLite file, {@code nodley.db}, locked for one process at a time, and
 * the parts that work on it. Thread-safe; close it once, after which all of its parts fail. All
 * state of a service is here.
 */
public final class Store implements AutoCloseable {

  private final DataFolder dataFolder;
  private final Path location;
  private final Database database;
  private final BatchWriter writer;
  private final Forms forms;
  private final FormPublisher publisher;
  private final Records records;
  private final RecordWriter recordWriter;
  private final Owners owners;
  private final IdempotencyStore idempotency;
  private final Attempts attempts;
  private final Holds holds;
  private final Drafts drafts;
  private final Deliveries deliveries;
  private final Keys keys;
  private final People people;
  private final Sessions sessions;
  private final OperatorLog operatorLog;
  private final SignedTokens tokens;
  private final FormFolder folder;
  private final Uploads uploads;

  private Store(
      DataFolder dataFolder,
      Database database,
      Path file,
      StoreLimits limits,
      Optional<String> build)
      throws SQLException, IOException {
    this.dataFolder = dataFolder;
    this.database = database;
    this.location = file.toAbsolutePath().getParent();
    Clock clock = Clock.systemUTC();
    this.writer =
        new BatchWriter(
            database.writer(), limits.waiting(), limits.turn(), new FilePresence(file)::check);
    var current = new AtomicReference<>(database.snapshot(Snapshot::load));
    this.forms = new Forms(database, current);
    this.publisher = new FormPublisher(database, writer, current, build);
    this.idempotency = new IdempotencyStore(database, clock);
    this.attempts = new Attempts(database, writer, clock, limits, new Disk(location));
    this.holds = new Holds(database, writer, clock, limits.holdsPerAddress());
    this.drafts = new Drafts(database, writer, clock, limits.drafts(), holds);
    this.tokens = new SignedTokens(file.resolveSibling(SignedTokens.FILE), database, writer);
    this.deliveries = new Deliveries(database, writer, clock, tokens);
    this.records = new Records(database, writer, forms, attempts, deliveries, publisher::wrote);
    this.recordWriter =
        new RecordWriter(
            writer,
            records,
            forms,
            idempotency,
            attempts,
            holds,
            drafts,
            deliveries,
            ids(clock),
            publisher::wrote);
    this.owners = new Owners(database, writer);
    this.operatorLog = new OperatorLog(database, writer, clock);
    var sessionCache = new SessionCache();
    this.keys = new Keys(database, writer, sessionCache, clock);
    this.people = new People(database, writer, sessionCache, clock);
    this.sessions = new Sessions(database, writer, sessionCache, clock);
    this.folder = new FormFolder(database, writer);
    this.uploads = new Uploads(database, writer, clock, location, limits.uploads());
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
  public static Store open(Path folder, StoreLimits limits, Optional<String> build) {
    DataFolder dataFolder = DataFolder.lock(folder);
    Path file = folder.resolve(DataFolder.FILE);
    try {
      // SQLite's other files get the permissions of this one.
      Permissions.create(file);
      return new Store(
          dataFolder, new Database(file, limits.turn(), Schema::bringUp), file, limits, build);
    } catch (IOException | SQLException | StoreException e) {
      dataFolder.close();
      if (e instanceof StoreException.BadFolder bad) {
        throw bad;
      }
      throw new StoreException.BadFolder(
          "The data in " + folder + " cannot be opened: " + e.getMessage(), e);
    }
  }

  /**
   * Writes a copy of everything, as it is at one moment, to a file; submissions go on.
   *
   * @throws StoreException.Unavailable if there is no room for it
   */
  public void backUp(Path file) {
    database.copy(file);
  }

  /**
   * Writes everything, with the contents of files, as it is at one moment, as one archive.
   *
   * @param copy a file that is not there, for the copy of the database meanwhile
   * @throws IOException if it cannot be written
   */
  public void backUp(Path copy, OutputStream to) throws IOException {
    uploads.whileKept(
        () -> {
          database.copy(copy);
          List<String> digests;
          try (Connection on = Database.readOnly(copy)) {
            digests =
                Sql.list(on, row -> row.getString(1), "SELECT sha256 FROM nodley_files ORDER BY 1");
          } catch (SQLException e) {
            throw new IOException(e);
          }
          BackupArchive.write(copy, uploads.contents(), digests, to);
          return null;
        });
  }

  /** Returns what outlets are to be told. */
  public Deliveries deliveries() {
    return deliveries;
  }

  /** Returns the published forms. */
  public Forms forms() {
    return forms;
  }

  /** Returns what publishes forms and removes them. */
  public FormPublisher publisher() {
    return publisher;
  }

  /** Returns the records of all forms. */
  public Records records() {
    return records;
  }

  /** Returns what adds, edits and removes records. */
  public RecordWriter recordWriter() {
    return recordWriter;
  }

  /** Returns the stored answers to submissions that may be repeated. */
  public IdempotencyStore idempotency() {
    return idempotency;
  }

  /** Returns the log of attempts. */
  public Attempts attempts() {
    return attempts;
  }

  /** Returns the unique values that are reserved for open pages. */
  public Holds holds() {
    return holds;
  }

  /** Returns the submissions that are not finished yet. */
  public Drafts drafts() {
    return drafts;
  }

  /** Returns the keys of programs and the sessions of people. */
  public Keys keys() {
    return keys;
  }

  /** Returns the people who sign in here. */
  public People people() {
    return people;
  }

  /** Returns whose records are. */
  public Owners owners() {
    return owners;
  }

  /** Returns who is signed in. */
  public Sessions sessions() {
    return sessions;
  }

  /** Returns the operator's log. */
  public OperatorLog operatorLog() {
    return operatorLog;
  }

  /** Returns the signer of cursors and page names. */
  public SignedTokens tokens() {
    return tokens;
  }

  /** Returns the files that no record has taken over yet. */
  public Uploads uploads() {
    return uploads;
  }

  /** Measures how much of the disk it takes; blocks while it reads. */
  public DiskUse diskUse() {
    return DiskUse.of(
        location,
        database,
        forms.all().stream().map(PublishedForm::name).toList(),
        attempts.bytes(),
        Instant.now());
  }

  /** Counts drafts, and files that no record has; blocks while it reads. */
  public Unfinished unfinished() {
    return Unfinished.of(database);
  }

  /** Looks the data over, as {@link Doctor} does; blocks for as long as reading all of it takes. */
  public List<Doctor.Finding> examine() {
    return Doctor.look(location, Clock.systemUTC());
  }

  /** Returns what is known of the watched folder. */
  public FormFolder folder() {
    return folder;
  }

  /** Finishes what is being written, then closes the file; once closed, it stays so. */
  @Override
  public void close() {
    if (!dataFolder.isLocked()) {
      return;
    }
    records.close();
    writer.close();
    database.close();
    dataFolder.close();
  }
}
