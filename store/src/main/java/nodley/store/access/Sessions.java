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
 * Sessions: somebody signed in, in one browser, by a password, with a key, or at an issuer. They
 * outlive a restart. Only SHA-256 digests of their secrets are stored. Thread-safe.
 */
public final class Sessions {

  /** A session ends when it was not used for so long. */
  public static final Duration UNUSED = Duration.ofHours(12);

  /** A session ends after so long in any case. */
  public static final Duration LONGEST = Duration.ofDays(30);

  /** So does one of an issuer's person: what the issuer has taken from them since is not known. */
  public static final Duration LONGEST_ISSUED = Duration.ofHours(12);

  /** A use is noted at most so often. */
  private static final Duration NOTED_EVERY = Duration.ofMinutes(5);

  private static final String SELECT =
      "SELECT s.id, coalesce(s.key_name, ''), coalesce(s.person, ''), begun_at, used_at, address,"
          + " issuer, i.person, name, email, roles, id_token"
          + " FROM nodley_sessions s LEFT JOIN nodley_issued_sessions i ON i.session = s.id"
          + " WHERE used_at > ? AND begun_at > iif(i.session IS NULL, ?, ?)";

  private static final String LAST_FIRST = " ORDER BY used_at DESC, s.id";

  private final Database database;
  private final BatchWriter writer;
  private final SessionCache cache;
  private final Clock clock;

  /**
   * A session that has not ended.
   *
   * @param id names it in lists; no secret
   * @param key the key that it was opened with; empty for a person's
   * @param person the id of the person; empty if it was opened with a key
   * @param issued whom an issuer has signed in; empty for others
   * @param begunAt milliseconds since 1970
   * @param usedAt as {@code begunAt}, to five minutes
   * @param address where it was opened from
   */
  public record Session(
      String id,
      String key,
      String person,
      Optional<Issued> issued,
      long begunAt,
      long usedAt,
      String address) {

    private Session usedAt(long millis) {
      return new Session(id, key, person, issued, begunAt, millis, address);
    }

    private boolean isGoodAt(long now) {
      Duration longest = issued.isPresent() ? LONGEST_ISSUED : LONGEST;
      return usedAt > now - UNUSED.toMillis() && begunAt > now - longest.toMillis();
    }
  }

  /**
   * Whom an issuer has signed in.
   *
   * @param person as the issuer told of them
   * @param idToken by which the issuer knows the session again when it is to end it, too (OpenID
   *     Connect RP-Initiated Logout 1.0, section 2)
   */
  public record Issued(IssuedPerson person, String idToken) {}

  /**
   * Opens the sessions of a store.
   *
   * @param cache emptied by whatever ends sessions
   * @param clock decides when they end
   */
  public Sessions(Database database, BatchWriter writer, SessionCache cache, Clock clock) {
    this.cache = cache;
    this.database = database;
    this.writer = writer;
    this.clock = clock;
  }

  /** Opens a session for whoever holds a key, and returns its secret. */
  public String openWithKey(String keyName, String address) {
    return open(keyName, null, address, (_, _) -> {});
  }

  /** Opens a session for a person, and returns its secret. */
  public String openFor(Person person, String address) {
    return open(null, person.id(), address, (_, _) -> {});
  }

  /** Opens a session for whom an issuer has signed in, and returns its secret. */
  public String openFor(Issued issued, String address) {
    IssuedPerson person = issued.person();
    return open(
        null,
        null,
        address,
        (on, id) ->
            Sql.run(
                on,
                "INSERT INTO nodley_issued_sessions VALUES (?, ?, ?, ?, ?, ?, ?)",
                id,
                person.issuer(),
                person.id(),
                person.name(),
                person.email(),
                Digests.text(person.roles()),
                issued.idToken()));
  }

  /** What is written of a session besides, in its transaction. */
  private interface Besides {
    void write(Connection on, String session) throws SQLException;
  }

