package nodley.service;

import java.io.DataInputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.ServerSocketChannel;
import java.nio.channels.SocketChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.concurrent.atomic.AtomicBoolean;

/**
 * Answers at a socket as clamd(8) does to INSTREAM: what has {@code HARM} in it is found, what is
 * longer than a megabyte is refused.
 */
final class StandInScanner implements AutoCloseable {

  private static final int LONGEST = 1 << 20;

  private final ServerSocketChannel server;
  private final AtomicBoolean away = new AtomicBoolean();

  StandInScanner(Path socket) {
    try {
      server = ServerSocketChannel.open(StandardProtocolFamily.UNIX);
      server.bind(UnixDomainSocketAddress.of(socket));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    Thread.ofVirtual().start(this::serve);
  }

  /** While it is away, nobody is answered. */
  void away(boolean away) {
    this.away.set(away);
  }

  private void serve() {
    while (server.isOpen()) {
      try (SocketChannel caller = server.accept()) {
        if (!away.get()) {
          caller.write(ByteBuffer.wrap((answer(caller) + "\0").getBytes(StandardCharsets.UTF_8)));
        }
      } catch (IOException e) {
        // The caller has gone, or the scanner is closed.
      }
    }
  }

  private static String answer(SocketChannel caller) throws IOException {
    var in = new DataInputStream(Channels.newInputStream(caller));
    byte[] command = in.readNBytes("zINSTREAM\0".length());
    if (!new String(command, StandardCharsets.US_ASCII).equals("zINSTREAM\0")) {
      return "UNKNOWN COMMAND";
    }
    var content = new StringBuilder();
    for (int length = in.readInt(); length > 0; length = in.readInt()) {
      content.append(new String(in.readNBytes(length), StandardCharsets.ISO_8859_1));
      if (content.length() > LONGEST) {
        return "INSTREAM size limit exceeded. ERROR";
      }
    }
    return content.indexOf("HARM") < 0 ? "stream: OK" : "stream: Made-up.Harm FOUND";
  }

  @Override
  public void close() throws IOException {
    server.close();
  }
}
