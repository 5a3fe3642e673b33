package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ArrayBlockingQueue;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs all writes of a data folder on one thread, and commits those that wait together (group
 * commit). Every answer leaves after the commit.
 *
 * <p>A batch is first run without savepoints. If a piece has to be rolled back, the batch is rolled
 * back and run again, each piece behind a savepoint of its own, so that one that fails does not
 * touch its neighbours: savepoints for all would cost a quarter of the time, since SQLite copies
 * each page that changes behind one. A batch whose commit fails is run again piece by piece. So a
 * piece may run up to three times, and must have no effect but on its connection. What changes
 * tables has a commit to itself.
 */
final class BatchWriter implements AutoCloseable {

  private static final int BATCH = 128;

  /** What rides along may wait as many at a time; what is over is lost, and told to the log. */
  private static final int RIDERS = 8_192;

  /** So many ride in one commit. */
  private static final int RIDING = 256;

  /** So long it waits for a commit to ride in before it gets one of its own. */
  private static final long RIDE_MILLIS = 100;

  private static final int LOOKS = 20;

  private static final Logger LOG = LoggerFactory.getLogger(BatchWriter.class);

  private final BlockingQueue<Job<?>> queue;
  private final BlockingQueue<Errand> riders = new ArrayBlockingQueue<>(RIDERS);
  private final AtomicLong lost = new AtomicLong();
  private final OnceAMinute losses = new OnceAMinute();
  private final OnceAMinute failures = new OnceAMinute();
  private final Connection connection;
  private final Duration patience;
  private final Runnable presence;
  private final Thread thread;
  private volatile boolean closing;

  /** True while the pieces of a batch run behind savepoints; the writer's own. */
  private boolean savepoints;

  /** What the piece that runs now leaves to be done before the commit; the writer's own. */
  private List<Errand> left = new ArrayList<>();

  /** What follows the commit of the piece that runs now; the writer's own. */
  private List<Runnable> following = new ArrayList<>();

  /** A piece of writing, run inside a transaction. */
  interface Work<T> {
    T run(Connection connection) throws SQLException;
  }

  /** A piece of writing that nobody waits for. */
  interface Errand {
    void run(Connection connection) throws SQLException;
  }

  /** A piece of work, what follows its commit, and the one who waits for it. */
  private final class Job<T> {
    private final Work<T> work;
    private final boolean alone;
    private final Runnable afterCommit;
    private final CompletableFuture<T> answer = new CompletableFuture<>();
    private final long overdue = System.nanoTime() + patience.toNanos();
    private List<Errand> errands = List.of();
    private List<Runnable> follows = List.of();
    private T result;
    private Throwable failure;

    Job(Work<T> work, boolean alone, Runnable afterCommit) {
      this.work = work;
      this.alone = alone;
      this.afterCommit = afterCommit;
    }

    /** Fails only if the transaction around it can no longer be trusted. */
    void run() throws SQLException {
      failure = null;
      if (!savepoints) {
        runWithoutSavepoint();
        return;
      }
      Sql.execute(connection, "SAVEPOINT job");
      try {
        begin();
      } catch (SQLException | RuntimeException | Error e) {
        // An error too: it is its caller's, and must not end the writing of all others.
        fail(e);
        Sql.execute(connection, "ROLLBACK TO job");
      }
      Sql.execute(connection, "RELEASE job");
    }

    /** What has written nothing can fail alone. */
    private void runWithoutSavepoint() throws SQLException {
      long before = Sql.changes(connection);
      try {
        begin();
      } catch (NeedsSavepoints e) {
        throw e;
      } catch (SQLException | RuntimeException | Error e) {
        // After some errors SQLite has rolled back by itself.
        if (isOfSqlite(e) || Sql.changes(connection) != before) {
          throw new NeedsSavepoints();
        }
        fail(e);
      }
    }

    private void fail(Throwable why) {
      failure = why;
      errands = List.of();
      follows = List.of();
    }

