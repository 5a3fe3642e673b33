package nodley.store.common;

import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;

/**
 * Limits a kind of log line to one a minute, so that no attack fills the log. One instance for each
 * kind. Thread-safe, without locks.
 */
public final class OnceAMinute {

  private static final long MINUTE = TimeUnit.MINUTES.toNanos(1);

  private final AtomicLong last = new AtomicLong(System.nanoTime() - MINUTE);

  /** True for one call a minute, on whatever thread. */
  public boolean isDue() {
    long now = System.nanoTime();
    long before = last.get();
    return now - before >= MINUTE && last.compareAndSet(before, now);
  }
}
