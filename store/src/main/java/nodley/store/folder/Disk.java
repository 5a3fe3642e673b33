package nodley.store.folder;

import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;

/** Free space on the disk of the data folder, read at intervals. For one thread. */
public final class Disk {

  private static final long NANOS_BETWEEN_LOOKS = TimeUnit.SECONDS.toNanos(2);

  private final Path folder;
  private long free = Long.MAX_VALUE;
  private long looked = System.nanoTime() - NANOS_BETWEEN_LOOKS;

  /** Watches the disk that a folder is on. */
  public Disk(Path folder) {
    this.folder = folder;
  }

  /** Bytes that may still be written; unbounded if the system does not tell. */
  public long free() {
    long now = System.nanoTime();
    if (now - looked >= NANOS_BETWEEN_LOOKS) {
      looked = now;
      free = look();
    }
    return free;
  }

  private long look() {
    try {
      FileStore disk = Files.getFileStore(folder);
      return disk.getUsableSpace();
    } catch (IOException e) {
      return Long.MAX_VALUE;
    }
  }
}
