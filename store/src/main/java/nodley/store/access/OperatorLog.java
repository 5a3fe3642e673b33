package nodley.store.access;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.store.common.StoreException;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The operator's log: who signed in, published, dropped or backed up, when and from where. It holds
 * names of forms, files and callers, never a value that somebody sent. Entries are added, and never
 * changed or removed: the database itself refuses it. Safe for many threads.
 */
public final class OperatorLog {

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;

  /**
   * One entry.
   *
   * @param number what came later has a greater one
   * @param at milliseconds since 1970
   * @param who the name of the caller; empty for a stranger
   * @param what a word, such as {@code publish}
   * @param subject what it was done to, as its path: {@code forms/vessel}; may be empty
   * @param origin the address that it came from; empty for what the service does by itself
   */
  public record Entry(
      long number, long at, String who, String what, String subject, String origin) {}

  /** Which entries are asked for; what is empty does not matter. */
  public record Wanted(
      Optional<String> who,
      Optional<String> what,
      Optional<Long> since,
      Optional<Long> until,
      long before,
      int limit) {}

  /** Opens the log of a store. */
  public OperatorLog(Database database, BatchWriter writer, Clock clock) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
  }

  /**
   * Adds an entry, and waits for its commit.
   *
   * @throws StoreException.Unavailable if the store cannot be written
   */
  public void add(String who, String what, String subject, String origin) {
    long at = clock.millis();
    writer.write(connection -> add(connection, at, who, what, subject, origin));
  }

  /** Adds an entry with the next commit. It is lost if the store cannot be written. */
  public void addLater(String who, String what, String subject, String origin) {
    long at = clock.millis();
    writer.writeLater(connection -> add(connection, at, who, what, subject, origin));
  }

  private static int add(
      Connection connection, long at, String who, String what, String subject, String origin)
      throws SQLException {
    return Sql.run(
        connection,
        "INSERT INTO nodley_log (at, who, what, subject, origin) VALUES (?, ?, ?, ?, ?)",
        at,
        who,
        what,
        subject,
        origin);
  }

  /** The latest first; those too that wait to be written. */
  public List<Entry> list(Wanted wanted) {
    writer.flush();
    List<String> where = new ArrayList<>();
    List<Object> bound = new ArrayList<>();
    where.add("number < ?");
    bound.add(wanted.before());
    wanted.who().ifPresent(it -> add(where, bound, "who = ?", it));
    wanted.what().ifPresent(it -> add(where, bound, "what = ?", it));
    wanted.since().ifPresent(it -> add(where, bound, "at >= ?", it));
    wanted.until().ifPresent(it -> add(where, bound, "at < ?", it));
    bound.add(wanted.limit());
    return database.read(
        on ->
            Sql.list(
                on,
                row ->
                    new Entry(
                        row.getLong(1),
                        row.getLong(2),
                        row.getString(3),
                        row.getString(4),
                        row.getString(5),
                        row.getString(6)),
                "SELECT number, at, who, what, subject, origin FROM nodley_log WHERE "
                    + String.join(" AND ", where)
                    + " ORDER BY number DESC LIMIT ?",
                bound.toArray()));
  }

  private static void add(List<String> where, List<Object> bound, String condition, Object value) {
    where.add(condition);
    bound.add(value);
  }
}
