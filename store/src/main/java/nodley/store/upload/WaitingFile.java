package nodley.store.upload;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import nodley.store.folder.Permissions;

/**
 * The bytes of one upload as far as they have come. How many there are is what the file's length
 * says, so that nothing that was written is lost with the process. One request writes at a time: a
 * later one takes over from an earlier one, whose line may be dead without anybody knowing.
 *
 * <p>While bytes with a checksum arrive, a second file says where they began: if the process ends
 * before they were compared, they are left out.
 */
final class WaitingFile {

  private static final int BUFFER = 1 << 16;

  private final Path path;
  private final Path unchecked;
  private final ReentrantLock lock = new ReentrantLock();

  /** Held while the bytes become a content. */
  private final ReentrantLock sealing = new ReentrantLock();

  /** Who may write; guarded by the lock. */
  private Object turn = new Object();

  /** True while nobody may write; guarded by the lock. */
  private boolean isSealed;

  WaitingFile(Path path) {
    this.path = path;
    this.unchecked = path.resolveSibling(path.getFileName() + ".unchecked");
  }

  Path path() {
    return path;
  }

  /** Reads how many bytes there are; 0 if there are none. */
  long length() throws IOException {
    lock.lock();
    try {
      return checkedLength();
    } finally {
      lock.unlock();
    }
  }

  private long checkedLength() throws IOException {
    try {
      return Files.exists(unchecked)
          ? Math.min(Long.parseLong(Files.readString(unchecked)), Files.size(path))
          : Files.size(path);
    } catch (NoSuchFileException e) {
      return 0;
    } catch (NumberFormatException e) {
      // The process ended before the number was written, and so before any bytes were.
      return Files.size(path);
    }
  }

  /**
   * Writes what arrives, from an offset that must be where the file ends.
   *
   * @param size bytes that the whole upload has
   * @return how many bytes there are now
   * @throws IOException of the stream, if the line broke: what came until then is there
   */
  long append(long offset, long size, InputStream in, Optional<Checksum> checksum)
      throws IOException {
    Object mine = new Object();
    try (FileChannel out = open(mine, offset, checksum.isPresent())) {
      boolean whole = false;
      try {
        long end = copy(mine, offset, size, in, out, checksum);
        whole = true;
        return end;
      } finally {
        finish(mine, out, whole || checksum.isEmpty() ? -1 : offset);
      }
    }
  }

  private FileChannel open(Object mine, long offset, boolean checked) throws IOException {
    lock.lock();
    try {
      if (isSealed) {
        throw new UploadException.Overtaken();
      }
      long length = checkedLength();
      if (length != offset) {
        throw new UploadException.WrongOffset(offset, length);
      }
      Permissions.create(path);
      FileChannel out = FileChannel.open(path, StandardOpenOption.CREATE, StandardOpenOption.WRITE);
      // What was never checked goes.
      out.truncate(offset);
      if (checked) {
        Files.writeString(unchecked, Long.toString(offset), StandardCharsets.US_ASCII);
      } else {
        Files.deleteIfExists(unchecked);
      }
      turn = mine;
      return out;
    } finally {
      lock.unlock();
    }
  }

  private long copy(
      Object mine,
      long offset,
      long size,
      InputStream in,
      FileChannel out,
      Optional<Checksum> checksum)
      throws IOException {
    MessageDigest digest = checksum.map(Checksum::begin).orElse(null);
    byte[] buffer = new byte[BUFFER];
    long end = offset;
    for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
      if (end + read > size) {
        cut(mine, out, offset);
        throw new UploadException.TooMuch(size);
      }
      if (digest != null) {
        digest.update(buffer, 0, read);
      }
      write(mine, out, end, ByteBuffer.wrap(buffer, 0, read));
      end += read;
    }
    if (digest != null && !MessageDigest.isEqual(digest.digest(), checksum.get().digest())) {
      throw new UploadException.WrongChecksum();
    }
    return end;
  }

  private void write(Object mine, FileChannel out, long at, ByteBuffer bytes) throws IOException {
    lock.lock();
    try {
      if (turn != mine) {
        throw new UploadException.Overtaken();
      }
      long place = at;
      while (bytes.hasRemaining()) {
        place += out.write(bytes, place);
      }
    } finally {
      lock.unlock();
    }
  }

  /** Takes back what a request has written, as long as no other has gone on. */
  private void cut(Object mine, FileChannel out, long offset) throws IOException {
    lock.lock();
    try {
      if (turn == mine) {
        out.truncate(offset);
      }
    } finally {
      lock.unlock();
    }
  }

  private void finish(Object mine, FileChannel out, long cutTo) throws IOException {
    lock.lock();
    try {
      if (turn == mine) {
        if (cutTo >= 0) {
          out.truncate(cutTo);
        }
        out.force(true);
        Files.deleteIfExists(unchecked);
      }
    } finally {
      lock.unlock();
    }
  }

  /** Does something while nobody writes, and only one does it at a time. */
  <T> T sealed(Uploads.IoWork<T> work) throws IOException {
    sealing.lock();
    try {
      seal(true);
      return work.run();
    } finally {
      seal(false);
      sealing.unlock();
    }
  }

  private void seal(boolean sealed) {
    lock.lock();
    try {
      isSealed = sealed;
      turn = new Object();
    } finally {
      lock.unlock();
    }
  }

  /** Ends every writing, and removes the bytes. */
  void remove() throws IOException {
    lock.lock();
    try {
      turn = new Object();
      Files.deleteIfExists(path);
      Files.deleteIfExists(unchecked);
    } finally {
      lock.unlock();
    }
  }
}
