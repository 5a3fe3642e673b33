package nodley.service.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.InstantSource;
import nodley.service.problem.Problem;

/**
 * Slows down who guesses passwords. After some wrong ones for a name, or from a network, each next
 * one must wait twice as long as the one before, up to 15 minutes. A network from which a name was
 * signed in before waits for its own mistakes only, so that no stranger can lock a person out. In
 * memory, bounded. Thread-safe.
 */
final class SignInPace {

  private static final int FREE_FOR_NAME = 5;
  private static final int FREE_FOR_NETWORK = 20;
  private static final int MOST_DOUBLINGS = 10;
  private static final Duration LONGEST = Duration.ofMinutes(15);
  private static final Duration FORGOTTEN = Duration.ofHours(1);
  private static final int MOST_KEPT = 20_000;

  private final InstantSource clock;
  private final Cache<String, Wait> waits =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).expireAfterWrite(FORGOTTEN).build();
  private final Cache<String, Boolean> right =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).expireAfterAccess(Duration.ofDays(30)).build();

  /** How often it went wrong, and until when the next one has to wait (milliseconds since 1970). */
  private record Wait(int wrong, long until) {}

  SignInPace(InstantSource clock) {
    this.clock = clock;
  }

  /**
   * Counts an attempt as wrong, until {@link #succeeded} takes it back: many at once are counted
   * before the first of them is compared.
   *
   * @throws Problem 429 with Retry-After, if it comes too early
   */
  void begin(String name, String network) {
    String own = ofName(name, network);
    long now = clock.millis();
    check(own, now);
    check(network, now);
    count(own, FREE_FOR_NAME, now);
    count(network, FREE_FOR_NETWORK, now);
  }

  /** Takes back what {@link #begin} counted. */
  void succeeded(String name, String network) {
    waits.invalidate(ofName(name, network));
    right.put(name + " " + network, true);
    waits.invalidate(ofName(name, network));
    waits.asMap().computeIfPresent(network, (_, it) -> new Wait(Math.max(0, it.wrong() - 1), 0));
  }

  private String ofName(String name, String network) {
    return right.getIfPresent(name + " " + network) == null ? "name " + name : name + " " + network;
  }

  private void check(String whose, long now) {
    Wait wait = waits.getIfPresent(whose);
    if (wait != null && wait.until() > now) {
      throw Problem.of(
              429,
              "too-many-guesses",
              "Too many wrong passwords came",
              "Wait the seconds in Retry-After before the next one.")
          .header("Retry-After", String.valueOf((wait.until() - now) / 1000 + 1));
    }
  }

  private void count(String whose, int free, long now) {
    waits
        .asMap()
        .compute(
            whose,
            (_, before) -> {
              int wrong = before == null ? 1 : before.wrong() + 1;
              int doublings = Math.min(wrong - free, MOST_DOUBLINGS);
              long wait = doublings < 0 ? 0 : Math.min(1000L << doublings, LONGEST.toMillis());
              return new Wait(wrong, now + wait);
            });
  }
}
