package nodley.store.folder;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.SQLException;
import nodley.store.common.StoreException;

/**
 * A data folder that is locked for this process, by a lock on {@code nodley.lock}. The lock ends
 * with {@link #close} or with the process.
 */
public final class DataFolder implements AutoCloseable {

  /** The database file's name in the data folder. */
  public static final String FILE = "nodley.db";

  private static final String LOCK_FILE = "nodley.lock";

  private final FileChannel lock;

  private DataFolder(FileChannel lock) {
    this.lock = lock;
  }

  /** What is done to the files of a data folder while no service has it open. */
  public interface Work {
    void run() throws IOException, SQLException;
  }

  /**
   * Locks a folder, creating it if it does not exist, and restricts its files to this user.
   *
   * @throws StoreException.BadFolder if another process has locked it, or it cannot be written
   */
  public static DataFolder lock(Path folder) {
    try {
      Permissions.prepare(folder);
      Permissions.create(folder.resolve(LOCK_FILE));
      FileChannel channel =
          FileChannel.open(
              folder.resolve(LOCK_FILE), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
      if (tryLock(channel) == null) {
        channel.close();
        throw new StoreException.BadFolder(
            "The data folder " + folder + " is in use by another Nodley.", null);
      }
      return new DataFolder(channel);
    } catch (IOException e) {
      throw new StoreException.BadFolder(
          "The data folder "
              + folder
              + " cannot be written. Choose another with --data, or give this user the right to"
              + " write there.",
          e);
    }
  }

  /**
   * Locks a folder, does some work, and unlocks it.
   *
   * @throws StoreException.BadFolder if another process has locked it, or it cannot be written
   */
  public static void whileLocked(Path folder, Work work) {
    try (DataFolder _ = lock(folder)) {
      work.run();
    } catch (IOException | SQLException e) {
      throw new StoreException.BadFolder(
          "The data folder " + folder + " cannot be written: " + e.getMessage(), e);
    }
  }

  /** Returns true until it is closed. */
  public boolean isLocked() {
    return lock.isOpen();
  }

  private static FileLock tryLock(FileChannel channel) throws IOException {
    try {
      return channel.tryLock();
    } catch (OverlappingFileLockException e) {
      return null;
    }
  }

  /** Unlocks the folder. */
  @Override
  public void close() {
    try {
      lock.close();
    } catch (IOException e) {
      // The process is about to end, and with it the lock.
    }
  }
}
