package nodley.store.attempt;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import nodley.store.TestDatabase;
import nodley.store.common.DraftLimits;
import nodley.store.common.StoreLimits;
import nodley.store.common.UploadLimits;
import nodley.store.folder.Disk;
import nodley.store.record.IdempotencyStore;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
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
  private BatchWriter writer;
  private Attempts attempts;
  private int number;

  @BeforeEach
  void open() throws Exception {
    database = TestDatabase.open(folder.resolve("test.db"));
    writer = new BatchWriter(database.writer());
    within(rows(2_000));
  }

  private static StoreLimits rows(long most) {
    return limits(most, 1L << 30, 1L << 30, 0);
  }

  private static StoreLimits limits(long rows, long bytes, long bytesPerForm, long freeDisk) {
    StoreLimits usual = StoreLimits.DEFAULT;
    return new StoreLimits(
        usual.waiting(),
        usual.turn(),
        usual.holdsPerAddress(),
        rows,
        bytes,
        bytesPerForm,
        freeDisk,
        UploadLimits.DEFAULT,
        DraftLimits.DEFAULT);
  }

  private void within(StoreLimits limits) {
    Clock clock = Clock.fixed(Instant.ofEpochMilli(NOW), ZoneOffset.UTC);
    attempts = new Attempts(database, writer, clock, limits, new Disk(folder));
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
    writer.flush();
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

  private static final String CREW =
      "[{\"pointer\": \"#/crew/0/name\", \"code\": \"value-missing\"},"
          + " {\"pointer\": \"#/crew\", \"code\": \"too-few\"}]";
  private static final String SIGN = "[{\"pointer\": \"#/sign\", \"code\": \"taken\"}]";

  private void refuse(String form, String errors) {
    String id = form + "-" + ++number;
    attempts.log(
        new Attempt(id, form, 1, "add", NOW, 10, 0, "", "refused", "refused", errors, "{}"));
    assertThat(attempts.find(id)).isPresent();
  }

  /** The ids of what is found by a form, a code and a field; null is for what does not matter. */
  private List<String> found(String form, String code, String field, int limit) {
    return attempts
        .list(
            new Attempts.Wanted(
                Optional.ofNullable(form),
                Optional.empty(),
                Optional.ofNullable(code),
                Optional.ofNullable(field),
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Long.MAX_VALUE,
                limit))
        .stream()
        .map(it -> it.attempt().id())
        .toList();
  }

  @Test
  void attemptsAreFoundByTheCodesAndFieldsOfTheirErrors() throws Exception {
    refuse("visit", CREW);
    refuse("vessel", SIGN);
    refuse("visit", SIGN);
    refuse("visit", "[]");
    for (boolean brought : new boolean[] {false, true}) {
      if (brought) {
        // As data of version 8 is brought up.
        writer.write(
            on -> {
              Sql.run(on, "DELETE FROM nodley_attempt_index");
              AttemptIndex.addAll(on);
              return on;
            });
      }
      assertThat(found("visit", "value-missing", null, 9)).containsExactly("visit-1");
      assertThat(found("vessel", "value-missing", null, 9)).isEmpty();
      assertThat(found(null, "taken", null, 9)).containsExactly("visit-3", "vessel-2");
      assertThat(found(null, "taken", null, 1)).containsExactly("visit-3");
      assertThat(found("visit", "refused", null, 9))
          .containsExactly("visit-4", "visit-3", "visit-1");
      for (String field : List.of("crew", "crew.0", "crew.name", "crew.0.name")) {
        assertThat(found(null, null, field, 9)).as(field).containsExactly("visit-1");
      }
      assertThat(found(null, "too-few", "crew.name", 9)).containsExactly("visit-1");
      assertThat(found(null, "taken", "crew", 9)).isEmpty();
      assertThat(found("visit", null, "name", 9)).isEmpty();
    }
  }

  @Test
  void whatFewHaveIsNotLookedForInAll() throws Exception {
    // What is read is told by SQLite: the index alone, then each attempt by its number.
    String plan =
        database.read(
            on ->
                String.join(
                    "\n",
                    Sql.list(
                        on,
                        row -> row.getString("detail"),
                        "EXPLAIN QUERY PLAN SELECT a.* FROM "
                            + AttemptIndex.FROM
                            + " WHERE "
                            + AttemptIndex.ORDER
                            + " < 9 AND "
                            + AttemptIndex.HAS
                            + " ORDER BY "
                            + AttemptIndex.ORDER
                            + " DESC LIMIT 50")));
    assertThat(plan)
        .contains("SEARCH i USING PRIMARY KEY (term=? AND form=? AND attempt<?)")
        .contains("SEARCH a USING INTEGER PRIMARY KEY (rowid=?)")
        .doesNotContain("SCAN")
        .doesNotContain("TEMP B-TREE");
  }

  @Test
  void whatIsSweptIsFoundNoLonger() {
    refuse("visit", CREW);
    log("visit", NOW, 4_000);
    assertThat(attempts.find("visit-1")).isEmpty();
    assertThat(found("visit", null, "crew", 9)).isEmpty();
    assertThat(
            database.<Long>read(
                on ->
                    Sql.number(
                        on,
                        "SELECT count(*) FROM nodley_attempt_index WHERE attempt NOT IN"
                            + " (SELECT number FROM nodley_attempts)")))
        .isZero();
  }

  private void logLarge(String form, int times) {
    String account = "{\"values\": \"" + "x".repeat(10_000) + "\"}";
    for (int i = 0; i < times; i++) {
      String id = form + "-" + ++number;
      attempts.log(
          new Attempt(id, form, 1, "add", NOW, 10, 0, "", "refused", "refused", "[]", account));
    }
    // Whatever waits is written, or left out, before this is.
    writer.write(on -> null);
    writer.write(on -> null);
  }

  /** 10 kB each: 3 MB are room for 290, and a tenth more; a small form's history stays. */
  @Test
  void aFormsAttemptsTakeSoManyBytes() {
    within(limits(1_000_000, 1L << 30, 3_000_000, 0));
    log("visit", NOW, 300);
    for (int i = 0; i < 9; i++) {
      logLarge("vessel", 100);
    }
    assertThat(kept("vessel")).isBetween(200L, 650L);
    assertThat(kept("visit")).isEqualTo(300);
    // What comes later is kept, once there is room.
    await()
        .until(
            () -> {
              logLarge("vessel", 1);
              return attempts.find("vessel-" + number).isPresent();
            });
  }

  @Test
  void allAttemptsTogetherTakeSoManyBytes() {
    within(limits(1_000_000, 3_000_000, 1L << 30, 0));
    log("visit", NOW, 100);
    for (int i = 0; i < 9; i++) {
      logLarge("vessel", 100);
    }
    assertThat(kept("vessel")).isBetween(200L, 650L);
    assertThat(kept("visit")).isEqualTo(100);
  }

  /** What is kept is known again after a start. */
  @Test
  void theSizeOfTheLogIsKnownAfterAStart() {
    within(limits(1_000_000, 1L << 30, 1L << 30, 0));
    logLarge("vessel", 600);
    await().until(() -> kept("vessel") == 600);
    within(limits(1_000_000, 1L << 30, 3_000_000, 0));
    await()
        .until(
            () -> {
              logLarge("vessel", 1);
              return kept("vessel") < 320;
            });
  }

  /** Removing a record must not read what all others have left in the log, and in answers. */
  @Test
  void whatARecordLeftIsFoundByTheRecord() {
    for (String forget : List.of(Attempts.FORGET_VALUES, IdempotencyStore.FORGET_VALUES)) {
      assertThat(
              database
                  .<List<String>>read(
                      on ->
                          Sql.list(
                              on,
                              row -> row.getString("detail"),
                              "EXPLAIN QUERY PLAN " + forget,
                              "vessel",
                              "1"))
                  .toString())
          .containsPattern("SEARCH nodley_(attempts|answers) USING INDEX nodley_[a-z]+_record");
    }
  }

  /** No disk has so much room: what is refused is not kept, and what is kept gives way. */
  @Test
  void whereTheDiskIsNearlyFullTheLogGivesWay() {
    log("visit", NOW, 300);
    within(limits(1_000_000, 1L << 30, 1L << 30, Long.MAX_VALUE));
    attempts.log(
        new Attempt("late", "visit", 1, "add", NOW, 10, 0, "", "refused", "refused", "[]", "{}"));
    await().until(() -> kept("visit") == 0);
    assertThat(attempts.find("late")).isEmpty();
  }
}
