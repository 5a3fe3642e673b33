package nodley.service.standin;

import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Locale;

/**
 * Takes mails by SMTP (RFC 5321) on a free port of this machine, and keeps the latest ones. Nothing
 * is sent on. Thread-safe.
 */
final class MailServerStandIn implements AutoCloseable {

  private static final int KEPT = 100;
  private static final int LONGEST_LINE = 1_000_000;
  private static final int LONGEST_MAIL = 5_000_000;
  private static final int PATIENCE_MILLIS = 60_000;

  private final ServerSocket server;
  private final Deque<byte[]> mails = new ArrayDeque<>();

  MailServerStandIn() {
    try {
      server = new ServerSocket(0, 16, InetAddress.getLoopbackAddress());
    } catch (IOException e) {
      throw new UncheckedIOException("No port is free for the stand-in mail server.", e);
    }
    Thread.ofVirtual().start(this::serve);
  }

  int port() {
    return server.getLocalPort();
  }

  /** Returns the mails as they came (RFC 5322), the latest first. */
  List<byte[]> mails() {
    synchronized (mails) {
      return List.copyOf(mails);
    }
  }

  private void serve() {
    while (!server.isClosed()) {
      try {
        Socket client = server.accept();
        Thread.ofVirtual().start(() -> talk(client));
      } catch (IOException e) {
        // It is closed.
      }
    }
  }

  private void talk(Socket client) {
    try (client) {
      client.setSoTimeout(PATIENCE_MILLIS);
      InputStream in = new BufferedInputStream(client.getInputStream());
      OutputStream out = client.getOutputStream();
      say(out, "220 outbox of the demo");
      for (String line = line(in); line != null; line = line(in)) {
        String verb = line.length() < 4 ? line : line.substring(0, 4);
        switch (verb.toUpperCase(Locale.ROOT)) {
          case "EHLO" -> say(out, "250-outbox of the demo", "250 8BITMIME");
          case "HELO", "MAIL", "RCPT", "RSET", "NOOP" -> say(out, "250 OK");
          case "DATA" -> {
            say(out, "354 End with a full stop alone on a line");
            boolean kept = keep(in);
            say(out, kept ? "250 OK" : "552 The mail is too large");
          }
          case "QUIT" -> {
            say(out, "221 Bye");
            return;
          }
          default -> say(out, "500 There is no such command here");
        }
      }
    } catch (IOException e) {
      // Whoever sent is gone.
    }
  }

  /** Section 4.5.2: a line that begins with a full stop has one more. */
  private boolean keep(InputStream in) throws IOException {
    ByteArrayOutputStream mail = new ByteArrayOutputStream();
    for (String line = line(in); line != null && !line.equals("."); line = line(in)) {
      if (mail.size() < LONGEST_MAIL) {
        String plain = line.startsWith(".") ? line.substring(1) : line;
        mail.write((plain + "\r\n").getBytes(StandardCharsets.ISO_8859_1));
      }
    }
    if (mail.size() >= LONGEST_MAIL) {
      return false;
    }
    synchronized (mails) {
      mails.addFirst(mail.toByteArray());
      if (mails.size() > KEPT) {
        mails.removeLast();
      }
    }
    return true;
  }

  private static void say(OutputStream out, String... lines) throws IOException {
    out.write((String.join("\r\n", lines) + "\r\n").getBytes(StandardCharsets.US_ASCII));
    out.flush();
  }

  /** A line without its end, each byte a character; null at the end of all. */
  private static String line(InputStream in) throws IOException {
    StringBuilder line = new StringBuilder();
    int next = in.read();
    for (; next >= 0 && next != '\n'; next = in.read()) {
      if (line.length() >= LONGEST_LINE) {
        throw new IOException("a line without an end");
      }
      line.append((char) next);
    }
    if (next < 0 && line.isEmpty()) {
      return null;
    }
    int length = line.length();
    return length > 0 && line.charAt(length - 1) == '\r'
        ? line.substring(0, length - 1)
        : line.toString();
  }

  @Override
  public void close() {
    try {
      server.close();
    } catch (IOException e) {
      // It is closed.
    }
  }
}
