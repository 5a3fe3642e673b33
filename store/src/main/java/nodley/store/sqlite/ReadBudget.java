package nodley.store.sqlite;

import java.time.Duration;
import java.util.function.Supplier;
import nodley.store.common.StoreException;

/**
 * Limits the time of the reads on one thread. When it is over, or when the budget is cancelled,
 * SQLite interrupts the running statement. A budget is used once; any thread may cancel it.
 */
public final class ReadBudget {

  private static final ThreadLocal<ReadBudget> CURRENT = new ThreadLocal<>();

  private final long nanos;
  private volatile boolean cancelled;
  private long end;

  /** A budget that begins now. */
  public ReadBudget(Duration most) {
    this.nanos = most.toNanos();
  }

  /**
   * Reads on this thread; the time runs from now on.
   *
   * @throws StoreException.TookTooLong if it is not done by then, or is cancelled
   */
  public <T> T run(Supplier<T> read) {
    end = System.nanoTime() + nanos;
    CURRENT.set(this);
    try {
      if (cancelled) {
        throw new StoreException.TookTooLong();
      }
      return read.get();
    } finally {
      CURRENT.remove();
    }
  }

  /** Ends what reads, or what is about to. */
  public void cancel() {
    cancelled = true;
  }

  /** True if this thread's reads are to end; false where they have no such limit. */
  public static boolean isOver() {
    ReadBudget budget = CURRENT.get();
    return budget != null && (budget.cancelled || System.nanoTime() - budget.end > 0);
  }
}
