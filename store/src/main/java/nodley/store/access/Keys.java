package nodley.store.access;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.util.Base64;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * API keys of programs and sessions of people. Stores SHA-256 digests only, never the secrets.
 * Thread-safe.
 */
public final class Keys {

  /** The name of the first key. */
  public static final String ADMIN = "admin";

  /** How long a session lasts. */
  public static final Duration SESSION = Duration.ofHours(12);

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final SecureRandom random = new SecureRandom();

  /** The names of keys by their digests: each request of a program asks, and nobody else writes. */
  private volatile Map<String, String> names;

  /**
   * Opens the keys of a store.
   *
   * @param clock decides when sessions end
   */
  public Keys(Database database, BatchWriter writer, Clock clock) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.names = database.read(Keys::names);
  }

  private static Map<String, String> names(Connection on) throws SQLException {
    Map<String, String> names = new HashMap<>();
    Sql.list(
        on,
        row -> names.put(row.getString(1), row.getString(2)),
        "SELECT digest, name FROM nodley_keys");
    return Map.copyOf(names);
  }

  /** Returns true if there is a key at all. */
  public boolean hasAny() {
    return !names.isEmpty();
  }

  /** Makes a secret of 192 random bits. */
  public String make() {
    byte[] bytes = new byte[24];
    random.nextBytes(bytes);
    return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
  }

  /** Sets the admin key; sessions that were opened with another end. */
  public void setAdmin(String key) {
    if (nameOf(key).isPresent()) {
      return;
    }
    names =
        writer.write(
            on -> {
              Sql.run(on, "DELETE FROM nodley_keys WHERE name = ?", ADMIN);
              Sql.run(
                  on, "INSERT INTO nodley_keys (name, digest) VALUES (?, ?)", ADMIN, digest(key));
              return names(on);
            });
  }

  /** The name of a key; empty if there is no such key. */
  public Optional<String> nameOf(String key) {
    return Optional.ofNullable(names.get(digest(key)));
  }

  /** Opens a session for the holder of a key and gives its secret. */
  public String openSession(String keyName) {
    String secret = make();
    long now = clock.millis();
    writer.write(
        on -> {
          Sql.run(on, "DELETE FROM nodley_sessions WHERE expires_at <= ?", now);
          return Sql.run(
              on,
              "INSERT INTO nodley_sessions (digest, key_name, expires_at) VALUES (?, ?, ?)",
              digest(secret),
              keyName,
              now + SESSION.toMillis());
        });
    return secret;
  }

  /** The name of the key that a session was opened with; empty if it is over. */
  public Optional<String> sessionOf(String secret) {
    return database.read(
        on ->
            Sql.first(
                on,
                row -> row.getString(1),
                "SELECT key_name FROM nodley_sessions WHERE digest = ? AND expires_at > ?",
                digest(secret),
                clock.millis()));
  }

  /**
   * Ends a session; does nothing if it has ended.
   *
   * @param secret the value of the session's cookie
   */
  public void closeSession(String secret) {
    writer.write(on -> Sql.run(on, "DELETE FROM nodley_sessions WHERE digest = ?", digest(secret)));
  }

  private static String digest(String secret) {
    try {
      byte[] bytes = secret.getBytes(StandardCharsets.UTF_8);
      return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every JDK has SHA-256", e);
    }
  }
}
