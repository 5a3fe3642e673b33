package nodley.store.sqlite;

import java.time.Duration;

/** Whether something was seen a moment ago. Thread-safe, without locks. */
final class Recently {

  private volatile long until = System.nanoTime();

  /** Notes that it was seen; for so long from now on that counts as recent. */
  void note(Duration time) {
    until = System.nanoTime() + time.toNanos();
  }

  boolean isSeen() {
    return until - System.nanoTime() > 0;
  }
}
