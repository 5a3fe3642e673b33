package nodley.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** How many attempts are kept, for how long, and of which form. */
class AttemptsTest {

  private static final long NOW = Instant.parse("2026-11-23T12:00:00Z").toEpochMilli();
  private static final long DAY = 86_400_000L;

  @TempDir private Path folder;
  private Database database;
  private Writer writer;
  private Attempts attempts;
  private int number;

  @BeforeEach
  void open() throws Exception {
    database = new Database(folder.resolve("test.db"));
    writer = new Writer(database.writer());
    Clock clock = Clock.fixed(Instant.ofEpochMilli(NOW), ZoneOffset.UTC);
    attempts = new Attempts(database, writer, clock, 2_000);
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private void log(String form, long at, int times) {
    for (int i = 0; i < times; i++) {
      String id = form + "-" + ++number;
      attempts.log(
          new Attempt(id, form, 1, "add", at, 10, 0, "", "refused", "refused", "[]", "{}"));
    }
    // Whatever waits is written before this is.
    writer.write(on -> null);
    await().until(() -> attempts.find(form + "-" + number).isPresent());
  }

  private long kept(String form) {
    return attempts
        .list(
            new Attempts.Wanted(
                Optional.of(form),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Long.MAX_VALUE,
                100_000))
        .size();
  }

  @Test
  void aFloodAtOneFormDoesNotPushAnothersHistoryOut() {
    log("visit", NOW, 300);
    for (int i = 0; i < 20; i++) {
      log("vessel", NOW, 500);
    }
    assertThat(kept("visit")).isEqualTo(300);
    assertThat(kept("visit") + kept("vessel")).isLessThan(2_000 + 500);
    assertThat(attempts.find("vessel-" + number)).isPresent();
    assertThat(attempts.find("vessel-301")).isEmpty();
  }

  @Test
  void whatIsOlderThanThirtyDaysIsSwept() {
    log("vessel", NOW - 31 * DAY, 100);
    log("vessel", NOW - 29 * DAY, 100);
    log("vessel", NOW, 300);
    assertThat(attempts.find("vessel-1")).isEmpty();
    assertThat(attempts.find("vessel-100")).isEmpty();
    assertThat(attempts.find("vessel-101")).isPresent();
  }
}
