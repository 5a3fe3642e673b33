package nodley.store.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.SQLException;
import java.util.Base64;
import java.util.Optional;
import nodley.store.Store;
import nodley.store.TestDatabase;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The key of a data folder, and who may read what is in it. */
class SignedTokensTest {

  @TempDir private Path folder;

  /** The key of RFC 4231, test case 2. */
  private static final String KEY = Base64.getEncoder().encodeToString("Jefe".getBytes());

  private Optional<String> inDatabase() throws SQLException {
    try (Database database = TestDatabase.open(folder.resolve(DataFolder.FILE))) {
      return database.read(
          on ->
              Sql.first(
                  on,
                  row -> row.getString(1),
                  "SELECT value FROM nodley_settings WHERE name = 'seal'"));
    }
  }

  @Test
  void theKeyOfAnEarlierNodleyMovesOutOfTheDatabase() throws Exception {
    Store.open(folder).close();
    Path key = folder.resolve("nodley.key");
    Files.delete(key);
    try (Database database = TestDatabase.open(folder.resolve(DataFolder.FILE))) {
      Sql.run(
          database.writer(), "INSERT INTO nodley_settings (name, value) VALUES ('seal', ?)", KEY);
    }
    String sealed;
    try (Store store = Store.open(folder)) {
      sealed = store.tokens().seal("cursor", "after 7");
      // printf 'page\0what' | openssl dgst -sha256 -hmac Jefe
      assertThat(store.tokens().digest("page", "what".getBytes()))
          .isEqualTo("ef6c77999d14117268847013432eb110ea72beed07b8cc2d195112290bc88a3a");
    }
    assertThat(Files.readString(key)).isEqualTo(KEY);
    assertThat(inDatabase()).isEmpty();
    try (Store store = Store.open(folder)) {
      assertThat(store.tokens().open("cursor", sealed)).contains("after 7");
      assertThat(store.tokens().open("page", sealed)).isEmpty();
    }
  }

  /** A folder that holds more than data is not ours to close. */
  @Test
  void aFolderWithFilesOfOthersKeepsItsPermissions() throws IOException {
    Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxr-xr-x"));
    Path theirs = Files.writeString(folder.resolve("notes.txt"), "mine");
    Files.setPosixFilePermissions(theirs, PosixFilePermissions.fromString("rw-r--r--"));
    Store.open(folder).close();
    assertThat(permissions(folder)).isEqualTo("rwxr-xr-x");
    assertThat(permissions(theirs)).isEqualTo("rw-r--r--");
    assertThat(permissions(folder.resolve("nodley.db"))).isEqualTo("rw-------");
    Files.delete(theirs);
    Files.setPosixFilePermissions(
        folder.resolve("nodley.db"), PosixFilePermissions.fromString("rw-r--r--"));
    Store.open(folder).close();
    assertThat(permissions(folder)).isEqualTo("rwx------");
    assertThat(permissions(folder.resolve("nodley.db"))).isEqualTo("rw-------");
  }

  private static String permissions(Path path) throws IOException {
    return PosixFilePermissions.toString(Files.getPosixFilePermissions(path));
  }
}
