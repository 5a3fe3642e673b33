package nodley.service.start;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.UUID;
import nodley.service.problem.Json;
import nodley.store.attempt.Attempt;
import nodley.store.attempt.Attempts;

/**
 * A made-up week of attempts at the form for vessels, without values, so that the demo's figures
 * have something to show. One rule hurts: skippers whose insurance is not in force yet cannot
 * register, and many of them leave. The same each time, but for the dates.
 */
final class MadeUpWeek {

  private static final int DAYS = 7;
  private static final int LEAST = 10;
  private static final int MORE = 7;

  /** When the first one of a day comes, and how many minutes until the last. */
  private static final Duration MORNING = Duration.ofHours(7);

  private static final int MINUTES = 12 * 60;

  private static final long SEED = 20_271_130;

  /** What a skipper is told, out of a hundred; how many of those come back, and are accepted. */
  private enum Trouble {
    INSURANCE(
        30, 35, "#/insured", "value-missing", "Third-party insurance is in force must be ticked."),
    SIGN(9, 85, "#/callSign", "taken", "The call sign is already registered."),
    LENGTH(6, 95, "#/length", "range-overflow", "Length over all must be 60 or less.");

    private final int share;
    private final int returning;
    private final Map<String, String> error;

    Trouble(int share, int returning, String pointer, String code, String detail) {
      this.share = share;
      this.returning = returning;
      this.error = Map.of("pointer", pointer, "code", code, "detail", detail);
    }
  }

  private final Random random = new Random(SEED);
  private final List<Attempt> all = new ArrayList<>();

  /** Logs the week before a moment. */
  static void log(Attempts attempts, Instant now) {
    var week = new MadeUpWeek();
    Instant today = now.truncatedTo(ChronoUnit.DAYS);
    for (int day = DAYS; day > 0; day--) {
      week.makeUp(today.minus(day, ChronoUnit.DAYS).plus(MORNING));
    }
    week.all.sort(Comparator.comparingLong(Attempt::at));
    week.all.forEach(attempts::log);
  }

  private void makeUp(Instant morning) {
    int skippers = LEAST + random.nextInt(MORE);
    for (int i = 0; i < skippers; i++) {
      // Addresses for documentation: RFC 5737.
      String from = "198.51.100." + (1 + random.nextInt(250));
      Instant at = morning.plus(random.nextInt(MINUTES), ChronoUnit.MINUTES);
      int lot = random.nextInt(100);
      Trouble trouble = null;
      for (Trouble each : Trouble.values()) {
        if (trouble == null && lot < each.share) {
          trouble = each;
        }
        lot -= each.share;
      }
      if (trouble != null) {
        add(at, from, "refused", List.of(trouble.error));
        if (random.nextInt(100) >= trouble.returning) {
          continue;
        }
        at = at.plusSeconds(60 + random.nextInt(600));
      }
      add(at, from, "accepted", List.of());
    }
  }

  private void add(Instant at, String from, String verdict, List<Map<String, String>> errors) {
    all.add(
        new Attempt(
            new UUID(random.nextLong(), random.nextLong()).toString(),
            "vessel",
            1,
            "add",
            at.toEpochMilli(),
            800 + random.nextInt(4_000),
            0,
            "",
            verdict,
            verdict.equals("refused") ? "refused" : "",
            Json.text(errors),
            Json.text(Map.of("from", from, "by", "", "door", "page"))));
  }
}
