package nodley.store.delivery;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.function.Consumer;
import nodley.store.access.Encryption;
import nodley.store.access.SignedTokens;
import nodley.store.attempt.Attempt;
import nodley.store.common.Ids;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The deliveries of all forms (an outbox). One is made in the transaction of its record, and so is
 * there if and only if the record is; it ends when {@link #settle} has written that. Of those of
 * one record and outlet, the first that waits is due alone. Thread-safe.
 */
public final class Deliveries {

  /** So long an ended one is kept. */
  private static final Duration KEPT = Duration.ofDays(30);

  /** So many are swept in one transaction, so that others get their turn. */
  private static final int PORTION = 500;

  /** Without the body, which is long, and last where it is read. */
  private static final String COLUMNS =
      "number, id, outlet, form, record_id, record_version, change, attempt, state, tries, made_at,"
          + " since, next_at, ended_at, answer";

  private static final String SELECT = "SELECT " + COLUMNS + " FROM nodley_deliveries";

  /** A delivery by its id, which says its number. */
  private static final String OF_ID = " WHERE number = ? AND id = ?";

  /** Those of an outlet that wait, and for which none of the same record does. */
  private static final String FIRST_OF_RECORD =
      " FROM nodley_deliveries AS own WHERE state = 'waiting' AND outlet = ?"
          + " AND NOT EXISTS (SELECT 1 FROM nodley_deliveries AS earlier"
          + " WHERE earlier.state = 'waiting' AND earlier.outlet = own.outlet"
          + " AND earlier.form = own.form AND earlier.record_id = own.record_id"
          + " AND earlier.number < own.number)";

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final Ids ids;
  private final Encryption encryption;
  private final List<Consumer<String>> listeners = new CopyOnWriteArrayList<>();

  /** Opens the deliveries of a store. */
  public Deliveries(Database database, BatchWriter writer, Clock clock, SignedTokens tokens) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.ids =
        new Ids(
            clock,
            database.read(
                on ->
                    Sql.first(
                        on,
                        row -> row.getString(1),
                        "SELECT id FROM nodley_deliveries ORDER BY number DESC LIMIT 1")));
    this.encryption = new Encryption(tokens, "deliveries");
  }

  /** Returns which outlets are switched off, and how each stands. */
  public OutletStates outlets() {
    return new OutletStates(database, writer, clock, this);
  }

  /** Has somebody told of the outlet of each new delivery, after its commit; must not block. */
  public void onNew(Consumer<String> listener) {
    listeners.add(listener);
  }

  /**
   * Encrypts a body of which nothing is to be kept, before the one writer is asked for anything.
   * Other bodies are in records anyway.
   */
  public Outgoing sealed(Outgoing outgoing) {
    return outgoing.isBrief() ? outgoing.withBody(encryption.encrypt(outgoing.body())) : outgoing;
  }

  /** What was encrypted begins with no brace. */
  private Optional<String> opened(String body) {
    return body.startsWith("{") ? Optional.of(body) : encryption.decrypt(body);
  }

  /**
   * Adds deliveries in the transaction of a record.
   *
   * @param outgoing each as {@link #sealed} returns it
   */
  public void add(Connection on, List<Outgoing> outgoing) throws SQLException {
    for (Outgoing each : outgoing) {
      String id = ids.next();
      Sql.run(
          on,
          "INSERT INTO nodley_deliveries (number, id, outlet, form, record_id, record_version,"
              + " change, attempt, body, is_brief, made_at, since, next_at, state, tries, ended_at,"
              + " answer)"
              + " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?11, ?11, ?11, 'waiting', 0, 0, '')",
          Ids.order(id),
          id,
          each.outlet(),
          each.form(),
          each.record(),
          each.version(),
          each.change(),
          each.attempt(),
          each.body(),
          each.isBrief() ? 1 : 0,
          clock.millis());
      if (each.confirmBy().isPresent()) {
        Confirmations.ask(on, each, id, each.confirmBy().get());
      }
      writer.afterCommit(() -> listeners.forEach(it -> it.accept(each.outlet())));
    }
  }

  /**
   * A delivery whose turn it is.
   *
   * @param body what is told, as JSON; empty if it was encrypted in another data folder
   */
  public record Due(Delivery delivery, Optional<String> body) {}

  /** Returns those of an outlet whose turn it is, what has waited longest coming first. */
  public List<Due> due(String outlet, int limit) {
    return database.read(
        on ->
            Sql.list(
                on,
                row -> new Due(read(row), opened(row.getString(16))),
                "SELECT "
                    + COLUMNS
                    + ", body"
                    + FIRST_OF_RECORD
                    + " AND next_at <= ?"
                    + " ORDER BY next_at, number LIMIT ?",
                outlet,
                clock.millis(),
                limit));
  }

  /** True if submissions wait to be written at this moment, which come first. */
  public boolean shouldGiveWay() {
    return writer.isBusy();
  }

  /** Returns when the next one of an outlet is due, if none is sent before; empty if none waits. */
  public Optional<Instant> nextDue(String outlet) {
    return database.read(
        on ->
            Sql.first(
                    on,
                    row -> row.getLong(1),
                    "SELECT next_at" + FIRST_OF_RECORD + " ORDER BY next_at LIMIT 1",
                    outlet)
                .map(Instant::ofEpochMilli));
  }

  /** What a try has come to. */
  public sealed interface Outcome {
    /** The delivery that was tried. */
    Delivery delivery();

    /** What the outlet said. */
    String answer();

    /** The outlet has it. */
    record Delivered(Delivery delivery, String answer) implements Outcome {}

    /** It is tried again. */
    record Postponed(Delivery delivery, String answer, Instant nextAt) implements Outcome {}

    /** It is given up. */
    record Failed(Delivery delivery, String answer) implements Outcome {}
  }

  /** Writes what tries have come to, all in one transaction. */
  public void settle(List<Outcome> outcomes) {
    if (!outcomes.isEmpty()) {
      writer.write(
          on -> {
            for (Outcome outcome : outcomes) {
              settle(on, outcome);
            }
            return outcomes.size();
          });
    }
  }

  private void settle(Connection on, Outcome outcome) throws SQLException {
    long number = outcome.delivery().number();
    switch (outcome) {
      case Outcome.Delivered _ -> {
        int brief =
            Sql.run(on, "DELETE FROM nodley_deliveries WHERE number = ? AND is_brief = 1", number);
        if (brief == 0) {
          end(on, number, "delivered", outcome.answer());
        }
      }
      case Outcome.Failed _ -> end(on, number, "failed", outcome.answer());
      case Outcome.Postponed(Delivery _, String answer, Instant nextAt) ->
          Sql.run(
              on,
              "UPDATE nodley_deliveries SET since = CASE tries WHEN 0 THEN ? ELSE since END,"
                  + " tries = tries + 1, next_at = ?, answer = ?"
                  + " WHERE number = ? AND state = 'waiting'",
              clock.millis(),
              nextAt.toEpochMilli(),
              answer,
              number);
    }
  }

  private void end(Connection on, long number, String state, String answer) throws SQLException {
    Sql.run(
        on,
        "UPDATE nodley_deliveries SET state = ?, tries = tries + 1, ended_at = ?, answer = ?"
            + " WHERE number = ? AND state = 'waiting'",
        state,
        clock.millis(),
        answer,
        number);
  }

  /**
   * Has a delivery sent again, whatever it had come to; one that waits is sent at once.
   *
   * @return false if there is none of this id, or nothing is left of what it told
   */
  public boolean again(String id) {
    Optional<String> outlet =
        writer.write(
            on ->
                Sql.first(
                    on,
                    row -> row.getString(1),
                    "UPDATE nodley_deliveries SET state = 'waiting', since = ?, next_at = ?,"
                        + " ended_at = 0"
                        + OF_ID
                        + " AND body <> '' RETURNING outlet",
                    clock.millis(),
                    clock.millis(),
                    Ids.order(id),
                    id));
    outlet.ifPresent(it -> listeners.forEach(listener -> listener.accept(it)));
    return outlet.isPresent();
  }

  /** Has all that waits for an outlet sent at once, as if for the first time. */
  void hurry(String outlet) {
    writer.write(
        on ->
            Sql.run(
                on,
                "UPDATE nodley_deliveries SET since = ?, next_at = ?"
                    + " WHERE state = 'waiting' AND outlet = ?",
                clock.millis(),
                clock.millis(),
                outlet));
    listeners.forEach(it -> it.accept(outlet));
  }

  /** Returns a delivery. */
  public Optional<Delivery> find(String id) {
    return database.read(on -> Sql.first(on, Deliveries::read, SELECT + OF_ID, Ids.order(id), id));
  }

  /** Returns what a delivery tells, as JSON; empty if nothing is left of it. */
  public Optional<String> body(String id) {
    return database
        .read(
            on ->
                Sql.first(
                    on,
                    row -> row.getString(1),
                    "SELECT body FROM nodley_deliveries" + OF_ID,
                    Ids.order(id),
                    id))
        .flatMap(this::opened);
  }

  /** Returns those that an attempt has caused, in their order. */
  public List<Delivery> ofAttempt(Attempt attempt) {
    return database.read(
        on ->
            Sql.list(
                on,
                Deliveries::read,
                SELECT + " WHERE form = ? AND record_id = ? AND attempt = ? ORDER BY number",
                attempt.form(),
                attempt.record(),
                attempt.id()));
  }

  /**
   * Which deliveries are listed.
   *
   * @param before only those with a lower number
   */
  public record Wanted(
      Optional<Delivery.State> state,
      Optional<String> outlet,
      Optional<String> form,
      Optional<String> record,
      long before,
      int limit) {}

  /** Returns deliveries, the latest first. */
  public List<Delivery> list(Wanted wanted) {
    List<String> conditions = new ArrayList<>();
    List<Object> bound = new ArrayList<>();
    // An index of one state serves a question that names it.
    wanted.state().ifPresent(it -> conditions.add("state = '" + it.word() + "'"));
    wanted.outlet().ifPresent(it -> narrow("outlet = ?", it, conditions, bound));
    wanted.form().ifPresent(it -> narrow("form = ?", it, conditions, bound));
    wanted.record().ifPresent(it -> narrow("record_id = ?", it, conditions, bound));
    narrow("number < ?", wanted.before(), conditions, bound);
    bound.add(wanted.limit());
    String where = " WHERE " + String.join(" AND ", conditions);
    return database.read(
        on ->
            Sql.list(
                on,
                Deliveries::read,
                SELECT + where + " ORDER BY number DESC LIMIT ?",
                bound.toArray()));
  }

  private static void narrow(
      String condition, Object value, List<String> conditions, List<Object> bound) {
    conditions.add(condition);
    bound.add(value);
  }

  private static Delivery read(ResultSet row) throws SQLException {
    return new Delivery(
        row.getLong(1),
        row.getString(2),
        row.getString(3),
        row.getString(4),
        row.getString(5),
        row.getLong(6),
        row.getString(7),
        row.getString(8),
        Delivery.State.valueOf(row.getString(9).toUpperCase(Locale.ROOT)),
        row.getInt(10),
        Instant.ofEpochMilli(row.getLong(11)),
        Instant.ofEpochMilli(row.getLong(12)),
        Instant.ofEpochMilli(row.getLong(13)),
        Optional.of(row.getLong(14)).filter(it -> it > 0).map(Instant::ofEpochMilli),
        row.getString(15));
  }

  /** Returns the outlets for which something waits. */
  public Set<String> waitedFor() {
    return Set.copyOf(
        database.read(
            on ->
                Sql.list(
                    on,
                    row -> row.getString(1),
                    "SELECT DISTINCT outlet FROM nodley_deliveries WHERE state = 'waiting'")));
  }

  /**
   * Forgets what deliveries told of a record, in the transaction of its removal. What waits still
   * goes, for it was accepted; nothing of it stays then.
   */
  public static void forgetValues(Connection on, String form, String record) throws SQLException {
    Sql.run(
        on,
        "UPDATE nodley_deliveries SET body = '' WHERE form = ? AND record_id = ?"
            + " AND state <> 'waiting' AND body <> ''",
        form,
        record);
    Sql.run(
        on,
        "UPDATE nodley_deliveries SET is_brief = 1 WHERE form = ? AND record_id = ?"
            + " AND state = 'waiting'",
        form,
        record);
  }

  /** Removes those that ended long ago. */
  public void sweep() {
    long over = clock.millis() - KEPT.toMillis();
    int swept;
    do {
      swept =
          writer.write(
              on ->
                  Sql.run(
                      on,
                      "DELETE FROM nodley_deliveries WHERE number IN (SELECT number FROM"
                          + " nodley_deliveries WHERE ended_at > 0 AND ended_at < ? LIMIT ?)",
                      over,
                      PORTION));
    } while (swept == PORTION);
  }
}
