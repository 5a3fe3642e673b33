package nodley.store.care;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Backups, folders that are looked over, and what becomes of a folder that is taken away. */
class CareTest {

  @TempDir private Path folder;

  private Path data() {
    return folder.resolve("data");
  }

  private Path backup() {
    return folder.resolve("monday.db");
  }

  private static void publish(Store store) {
    String text = "form: boat\nfields: { name: { type: text } }\n";
    TestSubmissions.publish(store, text, FormPublisher.Manner.CAREFUL);
  }

  private static StoredRecord add(Store store, String name) {
    PublishedForm form = store.forms().find("boat").orElseThrow();
    Values values = new Values(Map.of("name", new Value.Text(name)));
    return ((RecordSink.Kept<StoredRecord>) TestSubmissions.add(store, form, values)).record();
  }

  private void backUp() {
    try (Store store = Store.open(data())) {
      publish(store);
      add(store, "Heron");
      store.backUp(backup());
      add(store, "Tern");
    }
  }

  private static List<String> names(Path file) throws Exception {
    try (Connection on = DriverManager.getConnection("jdbc:sqlite:" + file)) {
      return Sql.list(on, row -> row.getString(1), "SELECT name FROM boat ORDER BY id");
    }
  }

  private static List<String> files(Path folder) throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(file -> file.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void whatWasPutAsideStaysHoweverOftenABackupIsRestored() throws Exception {
    backUp();
    assertThat(Backup.restore(backup(), data(), true)).contains(data().resolve("nodley.db.before"));
    assertThat(Backup.restore(backup(), data(), true))
        .contains(data().resolve("nodley.db.before-2"));
    assertThat(names(data().resolve("nodley.db.before"))).containsExactly("Heron", "Tern");
    assertThat(names(data().resolve("nodley.db.before-2"))).containsExactly("Heron");
    assertThat(names(data().resolve("nodley.db"))).containsExactly("Heron");
  }

  @Test
  void aFileOfSomebodyElseIsNoBackupWhateverItsNumber() throws Exception {
    backUp();
    Path foreign = folder.resolve("foreign.db");
    try (Connection on = DriverManager.getConnection("jdbc:sqlite:" + foreign)) {
      Sql.run(on, "CREATE TABLE notes (text TEXT)");
      Sql.run(on, "PRAGMA user_version = 3");
    }
    assertThatThrownBy(() -> Backup.restore(foreign, data(), true))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("is no backup of Nodley's");
    assertThat(names(data().resolve("nodley.db"))).containsExactly("Heron", "Tern");
    Files.copy(foreign, Files.createDirectories(folder.resolve("other")).resolve("nodley.db"));
    assertThatThrownBy(() -> Store.open(folder.resolve("other")))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("not of Nodley's");
  }

  @Test
  void aFolderThatIsLookedOverIsLeftAsItWas() throws Exception {
    backUp();
    List<String> before = files(data());
    List<Doctor.Finding> findings = Doctor.look(data(), Clock.systemUTC());
    assertThat(findings).isNotEmpty().allSatisfy(it -> assertThat(it.isWell()).isTrue());
    assertThat(files(data())).isEqualTo(before);
  }

  /** The file goes on to be written by the process, but nobody would ever find it again. */
  @Test
  void nothingIsAcceptedOnceTheFolderIsGone() throws Exception {
    try (Store store = Store.open(data())) {
      publish(store);
      add(store, "Heron");
      Files.move(data(), folder.resolve("elsewhere"));
      assertThatThrownBy(() -> add(store, "Tern"))
          .isInstanceOf(StoreException.Unavailable.class)
          .hasMessageContaining("is gone");
      Files.move(folder.resolve("elsewhere"), data());
      add(store, "Gull");
    }
    assertThat(names(data().resolve("nodley.db"))).containsExactly("Heron", "Gull");
  }
}
