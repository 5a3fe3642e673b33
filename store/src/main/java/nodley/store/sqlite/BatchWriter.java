package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicLong;
import nodley.store.common.OnceAMinute;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs all writes of a data folder on one thread, and commits those that wait together (group
 * commit). A caller gets its result only after the commit. Thread-safe.
 *
 * <p>A batch is first run without savepoints. If a write has to be rolled back, the batch is rolled
 * back and run again, each write behind a savepoint of its own, so that one that fails does not
 * affect the others. (Savepoints for every batch would cost a quarter of the time: SQLite copies
 * each page that changes behind one.) If the commit itself fails, each write runs again in a
 * transaction of its own. So a write may run up to three times, and must have no effect but on its
 * connection. Writes that change tables are committed alone.
 */
public final class BatchWriter implements AutoCloseable {

  private static final int BATCH = 128;

  /** How many deferred writes may wait; more are lost, with a warning. */
  private static final int MAX_DEFERRED = 8_192;

  /** How many deferred writes join one commit. */
  private static final int DEFERRED_BATCH = 256;

  /** After so long without a commit to join, deferred writes get one of their own. */
  private static final long DEFERRED_MILLIS = 100;

  /** How long whoever reads what was deferred waits for it. */
  private static final long FLUSH_MILLIS = 200;

  private static final int CHECKS = 20;

  private static final Logger LOG = LoggerFactory.getLogger(BatchWriter.class);

  /** So many writes at once are more than a quiet service has. */
  private static final int BUSY = 4;

  /** So long it counts as busy, since batches of a busy service differ. */
  private static final long BUSY_NANOS = TimeUnit.MILLISECONDS.toNanos(50);

  private final BlockingQueue<Write<?>> queue;
  private volatile long busyUntil = System.nanoTime();
  private final BlockingQueue<DeferredWrite> deferred = new ArrayBlockingQueue<>(MAX_DEFERRED);
  private final AtomicLong lost = new AtomicLong();
  private final OnceAMinute losses = new OnceAMinute();
  private final OnceAMinute failures = new OnceAMinute();
  private final Connection connection;
  private final Duration queueTimeout;
  private final Runnable fileCheck;
  private final Thread thread;
  private volatile boolean closing;

  /** True while the writes of a batch run behind savepoints. For the writer thread only. */
  private boolean savepoints;

  /** Tasks before the commit of the write that runs now. For the writer thread only. */
  private List<DeferredWrite> currentBeforeCommits = new ArrayList<>();

  /** Tasks after the commit of the write that runs now. For the writer thread only. */
  private List<Runnable> currentAfterCommits = new ArrayList<>();

  /** What a write does, inside a transaction. */
  public interface Work<T> {
    T run(Connection connection) throws SQLException;
  }

  /** A write that nobody waits for, or a task before a commit. */
  public interface DeferredWrite {
    void run(Connection connection) throws SQLException;
  }

  /** One write in the queue, and the future that its caller waits for. */
  private final class Write<T> {
    private final Work<T> work;
    private final boolean alone;
    private final Runnable afterCommit;
    private final CompletableFuture<T> answer = new CompletableFuture<>();
    private final long overdue = System.nanoTime() + queueTimeout.toNanos();
    private List<DeferredWrite> beforeCommits = List.of();
    private List<Runnable> afterCommits = List.of();
    private T result;
    private Throwable failure;

    Write(Work<T> work, boolean alone, Runnable afterCommit) {
      this.work = work;
      this.alone = alone;
      this.afterCommit = afterCommit;
    }

    /** Runs it. Throws only if the transaction as a whole has to be rolled back. */
    void run() throws SQLException {
      failure = null;
      if (!savepoints) {
        runWithoutSavepoint();
        return;
      }
      Sql.execute(connection, "SAVEPOINT write");
      try {
        begin();
      } catch (SQLException | RuntimeException | Error e) {
        // Errors too: they are the caller's, and must not end the writer thread.
        fail(e);
        Sql.execute(connection, "ROLLBACK TO write");
      }
      Sql.execute(connection, "RELEASE write");
    }

    /** A write that fails before it has changed anything fails alone. */
    private void runWithoutSavepoint() throws SQLException {
      long before = Sql.changes(connection);
      try {
        begin();
      } catch (NeedsSavepoints e) {
        throw e;
      } catch (SQLException | RuntimeException | Error e) {
        // After some errors SQLite has rolled the transaction back by itself.
        if (isOfSqlite(e) || Sql.changes(connection) != before) {
          throw new NeedsSavepoints();
        }
        fail(e);
      }
    }

    private void fail(Throwable why) {
      failure = why;
      beforeCommits = List.of();
      afterCommits = List.of();
    }

    void begin() throws SQLException {
      currentBeforeCommits = new ArrayList<>();
      currentAfterCommits = new ArrayList<>();
      result = work.run(connection);
      beforeCommits = currentBeforeCommits;
      afterCommits = currentAfterCommits;
    }

