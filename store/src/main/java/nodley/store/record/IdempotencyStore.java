package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.Optional;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;

/**
 * Answers to submissions that had an {@code Idempotency-Key}, for a day. Each is stored in the
 * transaction of its record, so that there is never one without the other.
 */
public final class IdempotencyStore {

  /** How long an answer is kept. */
  public static final Duration KEPT = Duration.ofHours(24);

  /** An answer begins with the id of its record. */
  public static final String FORGET_VALUES =
      "UPDATE nodley_answers SET answer = "
          + EngineSql.with(
              EngineSql.with(
                  EngineSql.with(
                      EngineSql.without("answer", "rows"), "values", EngineSql.emptyObject()),
                  "called",
                  "''"),
              "after.say",
              "''")
          + " WHERE form = ? AND substr(answer, 8, 36) = ?";

  private final Database database;
  private final Clock clock;

  /**
   * Opens the answers of a store.
   *
   * @param clock decides how long each is kept
   */
  public IdempotencyStore(Database database, Clock clock) {
    this.database = database;
    this.clock = clock;
  }

  /**
   * The answer that was given before; nothing if it was never accepted, or too long ago.
   *
   * @throws StoreException.KeyReused if the key stands for another submission
   */
  public Optional<String> find(String form, SubmissionInfo sent) {
    return sent.once().isEmpty()
        ? Optional.empty()
        : database.read(connection -> find(connection, form, sent));
  }

  private record Given(String digest, String answer) {}

  /**
   * Returns the stored answer, as JSON, in the caller's transaction; empty if the submission is new
   * or has no key.
   *
   * @throws StoreException.KeyReused if the key was used for another submission
   */
  Optional<String> find(Connection on, String form, SubmissionInfo sent) throws SQLException {
    if (sent.once().isEmpty()) {
      return Optional.empty();
    }
    SubmissionInfo.Once once = sent.once().get();
    Optional<Given> given =
        Sql.first(
            on,
            row -> new Given(row.getString(1), row.getString(2)),
            "SELECT digest, answer FROM nodley_answers"
                + " WHERE caller = ? AND form = ? AND key = ? AND expires_at > ?",
            sent.by(),
            form,
            once.key(),
            clock.millis());
    if (given.isPresent() && !given.get().digest().equals(once.digest())) {
      throw new StoreException.KeyReused(once.key());
    }
    return given.map(Given::answer);
  }

  /** Keeps the answer about a record that is being written. */
  void keep(Connection on, String form, SubmissionInfo sent, StoredRecord record)
      throws SQLException {
    if (sent.once().isEmpty()) {
      return;
    }
    SubmissionInfo.Once once = sent.once().get();
    Sql.run(on, "DELETE FROM nodley_answers WHERE expires_at <= ?", clock.millis());
    Sql.run(
        on,
        "INSERT INTO nodley_answers (caller, form, key, digest, answer, expires_at)"
            + " VALUES (?, ?, ?, ?, ?, ?)",
        sent.by(),
        form,
        once.key(),
        once.digest(),
        once.answer().apply(record),
        clock.millis() + KEPT.toMillis());
  }

  /**
   * Takes the values out of the answers that a record was the outcome of; each begins with its id.
   * What is sent again is still known, and makes no second record.
   */
  static void forgetValues(Connection on, String form, String record) throws SQLException {
    Sql.run(on, FORGET_VALUES, form, record);
  }
}
