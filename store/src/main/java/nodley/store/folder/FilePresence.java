package nodley.store.folder;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import nodley.store.common.StoreException;

/**
 * Checks that the database file is still at its path. SQLite would go on writing to a file that was
 * deleted or moved, and the data would be lost when the process ends.
 */
public final class FilePresence {

  private final Path file;
  private final Object key;

  /** Notes which file is at a path now. */
  public FilePresence(Path file) {
    this.file = file;
    this.key = key();
  }

  /**
   * Looks; costs some microseconds.
   *
   * @throws StoreException.Unavailable if it is gone, or is another one
   */
  public void check() {
    if (key != null && !key.equals(key())) {
      throw new StoreException.Unavailable(
          "The data file " + file + " is gone, or another is in its place. Stop the service.",
          null);
    }
  }

  /** What the file system knows the file by; null if it is not there, or has no such thing. */
  private Object key() {
    try {
      return Files.readAttributes(file, BasicFileAttributes.class).fileKey();
    } catch (IOException e) {
      return null;
    }
  }
}
