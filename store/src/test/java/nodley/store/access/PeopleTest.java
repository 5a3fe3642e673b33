package nodley.store.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.Set;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.TestDatabase;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** People by their names, and by the calendar: links, passwords, sessions. */
class PeopleTest {

  private static final String NOON = "2026-11-29T12:00:00Z";

  @TempDir private Path folder;
  private Database database;
  private BatchWriter writer;
  private final SessionCache cache = new SessionCache();

  @BeforeEach
  void open() throws SQLException {
    Store.open(folder).close();
    database = TestDatabase.open(folder.resolve(DataFolder.FILE));
    writer = new BatchWriter(database.writer());
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private static Clock clock(String moment) {
    return Clock.fixed(Instant.parse(moment), ZoneOffset.UTC);
  }

  /** The people as a service has them that is started at a moment. */
  private People at(String moment) {
    return new People(database, writer, cache, clock(moment));
  }

  private Sessions sessionsAt(String moment) {
    return new Sessions(database, writer, cache, clock(moment));
  }

  private Keys keys() {
    return new Keys(database, writer, cache, clock(NOON));
  }

  private static Person added(People people, String name, String email, String... roles) {
    People.Outcome outcome = people.add(name, email, Set.of(roles));
    assertThat(outcome).isInstanceOf(People.Outcome.Done.class);
    return ((People.Outcome.Done) outcome).person();
  }

  private Person withPassword(People people, String name, String... roles) {
    Person person = added(people, name, "", roles);
    return people.setPassword(people.newLink(person), "digest of " + name).orElseThrow();
  }

  /** Canonical caseless matching: the Unicode Standard, D145. */
  @ParameterizedTest
  @CsvSource({
    "ann, ANN",
    "Straße, STRASSE",
    "Zoë, Zoe\u0308",
    "Ångström, A\u030angstro\u0308m",
    "ﬁn, FIN"
  })
  void aNameIsOnePersonsWhateverItsCaseOrEncoding(String one, String other) {
    People people = at(NOON);
    Person person = added(people, one, "");
    assertThat(people.add(other, "", Set.of()))
        .isEqualTo(new People.Outcome.Taken(Set.of(People.Unique.NAME)));
    assertThat(people.named(other)).contains(person);
    assertThat(people.login(other).orElseThrow().person()).isEqualTo(person);
  }

  @Test
  void anAddressIsOnePersonsAndANameIsNoKeys() {
    People people = at(NOON);
    Keys keys = keys();
    keys.make("export", Set.of(), Set.of(), Optional.empty()).orElseThrow();
    Person ann = added(people, "ann", "Ann@harbour.example", "clerk");
    assertThat(people.login("ann@HARBOUR.example").orElseThrow().person()).isEqualTo(ann);
    assertThat(people.named("ann@harbour.example")).as("an address is no name").isEmpty();
    assertThat(people.add("bob", "ANN@harbour.EXAMPLE", Set.of()))
        .isEqualTo(new People.Outcome.Taken(Set.of(People.Unique.EMAIL)));
    assertThat(people.add("export", "", Set.of()))
        .isEqualTo(new People.Outcome.Taken(Set.of(People.Unique.NAME_OF_KEY)));
    assertThat(keys.make("ann", Set.of(), Set.of(), Optional.empty())).isEmpty();
    // Two people without an address do not share one.
    added(people, "carl", "");
    Person dora = added(people, "dora", "");
    assertThat(people.change(dora.id(), "ann@harbour.example", Set.of()))
        .isEqualTo(new People.Outcome.Taken(Set.of(People.Unique.EMAIL)));
    assertThat(people.change(ann.id(), "ann@office.example", Set.of("pilot")))
        .isInstanceOf(People.Outcome.Done.class);
    assertThat(at(NOON).find(ann.id()).orElseThrow())
        .extracting(Person::email, Person::roles)
        .containsExactly("ann@office.example", Set.of("pilot"));
  }

  @Test
  void aLinkIsGoodForADayAndForOneUse() throws Exception {
    People people = at(NOON);
    Person ann = added(people, "ann", "");
    String first = people.newLink(ann);
    String second = people.newLink(ann);
    assertThat(people.ofLink(first)).as("the one before ends").isEmpty();
    assertThat(people.ofLink(second)).contains(ann);
    assertThat(at("2026-11-30T11:59:59Z").ofLink(second)).isPresent();
    People late = at("2026-11-30T12:00:00Z");
    assertThat(late.ofLink(second)).isEmpty();
    assertThat(late.setPassword(second, "digest")).isEmpty();
    assertThat(RawQuery.lines(folder, "SELECT digest FROM nodley_links").getFirst())
        .doesNotContain(second);

    assertThat(people.setPassword(second, "digest")).isPresent();
    assertThat(people.find(ann.id()).orElseThrow().hasPassword()).isTrue();
    assertThat(people.ofLink(second)).isEmpty();
    assertThat(people.setPassword(second, "another")).isEmpty();
    assertThat(people.login("ann").orElseThrow().password()).isEqualTo("digest");
  }

  @Test
  void aSessionEndsWhenItIsNotUsedAndAfterAMonth() {
    Person ann = withPassword(at(NOON), "ann");
    String secret = sessionsAt(NOON).openFor(ann, "192.0.2.7");
    assertThat(sessionsAt("2026-11-29T23:59:59Z").find(secret).orElseThrow())
        .extracting(Sessions.Session::person, Sessions.Session::address)
        .containsExactly(ann.id(), "192.0.2.7");
    writer.write(_ -> 0);
    // That use counts: twelve hours from there.
    assertThat(sessionsAt("2026-11-30T11:59:00Z").find(secret)).isPresent();
    writer.write(_ -> 0);
    assertThat(sessionsAt("2026-12-01T00:00:00Z").find(secret)).isEmpty();

    String daily = sessionsAt(NOON).openFor(ann, "192.0.2.7");
    Instant moment = Instant.parse(NOON);
    Instant month = Instant.parse("2026-12-29T12:00:00Z");
    while (moment.isBefore(month)) {
      assertThat(sessionsAt(moment.toString()).find(daily)).as(moment.toString()).isPresent();
      writer.write(_ -> 0);
      moment = moment.plusSeconds(11 * 3600);
    }
    assertThat(sessionsAt(month.toString()).find(daily)).isEmpty();
  }

  /** A session that is read while it is being ended is not known afterwards. */
  @Test
  void whatWasReadBeforeAnEndIsNotKept() {
    Person ann = withPassword(at(NOON), "ann");
    Sessions sessions = sessionsAt(NOON);
    String secret = sessions.openFor(ann, "192.0.2.7");
    Sessions.Session read = sessions.find(secret).orElseThrow();
    long mark = cache.mark();
    assertThat(sessions.end(read.id())).isTrue();
    cache.put(mark, Digests.of(secret), read);
    assertThat(sessions.find(secret)).isEmpty();
  }

  /** Another key of the same name does not open what the first one had opened. */
  @Test
  void aKeyOfTheSameNameIsAnotherOne() {
    Keys keys = keys();
    keys.setFirst("first");
    Sessions sessions = sessionsAt(NOON);
    keys.make("export", Set.of(), Set.of(), Optional.empty()).orElseThrow();
    String secret = sessions.openWithKey("export", "192.0.2.7");
    assertThat(sessions.find(secret)).isPresent();
    keys.end("export");
    keys.make("export", Set.of(), Set.of(), Optional.empty()).orElseThrow();
    assertThat(sessions.find(secret)).isEmpty();
  }

  @Test
  void aSessionOfAnIssuersPersonEndsWithTheDay() throws Exception {
    var person =
        new IssuedPerson("harbour", "harbour:7", "Otto", "otto@harbour.example", Set.of("clerk"));
    var issued = new Sessions.Issued(person, "a token");
    String secret = sessionsAt(NOON).openFor(issued, "192.0.2.7");
    for (int hour = 13; hour <= 23; hour++) {
      String moment = "2026-11-29T%d:00:00Z".formatted(hour);
      Sessions.Session session = sessionsAt(moment).find(secret).orElseThrow();
      assertThat(session.issued()).as(moment).contains(issued);
      assertThat(session.person()).isEqualTo("harbour:7");
    }
    Sessions midnight = sessionsAt("2026-11-30T00:00:00Z");
    assertThat(midnight.find(secret)).as("although it was used").isEmpty();
    assertThat(midnight.all()).isEmpty();
    midnight.openFor(issued, "192.0.2.7");
    assertThat(RawQuery.lines(folder, "SELECT count(*) FROM nodley_sessions")).containsExactly("1");
    midnight.endOf("harbour:8");
    assertThat(midnight.all()).hasSize(1);
    midnight.endOf("harbour:7");
    assertThat(midnight.all()).isEmpty();
    assertThat(RawQuery.lines(folder, "SELECT count(*) FROM nodley_issued_sessions"))
        .as("the token, too")
        .containsExactly("0");
  }

  @Test
  void sessionsEndWithWhatTheyWereOpenedBy() {
    People people = at(NOON);
    Keys keys = keys();
    Sessions sessions = sessionsAt(NOON);
    keys.setFirst("first");
    Person ann = withPassword(people, "ann", Roles.ADMIN);
    keys.make("export", Set.of(), Set.of(), Optional.empty()).orElseThrow();
    String ofKey = sessions.openWithKey("export", "::1");
    String desk = sessions.openFor(ann, "::1");
    String home = sessions.openFor(ann, "::2");
    people.setPassword(ann, "another", sessions.find(desk).orElseThrow().id());
    assertThat(sessions.find(desk)).isPresent();
    assertThat(sessions.find(home)).as("another password ends the others").isEmpty();
    people.setPassword(people.newLink(ann), "a third").orElseThrow();
    assertThat(sessions.find(desk)).as("a link ends all").isEmpty();

    String again = sessions.openFor(ann, "::1");
    assertThat(sessions.all()).extracting(Sessions.Session::key).contains("export", "");
    assertThat(sessions.end(sessions.find(again).orElseThrow().id())).isTrue();
    assertThat(sessions.find(again)).isEmpty();
    assertThat(sessions.end("0000000000000000")).isFalse();
    assertThat(keys.end("export")).isEqualTo(Keys.Ending.ENDED);
    assertThat(sessions.find(ofKey)).isEmpty();
    String last = sessions.openFor(ann, "::1");
    assertThat(people.remove(ann.id())).isInstanceOf(People.Outcome.Done.class);
    assertThat(sessions.find(last)).isEmpty();
    assertThat(people.remove(ann.id())).isInstanceOf(People.Outcome.Gone.class);
  }

  @Test
  void somebodyIsAlwaysAdmin() {
    People people = at(NOON);
    Keys keys = keys();
    keys.setFirst("first");
    Person later = added(people, "bob", "", Roles.ADMIN);
    assertThat(keys.end(Keys.FIRST))
        .as("Bob has no password yet")
        .isEqualTo(Keys.Ending.LAST_ADMIN);
    assertThat(people.remove(later.id())).isInstanceOf(People.Outcome.Done.class);

    Person ann = withPassword(people, "ann", Roles.ADMIN);
    assertThat(keys.end(Keys.FIRST)).isEqualTo(Keys.Ending.ENDED);
    assertThat(people.remove(ann.id())).isInstanceOf(People.Outcome.LastAdmin.class);
    assertThat(people.change(ann.id(), "", Set.of("clerk")))
        .isInstanceOf(People.Outcome.LastAdmin.class);
    assertThat(people.change(ann.id(), "", Set.of("clerk", Roles.ADMIN)))
        .isInstanceOf(People.Outcome.Done.class);
    // A key for some forms cannot make another admin.
    keys.make("some", Set.of(Roles.ADMIN), Set.of("vessel"), Optional.empty()).orElseThrow();
    assertThat(people.remove(ann.id())).isInstanceOf(People.Outcome.LastAdmin.class);
    withPassword(people, "carl", Roles.ADMIN);
    assertThat(people.remove(ann.id())).isInstanceOf(People.Outcome.Done.class);
  }
}
