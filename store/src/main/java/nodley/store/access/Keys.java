package nodley.store.access;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * API keys of programs. Stores SHA-256 digests only, never the secrets. Thread-safe. One process
 * alone has a data folder, so what it knows of keys is never out of date.
 */
public final class Keys {

  /** The name of the first key. */
  public static final String FIRST = "admin";

  private static final Duration NOTED_EVERY = Duration.ofMinutes(1);

  private final BatchWriter writer;
  private final SessionCache sessions;
  private final Clock clock;

  /** When the use of a key was noted last, by its name. */
  private final Map<String, Instant> notedAt = new ConcurrentHashMap<>();

  /**
   * The keys by their digests: each request of a program asks. One process alone has a data folder,
   * so they are never out of date. Changed on the writer's thread alone.
   */
  private final Map<String, Key> known = new ConcurrentHashMap<>();

  /** The digests of keys by the names of these. */
  private final Map<String, String> digests = new ConcurrentHashMap<>();

  /** What became of a key that was to end. */
  public enum Ending {
    ENDED,
    NO_SUCH_KEY,
    /** Without it nobody could do what only an admin may. */
    LAST_ADMIN
  }

  /**
   * Opens the keys of a store.
   *
   * @param clock decides when keys end
   */
  public Keys(Database database, BatchWriter writer, SessionCache sessions, Clock clock) {
    this.sessions = sessions;
    this.writer = writer;
    this.clock = clock;
    database.read(
        on ->
            Sql.list(
                on,
                row -> put(row.getString(1), key(row)),
                "SELECT digest, name, roles, forms, until, made_at, used_on, used_from"
                    + " FROM nodley_keys"));
  }

  private Key put(String digest, Key key) {
    known.put(digest, key);
    digests.put(key.name(), digest);
    return key;
  }

  private void remove(String name) {
    String digest = digests.remove(name);
    if (digest != null) {
      known.remove(digest);
    }
  }

  private static Key key(ResultSet row) throws SQLException {
    String until = row.getString(5);
    String usedOn = row.getString(7);
    return new Key(
        row.getString(2),
        Digests.words(row.getString(3)),
        Digests.words(row.getString(4)),
        until.isEmpty() ? Optional.empty() : Optional.of(LocalDate.parse(until)),
        row.getString(6),
        usedOn.isEmpty()
            ? Optional.empty()
            : Optional.of(new Key.Use(LocalDate.parse(usedOn), row.getString(8))));
  }

  /** Returns true if there is a key at all. */
  public boolean hasAny() {
    return !known.isEmpty();
  }

  /** Returns all keys by name with their last use, those too whose last day is over. */
  public List<Key> all() {
    writer.flush();
    return known.values().stream().sorted(Comparator.comparing(Key::name)).toList();
  }

  /** Returns the names of all keys, in order. */
  public List<String> names() {
    return digests.keySet().stream().sorted().toList();
  }

  /** Makes a secret of 192 random bits. */
  public String newSecret() {
    return Digests.newSecret();
  }

  /** Sets the first key, an admin's; sessions that were opened with another first key end. */
  public void setFirst(String secret) {
    Key there = known.get(Digests.of(secret));
    if (there != null && there.isAdmin()) {
      return;
    }
    Key first =
        new Key(FIRST, Set.of(Roles.ADMIN), Set.of(), Optional.empty(), now(), Optional.empty());
    writer.write(
        on -> {
          Sql.run(on, "DELETE FROM nodley_keys WHERE name = ?", FIRST);
          Sql.run(on, "DELETE FROM nodley_keys WHERE digest = ?", Digests.of(secret));
          add(on, first, secret);
          writer.afterCommit(
              () -> {
                remove(FIRST);
                if (there != null) {
                  remove(there.name());
                }
                put(Digests.of(secret), first);
                sessions.empty();
              });
          return 0;
        });
  }

  private static void add(Connection on, Key key, String secret) throws SQLException {
    Sql.run(
        on,
        "INSERT INTO nodley_keys (name, digest, roles, forms, until, made_at)"
            + " VALUES (?, ?, ?, ?, ?, ?)",
        key.name(),
        Digests.of(secret),
        Digests.text(key.roles()),
        Digests.text(key.forms()),
        key.until().map(LocalDate::toString).orElse(""),
        key.madeAt());
  }

  /**
   * Makes a key and returns its secret, which is stored nowhere.
   *
   * @return empty if there is a key or a person of this name
   */
  public Optional<String> make(
      String name, Set<String> roles, Set<String> forms, Optional<LocalDate> until) {
    String secret = newSecret();
    Key key = new Key(name, roles, forms, until, now(), Optional.empty());
    return writer.write(
        on -> {
          if (Sql.number(on, "SELECT count(*) FROM nodley_keys WHERE name = ?", name) > 0
              || Sql.number(on, "SELECT count(*) FROM nodley_people WHERE name = ?", name) > 0) {
            return Optional.<String>empty();
          }
          add(on, key, secret);
          writer.afterCommit(() -> put(Digests.of(secret), key));
          return Optional.of(secret);
        });
  }

  /** Ends a key, and the sessions that were opened with it, at once. */
  public Ending end(String name) {
    return writer.write(
        on -> {
          if (Sql.number(on, "SELECT count(*) FROM nodley_keys WHERE name = ?", name) == 0) {
            return Ending.NO_SUCH_KEY;
          }
          if (!Admins.areThereBesides(on, clock, name, "")) {
            return Ending.LAST_ADMIN;
          }
          Sql.run(on, "DELETE FROM nodley_keys WHERE name = ?", name);
          writer.afterCommit(
              () -> {
                remove(name);
                sessions.empty();
              });
          return Ending.ENDED;
        });
  }

  /** The key of a secret; empty if there is none, or if its last day is over. */
  public Optional<Key> find(String secret) {
    return Optional.ofNullable(known.get(Digests.of(secret)))
        .filter(it -> it.isGood(clock.instant()));
  }

  /** The key of a name; empty if there is none, or if its last day is over. */
  public Optional<Key> named(String name) {
    return Optional.ofNullable(digests.get(name))
        .map(known::get)
        .filter(it -> it.isGood(clock.instant()));
  }

  /**
   * Notes that a key was shown, if the day or the address is another than was noted last; at most
   * once a minute, for a key may be in use at several places at once. Returns at once.
   */
  public void noteUse(Key key, String address) {
    Instant now = clock.instant();
    Key.Use use = new Key.Use(now.atZone(ZoneOffset.UTC).toLocalDate(), address);
    if (key.lastUse().filter(use::equals).isPresent()) {
      return;
    }
    Instant noted = notedAt.get(key.name());
    if (noted != null && now.isBefore(noted.plus(NOTED_EVERY))) {
      return;
    }
    notedAt.put(key.name(), now);
    writer.writeLater(
        on -> {
          Sql.run(
              on,
              "UPDATE nodley_keys SET used_on = ?, used_from = ? WHERE name = ?",
              use.day().toString(),
              use.address(),
              key.name());
          writer.afterCommit(
              () ->
                  Optional.ofNullable(digests.get(key.name()))
                      .ifPresent(it -> known.computeIfPresent(it, (_, old) -> old.usedAt(use))));
        });
  }

  private String now() {
    return clock.instant().truncatedTo(ChronoUnit.SECONDS).toString();
  }
}
