package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentSkipListMap;

/**
 * The log of attempts. An accepted one is written in the transaction of its record; the others ride
 * along in whichever commit comes next, and never make one of their own while others come.
 */
public final class Attempts {

  /** How long attempts are kept. */
  public static final Duration KEPT = Duration.ofDays(30);

  /** How many attempts are kept, of all forms together. */
  public static final long MOST = 1_000_000;

  /** So many are swept at once, so that no submission waits long for it. */
  private static final int BITE = 500;

  /** So many may be added between two sweeps. */
  private static final int BETWEEN = 250;

  private final Database database;
  private final Writer writer;
  private final Clock clock;
  private final long most;

  /** How many are kept of each form, as of the last commit. Only the writer's thread changes it. */
  private final Map<String, Long> counts = new ConcurrentSkipListMap<>();

  /** The first one after a start sweeps, too: a quiet service may be started more often than it. */
  private int sinceSweep = BETWEEN;

  /** Which attempts are asked for; what is empty does not matter. */
  public record Wanted(
      Optional<String> form,
      Optional<String> verdict,
      Optional<String> code,
      Optional<String> field,
      Optional<Long> since,
      Optional<Long> until,
      long before,
      int limit) {}

  /** An attempt, and its place in the log: what came later has a greater number. */
  public record Logged(long number, Attempt attempt) {}

  Attempts(Database database, Writer writer, Clock clock, long most) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.most = most;
    database.read(
        on ->
            Sql.list(
                on,
                row -> counts.put(row.getString(1), row.getLong(2)),
                "SELECT form, count(*) FROM nodley_attempts GROUP BY form"));
  }

  /** Logs what was not kept. It is lost if the store cannot be written. */
  public void log(Attempt attempt) {
    writer.later(on -> keep(on, attempt));
  }

  void keep(Connection on, Attempt attempt) throws SQLException {
    int added =
        Sql.run(
            on,
            "INSERT INTO nodley_attempts (id, form, revision, mode, at, micros, waited, record,"
                + " verdict, problem, errors, account) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)"
                + " ON CONFLICT DO NOTHING",
            attempt.id(),
            attempt.form(),
            attempt.revision(),
            attempt.mode(),
            attempt.at(),
            attempt.micros(),
            attempt.waited(),
            attempt.record(),
            attempt.verdict(),
            attempt.problem(),
            attempt.errors(),
            attempt.account());
    if (added == 0) {
      return;
    }
    AttemptIndex.add(on, Sql.number(on, "SELECT last_insert_rowid()"), attempt);
    writer.afterCommit(() -> counts.merge(attempt.form(), 1L, Long::sum));
    if (++sinceSweep >= BETWEEN) {
      sinceSweep = 0;
      sweep(on);
    }
  }

  /**
   * Takes away what is too old; and beyond the greatest number, the oldest of the form that has the
   * most, so that a flood at one form does not push another's history out.
   */
  private void sweep(Connection on) throws SQLException {
    forget(
        on,
        "SELECT number, form, problem, errors FROM (SELECT * FROM nodley_attempts ORDER BY number"
            + " LIMIT ?) WHERE at < ?",
        BITE,
        clock.millis() - KEPT.toMillis());
    long over = counts.values().stream().mapToLong(it -> it).sum() - most;
    if (over > 0) {
      String greatest =
          counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
      forget(
          on,
          "SELECT number, form, problem, errors FROM nodley_attempts WHERE form = ? ORDER BY number"
              + " LIMIT ?",
          greatest,
          Math.min(over, BITE));
    }
  }

  private record Old(long number, String form, String problem, String errors) {}

  private void forget(Connection on, String select, Object... bound) throws SQLException {
    List<Old> all =
        Sql.list(
            on,
            row -> new Old(row.getLong(1), row.getString(2), row.getString(3), row.getString(4)),
            select,
            bound);
    for (Old old : all) {
      AttemptIndex.remove(on, old.number(), old.form(), old.problem(), old.errors());
      Sql.run(on, "DELETE FROM nodley_attempts WHERE number = ?", old.number());
      writer.afterCommit(() -> counts.merge(old.form(), -1L, Long::sum));
    }
  }

  /** What was sent goes with its record; that something was sent, and when, stays. */
  void forgetValues(Connection on, String form, String record) throws SQLException {
    Sql.run(
        on,
        "UPDATE nodley_attempts SET account = json_remove(account, '$.values')"
            + " WHERE form = ? AND record = ?",
        form,
        record);
  }

  public Optional<Attempt> find(String id) {
    return database.read(
        on ->
            Sql.first(
                on, row -> read(row).attempt(), "SELECT * FROM nodley_attempts WHERE id = ?", id));
  }

  /** The latest first. */
  public List<Logged> list(Wanted wanted) {
    boolean byTerm = wanted.code().isPresent() || wanted.field().isPresent();
    if (!byTerm || wanted.form().isPresent()) {
      return database.read(on -> list(on, wanted, wanted.form()));
    }
    // The index has the attempts of each form in their order.
    return database.snapshot(
        on -> {
          List<Logged> all = new ArrayList<>();
          for (String form : counts.keySet()) {
            all.addAll(list(on, wanted, Optional.of(form)));
          }
          all.sort(Comparator.comparing(Logged::number).reversed());
          return all.stream().limit(wanted.limit()).toList();
        });
  }

  private static List<Logged> list(Connection on, Wanted wanted, Optional<String> form)
      throws SQLException {
    Deque<String> terms = new ArrayDeque<>();
    wanted.code().map(AttemptIndex::code).ifPresent(terms::add);
    // Fields first: most have an error less often than a code is met.
    wanted.field().map(AttemptIndex::field).ifPresent(terms::addFirst);
    String order = terms.isEmpty() ? "a.number" : AttemptIndex.ORDER;
    String from = terms.isEmpty() ? "nodley_attempts a" : AttemptIndex.FROM;
    List<String> where = new ArrayList<>();
    List<Object> bound = new ArrayList<>();
    if (terms.isEmpty()) {
      form.ifPresent(name -> add(where, bound, "a.form = ?", name));
    } else {
      bound.addAll(List.of(terms.poll(), form.orElseThrow()));
    }
    add(where, bound, order + " < ?", wanted.before());
    wanted.verdict().ifPresent(verdict -> add(where, bound, "a.verdict = ?", verdict));
    wanted.since().ifPresent(since -> add(where, bound, "a.at >= ?", since));
    wanted.until().ifPresent(until -> add(where, bound, "a.at < ?", until));
    terms.forEach(term -> add(where, bound, AttemptIndex.HAS, term));
    bound.add(wanted.limit());
    return Sql.list(
        on,
        Attempts::read,
        "SELECT a.* FROM %s WHERE %s ORDER BY %s DESC LIMIT ?"
            .formatted(from, String.join(" AND ", where), order),
        bound.toArray());
  }

  private static void add(List<String> where, List<Object> bound, String condition, Object value) {
    where.add(condition);
    bound.add(value);
  }

  private static Logged read(ResultSet row) throws SQLException {
    return new Logged(
        row.getLong("number"),
        new Attempt(
            row.getString("id"),
            row.getString("form"),
            row.getInt("revision"),
            row.getString("mode"),
            row.getLong("at"),
            row.getLong("micros"),
            row.getLong("waited"),
            row.getString("record"),
            row.getString("verdict"),
            row.getString("problem"),
            row.getString("errors"),
            row.getString("account")));
  }
}
