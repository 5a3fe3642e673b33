package nodley.store.attempt;

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
import java.util.Optional;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import nodley.store.folder.Disk;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The log of attempts. An accepted attempt is written in the transaction of its record; others are
 * deferred writes, which join the next commit. The log is bounded in age, rows and bytes: the
 * oldest are deleted, of the form that has the most. Reading is thread-safe; methods that take a
 * connection run inside a write, one at a time.
 */
public final class Attempts {

  /** How long attempts are kept. */
  public static final Duration KEPT = Duration.ofDays(30);

  /** How many attempts are deleted at once; bounds how long submissions wait for it. */
  private static final int BITE = 500;

  /** What is over its limit is brought this part of it below. */
  private static final int ROOM = 200;

  /** How many attempts are added between two checks of the limits. */
  private static final int BETWEEN = 250;

  /** By so much the log may be larger than its limit until what is refused is not kept. */
  private static final double MOST_OVER = 1.1;

  private static final String OF_RECORD = " WHERE form = ? AND record = ? AND record <> ''";

  static final String FORGET_VALUES =
      "UPDATE nodley_attempts SET account = " + EngineSql.without("account", "values") + OF_RECORD;

  private static final String BY = EngineSql.member("account", "by") + " = ?";

  /** What finds attempts by their errors needs code and pointer alone. */
  private static final String WITHOUT_SENTENCES =
      "errors = " + EngineSql.eachWithout("errors", "detail", "params") + ", ";

  private static final String BYTES_OF_RECORD =
      "SELECT sum(" + LogSize.BYTES + ") FROM nodley_attempts" + OF_RECORD;

  private static final Logger LOG = LoggerFactory.getLogger(Attempts.class);

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final StoreLimits limits;
  private final Disk disk;
  private final LogSize size = new LogSize();

  /** The number of the last attempt, or a greater one; the writer's own. */
  private long latest;

  /** The first one after a start sweeps, too: a quiet service may be started more often than it. */
  private int sinceSweep = BETWEEN;

  /** The size at which it was swept because it was too large; the writer's own. */
  private long sweptAt = -1;

  /** True while the disk is nearly full; the writer's own. */
  private boolean giving;

  /** Which attempts are asked for; what is empty does not matter. */
  public record Wanted(
      Optional<String> form,
      Optional<String> verdict,
      Optional<String> code,
      Optional<String> field,
      Optional<String> record,
      Optional<Long> since,
      Optional<Long> until,
      long before,
      int limit) {}

  /** An attempt, and its place in the log: what came later has a greater number. */
  public record Logged(long number, Attempt attempt) {}

