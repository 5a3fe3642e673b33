package nodley.store.access;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.temporal.ChronoUnit;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import nodley.core.value.Fold;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The people who sign in here: their names, roles, passwords, and the links by which they set one.
 * Stores digests only: Argon2id of passwords, SHA-256 of links. Thread-safe. One process alone has
 * a data folder, so what it knows of people is never out of date.
 */
public final class People {

  /** How long a link is good for. */
  public static final Duration LINK = Duration.ofHours(24);

  private static final String COLUMNS =
      "id, name, email, roles, password <> '', made_at, signed_in_at";

  private final Database database;
  private final BatchWriter writer;
  private final SessionCache sessions;
  private final Clock clock;

  /**
   * Everybody by their id: each request of a session asks. Changed on the writer's thread alone.
   */
  private final Map<String, Person> known = new ConcurrentHashMap<>();

  /** What may be somebody else's already. */
  public enum Unique {
    NAME,
    EMAIL,
    /** A key has this name; logs and records could not tell the two apart. */
    NAME_OF_KEY
  }

  /** What became of a change. */
  public sealed interface Outcome {
    record Done(Person person) implements Outcome {}

    record Taken(Set<Unique> what) implements Outcome {}

    record Gone() implements Outcome {}

    /** Nobody would be left who may do what only an admin may. */
    record LastAdmin() implements Outcome {}
  }

  /** A person and the digest of their password. */
  public record Login(Person person, String password) {}

  /**
   * Opens the people of a store.
   *
   * @param sessions emptied where sessions of people end
   * @param clock decides when links end
   */
  public People(Database database, BatchWriter writer, SessionCache sessions, Clock clock) {
    this.sessions = sessions;
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    database
        .read(on -> Sql.list(on, People::person, "SELECT " + COLUMNS + " FROM nodley_people"))
        .forEach(it -> known.put(it.id(), it));
  }

  private static Person person(ResultSet row) throws SQLException {
    return new Person(
        row.getString(1),
        row.getString(2),
        row.getString(3),
        Digests.words(row.getString(4)),
        row.getBoolean(5),
        row.getString(6),
        row.getString(7));
  }

  /** Returns everybody, by name, with the time of their last sign-in. */
  public List<Person> all() {
    writer.flush();
    // To fold a name costs more than to compare two.
    Map<String, String> folded = new HashMap<>();
    known.values().forEach(it -> folded.put(it.id(), Fold.of(it.name())));
    return known.values().stream()
        .sorted(Comparator.comparing(it -> folded.getOrDefault(it.id(), "")))
        .toList();
  }

  /** Returns everybody's name, in order. */
  public List<String> names() {
    return known.values().stream().map(Person::name).sorted().toList();
  }

  /** Returns the person of an id. */
  public Optional<Person> find(String id) {
    return Optional.ofNullable(known.get(id));
  }

  /** Returns the person of an id, or of a name regardless of case. */
  public Optional<Person> named(String idOrName) {
    String key = Fold.of(idOrName);
    return find(idOrName)
        .or(() -> login(idOrName).map(Login::person).filter(it -> Fold.of(it.name()).equals(key)));
  }

  /** Returns who has a name or an address, regardless of case, with the digest of the password. */
  public Optional<Login> login(String nameOrEmail) {
    String key = Fold.of(nameOrEmail);
    return database.read(
        on ->
            Sql.first(
                on,
                row -> new Login(person(row), row.getString(8)),
                "SELECT "
                    + COLUMNS
                    + ", password FROM nodley_people WHERE name_key = ? OR email_key = ?"
                    + " ORDER BY name_key = ? DESC LIMIT 1",
                key,
                key,
                key));
  }

  /**
   * Adds somebody, without a password yet.
   *
   * @param email empty if none is known
   */
  public Outcome add(String name, String email, Set<String> roles) {
    Person person = new Person("own:" + Digests.newId(), name, email, roles, false, now(), "");
    return writer.write(
        on -> {
          Set<Unique> taken = taken(on, person);
          if (!taken.isEmpty()) {
            return new Outcome.Taken(taken);
          }
          Sql.run(
              on,
              "INSERT INTO nodley_people (id, name, name_key, email, email_key, roles, password,"
                  + " made_at) VALUES (?, ?, ?, ?, ?, ?, '', ?)",
              person.id(),
              name,
              Fold.of(name),
              email,
              email.isEmpty() ? null : Fold.of(email),
              Digests.text(roles),
              person.madeAt());
          return done(person);
        });
  }

  private static Set<Unique> taken(Connection on, Person person) throws SQLException {
    Set<Unique> taken = EnumSet.noneOf(Unique.class);
    String among = "SELECT count(*) FROM nodley_people WHERE id <> ? AND ";
    if (Sql.number(on, among + "name_key = ?", person.id(), Fold.of(person.name())) > 0) {
      taken.add(Unique.NAME);
    }
    if (!person.email().isEmpty()
        && Sql.number(on, among + "email_key = ?", person.id(), Fold.of(person.email())) > 0) {
      taken.add(Unique.EMAIL);
    }
    if (Sql.number(on, "SELECT count(*) FROM nodley_keys WHERE name = ?", person.name()) > 0) {
      taken.add(Unique.NAME_OF_KEY);
    }
    return taken;
  }