    void runBeforeCommit() throws SQLException {
      currentAfterCommits = afterCommits;
      for (DeferredWrite write : beforeCommits) {
        write.run(connection);
      }
    }

    /** Completes the future. Called after the commit: nothing can be rolled back any more. */
    void answer() {
      if (failure != null) {
        answer.completeExceptionally(failure);
        return;
      }
      try {
        afterCommits.forEach(Runnable::run);
        afterCommit.run();
        answer.complete(result);
      } catch (RuntimeException | Error e) {
        answer.completeExceptionally(e);
      }
    }
  }

  /** Ends a batch that runs without savepoints and needs them. */
  private static final class NeedsSavepoints extends RuntimeException {
    private static final long serialVersionUID = 1;

    NeedsSavepoints() {
      super("The batch is run again, with savepoints.", null, false, false);
    }
  }

  private static boolean isOfSqlite(Throwable e) {
    for (Throwable it = e; it != null; it = it.getCause()) {
      if (it instanceof SQLException) {
        return true;
      }
    }
    return false;
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
    this.fileCheck = fileCheck;
    this.connection = connection;
    this.queueTimeout = queueTimeout;
    this.thread = Thread.ofPlatform().name("writer").start(this::loop);
    Thread.ofVirtual().name("write-timeouts").start(this::expireOverdue);
  }

  /**
   * Runs a write and blocks until it is committed; returns its result, or throws what it threw. Not
   * from inside another write: it would wait for itself until the timeout.
   *
   * @throws StoreException.Busy if the queue is full or the timeout is over
   * @throws StoreException.Unavailable if SQLite fails, or the writer is closed
   */
  public <T> T write(Work<T> work) {
    return write(new Write<>(work, false, () -> {}));
  }

  /** The same for a write that changes tables: it is alone in its commit. */
  public <T> T writeAlone(Work<T> work, Runnable afterCommit) {
    return write(new Write<>(work, true, afterCommit));
  }

  private <T> T write(Write<T> write) {
    if (closing) {
      throw new StoreException.Unavailable("The store is closing.", null);
    }
    if (!queue.offer(write)) {
      throw new StoreException.Busy();
    }
    if (!thread.isAlive()) {
      // It was closed since the check above; the future would never be completed.
      throw new StoreException.Unavailable("The store is closing.", null);
    }
    try {
      return write.answer.join();
    } catch (CompletionException e) {
      throw switch (e.getCause()) {
        case RuntimeException own -> own;
        case Error own -> throw own;
        case Throwable other ->
            new StoreException.Unavailable("The store cannot be written now.", other);
      };
    }
  }

  /**
   * Runs a task before the commit, after all writes of the batch: for work that is cheaper for many
   * at once. Called from inside a write; if that is rolled back, its tasks do not run.
   */
  void beforeCommit(DeferredWrite write) {
    currentBeforeCommits.add(write);
  }

  /**
   * Runs a task after the commit, in the order of the writes, on the writer thread; never if the
   * write is rolled back. Called from inside a write. State in memory is changed here.
   */
  public void afterCommit(Runnable action) {
    currentAfterCommits.add(action);
  }

  /** Undoes what the write that runs now has changed so far. Called from inside a write. */
  public void rollBackWrite() throws SQLException {
    if (!savepoints) {
      throw new NeedsSavepoints();
    }
    Sql.execute(connection, "ROLLBACK TO write");
    currentBeforeCommits.clear();
    currentAfterCommits.clear();
  }

  /**
   * Queues a write that nobody waits for; returns at once. It joins the next commit, or gets its
   * own after 100 ms. Best effort: it is lost, with a warning, if 8 192 wait already or if it
   * fails.
   */
  public void writeLater(DeferredWrite write) {
    if (!deferred.offer(write)) {
      lost.incrementAndGet();
    }
  }

