package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.function.Function;
import nodley.core.form.Form;
import nodley.core.submission.RecordSink;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Values;
import nodley.store.attempt.Attempts;
import nodley.store.common.Ids;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.common.Times;
import nodley.store.delivery.Caused;
import nodley.store.delivery.Confirmations;
import nodley.store.delivery.Deliveries;
import nodley.store.delivery.Outgoing;
import nodley.store.draft.Drafts;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.ErrorCodes;
import nodley.store.sqlite.Sql;
import nodley.store.unique.Holds;
import nodley.store.unique.TakenKeys;

/**
 * Adds, edits and removes records. Each call is one transaction, with all that an acceptance
 * causes: the stored answer, holds and drafts that end, deliveries, the attempt. It blocks until
 * the commit, which is one for all that waits at the time; what was written is on disk when the
 * method returns. Thread-safe.
 */
public final class RecordWriter {

  private final BatchWriter writer;
  private final Forms forms;
  private final IdempotencyStore answers;
  private final Attempts attempts;
  private final Holds holds;
  private final Drafts drafts;
  private final Deliveries deliveries;
  private final Ids ids;
  private final WordIndex wordIndex;
  private final RecordRemoval removal;
  private final BiConsumer<String, String> written;

  /**
   * Opens what writes the records of a store.
   *
   * @param records what reads them
   * @param written is told of the form and id of each record that was added or edited, after its
   *     commit, on the thread that committed it
   */
  public RecordWriter(
      BatchWriter writer,
      Records records,
      Forms forms,
      IdempotencyStore answers,
      Attempts attempts,
      Holds holds,
      Drafts drafts,
      Deliveries deliveries,
      Ids ids,
      BiConsumer<String, String> written) {
    this.writer = writer;
    this.forms = forms;
    this.answers = answers;
    this.attempts = attempts;
    this.holds = holds;
    this.drafts = drafts;
    this.deliveries = deliveries;
    this.ids = ids;
    this.wordIndex = records.wordIndex();
    this.removal = records.removal();
    this.written = written;
  }

  /**
   * Adds a record; a unique index that refuses it decides, and all taken fields are told.
   *
   * @throws StoreException.AlreadyAnswered if it was accepted before
   * @throws StoreException.Outdated if the form has one record only, and it is there
   * @throws StoreException.FormChanged if the form has been published anew since
   */
  public RecordSink.Outcome<StoredRecord> add(
      PublishedForm published, Values values, List<UniqueKey> uniqueKeys, SubmissionInfo sent) {
    Form form = published.form();
    // What can be made before the write's turn is: while one is written, others wait.
    Row row = newRow(published, values, uniqueKeys, sent);
    Values stored = StoredValues.of(form.fields(), values);
    Function<StoredRecord, List<Outgoing>> caused = sent.caused().prepared(stored);
    return orClash(
        connection -> {
          forms.checkCurrent(published);
          checkNew(connection, form, sent);
          checkFirst(connection, form, sent);
          checkFree(connection, form, uniqueKeys, sent);
          String id = ids.next();
          String now = Times.now();
          if (form.isKeepingNone()) {
            StoredRecord passed = added(published, id, now, stored, sent);
            return answered(connection, form, passed, sent, caused);
          }
          row.put("\"id\"", id);
          row.put("\"created_at\"", now);
          row.put("\"updated_at\"", now);
          Values written;
          try {
            Sql.run(connection, row.insert(), row.bound());
            written = RowsTables.insert(connection, form, id, values, uniqueKeys);
            checkUploads(RecordFiles.add(connection, form, id, written));
            wordIndex.add(form);
          } catch (SQLException e) {
            throw clash(connection, e, form, values, uniqueKeys, Optional.empty());
          }
          // Rows have their identities by now.
          boolean isAsPrepared = written == values;
          Values read = isAsPrepared ? stored : StoredValues.of(form.fields(), written);
          StoredRecord record = added(published, id, now, read, sent);
          return answered(
              connection, form, record, sent, isAsPrepared ? caused : sent.caused()::of);
        });
  }

