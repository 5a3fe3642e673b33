package nodley.service;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import java.util.function.Function;

/** Pages of another origin than the service, on a free port of this machine. */
final class OtherSite implements AutoCloseable {

  private final HttpServer server;

  /**
   * Serves from now on.
   *
   * @param pages the HTML at a path, which comes without its first slash; empty is answered with
   *     404
   */
  OtherSite(Function<String, Optional<String>> pages) {
    try {
      server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    server.createContext("/", exchange -> serve(exchange, pages));
    server.start();
  }

  /** As a browser names it: {@code http://127.0.0.1:40123}. */
  String origin() {
    return "http://127.0.0.1:" + server.getAddress().getPort();
  }

  private static void serve(HttpExchange exchange, Function<String, Optional<String>> pages)
      throws IOException {
    Optional<String> page = pages.apply(exchange.getRequestURI().getPath().substring(1));
    byte[] bytes = page.orElse("").getBytes(StandardCharsets.UTF_8);
    String type = exchange.getRequestURI().getPath().endsWith(".css") ? "css" : "html";
    exchange.getResponseHeaders().set("Content-Type", "text/" + type + "; charset=utf-8");
    exchange.sendResponseHeaders(
        page.isPresent() ? 200 : 404, bytes.length == 0 ? -1 : bytes.length);
    exchange.getResponseBody().write(bytes);
    exchange.close();
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