    void begin() throws SQLException {
      left = new ArrayList<>();
      following = new ArrayList<>();
      result = work.run(connection);
      errands = left;
      follows = following;
    }

    void runErrands() throws SQLException {
      following = follows;
      for (Errand errand : errands) {
        errand.run(connection);
      }
    }

    /** Only after the commit: what goes wrong here can no longer be taken back. */
    void answer() {
      if (failure != null) {
        answer.completeExceptionally(failure);
        return;
      }
      try {
        follows.forEach(Runnable::run);
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

  BatchWriter(Connection connection) {
    this(connection, StoreLimits.DEFAULT.waiting(), StoreLimits.DEFAULT.turn(), () -> {});
  }

  /**
   * Writes by a connection.
   *
   * @param waiting so many pieces may wait; one more is told to come again
   * @param patience so long a piece waits for its turn; one that has begun is never given up
   * @param presence throws if what is written would be lost; asked before and after each commit
   */
  BatchWriter(Connection connection, int waiting, Duration patience, Runnable presence) {
    this.queue = new ArrayBlockingQueue<>(waiting);
    this.presence = presence;
    this.connection = connection;
    this.patience = patience;
    this.thread = Thread.ofPlatform().name("writer").start(this::loop);
    Thread.ofVirtual().name("patience").start(this::giveUpWhatIsOverdue);
  }

  /**
   * Runs the work, waits for its commit, and gives its result or throws what it threw.
   *
   * @throws StoreException.Busy if its turn does not come
   */
  <T> T write(Work<T> work) {
    return write(new Job<>(work, false, () -> {}));
  }

  /** The same for work that others must not be half done beside: nothing else is in its commit. */
  <T> T writeAlone(Work<T> work, Runnable afterCommit) {
    return write(new Job<>(work, true, afterCommit));
  }

  private <T> T write(Job<T> job) {
    if (closing) {
      throw new StoreException.Unavailable("The store is closing.", null);
    }
    if (!queue.offer(job)) {
      throw new StoreException.Busy();
    }
    if (!thread.isAlive()) {
      // Closed between the two lines above; nobody would ever answer.
      throw new StoreException.Unavailable("The store is closing.", null);
    }
    try {
      return job.answer.join();
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
   * Leaves something to be done after all pieces of a commit, within it: what is quicker for many
   * at once. Only for a piece that runs now; if it is refused, so is its errand.
   */
  void beforeCommit(Errand errand) {
    left.add(errand);
  }

  /**
   * Has something done once the piece that runs now is committed, in the order of the pieces, on
   * this thread; never if it is rolled back. What is counted in memory is counted here.
   */
  void afterCommit(Runnable follow) {
    following.add(follow);
  }

  /** Takes back all that the piece that runs now has written so far, so that it reads as before. */
  void takeBack() throws SQLException {
    if (!savepoints) {
      throw new NeedsSavepoints();
    }
    Sql.execute(connection, "ROLLBACK TO job");
    left.clear();
    following.clear();
  }

  /** Has an errand done within the next commit, or in one of its own if none comes soon. */
  void later(Errand errand) {
    if (!riders.offer(errand)) {
      lost.incrementAndGet();
    }
  }

  /** Looks at the oldest now and then: that costs less than a clock for each. */
  private void giveUpWhatIsOverdue() {
    try {
      while (!closing) {
        Job<?> oldest = queue.peek();
        boolean overdue = oldest != null && System.nanoTime() - oldest.overdue > 0;
        if (overdue && queue.remove(oldest)) {
          oldest.answer.completeExceptionally(new StoreException.Busy());
        } else {
          Thread.sleep(patience.dividedBy(LOOKS));
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** How many pieces wait for their turn. */
  int waiting() {
    return queue.size();
  }

  private void loop() {
    List<Job<?>> batch = new ArrayList<>();
    while (!closing || !queue.isEmpty() || !riders.isEmpty()) {
      try {
        boolean mayWait = !closing && riders.size() < RIDING;
        Job<?> first = queue.poll(mayWait ? RIDE_MILLIS : 0, TimeUnit.MILLISECONDS);
        if (first != null) {
          batch.add(first);
          takeAlong(batch);
        }
        if (first != null || !riders.isEmpty()) {
          commitAll(batch);
        }
      } catch (InterruptedException e) {
        // Closing: the loop's own condition ends it once the queue is empty.
      } finally {
        batch.clear();
      }
    }
  }

  /**
   * Fills a batch up. What would wait behind changing tables stays in the queue, to be given up.
   */
  private void takeAlong(List<Job<?>> batch) {
    while (batch.size() < BATCH && !batch.getLast().alone) {
      Job<?> next = queue.peek();
      if (next == null || next.alone || !queue.remove(next)) {
        return;
      }
      batch.add(next);
    }
  }

  private void commitAll(List<Job<?>> batch) {
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

  /** Without a savepoint: what goes wrong takes the whole transaction back. */
  private void commitAlone(Job<?> job) {
    try {
      Sql.execute(connection, "BEGIN IMMEDIATE");
      job.begin();
      job.runErrands();
      Sql.execute(connection, "COMMIT");
      presence.run();
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      job.answer.completeExceptionally(e);
      return;
    }
    job.answer();
  }

  private void commit(List<Job<?>> batch) {
    List<Errand> riding = new ArrayList<>();
    riders.drainTo(riding, RIDING);
    if (batch.isEmpty() && riding.isEmpty()) {
      return;
    }
    if (lost.get() > 0 && losses.isDue()) {
      LOG.warn(
          "The log of attempts cannot keep up: {} entries are lost so far.", lost.getAndSet(0));
    }
    List<Runnable> ridden;
    try {
      ridden = transaction(batch, riding);
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      if (!riding.isEmpty()) {
        lose(riding.size(), e);
      }
      if (batch.size() > 1) {
        List.copyOf(batch).forEach(job -> commit(List.of(job)));
      } else if (!batch.isEmpty()) {
        batch.getFirst().answer.completeExceptionally(e);
      }
      return;
    }
    ridden.forEach(Runnable::run);
    batch.forEach(Job::answer);
  }

  /**
   * Commits a batch and what rides along.
   *
   * @return what follows the commit for those that ride along
   */
  private List<Runnable> transaction(List<Job<?>> batch, List<Errand> riding) throws SQLException {
    savepoints = false;
    try {
      return runAll(batch, riding);
    } catch (NeedsSavepoints e) {
      rollBack();
      savepoints = true;
      return runAll(batch, riding);
    }
  }

  private List<Runnable> runAll(List<Job<?>> batch, List<Errand> riding) throws SQLException {
    presence.run();
    Sql.execute(connection, "BEGIN IMMEDIATE");
    for (Job<?> job : batch) {
      job.run();
    }
    List<Runnable> ridden = ride(riding);
    for (Job<?> job : batch) {
      job.runErrands();
    }
    Sql.execute(connection, "COMMIT");
    presence.run();
    return ridden;
  }

  /**
   * Does what rides along. It never stands in the way of a job: what fails is left out.
   *
   * @return what follows the commit
   */
  private List<Runnable> ride(List<Errand> riding) throws SQLException {
    following = new ArrayList<>();
    if (riding.isEmpty()) {
      return List.of();
    }
    if (savepoints) {
      Sql.execute(connection, "SAVEPOINT errands");
    }
    try {
      for (Errand errand : riding) {
        errand.run(connection);
      }
    } catch (SQLException | RuntimeException | Error e) {
      if (!savepoints) {
        throw new NeedsSavepoints();
      }
      lose(riding.size(), e);
      Sql.execute(connection, "ROLLBACK TO errands");
      following.clear();
    }
    if (savepoints) {
      Sql.execute(connection, "RELEASE errands");
    }
    return following;
  }

  /** While the disk is full that happens with each commit. */
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
      // SQLite has rolled back by itself, as it does when the disk is full.
    }
  }

  /** Finishes what waits, then ends; the connection stays open. */
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
