package nodley.service.standin;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Executors;
import nodley.service.problem.Json;
import nodley.store.source.SourceException;
import nodley.store.source.SourceFile;
import org.springframework.core.io.ClassPathResource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The stand-ins of the demo together: one HTTP server, one mail server, one database. */
public final class StandIns implements AutoCloseable {

  private static final List<String> MAILS =
      List.of("welcome.txt", "welcome.html", "welcome.de.txt", "welcome.de.html");

  private final HttpServer server;
  private final MailServerStandIn mails = new MailServerStandIn();
  private final Path folder;

  /**
   * Starts them on free ports of this machine.
   *
   * @param folder for the files that they need
   */
  public StandIns(Path folder) {
    this.folder = folder;
    try {
      server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 16);
      server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
      server.createContext("/register", this::register);
      server.createContext("/outbox", this::outbox);
      server.start();
      for (String mail : MAILS) {
        Files.copy(
            new ClassPathResource("demo/outside/" + mail).getInputStream(), folder.resolve(mail));
      }
      makeAlmanac();
    } catch (IOException | SourceException e) {
      throw new IllegalStateException("The stand-ins of the demo cannot be started.", e);
    }
  }

  private void makeAlmanac() throws IOException, SourceException {
    List<List<String>> lines =
        new ClassPathResource("demo/outside/ports.csv")
            .getContentAsString(StandardCharsets.UTF_8)
            .lines()
            .map(line -> List.of(line.split(",")))
            .toList();
    SourceFile.make(
        folder.resolve("almanac.db"), "ports", lines.getFirst(), lines.subList(1, lines.size()));
  }

  private String at(String path) {
    return "http://127.0.0.1:" + server.getAddress().getPort() + path;
  }

  /** Returns where the page with the mails is. */
  public String outbox() {
    return at("/outbox");
  }

  /**
   * Returns the settings by which the service knows them: what stands below {@code nodley:}.
   *
   * @param links where the service is, to which links in mails lead
   */
  public String settings(String links) {
    return """
      asks:
        register: { url: "%s", private: true }
      sources:
        almanac: { url: "jdbc:sqlite:%s" }
      mail: { host: 127.0.0.1, port: %d, security: none, from: office@marrow-quay.example, links: "%s" }
      outlets:
        welcome:
          mail:
            to: "{email}"
            subject: "{name} at Marrow Quay"
            text: "%s"
            html: "%s"
    """
        .indent(2)
        .formatted(
            at("/register"),
            folder.resolve("almanac.db"),
            mails.port(),
            links,
            folder.resolve("welcome.txt"),
            folder.resolve("welcome.html"));
  }

  private void register(HttpExchange exchange) throws IOException {
    byte[] body = exchange.getRequestBody().readAllBytes();
    JsonNode values = JsonMapper.shared().readTree(body).path("values");
    answer(
        exchange,
        "application/json",
        Json.bytes(
            VesselRegister.answer(
                values.path("callSign").asString(""),
                Optional.of(values.path("flag").asString("")).filter(it -> !it.isEmpty()))));
  }

  private void outbox(HttpExchange exchange) throws IOException {
    answer(
        exchange,
        "text/html; charset=utf-8",
        OutboxPage.of(mails.mails()).getBytes(StandardCharsets.UTF_8));
  }

  private static void answer(HttpExchange exchange, String type, byte[] body) throws IOException {
    try (exchange) {
      exchange.getResponseHeaders().set("Content-Type", type);
      exchange.sendResponseHeaders(200, body.length);
      exchange.getResponseBody().write(body);
    }
  }

  @Override
  public void close() {
    server.stop(0);
    mails.close();
    try (var files = Files.list(folder)) {
      for (Path file : files.toList()) {
        Files.delete(file);
      }
      Files.delete(folder);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
