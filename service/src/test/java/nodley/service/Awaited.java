package nodley.service;

import java.time.Duration;
import java.util.concurrent.Callable;
import java.util.concurrent.locks.LockSupport;

/** Waits until something is so, and fails if it does not come to be. */
public final class Awaited {

  private static final Duration LONGEST = Duration.ofSeconds(30);
  private static final Duration BETWEEN = Duration.ofMillis(20);

  private Awaited() {}

  public static void until(String what, Callable<Boolean> is) {
    long end = System.nanoTime() + LONGEST.toNanos();
    try {
      while (!is.call()) {
        if (System.nanoTime() > end) {
          throw new AssertionError("After " + LONGEST + " it is not so: " + what);
        }
        LockSupport.parkNanos(BETWEEN.toNanos());
      }
    } catch (Exception e) {
      throw new AssertionError(what, e);
    }
  }
}