  /**
   * Puts new values in place of a record's, if it is still at the given version. What it was stays
   * among its versions. Where nothing is new, the record stays as it is, at its version.
   *
   * @throws StoreException.AlreadyAnswered if it was accepted before
   * @throws StoreException.NoSuchRecord if it is gone
   * @throws StoreException.Outdated if somebody changed it since
   * @throws StoreException.FormChanged if the form has been published anew since
   */
  public RecordSink.Outcome<StoredRecord> edit(
      PublishedForm published,
      String id,
      long version,
      Values values,
      List<UniqueKey> uniqueKeys,
      SubmissionInfo sent) {
    Form form = published.form();
    return orClash(
        connection -> {
          forms.checkCurrent(published);
          checkNew(connection, form, sent);
          StoredRecord replaced = checkVersion(connection, form, id, version);
          checkFree(connection, form, uniqueKeys, sent);
          if (StoredValues.areSame(form.fields(), replaced.values(), values)) {
            return answered(connection, form, replaced, sent, Caused.NOTHING::of);
          }
          String now = Times.now();
          Row row = row(form, values, uniqueKeys);
          row.leaveBlankSecrets();
          row.put("\"version\"", version + 1);
          row.put("\"revision\"", published.revision());
          row.put("\"updated_at\"", now);
          row.put("\"updated_by\"", sent.by());
          boolean isConfirmed = isAddressTheSame(form, replaced.values(), values);
          if (!isConfirmed) {
            row.put("\"confirmed__at\"", "");
            Confirmations.drop(connection, form.name(), id);
          }
          Values written;
          try {
            Versions.keep(connection, form, replaced);
            Sql.run(connection, row.update("id"), row.bound(id));
            written = RowsTables.replace(connection, form, id, values, uniqueKeys);
            checkUploads(RecordFiles.replace(connection, form, id, written));
            wordIndex.change(connection, form, id, replaced.values(), values);
          } catch (SQLException e) {
            throw clash(connection, e, form, values, uniqueKeys, Optional.of(id));
          }
          StoredRecord record =
              new StoredRecord(
                  id,
                  published.revision(),
                  version + 1,
                  replaced.createdAt(),
                  replaced.createdBy(),
                  now,
                  sent.by(),
                  replaced.owner(),
                  isConfirmed ? replaced.confirmedAt() : "",
                  StoredValues.of(form.fields(), written));
          return answered(connection, form, record, sent, sent.caused()::of);
        });
  }

  /** True unless an address that is to be confirmed is another one now. */
  private static boolean isAddressTheSame(Form form, Values before, Values after) {
    return form.confirmation().map(it -> before.at(it.at()).equals(after.at(it.at()))).orElse(true);
  }

  private static Row newRow(
      PublishedForm published, Values values, List<UniqueKey> uniqueKeys, SubmissionInfo sent) {
    Row row = row(published.form(), values, uniqueKeys);
    row.put("\"version\"", 1);
    row.put("\"revision\"", published.revision());
    row.put("\"updated_by\"", sent.by());
    row.put("\"created__by\"", sent.by());
    row.put("\"owner__id\"", sent.person());
    return row;
  }

  private static Row row(Form form, Values values, List<UniqueKey> uniqueKeys) {
    Row row = new Row(Table.of(form).getFirst(), values);
    row.guard(uniqueKeys, List.of());
    return row;
  }

  private void checkNew(Connection connection, Form form, SubmissionInfo sent) throws SQLException {
    Optional<String> answer = answers.find(connection, form.name(), sent);
    if (answer.isPresent()) {
      throw new StoreException.AlreadyAnswered(answer.get());
    }
  }

  private static void checkFirst(Connection connection, Form form, SubmissionInfo sent)
      throws SQLException {
    Optional<StoredRecord> only = RecordReader.only(connection, form, sent.person());
    if (only.isPresent()) {
      throw new StoreException.Outdated(only.get());
    }
  }

  /** A value that is set aside for another page is as good as taken. */
  private void checkFree(
      Connection connection, Form form, List<UniqueKey> uniqueKeys, SubmissionInfo sent)
      throws SQLException {
    Set<Integer> held = holds.against(connection, form, uniqueKeys, sent.page());
    if (!held.isEmpty()) {
      throw new Clashed(new RecordSink.Clash<>(Set.of(), held, Set.of()));
    }
  }

  /** What somebody else has taken over meanwhile, or was swept, is not there for this record. */
  private static void checkUploads(Set<String> gone) {
    if (!gone.isEmpty()) {
      throw new Clashed(new RecordSink.Clash<>(Set.of(), Set.of(), gone));
    }
  }

