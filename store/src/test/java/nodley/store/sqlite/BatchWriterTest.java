package nodley.store.sqlite;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import nodley.store.TestDatabase;
import nodley.store.common.StoreException;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class BatchWriterTest {

  @TempDir private Path folder;
  private Database database;
  private BatchWriter writer;

  @BeforeEach
  void open() throws SQLException {
    database = TestDatabase.open(folder.resolve("test.db"));
    writer = new BatchWriter(database.writer());
    writer.write(on -> Sql.run(on, "CREATE TABLE t (n INTEGER UNIQUE)"));
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private static int insert(Connection on, int n) throws SQLException {
    return Sql.run(on, "INSERT INTO t VALUES (?)", n);
  }

  private long count() {
    return database.read(on -> Sql.number(on, "SELECT count(*) FROM t"));
  }

  @Test
  void oneThatFailsDoesNotTouchOthers() throws Exception {
    // The first write holds the writer until the others wait, so that they share one commit.
    CountDownLatch begun = new CountDownLatch(1);
    CountDownLatch go = new CountDownLatch(1);
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      Future<?> first =
          threads.submit(
              () ->
                  writer.write(
                      _ -> {
                        begun.countDown();
                        await(go);
                        return 0;
                      }));
      begun.await();
      List<Future<?>> rest = new ArrayList<>();
      for (int i = 0; i < 10; i++) {
        int n = i;
        rest.add(
            threads.submit(
                () ->
                    writer.write(
                        on -> {
                          insert(on, n);
                          if (n % 2 == 1) {
                            throw new StoreException.NoSuchRecord("n");
                          }
                          return n;
                        })));
      }
      go.countDown();
      first.get();
      for (int i = 0; i < 10; i++) {
        Future<?> one = rest.get(i);
        if (i % 2 == 1) {
          assertThatThrownBy(one::get).hasCauseInstanceOf(StoreException.NoSuchRecord.class);
        } else {
          one.get();
        }
      }
    }
    assertThat(count()).isEqualTo(5);
  }

  private static void await(CountDownLatch latch) {
    try {
      latch.await();
    } catch (InterruptedException e) {
      throw new AssertionError(e);
    }
  }

  /** PRAGMA synchronous: 2 is FULL. */
  @Test
  void everyCommitIsDurableAndReadersNeverWait() {
    assertThat(writer.<Long>write(on -> Sql.number(on, "PRAGMA synchronous"))).isEqualTo(2);
    String mode =
        writer.write(on -> Sql.first(on, row -> row.getString(1), "PRAGMA journal_mode").get());
    assertThat(mode).isEqualTo("wal");
    long before = writer.write(on -> count() + insert(on, 5) + count());
    assertThat(before).as("a reader sees what is committed, while the writer writes").isEqualTo(1);
    assertThat(count()).isEqualTo(1);
  }

  /** Holds the writer within a write until it is let go. */
  private final class Held {
    private final CountDownLatch go = new CountDownLatch(1);
    private final Thread thread;

    Held() throws InterruptedException {
      CountDownLatch begun = new CountDownLatch(1);
      thread =
          Thread.ofVirtual()
              .start(
                  () ->
                      writer.write(
                          _ -> {
                            begun.countDown();
                            BatchWriterTest.await(go);
                            return 0;
                          }));
      begun.await();
    }

    void letGo() throws InterruptedException {
      go.countDown();
      thread.join();
    }
  }

  private void patience(int millis) throws SQLException {
    writer.close();
    writer = new BatchWriter(database.writer(), 1_024, Duration.ofMillis(millis), () -> {});
  }

  @Test
  void aWriteThatWaitsTooLongIsGivenUpAndNeverRun() throws Exception {
    patience(50);
    Held held = new Held();
    assertThatThrownBy(() -> writer.write(on -> insert(on, 1)))
        .isInstanceOf(StoreException.Busy.class);
    held.letGo();
    writer.write(on -> insert(on, 2));
    List<Long> numbers =
        database.read(on -> Sql.list(on, row -> row.getLong(1), "SELECT n FROM t"));
    assertThat(numbers).containsExactly(2L);
  }

  @Test
  void aWriteThatHasBegunIsWaitedForHoweverLongItTakes() throws Exception {
    patience(200);
    long longer = System.nanoTime() + Duration.ofMillis(400).toNanos();
    int looks =
        writer.write(
            on -> {
              int done = 0;
              while (System.nanoTime() < longer) {
                done += (int) Sql.number(on, "SELECT 1");
              }
              return done;
            });
    assertThat(looks).isPositive();
  }

  @Test
  void aTaskBeforeTheCommitRunsAfterAllWritesAndNotForOneThatIsRefused() throws Exception {
    List<String> order = Collections.synchronizedList(new ArrayList<>());
    List<Thread> waiting = new ArrayList<>();
    Held held = new Held();
    // The second write wants the number of the first, and is refused.
    for (int number : List.of(1, 1, 2)) {
      BatchWriter.Work<Integer> work =
          on -> {
            order.add("write");
            writer.beforeCommit(_ -> order.add("task of " + number));
            return insert(on, number);
          };
      waiting.add(Thread.ofVirtual().start(() -> catchThrowable(() -> writer.write(work))));
      Awaitility.await().until(() -> writer.waiting() == waiting.size());
    }
    held.letGo();
    for (Thread thread : waiting) {
      thread.join();
    }
    assertThat(order).endsWith("write", "write", "write", "task of 1", "task of 2");
    assertThat(order).filteredOn(it -> it.startsWith("task")).hasSize(2);
  }

  @Test
  void aWriteThatChangesTablesIsAloneInItsCommit() throws Exception {
    List<Long> seen = Collections.synchronizedList(new ArrayList<>());
    List<Thread> waiting = new ArrayList<>();
    Held held = new Held();
    for (int i = 0; i < 3; i++) {
      int n = i;
      waiting.add(
          Thread.ofVirtual()
              .start(
                  () -> {
                    if (n == 1) {
                      writer.writeAlone(on -> seen.add(count()), () -> seen.add(-count()));
                    } else {
                      writer.write(on -> insert(on, n));
                    }
                  }));
      Awaitility.await().until(() -> writer.waiting() == waiting.size());
    }
    held.letGo();
    for (Thread thread : waiting) {
      thread.join();
    }
    assertThat(seen)
        .as("the write before is committed, that after it not begun, when it runs and after")
        .containsExactly(1L, -1L);
  }

  @Test
  void aWriteThatWaitsBehindChangedTablesCanStillBeGivenUp() throws Exception {
    patience(1_000);
    CountDownLatch changing = new CountDownLatch(1);
    CountDownLatch changed = new CountDownLatch(1);
    List<Thread> waiting = new ArrayList<>();
    Held held = new Held();
    waiting.add(Thread.ofVirtual().start(() -> writer.write(on -> insert(on, 1))));
    Awaitility.await().until(() -> writer.waiting() == 1);
    waiting.add(
        Thread.ofVirtual()
            .start(
                () ->
                    writer.writeAlone(
                        _ -> {
                          changing.countDown();
                          await(changed);
                          return 0;
                        },
                        () -> {})));
    Awaitility.await().until(() -> writer.waiting() == 2);
    List<Throwable> refused = Collections.synchronizedList(new ArrayList<>());
    Thread behind =
        Thread.ofVirtual()
            .start(() -> refused.add(catchThrowable(() -> writer.write(on -> insert(on, 2)))));
    Awaitility.await().until(() -> writer.waiting() == 3);
    held.letGo();
    changing.await();
    // The tables are still being changed when it is told.
    behind.join();
    assertThat(refused).singleElement().isInstanceOf(StoreException.Busy.class);
    changed.countDown();
    for (Thread thread : waiting) {
      thread.join();
    }
    assertThat(count()).as("what was given up is never done").isEqualTo(1);
  }

  @Test
  void aTaskBeforeTheCommitThatFailsTakesItsWriteWithItAndNoOther() throws Exception {
    List<Throwable> refused = Collections.synchronizedList(new ArrayList<>());
    List<Thread> waiting = new ArrayList<>();
    Held held = new Held();
    for (int number : List.of(1, 2, 3)) {
      BatchWriter.Work<Integer> work =
          on -> {
            writer.beforeCommit(
                _ -> {
                  if (number == 2) {
                    throw new IllegalStateException("broken");
                  }
                });
            return insert(on, number);
          };
      waiting.add(
          Thread.ofVirtual()
              .start(
                  () -> {
                    Throwable thrown = catchThrowable(() -> writer.write(work));
                    if (thrown != null) {
                      refused.add(thrown);
                    }
                  }));
      Awaitility.await().until(() -> writer.waiting() == waiting.size());
    }
    held.letGo();
    for (Thread thread : waiting) {
      thread.join();
    }
    assertThat(refused).singleElement().isInstanceOf(IllegalStateException.class);
    List<Long> numbers =
        database.read(on -> Sql.list(on, row -> row.getLong(1), "SELECT n FROM t ORDER BY n"));
    assertThat(numbers).containsExactly(1L, 3L);
  }

  @Test
  void anAnswerLeavesAfterItsCommit() {
    writer.write(on -> insert(on, 1));
    assertThat(count()).isEqualTo(1);
  }

  @Test
  void aTaskAfterTheCommitRunsOnlyAfterOne() {
    List<String> followed = new ArrayList<>();
    writer.writeAlone(on -> insert(on, 1), () -> followed.add("one"));
    assertThatThrownBy(() -> writer.writeAlone(on -> insert(on, 1), () -> followed.add("again")))
        .isInstanceOf(StoreException.Unavailable.class);
    assertThat(followed).containsExactly("one");
  }

  @Test
  void aFullDiskRefusesWithoutHalvesAndItGoesOnWhenThereIsRoom() {
    writer.write(on -> Sql.run(on, "CREATE TABLE fat (b BLOB)"));
    long pages = database.read(on -> Sql.number(on, "PRAGMA page_count"));
    limit(pages + 4);
    assertThatThrownBy(
            () ->
                writer.write(
                    on -> {
                      insert(on, 7);
                      return Sql.run(on, "INSERT INTO fat VALUES (zeroblob(1000000))");
                    }))
        .isInstanceOf(StoreException.Unavailable.class);
    assertThat(count()).isZero();
    limit(pages + 10_000);
    writer.write(on -> insert(on, 7));
    assertThat(count()).isEqualTo(1);
  }

  private void limit(long pages) {
    writer.write(on -> Sql.number(on, "PRAGMA max_page_count = " + pages));
  }

  @Test
  void onceClosedItRefusesInsteadOfWaitingForever() {
    writer.close();
    assertThatThrownBy(() -> writer.write(on -> insert(on, 1)))
        .isInstanceOf(StoreException.Unavailable.class);
  }

  @Test
  void afterAFlushDeferredWritesAreRead() {
    for (int i = 1; i <= 1_000; i++) {
      int number = i;
      writer.writeLater(on -> insert(on, number));
    }
    writer.flush();
    assertThat(count()).isEqualTo(1_000);
  }

  /** Nobody waits long for a writer that has something long to do. */
  @Test
  void aReaderDoesNotWaitForALongWrite() throws Exception {
    CountDownLatch begun = new CountDownLatch(1);
    CountDownLatch go = new CountDownLatch(1);
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      Future<Integer> longWrite =
          threads.submit(
              () ->
                  writer.write(
                      on -> {
                        begun.countDown();
                        await(go);
                        return insert(on, 1);
                      }));
      begun.await();
      writer.flush();
      assertThat(count()).isZero();
      assertThat(longWrite.isDone()).isFalse();
      go.countDown();
      longWrite.get();
    }
    writer.close();
    writer.flush();
    assertThat(count()).isEqualTo(1);
  }

  @Test
  void aDeferredWriteIsCommittedAlsoIfNobodyElseWrites() {
    writer.writeLater(on -> insert(on, 1));
    Awaitility.await().until(() -> count() == 1);
  }

  @Test
  void aDeferredWriteThatFailsDoesNotTouchTheWriteThatItJoins() {
    writer.writeLater(
        on -> {
          insert(on, 1);
          throw new SQLException("no");
        });
    writer.write(on -> insert(on, 2));
    long sum = database.read(on -> Sql.number(on, "SELECT sum(n) FROM t"));
    assertThat(sum).isEqualTo(2);
  }

  @Test
  void aDeferredWriteStaysWhereTheWriteThatItJoinsIsRolledBack() throws Exception {
    Held held = new Held();
    BatchWriter.Work<Integer> work =
        on -> {
          insert(on, 2);
          throw new IllegalStateException("after it has written");
        };
    Thread waiting = Thread.ofVirtual().start(() -> catchThrowable(() -> writer.write(work)));
    Awaitility.await().until(() -> writer.waiting() == 1);
    writer.writeLater(on -> insert(on, 1));
    held.letGo();
    waiting.join();
    long sum = database.read(on -> Sql.number(on, "SELECT sum(n) FROM t"));
    assertThat(sum).isEqualTo(1);
  }

  @Test
  void aWriteThatFailsBeforeItHasWrittenRunsOnce() {
    List<String> runs = new ArrayList<>();
    assertThatThrownBy(
            () ->
                writer.write(
                    on -> {
                      runs.add("run");
                      Sql.number(on, "SELECT count(*) FROM t");
                      throw new StoreException.NoSuchRecord("n");
                    }))
        .isInstanceOf(StoreException.NoSuchRecord.class);
    assertThat(runs).hasSize(1);
  }

  @Test
  void deferredWritesAreCommittedBeforeItCloses() {
    for (int i = 0; i < 2_000; i++) {
      int n = i;
      writer.writeLater(on -> insert(on, n));
    }
    writer.close();
    assertThat(count()).isEqualTo(2_000);
  }

  @Test
  void anErrorIsThrownToItsCallerAndOthersAreWrittenAsBefore() {
    assertThatThrownBy(
            () ->
                writer.write(
                    _ -> {
                      throw new StackOverflowError("of one write");
                    }))
        .isInstanceOf(StackOverflowError.class);
    assertThatThrownBy(
            () ->
                writer.writeAlone(
                    _ -> {
                      throw new LinkageError("of another");
                    },
                    () -> {}))
        .isInstanceOf(LinkageError.class);
    assertThat(writer.<String>write(_ -> "written")).isEqualTo("written");
  }

  @Test
  void aTaskAfterTheCommitDoesNotRunAfterARollback() {
    List<String> followed = new ArrayList<>();
    assertThatThrownBy(
            () ->
                writer.write(
                    _ -> {
                      writer.afterCommit(() -> followed.add("refused"));
                      throw new IllegalStateException("refused");
                    }))
        .hasMessage("refused");
    writer.write(
        _ -> {
          writer.afterCommit(() -> followed.add("kept"));
          return "";
        });
    assertThat(followed).containsExactly("kept");
  }

  /** Runs a write, and returns whether it ran on the thread of its caller. */
  private boolean runsOnCaller(BatchWriter.Work<?> work) {
    Thread ran =
        writer.write(
            on -> {
              work.run(on);
              return Thread.currentThread();
            });
    assertThat(ran == Thread.currentThread() || ran.getName().equals("writer")).isTrue();
    return ran == Thread.currentThread();
  }

  @Test
  void aWriteThatComesAloneRunsOnTheThreadOfItsCaller() {
    Awaitility.await().until(() -> runsOnCaller(on -> Sql.number(on, "SELECT 1")));
    writer.writeLater(on -> insert(on, 1));
    writer.write(on -> insert(on, 2));
    assertThat(count()).as("with what was deferred, before it returns").isEqualTo(2);
  }

  @Test
  void whileOneIsWrittenOthersAreLeftToTheWriterThread() throws Exception {
    Held held = new Held();
    List<Boolean> onCaller = Collections.synchronizedList(new ArrayList<>());
    Thread waiting =
        Thread.ofPlatform().start(() -> onCaller.add(runsOnCaller(on -> insert(on, 1))));
    Awaitility.await().until(() -> writer.waiting() == 1);
    held.letGo();
    waiting.join();
    assertThat(onCaller).containsExactly(false);
    assertThat(count()).isEqualTo(1);
  }

  @Test
  void afterALongCommitWritesAreLeftToTheWriterThread() {
    Awaitility.await().until(() -> runsOnCaller(BatchWriterTest::takeLong));
    assertThat(runsOnCaller(on -> insert(on, 1))).isFalse();
  }

  /** Keeps the connection busy, as a slow disk would. */
  private static long takeLong(Connection on) throws SQLException {
    long end = System.nanoTime() + Duration.ofMillis(100).toNanos();
    long looks = 0;
    while (System.nanoTime() < end) {
      looks += Sql.number(on, "SELECT 1");
    }
    return looks;
  }

  @Test
  void aWriteWithinAWriteIsRefusedAtOnce() {
    assertThatThrownBy(() -> writer.write(_ -> writer.write(on -> insert(on, 1))))
        .isInstanceOf(IllegalStateException.class);
    assertThat(count()).isZero();
  }
}
