package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import nodley.store.sqlite.BatchWriter.DeferredWrite;
import nodley.store.sqlite.BatchWriter.Work;

/**
 * One write: what it does, what became of it, and the future that its caller waits for. It is made
 * by the caller, and then used by whoever writes.
 *
 * @param <T> its result
 */
final class Write<T> {

  private final Work<T> work;
  private final boolean alone;
  private final Runnable afterCommit;
  private final CompletableFuture<T> answer = new CompletableFuture<>();
  private final long overdue;
  private List<DeferredWrite> beforeCommits = List.of();
  private List<Runnable> afterCommits = List.of();
  private T result;
  private Throwable failure;

  /**
   * Makes a write.
   *
   * @param alone true if it changes tables, and so has a commit to itself
   * @param afterCommit runs after the commit, and after all tasks of the write
   * @param timeout how long it may wait until it begins
   */
  Write(Work<T> work, boolean alone, Runnable afterCommit, Duration timeout) {
    this.work = work;
    this.alone = alone;
    this.afterCommit = afterCommit;
    this.overdue = System.nanoTime() + timeout.toNanos();
  }

  boolean isAlone() {
    return alone;
  }

  boolean isOverdue() {
    return System.nanoTime() - overdue > 0;
  }

  /** What its caller gets: the result after the commit, or why there is none. */
  CompletableFuture<T> answer() {
    return answer;
  }

  /** Does its work; it may do so again after a rollback. */
  void run(Connection connection) throws SQLException {
    failure = null;
    result = work.run(connection);
  }

  /** Takes the tasks that its work has asked for. */
  void done(List<DeferredWrite> beforeCommits, List<Runnable> afterCommits) {
    this.beforeCommits = beforeCommits;
    this.afterCommits = afterCommits;
  }

  /** Notes that it has failed, while others of its batch may not. Errors are its caller's, too. */
  void fail(Throwable why) {
    failure = why;
    done(List.of(), List.of());
  }

  List<DeferredWrite> beforeCommits() {
    return beforeCommits;
  }

  List<Runnable> afterCommits() {
    return afterCommits;
  }

  /**
   * Runs its tasks after the commit and completes the future; nothing can be rolled back any more.
   */
  void complete() {
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
