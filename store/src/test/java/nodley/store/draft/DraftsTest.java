package nodley.store.draft;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import nodley.core.value.Raw;
import nodley.store.Store;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class DraftsTest {

  @TempDir private Path folder;

  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(folder);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private static Raw.Members values(String vessel) {
    return new Raw.Members(Map.of("vessel", new Raw.Text(vessel)));
  }

  private Draft begin(String owner, Instant endsAt) throws DraftException {
    return store
        .drafts()
        .begin(new Draft.Begun("voyage", "", 0, owner, "", values("Tern"), "", endsAt));
  }

  @Test
  void tenThousandWhoseTimeIsOverAreSweptAndNoOther() throws Exception {
    Draft live = begin("own:ann", Instant.now().plus(Duration.ofDays(1)));
    try (Connection on = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("nodley.db"));
        PreparedStatement insert =
            on.prepareStatement(
                "INSERT INTO nodley_drafts SELECT 'd' || ?, form, record_id, record_version, owner,"
                    + " address, version, entered, step, updated_at, 1 FROM nodley_drafts"
                    + " WHERE id = '"
                    + live.id()
                    + "'")) {
      on.setAutoCommit(false);
      for (int i = 0; i < 10_000; i++) {
        insert.setInt(1, i);
        insert.addBatch();
      }
      insert.executeBatch();
      on.commit();
    }
    assertThat(store.drafts().find("d7")).isEmpty();
    assertThat(store.drafts().of("own:ann")).hasSize(1);
    assertThat(store.drafts().sweep()).isEqualTo(10_000);
    assertThat(store.drafts().sweep()).isZero();
    assertThat(count()).isEqualTo(1);
    assertThat(store.drafts().find(live.id())).isPresent();
  }

  private long count() throws SQLException {
    try (Connection on = DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("nodley.db"));
        PreparedStatement count = on.prepareStatement("SELECT count(*) FROM nodley_drafts")) {
      return count.executeQuery().getLong(1);
    }
  }

  @Test
  void ofManyChangesOfOneVersionOneIsTaken() throws Exception {
    Instant end = Instant.now().plus(Duration.ofDays(1));
    Draft draft = begin("own:ann", end);
    Callable<Boolean> change =
        () -> {
          try {
            store.drafts().change(draft.id(), 1, values("Gull"), "", end);
            return true;
          } catch (DraftException.Outdated e) {
            assertThat(e.current().version()).isEqualTo(2);
            return false;
          }
        };
    int taken = 0;
    try (ExecutorService threads = Executors.newFixedThreadPool(8)) {
      for (Future<Boolean> one : threads.invokeAll(Collections.nCopies(8, change))) {
        taken += one.get() ? 1 : 0;
      }
    }
    assertThat(taken).isEqualTo(1);
  }

  @Test
  void aDraftThatIsGoneIsNotChanged() throws Exception {
    Instant end = Instant.now().plus(Duration.ofDays(1));
    Draft draft = begin("own:ann", end);
    store.drafts().remove(draft.id());
    assertThatThrownBy(() -> store.drafts().change(draft.id(), 1, values("Gull"), "", end))
        .isInstanceOf(DraftException.Gone.class);
    assertThat(store.drafts().of("own:ann")).isEqualTo(List.of());
  }
}
