package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.locks.ReentrantLock;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;

/**
 * Runs all writes of a data folder one after the other, and commits those that wait together (group
 * commit), on a thread of its own. A write that comes alone is run and committed on the thread of
 * its caller, which saves two changes of threads: a quarter of the time of an add. A caller gets
 * its result only after the commit. Thread-safe.
 *
 * <p>On a virtual thread, SQLite keeps the carrier while it writes. So no more than one write at a
 * time runs on its caller's thread, and none for a moment after several came at once, or after a
 * commit that took long.
 *
 * <p>A write may run up to three times, as {@link GroupCommit} says, and must have no effect but on
 * its connection. Writes that change tables are committed alone.
 */
public final class BatchWriter implements AutoCloseable {

  private static final int BATCH = 128;

  /** After so long without a commit to join, deferred writes get one of their own. */
  private static final long DEFERRED_MILLIS = 100;

  /** How long whoever reads what was deferred waits for it. */
  private static final long FLUSH_MILLIS = 200;

  private static final int CHECKS = 20;

  /** So many writes at once are more than a quiet service has. */
  private static final int BUSY = 4;

  /** So long it counts as busy, since batches of a busy service differ. */
  private static final Duration MOMENT = Duration.ofMillis(50);

  /** A commit that takes longer is not a caller's to wait for with a carrier. */
  private static final Duration LONG_COMMIT = Duration.ofMillis(20);

  private static final Duration AFTER_LONG_COMMIT = Duration.ofSeconds(1);

  private final BlockingQueue<Write<?>> queue;
  private final DeferredWrites deferred = new DeferredWrites();

  /** What commits them. Guarded by {@link #turn}. */
  private final GroupCommit commits;

  /** Has a permit when something was put into the queue. */
  private final Semaphore news = new Semaphore(0);

  /** Several writes were ready at once. */
  private final Recently busy = new Recently();

  /** Callers' threads do not write. */
  private final Recently shared = new Recently();

  /** Held by whoever writes: the writer thread or a caller. */
  private final ReentrantLock turn = new ReentrantLock();

  private final Duration queueTimeout;
  private final Thread thread;
  private volatile boolean closing;

  /** What a write does, inside a transaction. */
  public interface Work<T> {
    T run(Connection connection) throws SQLException;
  }

  /** A write that nobody waits for, or a task before a commit. */
  public interface DeferredWrite {
    void run(Connection connection) throws SQLException;
  }

  /** Writes with the default limits, to a file whose presence is not checked. */
  public BatchWriter(Connection connection) {
    this(connection, StoreLimits.DEFAULT.waiting(), StoreLimits.DEFAULT.turn(), () -> {});
  }

  /**
   * Starts the writer thread.
   *
   * @param waiting how many writes may wait; beyond, a caller gets {@link StoreException.Busy}
   * @param queueTimeout how long a write may wait; once begun it is never given up
   * @param fileCheck throws if the file is gone; called before and after each commit
   */
  public BatchWriter(
      Connection connection, int waiting, Duration queueTimeout, Runnable fileCheck) {
    this.queue = new ArrayBlockingQueue<>(waiting);
    this.commits = new GroupCommit(connection, deferred, fileCheck);
    this.queueTimeout = queueTimeout;
    this.thread = Thread.ofPlatform().name("writer").start(this::loop);
    Thread.ofVirtual().name("write-timeouts").start(this::expireOverdue);
  }

  /**
   * Runs a write and blocks until it is committed; returns its result, or throws what it threw.
   *
   * @throws IllegalStateException from inside another write
   * @throws StoreException.Busy if the queue is full or the timeout is over
   * @throws StoreException.Unavailable if SQLite fails, or the writer is closed
   */
  public <T> T write(Work<T> work) {
    return write(new Write<>(work, false, () -> {}, queueTimeout));
  }

  /** The same for a write that changes tables: it is alone in its commit. */
  public <T> T writeAlone(Work<T> work, Runnable afterCommit) {
    return write(new Write<>(work, true, afterCommit, queueTimeout));
  }

  private <T> T write(Write<T> write) {
    if (closing) {
      throw new StoreException.Unavailable("The store is closing.", null);
    }
    if (turn.isHeldByCurrentThread()) {
      throw new IllegalStateException("A write has begun another, and would wait for itself.");
    }
    if (!runAlone(write)) {
      enqueue(write);
      if (!thread.isAlive()) {
        // It was closed since the check above; the future would never be completed.
        throw new StoreException.Unavailable("The store is closing.", null);
      }
    }
    try {
      return write.answer().join();
    } catch (CompletionException e) {
      throw switch (e.getCause()) {
        case RuntimeException own -> own;
        case Error own -> throw own;
        case Throwable other ->
            new StoreException.Unavailable("The store cannot be written now.", other);
      };
    }
  }

  private void enqueue(Write<?> write) {
    if (!queue.offer(write)) {
      throw new StoreException.Busy();
    }
    news.release();
  }

