package nodley.store.care;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.store.common.StoreException;
import nodley.store.common.StoreLimits;
import nodley.store.folder.DataFolder;
import nodley.store.folder.Permissions;
import nodley.store.schema.Schema;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.ErrorCodes;
import nodley.store.upload.Contents;

/**
 * Puts a copy of a data folder in place, while no service has the folder open. The copy is checked
 * before anything is replaced, and what was there is put aside and not removed.
 */
public final class Backup {

  private Backup() {}

  /**
   * Puts a backup into a data folder that is not in use.
   *
   * @param replace whether data that is there already may be replaced; it stays beside the new data
   * @return where the data that was there is now, {@code nodley.db.before} or, if there is one
   *     already, {@code nodley.db.before-2} and so on; nothing if there was none. Its files are in
   *     {@code files.before}
   * @throws StoreException.BadFolder if the backup is none, or damaged, or of a newer Nodley; or
   *     the folder is in use, cannot be written, or has data that is to stay. Nothing is changed
   *     then
   */
  public static Optional<Path> restore(Path backup, Path folder, boolean replace) {
    if (!Files.isRegularFile(backup)) {
      throw new StoreException.BadFolder("There is no backup " + backup + ".", null);
    }
    Path file = folder.resolve(DataFolder.FILE);
    Path aside = aside(folder, DataFolder.FILE);
    DataFolder.whileLocked(
        folder,
        () -> {
          if (Files.exists(file) && !replace) {
            throw new StoreException.BadFolder(
                "The data folder "
                    + folder
                    + " has data already. With --replace it is put aside, as "
                    + DataFolder.FILE
                    + ".before.",
                null);
          }
          Path unpacked = folder.resolve("nodley.restored");
          removeAll(unpacked);
          Permissions.createFolder(unpacked);
          Path fresh = unpacked.resolve(DataFolder.FILE);
          try {
            if (BackupArchive.is(backup)) {
              BackupArchive.unpack(backup, unpacked);
            } else {
              // What earlier versions made: the database alone.
              Files.copy(backup, fresh);
            }
            check(backup, fresh);
            if (Files.exists(file)) {
              // What its log still holds belongs to it, and not to what comes in its place.
              new Database(file, StoreLimits.DEFAULT.turn(), Schema::bringUp).close();
              Files.move(file, aside);
            }
            Path contents = folder.resolve(Contents.FOLDER);
            if (Files.exists(contents)) {
              Files.move(contents, aside(folder, Contents.FOLDER));
            }
            if (Files.exists(unpacked.resolve(Contents.FOLDER))) {
              Files.move(unpacked.resolve(Contents.FOLDER), contents);
            }
            Files.deleteIfExists(folder.resolve(DataFolder.FILE + "-wal"));
            Files.deleteIfExists(folder.resolve(DataFolder.FILE + "-shm"));
            Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE);
          } finally {
            removeAll(unpacked);
          }
        });
    return Files.exists(aside) ? Optional.of(aside) : Optional.empty();
  }

  private static void removeAll(Path folder) throws IOException {
    if (Files.exists(folder)) {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }

  /** A name that nothing has: what was put aside before stays. */
  private static Path aside(Path folder, String name) {
    Path aside = folder.resolve(name + ".before");
    for (int i = 2; Files.exists(aside); i++) {
      aside = folder.resolve(name + ".before-" + i);
    }
    return aside;
  }

  private static void check(Path backup, Path fresh) throws IOException {
    try (Connection on = Database.readOnly(fresh)) {
      long version = Catalog.version(on);
      if (!Schema.isThere(on)) {
        // Somebody else's file may have any number there.
        throw new StoreException.BadFolder(backup + " is no backup of Nodley's.", null);
      }
      if (version < 1 || version > Schema.VERSION) {
        throw new StoreException.BadFolder(
            backup
                + (version < 1
                    ? " is no backup of Nodley's."
                    : " was made by a newer Nodley (data version " + version + ")."),
            null);
      }
      List<String> damage = Catalog.damage(on, 1);
      if (!damage.isEmpty()) {
        throw new StoreException.BadFolder(backup + " is damaged: " + damage.getFirst(), null);
      }
    } catch (SQLException e) {
      boolean other = ErrorCodes.isForeignFile(e);
      throw new StoreException.BadFolder(
          backup + (other ? " is no backup of Nodley's." : " is damaged: " + e.getMessage()), e);
    } finally {
      Files.deleteIfExists(fresh.resolveSibling(fresh.getFileName() + "-wal"));
      Files.deleteIfExists(fresh.resolveSibling(fresh.getFileName() + "-shm"));
    }
  }
}