  private String open(String keyName, String person, String address, Besides besides) {
    String secret = Digests.newSecret();
    String id = Digests.newId();
    long now = clock.millis();
    writer.write(
        on -> {
          Sql.run(
              on,
              "DELETE FROM nodley_sessions WHERE used_at <= ? OR begun_at <= ? OR begun_at <= ?"
                  + " AND id IN (SELECT session FROM nodley_issued_sessions)",
              now - UNUSED.toMillis(),
              now - LONGEST.toMillis(),
              now - LONGEST_ISSUED.toMillis());
          Sql.run(
              on,
              "INSERT INTO nodley_sessions (digest, id, key_name, person, begun_at, used_at,"
                  + " address) VALUES (?, ?, ?, ?, ?, ?, ?)",
              Digests.of(secret),
              id,
              keyName,
              person,
              now,
              now,
              address);
          besides.write(on, id);
          return 0;
        });
    return secret;
  }

  /**
   * Returns the session of a secret, and notes its use; empty if there is none, or none any more.
   */
  public Optional<Session> find(String secret) {
    long now = clock.millis();
    String digest = Digests.of(secret);
    long mark = cache.mark();
    Optional<Session> cached = cache.find(digest).filter(it -> it.isGoodAt(now));
    if (cached.filter(it -> !isToBeNoted(it, now)).isPresent()) {
      return cached;
    }
    Optional<Session> found =
        cached.or(
            () -> database.read(on -> list(on, " AND s.digest = ?", digest).stream().findFirst()));
    found.ifPresent(it -> cache.put(mark, digest, noteUse(it, now)));
    return found;
  }

  private static boolean isToBeNoted(Session session, long now) {
    return now - session.usedAt() >= NOTED_EVERY.toMillis();
  }

  /** Returns the session as it is used now. */
  private Session noteUse(Session session, long now) {
    if (isToBeNoted(session, now)) {
      writer.writeLater(
          on ->
              Sql.run(
                  on, "UPDATE nodley_sessions SET used_at = ? WHERE id = ?", now, session.id()));
      return session.usedAt(now);
    }
    return session;
  }

  /** Returns all sessions, the one used last first. */
  public List<Session> all() {
    return database.read(on -> list(on, LAST_FIRST));
  }

  /** Returns the sessions of a person, kept here or an issuer's, the one used last first. */
  public List<Session> ofPerson(String id) {
    return database.read(
        on -> list(on, " AND (s.person = ? OR i.person = ?)" + LAST_FIRST, id, id));
  }

  /** Returns the sessions that were opened with a key, the one used last first. */
  public List<Session> ofKey(String name) {
    return database.read(on -> list(on, " AND s.key_name = ?" + LAST_FIRST, name));
  }

  private List<Session> list(Connection on, String rest, Object... bound) throws SQLException {
    Object[] all = new Object[bound.length + 3];
    all[0] = clock.millis() - UNUSED.toMillis();
    all[1] = clock.millis() - LONGEST.toMillis();
    all[2] = clock.millis() - LONGEST_ISSUED.toMillis();
    System.arraycopy(bound, 0, all, 3, bound.length);
    return Sql.list(on, Sessions::session, SELECT + rest, all);
  }

  private static Session session(ResultSet row) throws SQLException {
    Optional<Issued> issued = Optional.empty();
    if (row.getString(7) != null) {
      var person =
          new IssuedPerson(
              row.getString(7),
              row.getString(8),
              row.getString(9),
              row.getString(10),
              Digests.words(row.getString(11)));
      issued = Optional.of(new Issued(person, row.getString(12)));
    }
    return new Session(
        row.getString(1),
        row.getString(2),
        issued.map(it -> it.person().id()).orElse(row.getString(3)),
        issued,
        row.getLong(4),
        row.getLong(5),
        row.getString(6));
  }

  /** Ends the session of a secret at once; does nothing if it has ended. */
  public void close(String secret) {
    end("DELETE FROM nodley_sessions WHERE digest = ?", Digests.of(secret));
  }

  /**
   * Ends a session at once.
   *
   * @return false if there is none of this id
   */
  public boolean end(String id) {
    return end("DELETE FROM nodley_sessions WHERE id = ?", id) > 0;
  }

  private int end(String statement, String bound) {
    return writer.write(
        on -> {
          writer.afterCommit(cache::empty);
          return Sql.run(on, statement, bound);
        });
  }

  /** Ends all sessions of whom an issuer has signed in. */
  public void endOf(String person) {
    end(
        "DELETE FROM nodley_sessions WHERE id IN"
            + " (SELECT session FROM nodley_issued_sessions WHERE person = ?)",
        person);
  }
}
