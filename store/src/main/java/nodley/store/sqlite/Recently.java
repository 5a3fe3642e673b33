package nodley.store.sqlite;

import java.time.Duration;
import java.util.concurrent.atomic.AtomicLong;

/** Whether something was seen a moment ago. Thread-safe, without locks. */
final class Recently {

  /** By {@link System#nanoTime}. */
  private final AtomicLong until = new AtomicLong(System.nanoTime());

  /**
   * Notes that it was seen, which is recent for so long from now on; never for less than before.
   */
  void note(Duration time) {
    until.accumulateAndGet(
        System.nanoTime() + time.toNanos(), (before, now) -> before - now > 0 ? before : now);
  }

  boolean isSeen() {
    return until.get() - System.nanoTime() > 0;
  }
}
