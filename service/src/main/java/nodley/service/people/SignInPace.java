package nodley.service.people;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.InstantSource;
import java.util.List;
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

  /** By what mistakes are counted, and how many of them are free. */
  private record Counted(String whose, int free) {}

  SignInPace(InstantSource clock) {
    this.clock = clock;
  }

  /**
   * Counts an attempt as wrong, until {@link #succeeded} takes it back: many at once are counted
   * before the first of them is compared, one after the other, so that no more are free than said.
   *
   * @return true if it is the last one that is free, should it be wrong
   * @throws Problem 429 with Retry-After, if it comes too early
   */
  synchronized boolean begin(String name, String network) {
    long now = clock.millis();
    List<Counted> counted = counted(name, network);
    counted.forEach(it -> check(it.whose(), now));
    boolean last = false;
    for (Counted each : counted) {
      last |= count(each, now) == each.free();
    }
    return last;
  }

  /**
   * Takes back what {@link #begin} counted. What others did wrong still counts: nobody gets more
   * guesses at another's password by signing in with their own.
   */
  void succeeded(String name, String network) {
    for (Counted each : counted(name, network)) {
      waits
          .asMap()
          .computeIfPresent(
              each.whose(),
              (_, it) -> it.wrong() < 2 ? null : new Wait(it.wrong() - 1, it.until()));
    }
    right.put(name + " " + network, true);
  }

  private List<Counted> counted(String name, String network) {
    String both = name + " " + network;
    return right.getIfPresent(both) == null
        ? List.of(
            new Counted("name " + name, FREE_FOR_NAME), new Counted(network, FREE_FOR_NETWORK))
        : List.of(new Counted(both, FREE_FOR_NAME));
  }

  private void check(String whose, long now) {
    Wait wait = waits.getIfPresent(whose);
    long left = wait == null ? 0 : wait.until() - now;
    // Nobody waits longer than that, but for a clock that was set back.
    if (left > 0 && left <= LONGEST.toMillis()) {
      throw Problem.of(
              429,
              "too-many-guesses",
              "Too many wrong passwords came",
              "Wait the seconds in Retry-After before the next one.")
          .header("Retry-After", String.valueOf(left / 1000 + 1));
    }
  }

  /** Returns how many there are now. */
  private int count(Counted counted, long now) {
    return waits
        .asMap()
        .compute(
            counted.whose(),
            (_, before) -> {
              int wrong = before == null ? 1 : before.wrong() + 1;
              int doublings = Math.min(wrong - counted.free(), MOST_DOUBLINGS);
              long wait = doublings < 0 ? 0 : Math.min(1000L << doublings, LONGEST.toMillis());
              return new Wait(wrong, wait == 0 ? 0 : now + wait);
            })
        .wrong();
  }
}