  /**
   * Opens the attempts of a store.
   *
   * @param disk its free space, below which attempts are not stored
   */
  public Attempts(
      Database database, BatchWriter writer, Clock clock, StoreLimits limits, Disk disk) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.limits = limits;
    this.disk = disk;
    long last = database.read(on -> Sql.number(on, "SELECT max(number) FROM nodley_attempts"));
    latest = last;
    // A long log takes a while to look through, and nobody need wait for it.
    Thread.ofVirtual().name("log-size").start(() -> measure(last));
  }

  private void measure(long last) {
    try {
      List<Runnable> found = new ArrayList<>();
      database.read(
          on ->
              Sql.list(
                  on,
                  row -> {
                    String form = row.getString(1);
                    long rows = row.getLong(2);
                    long bytes = row.getLong(3);
                    return found.add(() -> size.add(form, rows, bytes));
                  },
                  "SELECT form, count(*), sum("
                      + LogSize.BYTES
                      + ") FROM nodley_attempts"
                      + " WHERE number <= ? GROUP BY form",
                  last));
      found.add(() -> sinceSweep = BETWEEN);
      writer.writeLater(_ -> writer.afterCommit(() -> found.forEach(Runnable::run)));
    } catch (StoreException e) {
      LOG.warn("The size of the log of attempts is not known: {}", e.getMessage());
    }
  }

  /**
   * Logs what was not kept. It is lost if the store cannot be written; if the log is larger than it
   * may be, because more comes than is swept; or if the disk is nearly full: then what is left of
   * it is for submissions.
   */
  public void log(Attempt attempt) {
    writer.writeLater(
        on -> {
          if (size.bytes(attempt.form()) > limits.logBytesPerForm() * MOST_OVER
              || size.bytes() > limits.logBytes() * MOST_OVER) {
            sweepIfChanged(on);
          } else if (!giveWay(on)) {
            keep(on, attempt);
          }
        });
  }

  /** While the disk is nearly full the oldest attempts go, and their room is used anew. */
  private boolean giveWay(Connection on) throws SQLException {
    boolean now = disk.free() < limits.freeDisk();
    if (now != giving) {
      giving = now;
      LOG.warn(
          now
              ? "The disk is nearly full: refused submissions are not logged."
              : "The disk has room again: refused submissions are logged.");
    }
    if (giving) {
      forget(on, which(on, "SELECT * FROM nodley_attempts ORDER BY number LIMIT ?", BITE));
    }
    return giving;
  }

  /** Keeps an attempt in the transaction of its record. */
  public void keepWithRecord(Connection on, Attempt attempt) throws SQLException {
    giveWay(on);
    keep(on, attempt);
  }

  private void keep(Connection on, Attempt attempt) throws SQLException {
    long number = ++latest;
    int added =
        Sql.run(
            on,
            "INSERT INTO nodley_attempts (number, id, form, revision, mode, at, micros, waited,"
                + " record, verdict, problem, errors, account)"
                + " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT DO NOTHING",
            number,
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
    AttemptIndex.add(on, number, attempt);
    writer.afterCommit(() -> size.add(attempt.form(), 1, LogSize.bytes(attempt)));
    sweepNowAndThen(on);
  }

  /** Once for each size that was measured: what is swept in this commit shows after it only. */
  private void sweepIfChanged(Connection on) throws SQLException {
    if (size.changes() != sweptAt) {
      sweptAt = size.changes();
      sweep(on);
    }
  }

  private void sweepNowAndThen(Connection on) throws SQLException {
    if (++sinceSweep >= BETWEEN) {
      sinceSweep = 0;
      sweep(on);
    }
  }

  /**
   * Takes away what is too old; and beyond the limits of rows and bytes, the oldest of the form
   * that has the most, so that a flood at one form does not push another's history out.
   */
  private void sweep(Connection on) throws SQLException {
    long since = clock.millis() - KEPT.toMillis();
    if (Sql.number(on, "SELECT at FROM nodley_attempts ORDER BY number LIMIT 1") < since) {
      forget(
          on,
          which(
              on,
              "SELECT * FROM (SELECT * FROM nodley_attempts ORDER BY number LIMIT ?) WHERE at < ?",
              BITE,
              since));
    }
    long rows = size.rows() - limits.logRows();
    if (rows > 0) {
      forgetOldest(on, size.longest().orElseThrow(), Math.min(rows, BITE), Long.MAX_VALUE);
    }
    long all = over(size.bytes(), limits.logBytes());
    Optional<String> large = size.largest(all > 0 ? 0 : limits.logBytesPerForm());
    if (large.isPresent()) {
      String form = large.get();
      long own = over(size.bytes(form), limits.logBytesPerForm());
      forgetOldest(on, form, BITE, Math.max(all, own));
      // The next commit goes on, if there is still too much.
      writer.afterCommit(() -> sinceSweep = BETWEEN);
    }
  }

  /**
   * How many bytes are too many. What is over its limit gets well below it, so that the oldest are
   * looked for seldom, and many at a time.
   */
  private static long over(long bytes, long limit) {
    return bytes > limit ? bytes - limit + limit / ROOM : 0;
  }

  /**
   * Deletes the oldest attempts of a form: up to a count, or until they are smaller by some bytes.
   */
  private void forgetOldest(Connection on, String form, long count, long bytes)
      throws SQLException {
    List<Old> oldest =
        which(
            on,
            "SELECT * FROM nodley_attempts WHERE form = ? ORDER BY number LIMIT ?",
            form,
            count);
    long left = bytes;
    int enough = 0;
    while (enough < oldest.size() && left > 0) {
      left -= oldest.get(enough).bytes();
      enough++;
    }
    forget(on, oldest.subList(0, enough));
  }

  /**
   * An attempt that may go.
   *
   * @param errors nothing if none of the index's terms is of it, which is so for most
   */
  private record Old(
      long number, String form, String problem, Optional<String> errors, long bytes) {}

  private static List<Old> which(Connection on, String select, Object... bound)
      throws SQLException {
    return Sql.list(
        on,
        row ->
            new Old(
                row.getLong(1),
                row.getString(2),
                row.getString(3),
                Optional.ofNullable(row.getString(4)),
                row.getLong(5)),
        "SELECT number, form, problem, CASE WHEN problem <> '' OR errors <> '[]' THEN errors END, "
            + LogSize.BYTES
            + " FROM ("
            + select
            + ")",
        bound);
  }

  private void forget(Connection on, List<Old> gone) throws SQLException {
    for (Old old : gone) {
      if (old.errors().isPresent()) {
        AttemptIndex.remove(on, old.number(), old.form(), old.problem(), old.errors().get());
      }
      Sql.run(on, "DELETE FROM nodley_attempts WHERE number = ?", old.number());
      writer.afterCommit(() -> size.add(old.form(), -1, -old.bytes()));
    }
  }

  /** What was sent goes with its record; that something was sent, and when, stays. */
  public void forgetValues(Connection on, String form, String record) throws SQLException {
    long before = Sql.number(on, BYTES_OF_RECORD, form, record);
    Sql.run(on, FORGET_VALUES, form, record);
    long after = Sql.number(on, BYTES_OF_RECORD, form, record);
    writer.afterCommit(() -> size.add(form, 0, after - before));
  }

  /**
   * Forgets that somebody sent the attempts of a form, in the caller's transaction.
   *
   * @param withValues true if what they sent is forgotten, too, and the sentences about it, which
   *     may name values; codes and fields stay
   */
  public void forgetSender(Connection on, String form, String name, boolean withValues)
      throws SQLException {
    String left = withValues ? EngineSql.without("account", "values", "detail") : "account";
    Sql.run(
        on,
        "UPDATE nodley_attempts SET "
            + (withValues ? WITHOUT_SENTENCES : "")
            + "account = "
            + EngineSql.with(left, "by", "''")
            + " WHERE form = ? AND "
            + BY,
        form,
        name);
  }

  /** Returns what somebody sent, the latest first; reads the whole log. */
  public List<Attempt> by(String name) {
    writer.flush();
    return database.read(
        on ->
            Sql.list(
                on,
                row -> read(row).attempt(),
                "SELECT * FROM nodley_attempts WHERE " + BY + " ORDER BY number DESC",
                name));
  }

  /**
   * Returns an attempt by its id, which is the id of its request; empty if it is not in the log.
   */
  public Optional<Attempt> find(String id) {
    writer.flush();
    return database.read(
        on ->
            Sql.first(
                on, row -> read(row).attempt(), "SELECT * FROM nodley_attempts WHERE id = ?", id));
  }

  /**
   * The latest first; those too that wait to be written, unless the writer is busy for longer than
   * a moment.
   */
  public List<Logged> list(Wanted wanted) {
    writer.flush();
    boolean byTerm = wanted.code().isPresent() || wanted.field().isPresent();
    if (!byTerm || wanted.form().isPresent()) {
      return database.read(on -> list(on, wanted, wanted.form()));
    }
    // The index has the attempts of each form in their order.
    return database.snapshot(
        on -> {
          List<Logged> all = new ArrayList<>();
          for (String form : formsWithAttempts(on)) {
            all.addAll(list(on, wanted, Optional.of(form)));
          }
          all.sort(Comparator.comparingLong(Logged::number).reversed());
          return all.stream().limit(wanted.limit()).toList();
        });
  }

  /** Returns how many bytes they take; nearly, for those of before the start are counted later. */
  public long bytes() {
    return size.bytes();
  }

  /** Returns what can be counted of them. */
  public AttemptFigures figures() {
    writer.flush();
    return new AttemptFigures(database);
  }

  /** By leaps through the index, from one form to the next. */
  private static List<String> formsWithAttempts(Connection on) throws SQLException {
    return Sql.list(
        on,
        row -> row.getString(1),
        "WITH RECURSIVE each_form (form) AS (SELECT min(form) FROM nodley_attempts UNION ALL"
            + " SELECT (SELECT min(form) FROM nodley_attempts WHERE form > each_form.form)"
            + " FROM each_form WHERE form IS NOT NULL)"
            + " SELECT form FROM each_form WHERE form IS NOT NULL");
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
    // So it says to the index, which has those alone that are about one.
    wanted
        .record()
        .ifPresent(record -> add(where, bound, "a.record = ? AND a.record <> ''", record));
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
