package nodley.store.access;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Sessions: somebody signed in, in one browser, by a password or with a key. They outlive a
 * restart. Only SHA-256 digests of their secrets are stored. Thread-safe.
 */
public final class Sessions {

  /** A session ends when it was not used for so long. */
  public static final Duration UNUSED = Duration.ofHours(12);

  /** A session ends after so long in any case. */
  public static final Duration LONGEST = Duration.ofDays(30);

  /** A use is noted at most so often. */
  private static final Duration NOTED_EVERY = Duration.ofMinutes(5);

  private static final String SELECT =
      "SELECT id, coalesce(key_name, ''), coalesce(person, ''), begun_at, used_at, address"
          + " FROM nodley_sessions WHERE used_at > ? AND begun_at > ?";

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;

  /**
   * A session that has not ended.
   *
   * @param id names it in lists; no secret
   * @param key the key that it was opened with; empty for a person's
   * @param person the id of the person; empty if it was opened with a key
   * @param begunAt milliseconds since 1970
   * @param usedAt as {@code begunAt}, to five minutes
   * @param address where it was opened from
   */
  public record Session(
      String id, String key, String person, long begunAt, long usedAt, String address) {}

  /**
   * Opens the sessions of a store.
   *
   * @param clock decides when they end
   */
  public Sessions(Database database, BatchWriter writer, Clock clock) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
  }

  /** Opens a session for whoever holds a key, and returns its secret. */
  public String openWithKey(String keyName, String address) {
    return open("key_name", keyName, address);
  }

  /** Opens a session for a person, and returns its secret. */
  public String openFor(Person person, String address) {
    return open("person", person.id(), address);
  }

  private String open(String column, String holder, String address) {
    String secret = Digests.newSecret();
    long now = clock.millis();
    writer.write(
        on -> {
          Sql.run(
              on,
              "DELETE FROM nodley_sessions WHERE used_at <= ? OR begun_at <= ?",
              now - UNUSED.toMillis(),
              now - LONGEST.toMillis());
          return Sql.run(
              on,
              "INSERT INTO nodley_sessions (digest, id, "
                  + column
                  + ", begun_at, used_at, address) VALUES (?, ?, ?, ?, ?, ?)",
              Digests.of(secret),
              Digests.newId(),
              holder,
              now,
              now,
              address);
        });
    return secret;
  }

  /**
   * Returns the session of a secret, and notes its use; empty if there is none, or none any more.
   */
  public Optional<Session> find(String secret) {
    Optional<Session> found =
        database.read(on -> list(on, " AND digest = ?", Digests.of(secret)).stream().findFirst());
    found.ifPresent(this::noteUse);
    return found;
  }

  private void noteUse(Session session) {
    long now = clock.millis();
    if (now - session.usedAt() >= NOTED_EVERY.toMillis()) {
      writer.writeLater(
          on ->
              Sql.run(
                  on, "UPDATE nodley_sessions SET used_at = ? WHERE id = ?", now, session.id()));
    }
  }

  /** Returns all sessions, the one used last first. */
  public List<Session> all() {
    return database.read(on -> list(on, " ORDER BY used_at DESC, id"));
  }

  private List<Session> list(Connection on, String rest, Object... bound) throws SQLException {
    Object[] all = new Object[bound.length + 2];
    all[0] = clock.millis() - UNUSED.toMillis();
    all[1] = clock.millis() - LONGEST.toMillis();
    System.arraycopy(bound, 0, all, 2, bound.length);
    return Sql.list(on, Sessions::session, SELECT + rest, all);
  }

  private static Session session(ResultSet row) throws SQLException {
    return new Session(
        row.getString(1),
        row.getString(2),
        row.getString(3),
        row.getLong(4),
        row.getLong(5),
        row.getString(6));
  }

  /** Ends the session of a secret at once; does nothing if it has ended. */
  public void close(String secret) {
    writer.write(
        on -> Sql.run(on, "DELETE FROM nodley_sessions WHERE digest = ?", Digests.of(secret)));
  }

  /**
   * Ends a session at once.
   *
   * @return false if there is none of this id
   */
  public boolean end(String id) {
    return writer.write(on -> Sql.run(on, "DELETE FROM nodley_sessions WHERE id = ?", id)) > 0;
  }
}