  /**
   * A record at its first version; where none is kept, as it is passed on to outlets.
   *
   * @param values as {@link StoredValues} has them
   */
  private static StoredRecord added(
      PublishedForm published, String id, String now, Values values, SubmissionInfo sent) {
    return new StoredRecord(
        id, published.revision(), 1, now, sent.by(), now, sent.by(), sent.person(), "", values);
  }

  /**
   * Writes what an acceptance causes, in the transaction of its record.
   *
   * @param caused makes what outlets are told of the record
   */
  private StoredRecord answered(
      Connection connection,
      Form form,
      StoredRecord record,
      SubmissionInfo sent,
      Function<StoredRecord, List<Outgoing>> caused)
      throws SQLException {
    if (!form.isKeepingNone()) {
      writer.afterCommit(() -> written.accept(form.name(), record.id()));
    }
    holds.end(connection, sent.page());
    drafts.end(connection, sent.draft());
    answers.keep(connection, form.name(), sent, record);
    deliveries.add(connection, caused.apply(record));
    if (sent.logged().isPresent()) {
      attempts.keepWithRecord(connection, sent.logged().get().apply(record));
    }
    return record;
  }

  /** Thrown, so that nothing stays of what was written before the index refused. */
  private static final class Clashed extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final transient RecordSink.Clash<StoredRecord> clash;

    Clashed(RecordSink.Clash<StoredRecord> clash) {
      super("Unique values are taken, or records are missing.");
      this.clash = clash;
    }
  }

  private RecordSink.Outcome<StoredRecord> orClash(BatchWriter.Work<StoredRecord> work) {
    try {
      return new RecordSink.Kept<>(writer.write(work));
    } catch (Clashed e) {
      return e.clash;
    }
  }

  /** Removes a record for good, and tells no outlet. */
  public void remove(Form form, String id, long version) {
    remove(form, id, version, Optional.empty(), Caused.NOTHING);
  }

  /**
   * Removes a record, if it is still at the given version.
   *
   * @param by who removes it, if it can be put back; empty if it is gone for good
   * @param caused what outlets are to be told of it, as it was
   * @throws StoreException.NoSuchRecord if it is gone
   * @throws StoreException.Outdated if somebody changed it since
   * @throws StoreException.StillReferred if other records refer to it
   */
  public void remove(Form form, String id, long version, Optional<String> by, Caused caused) {
    writer.writeAlone(
        connection -> {
          StoredRecord record = checkVersion(connection, form, id, version);
          try {
            if (by.isPresent()) {
              removal.removeForAWhile(connection, form, record, by.get());
            } else {
              removal.remove(connection, form, record);
            }
            deliveries.add(connection, caused.of(record));
            return record;
          } catch (SQLException e) {
            if (ErrorCodes.isReference(e)) {
              throw new StoreException.StillReferred(
                  Referrers.of(connection, forms.all(), form.name(), id));
            }
            throw e;
          }
        },
        () -> {});
  }

  /**
   * A constraint rejected the row. All conflicts are looked up, once what was written of it is
   * taken back: nobody collides with himself.
   */
  private Clashed clash(
      Connection connection,
      SQLException e,
      Form form,
      Values values,
      List<UniqueKey> uniqueKeys,
      Optional<String> except)
      throws SQLException {
    if (!ErrorCodes.isConstraint(e)) {
      throw e;
    }
    writer.rollBackWrite();
    Set<Integer> taken = TakenKeys.of(connection, form, uniqueKeys, except);
    Set<String> missing = new TreeSet<>();
    for (Reference reference : Reference.of(form, values)) {
      if (!RecordReader.exists(connection, reference.form(), reference.id())) {
        missing.add(reference.path());
      }
    }
    if (taken.isEmpty() && missing.isEmpty()) {
      throw e;
    }
    return new Clashed(new RecordSink.Clash<>(taken, Set.of(), missing));
  }

  private static StoredRecord checkVersion(
      Connection connection, Form form, String id, long version) throws SQLException {
    StoredRecord record =
        RecordReader.find(connection, form, id)
            .orElseThrow(() -> new StoreException.NoSuchRecord(id));
    if (record.version() != version) {
      throw new StoreException.Outdated(record);
    }
    return record;
  }
}
