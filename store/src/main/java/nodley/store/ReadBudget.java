package nodley.store;

import java.time.Duration;
import java.util.function.Supplier;

/**
 * How long the reads of a thread may take. Past it the statement that is under way ends by itself,
 * so that a costly list cannot hold a processor for longer, whoever waits for it, or no longer
 * does.
 */
public final class ReadBudget {

  private static final ThreadLocal<Long> END = new ThreadLocal<>();

  private ReadBudget() {}

  /**
   * Reads on this thread.
   *
   * @throws StoreException.TookTooLong if it is not done by then
   */
  public static <T> T within(Duration most, Supplier<T> read) {
    END.set(System.nanoTime() + most.toNanos());
    try {
      return read.get();
    } finally {
      END.remove();
    }
  }

  /** True if the time of this thread's reads is over; false where they have no such limit. */
  static boolean isOver() {
    Long end = END.get();
    return end != null && System.nanoTime() - end > 0;
  }
}
