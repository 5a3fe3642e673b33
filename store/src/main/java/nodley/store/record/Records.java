package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BiConsumer;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.submission.UniqueKey;
import nodley.core.value.FileRef;
import nodley.store.attempt.Attempts;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Deliveries;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import nodley.store.unique.TakenKeys;

/**
 * The records of all forms: finds, lists and counts them, and their versions; what else is done
 * with records has parts of its own, and {@link RecordWriter} adds, edits and removes them. Reading
 * sees the last commit. Thread-safe.
 */
public final class Records implements AutoCloseable {

  private static final int MOST_COUNTED = 10_000;

  /** So often a reader looks again where a form is being published; one pause each. */
  private static final int ROUNDS = 1_000;

  private static final Duration PAUSE = Duration.ofMillis(1);

  private final Database database;
  private final BatchWriter writer;
  private final Forms forms;
  private final Attempts attempts;
  private final Deliveries deliveries;
  private final WordIndex wordIndex;
  private final RecordRemoval removal;
  private final BiConsumer<String, String> written;

  /** A page of records, and the keys after which the next one begins. */
  public record Page(List<StoredRecord> records, Optional<List<Object>> next) {}

  /**
   * Opens the records of a store.
   *
   * @param written is told of the form and id of each record whose address is confirmed or that is
   *     put back, after its commit, on the thread that committed it
   */
  public Records(
      Database database,
      BatchWriter writer,
      Forms forms,
      Attempts attempts,
      Deliveries deliveries,
      BiConsumer<String, String> written) {
    this.database = database;
    this.writer = writer;
    this.forms = forms;
    this.attempts = attempts;
    this.deliveries = deliveries;
    this.wordIndex = new WordIndex(database, writer, forms);
    this.removal = new RecordRemoval(wordIndex, attempts);
    this.written = written;
  }

  /** What is read of a form. */
  private interface Reading<T> {
    T of(Connection connection, Form form) throws SQLException;
  }

  /**
   * Reads what belongs together in one snapshot, by the form that its tables follow: where a new
   * revision has been published meanwhile, by that.
   *
   * @throws StoreException.FormChanged if the form is gone, or keeps changing
   */
  private <T> T read(Form form, Reading<T> reading) {
    for (int round = 0; round < ROUNDS; round++) {
      PublishedForm current =
          forms.find(form.name()).orElseThrow(() -> new StoreException.FormChanged());
      Form now = current.isOf(form) ? form : current.form();
      Optional<T> read =
          database.snapshot(
              connection ->
                  isCurrent(connection, current)
                      ? Optional.of(reading.of(connection, now))
                      : Optional.empty());
      if (read.isPresent()) {
        return read.get();
      }
      // Its tables have just followed; in a moment the forms have, too.
      LockSupport.parkNanos(PAUSE.toNanos());
    }
    throw new StoreException.FormChanged();
  }

  private static boolean isCurrent(Connection connection, PublishedForm published)
      throws SQLException {
    return Sql.number(
            connection, "SELECT edition FROM nodley_forms WHERE name = ?", published.name())
        == published.edition();
  }

  /** Returns a record; empty if it does not exist. */
  public Optional<StoredRecord> find(Form form, String id) {
    return read(form, (connection, now) -> RecordReader.find(connection, now, id));
  }

  /**
   * The record of a form that has one only, or one for each person; nothing before its first save.
   *
   * @param person whose record, where each has one; empty for nobody's
   */
  public Optional<StoredRecord> only(Form form, String person) {
    return read(form, (connection, now) -> RecordReader.only(connection, now, person));
  }

  /**
   * The versions of a record, the latest first, which is the record as it is.
   *
   * @param before only those with a lower number
   * @param limit from 1 up
   * @throws StoreException.NoSuchRecord if it is gone
   */
  public List<Version> versions(Form form, String id, long before, int limit) {
    return read(
        form,
        (connection, now) -> {
          StoredRecord record =
              RecordReader.find(connection, now, id)
                  .orElseThrow(() -> new StoreException.NoSuchRecord(id));
          return Versions.of(connection, now, record, before, limit);
        });
  }

  /** One version of a record; nothing if there was none of this number. */
  public Optional<Version> version(Form form, String id, long number) {
    return versions(form, id, number + 1, 1).stream()
        .filter(version -> version.number() == number)
        .findFirst();
  }

  /**
   * How many records there are: counted up to some thousands, estimated beyond.
   *
   * @param estimated true if records that were removed may be counted in
   */
  public record Count(long records, boolean estimated) {}

  /**
   * Counts the records of a form: exactly up to 10 000; beyond, the number is estimated, and of one
   * owner it is the least that there are.
   *
   * @param owner whose records alone are counted; empty for everybody's
   */
  public Count count(Form form, Optional<String> owner) {
    String table = Sql.quoted(form.name());
    String which = owner.isPresent() ? " WHERE \"owner__id\" = ?" : "";
    Object[] bound = Stream.concat(owner.stream(), Stream.of(MOST_COUNTED + 1)).toArray();
    return database.snapshot(
        connection -> {
          long counted =
              Sql.number(
                  connection,
                  "SELECT count(*) FROM (SELECT 1 FROM " + table + which + " LIMIT ?)",
                  bound);
          return counted <= MOST_COUNTED || owner.isPresent()
              ? new Count(counted, counted > MOST_COUNTED)
              : new Count(
                  Sql.number(connection, "SELECT max(\"record_number\") FROM " + table), true);
        });
  }

  /** One page of records. */
  public Page list(Form form, Listing listing) {
    if (!listing.words().isBlank()) {
      wordIndex.bringUpToDate(form.name());
    }
    return read(
        form,
        (connection, now) -> {
          if (now != form) {
            // What it is sorted and narrowed by are columns of the form as it was.
            throw new StoreException.FormChanged();
          }
          return new Pages(form, listing).read(connection);
        });
  }

  /** Returns the indexes of the keys that another record has, by one query for all of them. */
  public Set<Integer> taken(Form form, List<UniqueKey> uniqueKeys, Optional<String> except) {
    return database.read(connection -> TakenKeys.of(connection, form, uniqueKeys, except));
  }

  /**
   * Finds a file that a record has in a field, or had in an earlier version, by its content.
   *
   * @param field dotted path
   */
  public Optional<FileRef> file(Form form, String id, String field, String sha256) {
    return database.read(
        connection -> RecordFiles.find(connection, form.name(), id, field, sha256));
  }

  /** Returns whether a record exists. */
  public boolean exists(Form form, String id) {
    return database.read(connection -> RecordReader.exists(connection, form.name(), id));
  }

  /** Returns the secrets in them. */
  public StoredSecrets secrets() {
    return new StoredSecrets(database, writer);
  }

  /** Returns the addresses that are confirmed in them. */
  public ConfirmedAddresses addresses() {
    return new ConfirmedAddresses(database, writer, deliveries, forms::checkCurrent, written);
  }

  /** Returns those that were removed, and can be put back. */
  public RemovedRecords removed() {
    return new RemovedRecords(
        database, writer, wordIndex, deliveries, forms::checkCurrent, written);
  }

  /** Returns those that are older than their form keeps them. */
  public OldRecords old() {
    return new OldRecords(writer, removal);
  }

  /** Returns those of one person. */
  public PersonRecords ofPerson() {
    return new PersonRecords(database, writer, forms, attempts, wordIndex, removal);
  }

  WordIndex wordIndex() {
    return wordIndex;
  }

  RecordRemoval removal() {
    return removal;
  }

  /** Ends what goes on beside the calls, before the writer is closed. */
  @Override
  public void close() {
    wordIndex.close();
  }
}
