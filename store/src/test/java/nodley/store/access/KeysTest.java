package nodley.store.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Optional;
import java.util.Set;
import nodley.store.Store;
import nodley.store.TestDatabase;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Keys by the calendar: their last day, the sessions opened with them, and when they were used. */
class KeysTest {

  @TempDir private Path folder;
  private Database database;
  private BatchWriter writer;

  @BeforeEach
  void open() throws SQLException {
    Store.open(folder).close();
    database = TestDatabase.open(folder.resolve(DataFolder.FILE));
    writer = new BatchWriter(database.writer());
    at("2026-11-29T12:00:00Z").setFirst("first");
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  /** The keys as a service has them that is started at a moment. */
  private Keys at(String moment) {
    return new Keys(
        database, writer, new SessionCache(), Clock.fixed(Instant.parse(moment), ZoneOffset.UTC));
  }

  @Test
  void aKeyIsGoodUntilItsLastDayIsOver() {
    Keys keys = at("2026-11-29T12:00:00Z");
    LocalDate last = LocalDate.parse("2026-11-30");
    String secret =
        keys.make("export", Set.of(), Set.of("vessel"), Optional.of(last)).orElseThrow();
    Keys onTheLastDay = at("2026-11-30T23:59:59Z");
    assertThat(onTheLastDay.find(secret)).isPresent();
    assertThat(onTheLastDay.named("export")).as("of its session").isPresent();
    Keys theDayAfter = at("2026-12-01T00:00:00Z");
    assertThat(theDayAfter.find(secret)).isEmpty();
    assertThat(theDayAfter.named("export")).isEmpty();
    assertThat(theDayAfter.all()).extracting(Key::name).containsExactly("admin", "export");
  }

  /** A key whose last day is over is refused. */
  @Test
  void anAdminsKeyThatIsOverIsNotTheLastOne() {
    Keys keys = at("2026-11-29T12:00:00Z");
    Optional<LocalDate> today = Optional.of(LocalDate.parse("2026-11-29"));
    keys.make("other", Set.of("admin"), Set.of(), today).orElseThrow();
    Keys tomorrow = at("2026-11-30T12:00:00Z");
    assertThat(tomorrow.end("admin")).isEqualTo(Keys.Ending.LAST_ADMIN);
    assertThat(tomorrow.end("other")).isEqualTo(Keys.Ending.ENDED);
    assertThat(tomorrow.end("other")).isEqualTo(Keys.Ending.NO_SUCH_KEY);
  }

  @Test
  void aUseIsNotedByDayAndAddress() {
    Keys keys = at("2026-11-29T12:00:00Z");
    String secret = keys.make("export", Set.of(), Set.of(), Optional.empty()).orElseThrow();
    keys.noteUse(keys.find(secret).orElseThrow(), "192.0.2.7");
    // From a second place within the same minute: not every request is to be written down.
    keys.noteUse(keys.find(secret).orElseThrow(), "192.0.2.8");
    // The next commit takes it along.
    keys.make("other", Set.of(), Set.of(), Optional.empty());
    assertThat(keys.find(secret).orElseThrow().lastUse())
        .contains(new Key.Use(LocalDate.parse("2026-11-29"), "192.0.2.7"));
    Keys later = at("2026-11-29T12:01:00Z");
    later.noteUse(later.find(secret).orElseThrow(), "192.0.2.8");
    later.make("third", Set.of(), Set.of(), Optional.empty());
    assertThat(later.find(secret).orElseThrow().lastUse())
        .contains(new Key.Use(LocalDate.parse("2026-11-29"), "192.0.2.8"));
  }

  @Test
  void aNameStandsForOneKey() {
    Keys keys = at("2026-11-29T12:00:00Z");
    String secret = keys.make("export", Set.of("author"), Set.of(), Optional.empty()).orElseThrow();
    assertThat(keys.make("export", Set.of(), Set.of(), Optional.empty())).isEmpty();
    assertThat(keys.find(secret).orElseThrow().roles()).containsExactly("author");
  }
}
