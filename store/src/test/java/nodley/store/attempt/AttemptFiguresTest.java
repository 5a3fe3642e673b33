package nodley.store.attempt;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import nodley.store.TestDatabase;
import nodley.store.common.StoreLimits;
import nodley.store.folder.Disk;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is counted of a day at the harbour; each figure is counted by hand. */
class AttemptFiguresTest {

  private static final Instant DAY = Instant.parse("2026-11-24T00:00:00Z");
  private static final long NOW = Instant.parse("2026-11-28T12:00:00Z").toEpochMilli();

  private static final String DEPTH = error("#/depth", "range-overflow");
  private static final String NAME = error("#/crew/0/name", "value-missing");
  private static final String WHOLE = error("#", "rule");

  @TempDir private Path folder;

  private Database database;
  private BatchWriter writer;
  private Attempts attempts;
  private int number;

  @BeforeEach
  void open() throws Exception {
    database = TestDatabase.open(folder.resolve("test.db"));
    writer = new BatchWriter(database.writer());
    attempts =
        new Attempts(
            database,
            writer,
            Clock.fixed(Instant.ofEpochMilli(NOW), ZoneOffset.UTC),
            StoreLimits.DEFAULT,
            new Disk(folder));
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private static String error(String pointer, String code) {
    return "{\"pointer\": \"%s\", \"code\": \"%s\"}".formatted(pointer, code);
  }

  private void log(
      String form, String time, String mode, String who, String verdict, String... errors) {
    log(10, form, time, mode, who, verdict, errors);
  }

  private void log(
      int micros,
      String form,
      String time,
      String mode,
      String who,
      String verdict,
      String... errors) {
    long at = DAY.plus(Duration.parse("PT" + time.replace(":", "H") + "M")).toEpochMilli();
    String account =
        who.startsWith("10.")
            ? "{\"from\": \"%s\", \"by\": \"\"}".formatted(who)
            : "{\"from\": \"10.0.0.1\", \"by\": \"%s\"}".formatted(who);
    attempts.log(
        new Attempt(
            "a" + ++number,
            form,
            1,
            mode,
            at,
            micros,
            0,
            "",
            verdict,
            verdict.equals("refused") ? "refused" : "",
            "[" + String.join(", ", errors) + "]",
            account));
  }

  private void aDay() {
    // What came later may be logged earlier.
    log("visit", "10:05", "add", "ann", "accepted");
    log("visit", "10:00", "add", "ann", "refused", DEPTH);
    log("visit", "10:01", "add", "ann", "refused", DEPTH, NAME);
    // Another form is another matter.
    log("vessel", "10:02", "add", "ann", "accepted");
    log("visit", "11:00", "add", "10.0.0.7", "refused", DEPTH);
    // Somebody else at another address.
    log("visit", "11:10", "add", "10.0.0.8", "accepted");
    log("visit", "11:30", "add", "bo", "refused", WHOLE);
    // More than an hour later: this is another try.
    log("visit", "13:00", "add", "bo", "accepted");
    log("visit", "14:10", "edit", "cy", "failed");
    // Checks are not submissions.
    log("visit", "15:00", "check", "dee", "refused", DEPTH);
    // Outside of the period.
    log("visit", "23:30", "add", "ann", "refused", DEPTH);
  }

  private static AttemptFigures.Period until23() {
    return new AttemptFigures.Period(
        DAY.toEpochMilli(), DAY.plus(Duration.ofHours(23)).toEpochMilli());
  }

  @Test
  void whereOnePersonStruggledAnotherLeft() {
    aDay();
    AttemptFigures.Struggles told = attempts.figures().struggles("visit", until23());
    assertThat(told)
        .isEqualTo(
            new AttemptFigures.Struggles(
                3,
                4,
                1,
                3,
                2,
                Optional.of(300L),
                List.of(
                    field("depth", 3, 1, "range-overflow", 3),
                    field("", 1, 0, "rule", 1),
                    field("crew.name", 1, 1, "value-missing", 1))));
    assertThat(told.without("depth"::equals).fields())
        .extracting(AttemptFigures.FieldStruggle::field)
        .containsExactly("", "crew.name");
  }

  private static AttemptFigures.FieldStruggle field(
      String name, long refused, long mended, String code, long count) {
    return new AttemptFigures.FieldStruggle(
        name, refused, mended, List.of(new AttemptFigures.CodeCount(code, count)));
  }

  @Test
  void ofEachHourTheMedianAndTheSlowestOfAHundredAreTold() {
    // 200 in an hour: 1 to 200 µs in another order than that of time.
    for (int i = 0; i < 200; i++) {
      log((i * 7) % 200 + 1, i % 2 == 0 ? "visit" : "vessel", "10:05", "add", "ann", "accepted");
    }
    log(900, "visit", "11:00", "edit", "ann", "refused", DEPTH);
    log(5_000, "visit", "11:01", "check", "ann", "accepted");
    log(3_000, "visit", "23:30", "add", "ann", "accepted");
    assertThat(attempts.figures().latencies(until23()))
        .containsExactly(
            new AttemptFigures.Latency(at(10), 200, 100, 198),
            new AttemptFigures.Latency(at(11), 1, 900, 900));
  }

  private static long at(int hour) {
    return DAY.plus(Duration.ofHours(hour)).toEpochMilli();
  }

  @Test
  void hoursAreCountedByFormAndVerdict() {
    aDay();
    assertThat(attempts.figures().hours(Optional.of("visit"), until23()))
        .containsExactly(
            hour("visit", 10, "accepted", 1),
            hour("visit", 10, "refused", 2),
            hour("visit", 11, "accepted", 1),
            hour("visit", 11, "refused", 2),
            hour("visit", 13, "accepted", 1),
            hour("visit", 14, "failed", 1));
    assertThat(attempts.figures().hours(Optional.empty(), until23()))
        .contains(hour("vessel", 10, "accepted", 1))
        .hasSize(7);
  }

  private static AttemptFigures.Hour hour(String form, int hour, String verdict, long count) {
    return new AttemptFigures.Hour(
        form, DAY.plus(Duration.ofHours(hour)).toEpochMilli(), verdict, count);
  }

  @Test
  void nothingIsNothing() {
    assertThat(attempts.figures().hours(Optional.empty(), until23())).isEmpty();
    assertThat(attempts.figures().struggles("visit", until23()))
        .isEqualTo(new AttemptFigures.Struggles(0, 0, 0, 0, 0, Optional.empty(), List.of()));
  }

  @Test
  void whatWasSweptBeforeDoesNotMatter() {
    aDay();
    writer.flush();
    writer.write(
        on -> nodley.store.sqlite.Sql.run(on, "DELETE FROM nodley_attempts WHERE number < 8"));
    assertThat(attempts.figures().hours(Optional.of("visit"), until23()))
        .containsExactly(hour("visit", 13, "accepted", 1), hour("visit", 14, "failed", 1));
  }
}
