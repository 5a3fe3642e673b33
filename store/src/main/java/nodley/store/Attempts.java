package nodley.store;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

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

  /** How many are kept of each form, as of the last commit. Only the writer's thread touches it. */
  private final Map<String, Long> counts = new TreeMap<>();

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
    Sql.run(
        on,
        "INSERT INTO nodley_attempts (id, form, revision, mode, at, micros, waited, record,"
            + " verdict, problem, errors, account) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON"
            + " CONFLICT DO NOTHING",
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
        "SELECT number, form FROM (SELECT * FROM nodley_attempts ORDER BY number LIMIT ?)"
            + " WHERE at < ?",
        BITE,
        clock.millis() - KEPT.toMillis());
    long over = counts.values().stream().mapToLong(it -> it).sum() - most;
    if (over > 0) {
      String greatest =
          counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
      forget(
          on,
          "SELECT number, form FROM nodley_attempts WHERE form = ? ORDER BY number LIMIT ?",
          greatest,
          Math.min(over, BITE));
    }
  }

  private record Old(long number, String form) {}

  private void forget(Connection on, String select, Object... bound) throws SQLException {
    for (Old old : Sql.list(on, row -> new Old(row.getLong(1), row.getString(2)), select, bound)) {
      Sql.run(on, "DELETE FROM nodley_attempts WHERE number = ?", old.number());
      writer.afterCommit(() -> counts.merge(old.form(), -1L, Long::sum));
    }
  }

  public Optional<Attempt> find(String id) {
    return database.read(
        on ->
            Sql.first(
                on, row -> read(row).attempt(), "SELECT * FROM nodley_attempts WHERE id = ?", id));
  }

  /** The latest first. */
  public List<Logged> list(Wanted wanted) {
    List<String> where = new ArrayList<>(List.of("number < ?"));
    List<Object> bound = new ArrayList<>(List.of(wanted.before()));
    wanted.form().ifPresent(form -> add(where, bound, "form = ?", form));
    wanted.verdict().ifPresent(verdict -> add(where, bound, "verdict = ?", verdict));
    wanted.since().ifPresent(since -> add(where, bound, "at >= ?", since));
    wanted.until().ifPresent(until -> add(where, bound, "at < ?", until));
    wanted
        .code()
        .ifPresent(
            code -> {
              add(where, bound, "(problem = ? OR " + any("code = ?") + ")", code);
              bound.add(code);
            });
    wanted
        .field()
        .ifPresent(
            field -> {
              String pointer = "#/" + field.replace('.', '/');
              add(where, bound, any("pointer = ? OR substr(pointer, 1, ?) = ?"), pointer);
              bound.add(pointer.length() + 1);
              bound.add(pointer + "/");
            });
    bound.add(wanted.limit());
    return database.read(
        on ->
            Sql.list(
                on,
                Attempts::read,
                "SELECT * FROM nodley_attempts WHERE "
                    + String.join(" AND ", where)
                    + " ORDER BY number DESC LIMIT ?",
                bound.toArray()));
  }

  private static void add(List<String> where, List<Object> bound, String condition, Object value) {
    where.add(condition);
    bound.add(value);
  }

  /** A condition on {@code pointer} and {@code code} of any of its errors. */
  private static String any(String condition) {
    return "EXISTS (SELECT value ->> 'pointer' AS pointer, value ->> 'code' AS code"
        + " FROM json_each(errors) WHERE "
        + condition
        + ")";
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
