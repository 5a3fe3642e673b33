package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import nodley.store.sqlite.BatchWriter.DeferredWrite;

/**
 * Runs writes in one transaction and commits them together, with the deferred writes that wait.
 *
 * <p>A batch is first run without savepoints. If a write has to be rolled back, the batch is rolled
 * back and run again, each write behind a savepoint of its own, so that one that fails does not
 * affect the others. (Savepoints for every batch would cost a quarter of the time: SQLite copies
 * each page that changes behind one.) If the commit itself fails, each write runs again in a
 * transaction of its own.
 *
 * <p>One thread at a time: the one that has the turn of {@link BatchWriter}.
 */
final class GroupCommit {

  private final Connection connection;
  private final DeferredWrites deferred;
  private final Runnable fileCheck;

  /** True while the writes of a batch run behind savepoints. */
  private boolean savepoints;

  /** Tasks before the commit of the write that runs now. */
  private List<DeferredWrite> beforeCommits = new ArrayList<>();

  /** Tasks after the commit of the write that runs now. */
  private List<Runnable> afterCommits = new ArrayList<>();

  /** Ends a batch that runs without savepoints and needs them. */
  private static final class NeedsSavepoints extends RuntimeException {
    private static final long serialVersionUID = 1;

    NeedsSavepoints() {
      super("The batch is run again, with savepoints.", null, false, false);
    }
  }

  /**
   * Makes one for a connection.
   *
   * @param fileCheck throws if the file is gone; called before and after each commit
   */
  GroupCommit(Connection connection, DeferredWrites deferred, Runnable fileCheck) {
    this.connection = connection;
    this.deferred = deferred;
    this.fileCheck = fileCheck;
  }

  /** Adds a task before the commit, from inside a write. */
  void beforeCommit(DeferredWrite write) {
    beforeCommits.add(write);
  }

  /** Adds a task after the commit, from inside a write. */
  void afterCommit(Runnable action) {
    afterCommits.add(action);
  }

  /** Undoes what the write that runs now has changed so far, from inside it. */
  void rollBackWrite() throws SQLException {
    if (!savepoints) {
      throw new NeedsSavepoints();
    }
    Sql.execute(connection, "ROLLBACK TO write");
    beforeCommits.clear();
    afterCommits.clear();
  }

  /** Commits writes that need not be alone, and completes each; with none, what is deferred. */
  void commit(List<Write<?>> batch) {
    List<DeferredWrite> joining = deferred.take();
    if (batch.isEmpty() && joining.isEmpty()) {
      return;
    }
    List<Runnable> afterDeferred;
    try {
      afterDeferred = transaction(batch, joining);
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      deferred.lose(joining.size(), e);
      if (batch.size() > 1) {
        batch.forEach(write -> commit(List.of(write)));
      } else if (!batch.isEmpty()) {
        batch.getFirst().answer().completeExceptionally(e);
      }
      return;
    }
    afterDeferred.forEach(Runnable::run);
    batch.forEach(Write::complete);
  }

  /** Commits one write alone; if it fails, the transaction is rolled back. */
  void commitAlone(Write<?> write) {
    try {
      Sql.execute(connection, "BEGIN IMMEDIATE");
      begin(write);
      runBeforeCommit(write);
      Sql.execute(connection, "COMMIT");
      fileCheck.run();
    } catch (SQLException | RuntimeException | Error e) {
      rollBack();
      write.answer().completeExceptionally(e);
      return;
    }
    write.complete();
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
      if (savepoints) {
        runBehindSavepoint(write);
      } else {
        run(write);
      }
    }
    List<Runnable> afterDeferred = runDeferred(joining);
    for (Write<?> write : batch) {
      runBeforeCommit(write);
    }
    Sql.execute(connection, "COMMIT");
    fileCheck.run();
    return afterDeferred;
  }

  /** Runs a write that, if it fails, fails alone, whatever it has changed. */
  private void runBehindSavepoint(Write<?> write) throws SQLException {
    Sql.execute(connection, "SAVEPOINT write");
    try {
      begin(write);
    } catch (SQLException | RuntimeException | Error e) {
      write.fail(e);
      Sql.execute(connection, "ROLLBACK TO write");
    }
    Sql.execute(connection, "RELEASE write");
  }

  /** Runs a write that, if it fails before it has changed anything, fails alone. */
  private void run(Write<?> write) throws SQLException {
    long before = Sql.changes(connection);
    try {
      begin(write);
    } catch (NeedsSavepoints e) {
      throw e;
    } catch (SQLException | RuntimeException | Error e) {
      // After some errors SQLite has rolled the transaction back by itself.
      if (isOfSqlite(e) || Sql.changes(connection) != before) {
        throw new NeedsSavepoints();
      }
      write.fail(e);
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

  private void begin(Write<?> write) throws SQLException {
    beforeCommits = new ArrayList<>();
    afterCommits = new ArrayList<>();
    write.run(connection);
    write.done(beforeCommits, afterCommits);
  }

  private void runBeforeCommit(Write<?> write) throws SQLException {
    afterCommits = write.afterCommits();
    for (DeferredWrite task : write.beforeCommits()) {
      task.run(connection);
    }
  }

  /**
   * Runs deferred writes. They never make others fail: if one fails, all of them are left out.
   *
   * @return their tasks after the commit
   */
  private List<Runnable> runDeferred(List<DeferredWrite> joining) throws SQLException {
    afterCommits = new ArrayList<>();
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
      deferred.lose(joining.size(), e);
      Sql.execute(connection, "ROLLBACK TO deferred");
      afterCommits.clear();
    }
    if (savepoints) {
      Sql.execute(connection, "RELEASE deferred");
    }
    return afterCommits;
  }

  private void rollBack() {
    try {
      Sql.execute(connection, "ROLLBACK");
    } catch (SQLException e) {
      // SQLite has rolled back by itself, as it does if the disk is full.
    }
  }
}