  /** Gives a person an address and roles in place of those before. */
  public Outcome change(String id, String email, Set<String> roles) {
    return writer.write(
        on -> {
          Person before = known.get(id);
          if (before == null) {
            return new Outcome.Gone();
          }
          Person after = before.with(email, roles);
          if (before.isAdmin() && !after.isAdmin() && isLast(on, before)) {
            return new Outcome.LastAdmin();
          }
          Set<Unique> taken = taken(on, after);
          taken.remove(Unique.NAME_OF_KEY);
          if (!taken.isEmpty()) {
            return new Outcome.Taken(taken);
          }
          Sql.run(
              on,
              "UPDATE nodley_people SET email = ?, email_key = ?, roles = ? WHERE id = ?",
              after.email(),
              after.email().isEmpty() ? null : Fold.of(after.email()),
              Digests.text(after.roles()),
              id);
          return done(after);
        });
  }

  /** Removes a person, with their sessions and links, at once. */
  public Outcome remove(String id) {
    return writer.write(
        on -> {
          Person person = known.get(id);
          if (person == null) {
            return new Outcome.Gone();
          }
          if (person.isAdmin() && isLast(on, person)) {
            return new Outcome.LastAdmin();
          }
          Sql.run(on, "DELETE FROM nodley_people WHERE id = ?", id);
          writer.afterCommit(
              () -> {
                known.remove(id);
                sessions.empty();
              });
          return new Outcome.Done(person);
        });
  }

  /** Returns whether nobody else, and no key, could give the role admin. */
  public boolean isLastAdmin(Person person) {
    return database.read(on -> person.isAdmin() && isLast(on, person));
  }

  private boolean isLast(Connection on, Person person) throws SQLException {
    return person.hasPassword() && !Admins.areThereBesides(on, clock, "", person.id());
  }

  private Outcome done(Person person) {
    writer.afterCommit(() -> known.put(person.id(), person));
    return new Outcome.Done(person);
  }

  /** Makes a link by which a person sets a password; earlier ones of theirs end. */
  public String newLink(Person person) {
    String secret = Digests.newSecret();
    long now = clock.millis();
    writer.write(
        on -> {
          Sql.run(
              on, "DELETE FROM nodley_links WHERE person = ? OR ends_at <= ?", person.id(), now);
          return Sql.run(
              on,
              "INSERT INTO nodley_links (digest, person, ends_at) VALUES (?, ?, ?)",
              Digests.of(secret),
              person.id(),
              now + LINK.toMillis());
        });
    return secret;
  }

  /** Returns whose link this is; empty if there is none, or it was used, or is too old. */
  public Optional<Person> ofLink(String secret) {
    return database.read(on -> ofLink(on, secret));
  }

  private Optional<Person> ofLink(Connection on, String secret) throws SQLException {
    return Sql.first(
            on,
            row -> row.getString(1),
            "SELECT person FROM nodley_links WHERE digest = ? AND ends_at > ?",
            Digests.of(secret),
            clock.millis())
        .flatMap(this::find);
  }

  /**
   * Sets the password of the person whose link this is. The link is used up by that, and their
   * sessions end.
   *
   * @return empty if the link is good no longer
   */
  public Optional<Person> setPassword(String link, String digest) {
    return writer.write(
        on -> {
          Optional<Person> person = ofLink(on, link);
          if (person.isPresent()) {
            setPassword(on, person.get(), digest, "");
          }
          return person;
        });
  }

  /**
   * Puts another password in place of one; a person's other sessions end.
   *
   * @param session the id of the session that stays
   */
  public void setPassword(Person person, String digest, String session) {
    writer.write(
        on -> {
          setPassword(on, person, digest, session);
          return 0;
        });
  }

  private void setPassword(Connection on, Person person, String digest, String session)
      throws SQLException {
    Sql.run(on, "UPDATE nodley_people SET password = ? WHERE id = ?", digest, person.id());
    Sql.run(on, "DELETE FROM nodley_links WHERE person = ?", person.id());
    Sql.run(on, "DELETE FROM nodley_sessions WHERE person = ? AND id <> ?", person.id(), session);
    writer.afterCommit(
        () -> {
          known.computeIfPresent(person.id(), (_, it) -> it.withPassword());
          sessions.empty();
        });
  }

  /** Puts a better digest of the same password in place of one, if that is there still. */
  public void renewDigest(Person person, String before, String after) {
    writer.writeLater(
        on ->
            Sql.run(
                on,
                "UPDATE nodley_people SET password = ? WHERE id = ? AND password = ?",
                after,
                person.id(),
                before));
  }

  /** Notes that somebody has signed in. Returns at once. */
  public void noteSignIn(Person person) {
    String now = now();
    writer.writeLater(
        on -> {
          Sql.run(on, "UPDATE nodley_people SET signed_in_at = ? WHERE id = ?", now, person.id());
          writer.afterCommit(
              () -> known.computeIfPresent(person.id(), (_, it) -> it.signedIn(now)));
        });
  }

  private String now() {
    return clock.instant().truncatedTo(ChronoUnit.SECONDS).toString();
  }
}
