package nodley.store.sqlite;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.atomic.AtomicLong;
import nodley.store.common.OnceAMinute;
import nodley.store.sqlite.BatchWriter.DeferredWrite;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Writes that nobody waits for, until they join a commit. Best effort: what is lost is counted, and
 * told in the log once a minute, since with a full disk each commit loses some. Thread-safe.
 */
final class DeferredWrites {

  /** How many join one commit. */
  static final int PORTION = 256;

  /** How many may wait; more are lost. */
  private static final int MOST = 8_192;

  private static final Logger LOG = LoggerFactory.getLogger(DeferredWrites.class);

  private final BlockingQueue<DeferredWrite> queue = new ArrayBlockingQueue<>(MOST);
  private final AtomicLong lost = new AtomicLong();
  private final OnceAMinute losses = new OnceAMinute();
  private final OnceAMinute failures = new OnceAMinute();

  /** Adds one; returns at once. */
  void add(DeferredWrite write) {
    if (!queue.offer(write)) {
      lost.incrementAndGet();
    }
  }

  int size() {
    return queue.size();
  }

  boolean isEmpty() {
    return queue.isEmpty();
  }

  /** Takes those that join the next commit. */
  List<DeferredWrite> take() {
    List<DeferredWrite> portion = new ArrayList<>();
    queue.drainTo(portion, PORTION);
    if (lost.get() > 0 && losses.isDue()) {
      LOG.warn(
          "The log of attempts cannot keep up: {} entries are lost so far.", lost.getAndSet(0));
    }
    return portion;
  }

  /** Notes that some that had been taken could not be written. */
  void lose(int entries, Throwable why) {
    if (entries == 0) {
      return;
    }
    lost.addAndGet(entries);
    if (failures.isDue()) {
      LOG.warn("Entries of the log of attempts are lost: {}", why.getMessage());
    }
  }
}
