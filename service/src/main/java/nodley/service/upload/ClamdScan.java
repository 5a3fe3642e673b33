package nodley.service.upload;

import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.SocketAddress;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import nodley.service.limits.ScanSettings;
import nodley.store.upload.ContentScan;
import nodley.store.upload.UploadException;

/**
 * Has clamd look at a file: its command INSTREAM, as clamd(8) describes it. Each file has a
 * connection of its own. Thread-safe.
 */
final class ClamdScan implements ContentScan {

  /** Bytes of one chunk. */
  private static final int CHUNK = 1 << 16;

  /** Characters of an answer; clamd's are short. */
  private static final int LONGEST = 1_000;

  private static final ScheduledExecutorService CLOCK =
      Executors.newSingleThreadScheduledExecutor(
          Thread.ofPlatform().daemon().name("scan-clock").factory());

  private final String address;
  private final Duration time;

  private ClamdScan(String address, Duration time) {
    this.address = address;
    this.time = time;
  }

  static ContentScan of(ScanSettings settings) {
    return settings.clamd().isEmpty()
        ? ContentScan.NONE
        : new ClamdScan(settings.clamd(), settings.time());
  }

  @Override
  public void check(Path file) throws IOException {
    String answer;
    try (SocketChannel clamd = SocketChannel.open(family())) {
      // A channel has no timeouts; whoever waits in it is told by its end.
      Future<?> end =
          CLOCK.schedule((Runnable) () -> close(clamd), time.toMillis(), TimeUnit.MILLISECONDS);
      try {
        clamd.connect(where());
        answer = answer(clamd, file);
      } finally {
        end.cancel(false);
      }
    } catch (IOException e) {
      throw new UploadException.Unscanned("clamd at " + address + " does not answer: " + e);
    }
    if (answer.endsWith(" FOUND")) {
      throw new UploadException.Harmful(answer.replaceFirst("^stream: ", ""));
    }
    if (!answer.endsWith(" OK")) {
      throw new UploadException.Unscanned("clamd at " + address + " says: " + answer);
    }
  }

  private StandardProtocolFamily family() {
    return address.startsWith("/") ? StandardProtocolFamily.UNIX : StandardProtocolFamily.INET;
  }

  private SocketAddress where() {
    int colon = address.lastIndexOf(':');
    return address.startsWith("/")
        ? UnixDomainSocketAddress.of(address)
        : new InetSocketAddress(
            address.substring(0, colon), Integer.parseInt(address.substring(colon + 1)));
  }

  private static void close(SocketChannel clamd) {
    try {
      clamd.close();
    } catch (IOException e) {
      // It is of no more use either way.
    }
  }

  private static String answer(SocketChannel clamd, Path file) throws IOException {
    write(clamd, ByteBuffer.wrap("zINSTREAM\0".getBytes(StandardCharsets.US_ASCII)));
    try (FileChannel in = FileChannel.open(file)) {
      ByteBuffer chunk = ByteBuffer.allocate(Integer.BYTES + CHUNK);
      int read;
      do {
        chunk.clear().position(Integer.BYTES);
        read = Math.max(0, in.read(chunk));
        // A chunk of no bytes ends the stream.
        write(clamd, chunk.putInt(0, read).flip());
      } while (read > 0);
    } catch (IOException e) {
      // Of a stream that is too long clamd says so, and reads no further.
      String said = read(clamd);
      if (said.isEmpty()) {
        throw e;
      }
      return said;
    }
    return read(clamd);
  }

  private static void write(SocketChannel clamd, ByteBuffer bytes) throws IOException {
    while (bytes.hasRemaining()) {
      clamd.write(bytes);
    }
  }

  private static String read(SocketChannel clamd) throws IOException {
    ByteBuffer answer = ByteBuffer.allocate(LONGEST);
    while (answer.hasRemaining() && clamd.read(answer) >= 0) {
      if (answer.position() > 0 && answer.get(answer.position() - 1) == 0) {
        break;
      }
    }
    return new String(answer.array(), 0, answer.position(), StandardCharsets.UTF_8)
        .replace("\0", "")
        .strip();
  }
}
