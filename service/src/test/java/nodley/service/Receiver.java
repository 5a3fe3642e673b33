package nodley.service;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.function.Function;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** An endpoint of somebody's that takes deliveries, on a free port of this machine. */
public final class Receiver implements AutoCloseable {

  private static final JsonMapper JSON = JsonMapper.shared();

  /** What came, in its order. */
  public record Came(String path, Map<String, String> headers, String body) {
    public JsonNode json() {
      return JSON.readTree(body);
    }

    public String id() {
      return headers.get("webhook-id");
    }
  }

  /**
   * How it answers.
   *
   * @param status 0 closes the connection without an answer
   */
  public record Answer(int status, Map<String, String> headers, String body) {
    public static Answer of(int status) {
      return new Answer(status, Map.of(), "");
    }

    public static Answer json(String body) {
      return new Answer(200, Map.of("Content-Type", "application/json"), body);
    }
  }

  private final HttpServer server;
  private final List<Came> came = new CopyOnWriteArrayList<>();
  private volatile Function<Came, Answer> answers = _ -> Answer.of(204);

  public Receiver() {
    this(0);
  }

  public Receiver(int port) {
    try {
      server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 64);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
    server.createContext("/", this::take);
    server.start();
  }

  public String url(String path) {
    return "http://127.0.0.1:" + server.getAddress().getPort() + path;
  }

  /** Has it answer so from now on; what came is kept before it answers. */
  public void answers(Function<Came, Answer> how) {
    answers = how;
  }

  public void answers(int status) {
    answers = _ -> Answer.of(status);
  }

  /** Forgets what came. */
  public void clear() {
    came.clear();
  }

  public List<Came> came() {
    return List.copyOf(came);
  }

  public List<Came> came(String path) {
    return came.stream().filter(it -> it.path().equals(path)).toList();
  }

  private void take(HttpExchange exchange) throws IOException {
    Map<String, String> headers = new LinkedHashMap<>();
    exchange
        .getRequestHeaders()
        .forEach((name, values) -> headers.put(name.toLowerCase(Locale.ROOT), values.getFirst()));
    String body = new String(exchange.getRequestBody().readAllBytes(), StandardCharsets.UTF_8);
    Came one = new Came(exchange.getRequestURI().getPath(), headers, body);
    came.add(one);
    Answer answer = answers.apply(one);
    try (exchange) {
      if (answer.status() > 0) {
        answer.headers().forEach(exchange.getResponseHeaders()::set);
        byte[] said = answer.body().getBytes(StandardCharsets.UTF_8);
        exchange.sendResponseHeaders(answer.status(), said.length == 0 ? -1 : said.length);
        exchange.getResponseBody().write(said);
      }
    }
  }

  @Override
  public void close() {
    server.stop(0);
  }
}
