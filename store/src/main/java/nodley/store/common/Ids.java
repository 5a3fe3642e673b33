package nodley.store.common;

import java.security.SecureRandom;
import java.time.Clock;
import java.util.Optional;
import java.util.UUID;

/**
 * Makes UUIDv7 (RFC 9562): they sort in the order of their making, within one millisecond too, by a
 * counter in {@code rand_a} that begins at random (section 6.2, method 1).
 */
public final class Ids {

  private static final int COUNTER_BITS = 12;
  private static final int COUNTER_MASK = (1 << COUNTER_BITS) - 1;

  private final SecureRandom random = new SecureRandom();
  private final Clock clock;
  private long lastMillis;
  private int counter;

  /**
   * Goes on from the ids that are kept, so that order holds where the clock was set back.
   *
   * @param latest the greatest id there is; empty for none
   */
  public Ids(Clock clock, Optional<String> latest) {
    this.clock = clock;
    if (latest.isPresent()) {
      long high = UUID.fromString(latest.get()).getMostSignificantBits();
      this.lastMillis = high >>> 16;
      this.counter = (int) high & COUNTER_MASK;
    }
  }

  /**
   * Returns what ids sort by, as a number: the time and the counter of one, 60 bits. No two that
   * were made here have the same.
   *
   * @return -1 for what is no UUID
   */
  public static long order(String id) {
    try {
      long high = UUID.fromString(id).getMostSignificantBits();
      return high >>> 16 << COUNTER_BITS | high & COUNTER_MASK;
    } catch (IllegalArgumentException e) {
      return -1;
    }
  }

  /** Returns a new id, greater than all before it. Thread-safe. */
  public synchronized String next() {
    long now = clock.millis();
    if (now > lastMillis) {
      lastMillis = now;
      counter = random.nextInt(1 << (COUNTER_BITS - 1));
    } else if (++counter > COUNTER_MASK) {
      // The counter ran over, or the clock went back: stay ahead of it.
      lastMillis++;
      counter = random.nextInt(1 << (COUNTER_BITS - 1));
    }
    long high = lastMillis << 16 | 0x7000 | counter;
    long low = random.nextLong() >>> 2 | 0x8000_0000_0000_0000L;
    return new UUID(high, low).toString();
  }
}
