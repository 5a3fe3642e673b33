package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import nodley.core.form.Form;
import nodley.core.value.Values;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.FullText;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The full-text indexes of all forms, as records are added, edited and removed. The words of an
 * added record go in some time after its commit, together with those of others, since SQLite's
 * index writes itself out at each commit that touches it. Whoever searches has them put in first,
 * so that every record is found that was answered before. Thread-safe.
 *
 * <p>What is not indexed yet are always the records with the greatest numbers, so a restart finds
 * them: those beyond the last one in the index.
 */
final class WordIndex implements AutoCloseable {

  /** After so long the words of an added record are put in. */
  private static final Duration DELAY = Duration.ofMillis(250);

  /** Records whose words go in with one write, so that others need not wait long for theirs. */
  private static final int AT_A_TIME = 128;

  private static final Logger LOG = LoggerFactory.getLogger(WordIndex.class);

  private final BatchWriter writer;
  private final Forms forms;
  private final Set<String> behind = ConcurrentHashMap.newKeySet();
  private final Semaphore due = new Semaphore(0);
  private final OnceAMinute failures = new OnceAMinute();
  private final Thread thread;

  /** Opens the indexes, and puts in what an earlier process has left out. */
  WordIndex(Database database, BatchWriter writer, Forms forms) {
    this.writer = writer;
    this.forms = forms;
    for (PublishedForm form : forms.all()) {
      // By name, since forms are read only once they are asked for.
      if (database.read(on -> FullText.isBehind(on, form.name()))) {
        behind.add(form.name());
      }
    }
    due.release();
    this.thread = Thread.ofVirtual().name("word-index").start(this::loop);
  }

  /** Notes that a record is being added. Inside a write. */
  void add(Form form) {
    writer.afterCommit(
        () -> {
          if (behind.add(form.name())) {
            due.release();
          }
        });
  }

  /** Changes the words of a record that is being edited. Inside a write. */
  void change(Connection on, Form form, String id, Values replaced, Values values)
      throws SQLException {
    if (FullText.has(on, form, id)) {
      FullText.change(writer, form, id, replaced, values);
    }
  }

  /** Forgets the words of a record that is about to go. Inside a write that is alone. */
  void remove(Connection on, Form form, String id, Values values) throws SQLException {
    if (FullText.has(on, form, id)) {
      FullText.remove(on, form, id, values);
    }
  }

  /**
   * Puts in the words of all records that were committed before. Blocks until it is done.
   *
   * @throws StoreException.Busy if it is not this write's turn in time
   */
  void bringUpToDate(String form) {
    boolean more = behind.contains(form);
    while (more) {
      more = writer.write(on -> fill(on, form));
    }
  }

  /** Puts in the words of the next records; returns whether there may be more. */
  private boolean fill(Connection on, String name) throws SQLException {
    Optional<PublishedForm> published = forms.find(name);
    List<StoredRecord> some = published.isEmpty() ? List.of() : next(on, published.get().form());
    for (StoredRecord record : some) {
      FullText.add(on, published.get().form(), record.id(), record.values());
    }
    if (some.size() == AT_A_TIME) {
      return true;
    }
    writer.afterCommit(() -> behind.remove(name));
    return false;
  }

  /** The next records that are not in the index. */
  private static List<StoredRecord> next(Connection on, Form form) throws SQLException {
    return RecordReader.read(
        on,
        form,
        Table.of(form).getFirst().select()
            + " WHERE \"record_number\" > ? ORDER BY \"record_number\" LIMIT ?",
        FullText.last(on, form.name()),
        AT_A_TIME);
  }

  private void loop() {
    try {
      while (true) {
        due.acquire();
        Thread.sleep(DELAY);
        due.drainPermits();
        behind.forEach(this::bringUpOrSay);
      }
    } catch (InterruptedException e) {
      // It is being closed: the next start goes on.
    }
  }

  private void bringUpOrSay(String form) {
    try {
      bringUpToDate(form);
    } catch (StoreException e) {
      due.release();
      if (failures.isDue()) {
        LOG.warn("The index of words of {} is behind: {}", form, e.getMessage());
      }
    }
  }

  /** Ends the thread. */
  @Override
  public void close() {
    thread.interrupt();
  }
}
