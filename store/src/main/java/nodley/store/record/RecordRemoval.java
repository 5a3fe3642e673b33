package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import nodley.core.form.Form;
import nodley.store.attempt.Attempts;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Confirmations;
import nodley.store.delivery.Deliveries;
import nodley.store.sqlite.ErrorCodes;
import nodley.store.sqlite.Sql;

/**
 * Removes records with what is kept of them elsewhere: their versions, their words, and their
 * values in the log of attempts and in answers that may be repeated. Inside a write that is alone.
 */
final class RecordRemoval {

  private final WordIndex wordIndex;
  private final Attempts attempts;

  RecordRemoval(WordIndex wordIndex, Attempts attempts) {
    this.wordIndex = wordIndex;
    this.attempts = attempts;
  }

  /**
   * Removes a record for good.
   *
   * @throws SQLException a reference, by {@link ErrorCodes#isReference}, if others refer to it
   */
  void remove(Connection on, Form form, StoredRecord record) throws SQLException {
    Versions.remove(on, form.name(), record.id());
    RecordFiles.remove(on, form.name(), record.id());
    takeAway(on, form, record);
  }

  /**
   * Removes a record that can be put back.
   *
   * @param by who removes it; empty for nobody known
   */
  void removeForAWhile(Connection on, Form form, StoredRecord record, String by)
      throws SQLException {
    RemovedRecords.keep(on, form, record, by);
    takeAway(on, form, record);
  }

  private void takeAway(Connection on, Form form, StoredRecord record) throws SQLException {
    wordIndex.remove(on, form, record.id(), record.values());
    forgetValues(on, form, record.id());
    Sql.run(on, "DELETE FROM " + Sql.quoted(form.name()) + " WHERE \"id\" = ?", record.id());
  }

  /** The same, where others may refer to it: then it stays, and false is returned. */
  boolean removeUnlessReferred(Connection on, Form form, StoredRecord record) throws SQLException {
    Sql.run(on, "SAVEPOINT removal");
    try {
      remove(on, form, record);
      return true;
    } catch (SQLException e) {
      if (!ErrorCodes.isReference(e)) {
        throw e;
      }
      Sql.run(on, "ROLLBACK TO removal");
      return false;
    } finally {
      Sql.run(on, "RELEASE removal");
    }
  }

  /** Forgets the values of a record where they are besides the record itself. */
  void forgetValues(Connection on, Form form, String id) throws SQLException {
    attempts.forgetValues(on, form.name(), id);
    IdempotencyStore.forgetValues(on, form.name(), id);
    Deliveries.forgetValues(on, form.name(), id);
    Confirmations.drop(on, form.name(), id);
  }
}
