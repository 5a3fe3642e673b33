package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import java.io.IOException;
import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.SocketTimeoutException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import nodley.service.start.Service;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Every limit is a setting, and beyond it the caller hears what it is. */
class LimitsTest {

  private static RunningService service;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service =
        RunningService.with(
            "nodley.limits.request.body: 20KB",
            "nodley.limits.request.header: 4KB",
            "nodley.limits.request.address: 1KB",
            "nodley.limits.request.depth: 5",
            "nodley.limits.request.values: 50",
            "nodley.limits.request.time: 1s",
            "nodley.limits.request.speed: 8KB",
            "nodley.limits.request.bodies: 320KB",
            "nodley.limits.connection.per-address: 40",
            "nodley.limits.connection.idle: 2s",
            "nodley.limits.stranger.adds: 20",
            "nodley.limits.stranger.checks: 30",
            "nodley.limits.watch.per-form: 3",
            "nodley.limits.watch.per-address: 4",
            "nodley.limits.watch.heartbeat: 100ms",
            "nodley.limits.hold.per-address: 2",
            "nodley.limits.secret.per-submission: 2",
            "nodley.limits.secret.comparisons: 3",
            "nodley.limits.log.attempt: 1KB",
            "nodley.limits.log.per-second: 5",
            "nodley.limits.page.rows: 10",
            "nodley.limits.page.size: 100KB",
            "nodley.limits.form.file: 300KB");
    stranger = service.stranger();
    publish(
        "boat",
        "name: { type: text, length: ..100000 }",
        "mark: { type: text, unique: { hold: true } }");
    publish("skiff", "name: { type: text }");
    publish("punt", "name: { type: text }");
    publish("dory", "name: { type: text }");
    publish("refused", "name: { type: text, required: true }");
    publish("spared", "name: { type: text, required: true }");
    publish("paged", "crew: { type: rows, fields: { name: { type: text } } }");
    publish(
        "lock", "pw: { type: secret }", "crew: { type: rows, fields: { pw: { type: secret } } }");
    String options =
        IntStream.range(0, 1_900)
            .mapToObj(i -> "v" + i + ": \"" + "long ".repeat(12) + i + "\"")
            .collect(Collectors.joining(", "));
    publish("broad", "berth: { type: choice, control: radio, options: { " + options + " } }");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String... fields) {
    String text =
        "form: "
            + form
            + "\naccess: { add: anyone, see: anyone }\nfields:\n  "
            + String.join("\n  ", fields);
    Wire.Reply reply = service.wire().publish(form, text);
    assertThat(reply.status()).as(form).isEqualTo(201);
  }

  private static Wire.Reply add(String form, String json) {
    return service.wire().add(form, json);
  }

  @Test
  void aBodyHasSoManyBytes() {
    assertThat(add("boat", "{\"name\": \"" + "x".repeat(19_000) + "\"}").status()).isEqualTo(201);
    Wire.Reply reply = add("boat", "{\"name\": \"" + "x".repeat(21_000) + "\"}");
    assertThat(reply.status()).isEqualTo(413);
    assertThat(reply.json().path("detail").asString()).isEqualTo("The body is larger than 20 KiB.");
  }

  @Test
  void aHeaderAndAnAddressHaveSoManyBytes() {
    assertThat(stranger.get("/forms", "X-Long", "x".repeat(3_000)).status()).isEqualTo(200);
    assertThat(stranger.get("/forms", "X-Long", "x".repeat(5_000)).status()).isEqualTo(431);
    assertThat(stranger.get("/api/forms/boat/records?q=" + "x+".repeat(90)).status())
        .isEqualTo(200);
    Wire.Reply reply = stranger.get("/api/forms/boat/records?q=" + "x".repeat(1_000));
    assertThat(reply.status()).isEqualTo(414);
    assertThat(reply.json().path("detail").asString())
        .isEqualTo("It may have 1024 characters, and has 1026.");
  }

  @ParameterizedTest
  @CsvSource({"4, 422", "5, 400"})
  void valuesAreNestedSoDeep(int deep, int status) {
    Wire.Reply reply = add("boat", "{\"name\": " + "[".repeat(deep) + "]".repeat(deep) + "}");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(status);
  }

  @ParameterizedTest
  @CsvSource({"40, 422", "60, 413"})
  void aSubmissionHasSoManyValues(int many, int status) {
    String members =
        IntStream.range(0, many)
            .mapToObj(i -> "\"f" + i + "\": 1")
            .collect(Collectors.joining(","));
    Wire.Reply reply = add("boat", "{" + members + "}");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(status);
  }

  /** A second, and a second more for each 8 kB: what drips in does not get to its end. */
  @Test
  void aBodyThatDripsInIsEnded() throws IOException {
    try (Socket socket = connect()) {
      send(socket, head("POST /api/forms/boat/records", "Content-Length: 5000"));
      InputStream in = socket.getInputStream();
      await()
          .pollInterval(Duration.ofMillis(50))
          .until(
              () -> {
                send(socket, "x");
                return in.available() > 0;
              });
      String reply = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      assertThat(reply)
          .startsWith("HTTP/1.1 408")
          .containsIgnoringCase("connection: close")
          .contains("It has 1 seconds, and a second more for each 8192 bytes.");
    }
  }

  @Test
  void aBodyThatStopsIsEnded() throws IOException {
    try (Socket socket = connect()) {
      send(socket, head("POST /api/forms/boat/records", "Content-Length: 5000") + "{");
      assertThat(new String(socket.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
          .startsWith("HTTP/1.1 408");
    }
  }

  /** Tomcat itself bounds the silence between two bytes only. */
  @Test
  void aHeaderThatDripsInIsEnded() throws IOException {
    try (Socket socket = connect()) {
      send(socket, "GET /forms HTTP/1.1\r\nHost: x\r\nX-Long: ");
      await()
          .pollInterval(Duration.ofMillis(50))
          .until(
              () -> {
                try {
                  send(socket, "x");
                  return socket.getInputStream().available() > 0;
                } catch (IOException e) {
                  return true;
                }
              });
    }
  }

  /** Each would hold a connection and its answer for ever: 6 MB do not fit into any buffer. */
  @Test
  void aReaderThatReadsNothingIsClosed() throws IOException {
    publish("raft", "name: { type: text, length: ..100000 }");
    for (int i = 0; i < 320; i++) {
      assertThat(add("raft", "{\"name\": \"" + "x".repeat(19_000) + "\"}").status()).isEqualTo(201);
    }
    List<Socket> readers = new ArrayList<>();
    try {
      for (int i = 0; i < 5; i++) {
        Socket socket = new Socket();
        socket.setReceiveBufferSize(4_096);
        socket.connect(service());
        readers.add(socket);
        send(socket, head("GET /api/forms/raft/records?limit=1000"));
      }
      await()
          .atMost(Duration.ofSeconds(30))
          .until(() -> readers.stream().allMatch(it -> isGone(it)));
    } finally {
      for (Socket socket : readers) {
        socket.close();
      }
    }
  }

  /** Writing to a connection that the other side has closed fails, if not at once. */
  private static boolean isGone(Socket socket) {
    try {
      send(socket, "x");
      return false;
    } catch (IOException e) {
      return true;
    }
  }

  /**
   * Lists that take seconds each, by callers who have ten minutes for them and hang up: whoever
   * comes next does not wait until all are read to their end.
   */
  @Test
  void whatNobodyWaitsForIsNotRead() throws IOException {
    try (RunningService patient = RunningService.with("nodley.limits.read.time: 10m")) {
      Wire wire = patient.wire();
      assertThat(
              wire.publish("log", "form: log\nfields: { note: { type: text, length: ..20000 } }")
                  .status())
          .isEqualTo(201);
      String note = "ab ".repeat(6_000);
      for (int i = 0; i < 600; i++) {
        assertThat(wire.add("log", "{\"note\": \"" + note + "\"}").status()).isEqualTo(201);
      }
      String costly =
          IntStream.range(0, 20)
              .mapToObj(i -> "matches(note,%22.*a.*b.*c" + i + ".*%22)")
              .collect(Collectors.joining("%20or%20"));
      URI at = URI.create(patient.address());
      List<Socket> callers = new ArrayList<>();
      for (int i = 0; i < 40; i++) {
        Socket socket = new Socket(at.getHost(), at.getPort());
        callers.add(socket);
        send(
            socket,
            head(
                "GET /api/forms/log/records?where=" + costly,
                "Authorization: Bearer " + RunningService.KEY));
      }
      // They are under way: one of them at least has come to its turn.
      await().until(() -> threads("costly-reads-known").count() > 0);
      for (Socket socket : callers) {
        socket.close();
      }
      assertThat(wire.get("/api/forms/log/records?limit=1").status()).isEqualTo(200);
    }
  }

  private static Stream<Thread> threads(String name) {
    return Thread.getAllStackTraces().keySet().stream().filter(it -> it.getName().startsWith(name));
  }

  @Test
  void oneAddressHasSoManyConnections() throws IOException {
    List<Socket> sockets = new ArrayList<>();
    try {
      for (int i = 0; i < 60; i++) {
        sockets.add(connect());
      }
      // One more is closed at once; whoever is somewhere else gets in.
      await().until(() -> isClosed(sockets.getLast()));
      try (Socket elsewhere = new Socket()) {
        elsewhere.bind(new InetSocketAddress("127.0.0.2", 0));
        elsewhere.connect(service());
        send(elsewhere, head("GET /api/session", "Connection: close"));
        assertThat(new String(elsewhere.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
            .startsWith("HTTP/1.1 200");
      }
    } finally {
      for (Socket socket : sockets) {
        socket.close();
      }
    }
    // Once they are closed there is room again.
    await()
        .until(
            () -> {
              try (Socket socket = connect()) {
                send(socket, head("GET /api/session", "Connection: close"));
                return socket.getInputStream().readAllBytes().length > 0;
              } catch (IOException e) {
                return false;
              }
            });
  }

  private static boolean isClosed(Socket socket) throws IOException {
    socket.setSoTimeout(50);
    try {
      return socket.getInputStream().read() < 0;
    } catch (SocketTimeoutException e) {
      return false;
    } catch (IOException e) {
      return true;
    }
  }

  @Test
  void aStrangerAddsAndChecksSoOftenAMinute() {
    for (int i = 0; i < 20; i++) {
      assertThat(stranger.add("skiff", "{}").status()).isEqualTo(201);
    }
    Wire.Reply reply = stranger.add("skiff", "{}");
    assertThat(reply.status()).isEqualTo(429);
    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/too-many-requests");
    assertThat(reply.json().path("detail").asString())
        .startsWith("A stranger may send 20 adds and edits of \"skiff\" a minute. Try again in ");
    assertThat(Integer.parseInt(reply.header("Retry-After"))).isBetween(1, 4);
    for (int i = 0; i < 30; i++) {
      assertThat(stranger.check("skiff", "", "{}").status()).isEqualTo(200);
    }
    assertThat(stranger.check("skiff", "", "{}").status()).isEqualTo(429);
    assertThat(stranger.post("/forms/skiff/new", Wire.FORM_TYPE, "name=a").status()).isEqualTo(429);
    // Another form, and who shows a key, go on.
    assertThat(stranger.add("punt", "{}").status()).isEqualTo(201);
    assertThat(add("skiff", "{}").status()).isEqualTo(201);
  }

  @Test
  void soManyWatchAFormAndFromAnAddress() throws IOException {
    List<Socket> watchers = new ArrayList<>();
    try {
      for (String form : List.of("boat", "boat", "boat", "skiff")) {
        watchers.add(watch(form, "200"));
      }
      watchers.add(watch("boat", "503"));
      watchers.add(watch("punt", "503"));
    } finally {
      for (Socket socket : watchers) {
        socket.close();
      }
    }
    // The heartbeat tells that they have left.
    await()
        .until(
            () -> {
              try (Socket again = connect()) {
                send(again, head("GET /api/forms/boat/changes"));
                return status(again).equals("200");
              }
            });
  }

  private static Socket watch(String form, String status) throws IOException {
    Socket socket = connect();
    send(socket, head("GET /api/forms/" + form + "/changes"));
    assertThat(status(socket)).as(form).isEqualTo(status);
    return socket;
  }

  private static String status(Socket socket) throws IOException {
    return new String(socket.getInputStream().readNBytes(12), StandardCharsets.UTF_8).substring(9);
  }

  @Test
  void oneAddressHoldsSoManyValues() {
    List<Integer> held = new ArrayList<>();
    for (int i = 0; i < 3; i++) {
      Wire.Reply reply =
          service
              .wire()
              .check(
                  "boat",
                  "?fields=mark&hold=true&page=" + openPage(),
                  "{\"mark\": \"m" + i + "\"}");
      assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
      held.add(reply.json().path("held").size());
    }
    assertThat(held).containsExactly(1, 1, 0);
  }

  private static String openPage() {
    return service
        .wire()
        .post("/api/holds?form=boat", Wire.JSON_TYPE, "{}")
        .json()
        .path("page")
        .asString();
  }

  @Test
  void aSubmissionHasSoManySecrets() {
    assertThat(add("lock", "{\"pw\": \"one two three\"}").status()).isEqualTo(201);
    String rows =
        IntStream.range(0, 3)
            .mapToObj(i -> "{\"pw\": \"one two " + i + "\"}")
            .collect(Collectors.joining(","));
    assertThat(add("lock", "{\"crew\": [" + rows + "]}").status()).isEqualTo(413);
  }

  @Test
  void secretsOfARecordAreComparedSoOften() {
    String id = add("lock", "{\"pw\": \"correct horse\"}").json().path("id").asString();
    String verify = "/api/forms/lock/records/" + id + "/secrets/pw/verify";
    for (int i = 0; i < 3; i++) {
      assertThat(
              service
                  .wire()
                  .post(verify, Wire.JSON_TYPE, "{\"secret\": \"guess\"}")
                  .json()
                  .path("matches")
                  .asBoolean(true))
          .isFalse();
    }
    assertThat(service.wire().post(verify, Wire.JSON_TYPE, "{\"secret\": \"x\"}").status())
        .isEqualTo(429);
  }

  @Test
  void anAttemptKeepsSoMuch() {
    Wire.Reply added = add("boat", "{\"name\": \"" + "x".repeat(5_000) + "\"}");
    Wire.Reply attempt = service.wire().get("/api/attempts/" + added.header("X-Request-Id"));
    assertThat(attempt.json().path("values").path("name").asString()).hasSizeBetween(900, 1_030);
    assertThat(attempt.json().path("leftOut").asInt()).isEqualTo(1);
  }

  @Test
  void soManyRefusalsAreLoggedWithinASecond() {
    Wire wire = service.wire();
    long begun = System.nanoTime();
    List<Wire.Reply> refused =
        IntStream.range(0, 60).mapToObj(_ -> wire.add("refused", "{}")).toList();
    // Five at once, and five more for each second that it took.
    int most = 5 + (int) (5 * (System.nanoTime() - begun) / 1_000_000_000L) + 1;
    Wire.Reply accepted = wire.add("refused", "{\"name\": \"Log\"}");
    Wire.Reply another = wire.add("spared", "{}");

    assertThat(refused).extracting(Wire.Reply::status).containsOnly(422);
    JsonNode log = wire.get("/api/attempts?form=refused&verdict=refused&limit=100").json();
    assertThat(log.path("attempts").size()).isBetween(5, most);
    assertThat(wire.get("/api/attempts/" + refused.getFirst().header("X-Request-Id")).status())
        .isEqualTo(200);
    // What is accepted is always logged, and another form has its own five.
    for (Wire.Reply logged : List.of(accepted, another)) {
      assertThat(wire.get("/api/attempts/" + logged.header("X-Request-Id")).status())
          .isEqualTo(200);
    }
  }

  @Test
  void aPageDrawsSoManyRowsAndHasSoManyBytes() {
    String rows =
        IntStream.range(0, 12)
            .mapToObj(i -> "crew[" + i + "].name=a")
            .collect(Collectors.joining("&"));
    assertThat(service.wire().post("/forms/paged/new", Wire.FORM_TYPE, rows).status())
        .isEqualTo(413);
    Wire.Reply page = stranger.get("/forms/broad/new");
    assertThat(page.status()).isEqualTo(413);
    assertThat(page.response().body()).contains("more than 100 KiB");
  }

  @Test
  void aFormFileHasSoManyBytes() {
    Wire.Reply reply =
        service
            .wire()
            .publish("long", "form: long\nfields: { a: { type: text } }\n" + "#".repeat(310_000));
    assertThat(reply.status()).isEqualTo(413);
  }

  /**
   * Each record takes longer than a millisecond: the page ends, and the next goes on from there.
   */
  @Test
  void aListHasATime() {
    try (RunningService hasty =
        RunningService.with(
            "nodley.limits.read.time: 1ms", "nodley.limits.read.stranger-time: 1ms")) {
      Wire wire = hasty.wire();
      wire.publish(
          "log",
          "form: log\naccess: { see: anyone }\nfields: { note: { type: text, length: ..20000 } }");
      for (int i = 0; i < 5; i++) {
        wire.add("log", "{\"note\": \"" + "ab ".repeat(6_000) + "\"}");
      }
      String slow = "/api/forms/log/records?where=matches(note,%22.*a.*b.*c.*%22)";
      for (Wire each : List.of(wire, hasty.stranger())) {
        Wire.Reply reply = each.get(slow);
        if (reply.status() == 200) {
          assertThat(reply.json().path("next").asString()).isNotEmpty();
        } else {
          assertThat(reply.json().path("type").asString()).isEqualTo("/problems/too-costly");
        }
      }
    }
  }

  @Test
  void soManyStrangersWatchInAll() throws IOException {
    try (RunningService small =
        RunningService.with(
            "nodley.limits.watch.total: 2", "nodley.limits.watch.heartbeat: 100ms")) {
      small
          .wire()
          .publish("boat", "form: boat\naccess: { see: anyone }\nfields: { a: { type: text } }");
      URI at = URI.create(small.address());
      List<Socket> watchers = new ArrayList<>();
      try {
        for (String status : List.of("200", "200", "503")) {
          Socket socket = new Socket(at.getHost(), at.getPort());
          watchers.add(socket);
          send(socket, head("GET /api/forms/boat/changes"));
          assertThat(status(socket)).isEqualTo(status);
        }
        // Who is known has a place all the same.
        Socket known = new Socket(at.getHost(), at.getPort());
        watchers.add(known);
        send(
            known,
            head("GET /api/forms/boat/changes", "Authorization: Bearer " + RunningService.KEY));
        assertThat(status(known)).isEqualTo("200");
      } finally {
        for (Socket socket : watchers) {
          socket.close();
        }
      }
    }
  }

  @Test
  void soManySecretsWaitToBeDigested() {
    try (RunningService small = RunningService.with("nodley.limits.secret.waiting: 1")) {
      small.wire().publish("lock", "form: lock\nfields: { pw: { type: secret } }");
      assertThat(atOnce(30, () -> small.wire().add("lock", "{\"pw\": \"one two three\"}")))
          .contains(201, 503)
          .isSubsetOf(201, 503);
    }
  }

  /** While somebody else writes to the file, what is sent waits: two of them, or half a second. */
  @ParameterizedTest
  @CsvSource({"2, 10s", "100, 500ms"})
  void soManySubmissionsWaitForTheirTurnForSoLong(int waiting, String turn) throws Exception {
    try (RunningService small =
        RunningService.with(
            "nodley.limits.request.waiting: " + waiting, "nodley.limits.request.turn: " + turn)) {
      small.wire().publish("boat", "form: boat\nfields: { a: { type: text } }");
      try (Connection other =
              DriverManager.getConnection("jdbc:sqlite:" + small.data().resolve("nodley.db"));
          Statement statement = other.createStatement()) {
        statement.execute("BEGIN IMMEDIATE");
        List<Integer> answers =
            atOnce(
                12,
                () -> {
                  Wire.Reply reply = small.wire().add("boat", "{}");
                  if (reply.status() == 503) {
                    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/busy");
                    letGo(statement);
                  }
                  return reply;
                });
        assertThat(answers).contains(201, 503).isSubsetOf(201, 503);
      }
    }
  }

  /** The first who is turned away shows that the rest has waited long enough. */
  private static synchronized void letGo(Statement statement) {
    try {
      statement.execute("ROLLBACK");
    } catch (SQLException e) {
      // It is over already.
    }
  }

  private static List<Integer> atOnce(int many, Supplier<Wire.Reply> send) {
    try (ExecutorService senders = Executors.newVirtualThreadPerTaskExecutor()) {
      List<CompletableFuture<Wire.Reply>> sent =
          IntStream.range(0, many)
              .mapToObj(_ -> CompletableFuture.supplyAsync(send, senders))
              .toList();
      return sent.stream().map(it -> it.join().status()).toList();
    }
  }

  /** Whoever has opened all that may be keeps nobody else out, though they are half way through. */
  @Test
  void soManyConnectionsAreOpenInAll() throws IOException {
    try (RunningService small = RunningService.with("nodley.limits.connection.total: 12")) {
      small
          .wire()
          .publish("boat", "form: boat\naccess: { add: anyone }\nfields: { name: { type: text } }");
      List<Socket> sockets = new ArrayList<>();
      try {
        // All that there is room for, beside that of the wire above; those beyond are closed.
        for (int i = 0; i < 14; i++) {
          Socket socket = connect(small, "127.0.0.2");
          sockets.add(socket);
          sendHalf(socket);
        }
        Socket beyond = sockets.getLast();
        await().until(() -> isClosed(beyond));
        // One of anybody else's is answered.
        for (int i = 3; i < 7; i++) {
          Socket other = connect(small, "127.0.0." + i);
          sockets.add(other);
          send(other, head("GET /api/session"));
          assertThat(status(other)).isEqualTo("200");
        }
        // The oldest has given way, and is told so; a later one has not.
        Socket oldest = sockets.getFirst();
        oldest.setSoTimeout(10_000);
        assertThat(new String(oldest.getInputStream().readAllBytes(), StandardCharsets.UTF_8))
            .startsWith("HTTP/1.1 400");
        assertThat(isClosed(sockets.get(8))).isFalse();
      } finally {
        for (Socket socket : sockets) {
          socket.close();
        }
      }
    }
  }

  private static void sendHalf(Socket socket) {
    try {
      send(socket, head("POST /api/forms/boat/records", "Content-Length: 2000"));
      send(socket, "{\"name\": \"half");
    } catch (IOException e) {
      // It has been closed already.
    }
  }

  private static Socket connect(RunningService to, String from) throws IOException {
    URI at = URI.create(to.address());
    Socket socket = new Socket();
    socket.bind(new InetSocketAddress(from, 0));
    socket.connect(new InetSocketAddress(at.getHost(), at.getPort()));
    return socket;
  }

  /** 320 kB in all, a quarter for one address: what is short is never in the way. */
  @Test
  void bodiesOfStrangersTakeSoMuch() throws IOException {
    List<Socket> senders = new ArrayList<>();
    try {
      for (int i = 0; i < 5; i++) {
        Socket socket = connect();
        senders.add(socket);
        send(socket, head("POST /api/forms/dory/records", "Content-Length: 20000"));
        send(socket, "{\"name\": \"" + "x".repeat(18_000));
      }
      // Whichever of them comes last finds the quarter taken.
      await().until(() -> isAnswered(senders));
      assertThat(stranger.add("dory", "{\"name\": \"short\"}").status()).isEqualTo(201);
      assertThat(add("dory", "{\"name\": \"" + "x".repeat(18_000) + "\"}").status()).isEqualTo(201);
    } finally {
      for (Socket socket : senders) {
        socket.close();
      }
    }
  }

  private static boolean isAnswered(List<Socket> senders) throws IOException {
    for (Socket each : senders) {
      if (each.getInputStream().available() > 0) {
        assertThat(status(each)).isEqualTo("503");
        return true;
      }
    }
    return false;
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "nodley.limits.request.bodi: 1MB | There is no setting nodley.limits.request.bodi"
            + " (settings.yaml, line 1). Did you mean nodley.limits.request.body?",
        "nodley.limit.request.body: 1MB | There is no setting nodley.limit.request.body"
            + " (settings.yaml, line 1). Did you mean nodley.limits.request.body?",
        "nodley.limits.request.body: huge | nodley.limits.request.body is \"huge\"; it must be a"
            + " size such as 512KB or 1MB.",
        "nodley.limits.request.time: soon | nodley.limits.request.time is \"soon\"; it must be a"
            + " time such as 500ms, 20s or 5m.",
        "nodley.limits.stranger.adds: many | nodley.limits.stranger.adds is \"many\"; it must be a"
            + " whole number.",
        "nodley.limits.stranger.adds: 0 | nodley.limits.stranger.adds is 0; it must be at least 1.",
        "nodley.proxy.trusted: [harbour] | nodley.proxy.trusted has \"harbour\"; it must be an IP"
            + " address, or a network such as 10.0.0.0/8.",
        "nodley.https.hsts: -1s | nodley.https.hsts is PT-1S; it must be a time such as 365d, or"
            + " 0s.",
      })
  void aSettingThatIsNoneStopsTheStart(String setting, String said, @TempDir Path folder)
      throws IOException {
    Path config = Files.writeString(folder.resolve("settings.yaml"), setting);
    var settings =
        new Service.Settings(
            folder.resolve("data"),
            Optional.empty(),
            "127.0.0.1",
            0,
            Optional.of(config),
            Clock.systemDefaultZone());
    assertThatThrownBy(() -> Service.start(settings)).hasMessage(said);
  }

  private static Socket connect() throws IOException {
    Socket socket = new Socket();
    socket.connect(service());
    return socket;
  }

  private static InetSocketAddress service() {
    URI at = URI.create(service.address());
    return new InetSocketAddress(at.getHost(), at.getPort());
  }

  private static String head(String line, String... headers) {
    return line
        + " HTTP/1.1\r\nHost: localhost\r\nContent-Type: application/json\r\n"
        + String.join("", List.of(headers).stream().map(it -> it + "\r\n").toList())
        + "\r\n";
  }

  private static void send(Socket socket, String text) throws IOException {
    socket.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
    socket.getOutputStream().flush();
  }
}