  /**
   * Waits until the deferred writes that are in the queue now are committed, so that whoever reads
   * next finds them; for 200 ms at most. If the writer has something long to do, or cannot write,
   * the reader goes without.
   */
  public void flush() {
    long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(FLUSH_MILLIS);
    for (int left = deferred.size(); left >= 0; left -= DEFERRED_BATCH) {
      // Whatever is committed takes deferred writes with it.
      Write<Integer> nothing = new Write<>(_ -> 0, false, () -> {});
      if (closing || !queue.offer(nothing)) {
        return;
      }
      try {
        nothing.answer.get(end - System.nanoTime(), TimeUnit.NANOSECONDS);
      } catch (ExecutionException | TimeoutException e) {
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
        boolean overdue = oldest != null && System.nanoTime() - oldest.overdue > 0;
        if (overdue && queue.remove(oldest)) {
          oldest.answer.completeExceptionally(new StoreException.Busy());
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
    return busyUntil - System.nanoTime() > 0;
  }

  private void loop() {
    List<Write<?>> batch = new ArrayList<>();
    while (!closing || !queue.isEmpty() || !deferred.isEmpty()) {
      try {
        boolean mayWait = !closing && deferred.size() < DEFERRED_BATCH;
        Write<?> first = queue.poll(mayWait ? DEFERRED_MILLIS : 0, TimeUnit.MILLISECONDS);
        if (first != null) {
          batch.add(first);
          fillBatch(batch);
        }
        if (batch.size() >= BUSY) {
          busyUntil = System.nanoTime() + BUSY_NANOS;
        }
        if (first != null || !deferred.isEmpty()) {
          commitAll(batch);
        }
      } catch (InterruptedException e) {
        // It is being closed: the loop ends once the queue is empty.
      } finally {
        batch.clear();
      }
    }
  }

  /**
   * Fills a batch up to a write that must be alone, which stays in the queue with all behind it.
   */
  private void fillBatch(List<Write<?>> batch) {
    while (batch.size() < BATCH && !batch.getLast().alone) {
      Write<?> next = queue.peek();
      if (next == null || next.alone || !queue.remove(next)) {
        return;
      }
      batch.add(next);
    }
  }

  private void commitAll(List<Write<?>> batch) {
    int from = 0;
    for (int i = 0; i < batch.size(); i++) {
      if (batch.get(i).alone) {
        commit(batch.subList(from, i));
        commitAlone(batch.get(i));
        from = i + 1;
      }
    }
    commit(batch.subList(from, batch.size()));
  }

  /** Commits one write alone; if it fails, the transaction is rolled back. */
  private void commitAlone(Write<?> write) {
    try {
      Sql.execute(connection, "BEGIN IMMEDIATE");
      write.begin();
      write.runBeforeCommit();
      Sql.execute(connection, "COMMIT");
      fileCheck.run();
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      write.answer.completeExceptionally(e);
      return;
    }
    write.answer();
  }

  private void commit(List<Write<?>> batch) {
    List<DeferredWrite> joining = new ArrayList<>();
    deferred.drainTo(joining, DEFERRED_BATCH);
    if (batch.isEmpty() && joining.isEmpty()) {
      return;
    }
    if (lost.get() > 0 && losses.isDue()) {
      LOG.warn(
          "The log of attempts cannot keep up: {} entries are lost so far.", lost.getAndSet(0));
    }
    List<Runnable> afterDeferred;
    try {
      afterDeferred = transaction(batch, joining);
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      if (!joining.isEmpty()) {
        lose(joining.size(), e);
      }
      if (batch.size() > 1) {
        List.copyOf(batch).forEach(write -> commit(List.of(write)));
      } else if (!batch.isEmpty()) {
        batch.getFirst().answer.completeExceptionally(e);
      }
      return;
    }
    afterDeferred.forEach(Runnable::run);
    batch.forEach(Write::answer);
  }

  /**
   * Commits a batch and the deferred writes that join it.
   *
   * @return the tasks after the commit of the deferred writes
   */
  private List<Runnable> transaction(List<Write<?>> batch, List<DeferredWrite> joining)
      throws SQLException {
    savepoints = false;
    try {
      return runAll(batch, joining);
    } catch (NeedsSavepoints e) {
      rollBack();
      savepoints = true;
      return runAll(batch, joining);
    }
  }

  private List<Runnable> runAll(List<Write<?>> batch, List<DeferredWrite> joining)
      throws SQLException {
    fileCheck.run();
    Sql.execute(connection, "BEGIN IMMEDIATE");
    for (Write<?> write : batch) {
      write.run();
    }
    List<Runnable> afterDeferred = runDeferred(joining);
    for (Write<?> write : batch) {
      write.runBeforeCommit();
    }
    Sql.execute(connection, "COMMIT");
    fileCheck.run();
    return afterDeferred;
  }

  /**
   * Runs deferred writes. They never make others fail: if one fails, all of them are left out.
   *
   * @return their tasks after the commit
   */
  private List<Runnable> runDeferred(List<DeferredWrite> joining) throws SQLException {
    currentAfterCommits = new ArrayList<>();
    if (joining.isEmpty()) {
      return List.of();
    }
    if (savepoints) {
      Sql.execute(connection, "SAVEPOINT deferred");
    }
    try {
      for (DeferredWrite write : joining) {
        write.run(connection);
      }
    } catch (SQLException | RuntimeException | Error e) {
      if (!savepoints) {
        throw new NeedsSavepoints();
      }
      lose(joining.size(), e);
      Sql.execute(connection, "ROLLBACK TO deferred");
      currentAfterCommits.clear();
    }
    if (savepoints) {
      Sql.execute(connection, "RELEASE deferred");
    }
    return currentAfterCommits;
  }

  /** Counts lost deferred writes. Warns once a minute: with a full disk each commit loses some. */
  private void lose(int entries, Throwable why) {
    lost.addAndGet(entries);
    if (failures.isDue()) {
      LOG.warn("Entries of the log of attempts are lost: {}", why.getMessage());
    }
  }

  private void rollBack() {
    try {
      Sql.execute(connection, "ROLLBACK");
    } catch (SQLException e) {
      // SQLite has rolled back by itself, as it does if the disk is full.
    }
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