  /** Runs and commits a write on this thread, if it is alone; false if it has to be queued. */
  private boolean runAlone(Write<?> write) {
    if (write.isAlone() || shared.isSeen()) {
      return false;
    }
    if (!turn.tryLock()) {
      shared.note(MOMENT);
      return false;
    }
    try {
      if (closing || !queue.isEmpty()) {
        return false;
      }
      long begun = System.nanoTime();
      commits.commit(List.of(write));
      if (System.nanoTime() - begun > LONG_COMMIT.toNanos()) {
        shared.note(AFTER_LONG_COMMIT);
      }
      return true;
    } finally {
      turn.unlock();
    }
  }

  /**
   * Runs a task before the commit, after all writes of the batch: for work that is cheaper for many
   * at once. Called from inside a write; if that is rolled back, its tasks do not run.
   */
  void beforeCommit(DeferredWrite write) {
    commits.beforeCommit(write);
  }

  /**
   * Runs a task after the commit, in the order of the writes, before the next one begins; never if
   * the write is rolled back. Called from inside a write. State in memory is changed here.
   */
  public void afterCommit(Runnable action) {
    commits.afterCommit(action);
  }

  /** Undoes what the write that runs now has changed so far. Called from inside a write. */
  public void rollBackWrite() throws SQLException {
    commits.rollBackWrite();
  }

  /**
   * Queues a write that nobody waits for; returns at once. It joins the next commit, or gets its
   * own after 100 ms. Best effort: it is lost, with a warning, if 8 192 wait already or if it
   * fails.
   */
  public void writeLater(DeferredWrite write) {
    deferred.add(write);
  }

  /**
   * Waits until the deferred writes that are in the queue now are committed, so that whoever reads
   * next finds them; for 200 ms at most. If the writer has something long to do, or cannot write,
   * the reader goes without.
   */
  public void flush() {
    long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(FLUSH_MILLIS);
    for (int left = deferred.size(); left >= 0; left -= DeferredWrites.PORTION) {
      // Whatever is committed takes deferred writes with it.
      Write<Integer> nothing = new Write<>(_ -> 0, false, () -> {}, queueTimeout);
      if (closing) {
        return;
      }
      try {
        enqueue(nothing);
        nothing.answer().get(end - System.nanoTime(), TimeUnit.NANOSECONDS);
      } catch (StoreException.Busy | ExecutionException | TimeoutException e) {
        return;
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  /** Checks the oldest write at intervals, which is cheaper than a timer for each. */
  private void expireOverdue() {
    try {
      while (!closing) {
        Write<?> oldest = queue.peek();
        boolean overdue = oldest != null && oldest.isOverdue();
        if (overdue && queue.remove(oldest)) {
          oldest.answer().completeExceptionally(new StoreException.Busy());
        } else {
          Thread.sleep(queueTimeout.dividedBy(CHECKS));
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** Returns how many writes are in the queue. */
  int waiting() {
    return queue.size();
  }

  /** True if several writes were ready at once a moment ago, so that others wait for some. */
  public boolean isBusy() {
    return busy.isSeen();
  }

  private void loop() {
    while (!closing || !queue.isEmpty() || !deferred.isEmpty()) {
      try {
        if (!closing && queue.isEmpty() && deferred.size() < DeferredWrites.PORTION) {
          var _ = news.tryAcquire(DEFERRED_MILLIS, TimeUnit.MILLISECONDS);
        }
        news.drainPermits();
      } catch (InterruptedException e) {
        // It is being closed: the loop ends once the queue is empty.
      }
      if (!queue.isEmpty() || !deferred.isEmpty()) {
        commitNext();
      }
    }
    // A caller may still be writing.
    commitNext();
  }

  /** Commits those that wait, once no caller writes. */
  private void commitNext() {
    turn.lock();
    try {
      List<Write<?>> batch = batch();
      if (batch.size() > 1) {
        shared.note(MOMENT);
      }
      if (batch.size() >= BUSY) {
        busy.note(MOMENT);
      }
      if (!batch.isEmpty() && batch.getFirst().isAlone()) {
        commits.commit(List.of());
        commits.commitAlone(batch.getFirst());
      } else {
        commits.commit(batch);
      }
    } finally {
      turn.unlock();
    }
  }

  /** Takes those that wait, up to one that has a commit to itself; or that one, if it is first. */
  private List<Write<?>> batch() {
    List<Write<?>> batch = new ArrayList<>();
    while (batch.size() < BATCH) {
      Write<?> next = queue.peek();
      if (next == null || next.isAlone() && !batch.isEmpty()) {
        break;
      }
      // Its time may have been over meanwhile.
      if (queue.remove(next)) {
        batch.add(next);
      }
      if (next.isAlone()) {
        break;
      }
    }
    return batch;
  }

  /** Runs what is in the queue, then ends the thread. The connection stays open. */
  @Override
  public void close() {
    closing = true;
    thread.interrupt();
    try {
      thread.join();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
