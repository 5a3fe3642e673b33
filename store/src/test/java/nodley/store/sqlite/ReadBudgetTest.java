package nodley.store.sqlite;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import nodley.store.TestDatabase;
import nodley.store.common.StoreException;
import nodley.store.schema.Schema;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class ReadBudgetTest {

  /** Counts for ever. */
  private static final String ENDLESS =
      "WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 FROM c) SELECT count(*) FROM c";

  @TempDir private Path folder;

  @Test
  void aReadWithoutAnEndEndsWithItsTimeAndTheNextIsAsEver() throws SQLException {
    try (Database database = TestDatabase.open(folder.resolve("nodley.db"))) {
      assertThatThrownBy(
              () ->
                  new ReadBudget(Duration.ofMillis(20))
                      .run(() -> database.read(on -> Sql.number(on, ENDLESS))))
          .isInstanceOf(StoreException.TookTooLong.class);
      assertThat(ReadBudget.isOver()).isFalse();
      assertThat(database.<Long>read(on -> Sql.number(on, "SELECT 7"))).isEqualTo(7);
    }
  }

  @Test
  void aReadThatNobodyWaitsForAnyMoreIsCancelled() throws Exception {
    try (Database database = TestDatabase.open(folder.resolve("nodley.db"))) {
      var budget = new ReadBudget(Duration.ofHours(1));
      CompletableFuture<Long> read =
          CompletableFuture.supplyAsync(
              () -> budget.run(() -> database.read(on -> Sql.number(on, ENDLESS))));
      budget.cancel();
      assertThatThrownBy(read::join).hasCauseInstanceOf(StoreException.TookTooLong.class);
    }
  }

  @Test
  void whoeverFindsAllConnectionsInUseIsTurnedAwayInTime() throws Exception {
    try (Database database =
            new Database(folder.resolve("nodley.db"), Duration.ofMillis(20), Schema::bringUp);
        ExecutorService readers = Executors.newCachedThreadPool()) {
      CountDownLatch letGo = new CountDownLatch(1);
      CountDownLatch reading = new CountDownLatch(8);
      for (int i = 0; i < 8; i++) {
        readers.submit(
            () ->
                database.read(
                    on -> {
                      reading.countDown();
                      return awaited(letGo);
                    }));
      }
      reading.await();
      assertThatThrownBy(() -> database.read(on -> Sql.number(on, "SELECT 7")))
          .isInstanceOf(StoreException.Busy.class);
      letGo.countDown();
      readers.shutdown();
      assertThat(readers.awaitTermination(10, TimeUnit.SECONDS)).isTrue();
      assertThat(database.<Long>read(on -> Sql.number(on, "SELECT 7"))).isEqualTo(7);
    }
  }

  private static boolean awaited(CountDownLatch latch) {
    try {
      latch.await();
      return true;
    } catch (InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }
}
