package nodley.store.sqlite;

import java.time.Duration;

/** Whether something was seen a moment ago. Thread-safe, without locks. */
final class Recently {

  private volatile long until = System.nanoTime();

  /** Notes that it was seen; it counts as recent for so long from now on. */
  void note(Duration how) {
    until = System.nanoTime() + how.toNanos();
  }

  boolean isSeen() {
    return until - System.nanoTime() > 0;
  }
}
