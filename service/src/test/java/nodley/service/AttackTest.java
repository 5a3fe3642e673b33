package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.io.InputStream;
import java.net.InetSocketAddress;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

/** What a stranger can send to stop a service, or to learn what is not for them. */
class AttackTest {

  private static RunningService service;
  private static Wire key;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    key = service.wire();
    stranger = new Wire(service.address(), Optional.empty());
    publish(
        "guests",
        """
        form: guests
        access: { add: anyone, see: anyone, edit: signed-in }
        fields:
          name: { type: text, required: true }
          note: { type: text, control: textarea }
          crew: { type: rows, count: ..12, fields: { name: { type: text } } }
          boxes: { type: rows, fields: { size: { type: integer } } }
        """);
    publish(
        "wishes",
        """
        form: wishes
        access: { add: anyone, see: signed-in, edit: anyone }
        after: { edit: { go: stay, say: "Changed: {wish}." } }
        fields:
          wish: { type: text, required: true }
          price: { type: integer, range: 1..100 }
        """);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String text) {
    Wire.Reply reply = key.publish(form, text);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
  }

  /** UAX #15: sorting marks takes the square of their number, unless their number is bounded. */
  @Test
  void marksWithoutEndHoldNobodyUp() {
    String marks = "a" + "\u0301\u0316".repeat(40_000);
    String body = "{\"name\": \"" + marks + "\", \"note\": \"" + marks + "\"}";
    try (ExecutorService senders = Executors.newVirtualThreadPerTaskExecutor()) {
      List<CompletableFuture<Wire.Reply>> sent = new ArrayList<>();
      for (int i = 0; i < 8; i++) {
        sent.add(
            CompletableFuture.supplyAsync(
                () -> stranger.post("/api/forms/guests/checks", Wire.JSON_TYPE, body), senders));
      }
      // Before they were bounded each took a processor for half a minute.
      assertThat(sent)
          .allSatisfy(
              reply ->
                  assertThat(
                          reply
                              .orTimeout(60, java.util.concurrent.TimeUnit.SECONDS)
                              .join()
                              .codeOf("name"))
                      .isEqualTo("bad-input"));
      assertThat(stranger.add("guests", "{\"name\": \"Ann\"}").status()).isEqualTo(201);
    }
  }

  static Stream<Arguments> ends() {
    String deep = ".b".repeat(3_000);
    String words = IntStream.range(0, 9).mapToObj(i -> "word" + i).collect(Collectors.joining("+"));
    return Stream.of(
        Arguments.of("/api/forms/guests/records?where=a" + deep, 400),
        Arguments.of("/api/forms/guests/records?where=" + "(".repeat(3_000), 400),
        Arguments.of("/api/forms/guests/records?sort=a" + deep, 400),
        Arguments.of("/api/forms/guests/records?q=" + words, 400),
        Arguments.of("/api/forms/guests/records?q=" + "a".repeat(201), 400),
        Arguments.of("/api/forms/guests/records?q=" + "a+ab+abc+abcd+b+bc+".repeat(3), 200),
        Arguments.of("/api/forms/guests/records?q=%EE%80%80", 200),
        Arguments.of("/forms/guests?q=" + words, 400),
        Arguments.of("/api/forms/guests/options/name?a" + deep + "=1", 400),
        Arguments.of("/api/attempts?since=%2B999999999-12-31T00:00:00Z", 400),
        Arguments.of("/api/attempts?until=-999999999-01-01T00:00:00Z", 400));
  }

  @ParameterizedTest
  @MethodSource("ends")
  void noAddressReachesTheEndOfAStackOrACalendar(String address, int status) {
    Wire.Reply reply = key.get(address);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(status);
  }

  @Test
  void noBodyDoesEither() {
    assertThat(
            stranger
                .post("/api/forms/guests/records", Wire.FORM_TYPE, "a" + ".b".repeat(6_000) + "=1")
                .status())
        .isEqualTo(400);
    String plural = "{n, plural, other {".repeat(5_000) + "x" + "}}".repeat(5_000);
    Wire.Reply published =
        key.publish(
            "deep",
            "form: deep\nfields: { n: { type: integer, say: { bad-input: \"" + plural + "\" } } }");
    assertThat(published.status()).isEqualTo(422);
    assertThat(published.response().body()).contains("more than 20 deep in each other");
  }

  @Test
  void namesThatNoFieldHasAreToldAHundredTimesAtMost() {
    String names =
        IntStream.range(0, 8_000)
            .mapToObj(i -> "\"n" + i + "\": 1")
            .collect(Collectors.joining(","));
    Wire.Reply reply = stranger.add("guests", "{" + names + "}");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("errors")).hasSizeLessThanOrEqualTo(101);
  }

  @Test
  void rowsThatNoPageCouldHaveSentAreNotDrawn() {
    for (String rows : List.of("crew[%d].name=a", "boxes[%d].size=1")) {
      String body =
          IntStream.range(0, 19_900).mapToObj(rows::formatted).collect(Collectors.joining("&"));
      Wire.Reply reply = stranger.post("/forms/guests/new", Wire.FORM_TYPE, body);
      assertThat(reply.status()).isEqualTo(413);
      assertThat(reply.response().body()).hasSizeLessThan(10_000).contains("19900 were sent");
    }
    String few =
        IntStream.range(0, 14)
            .mapToObj("crew[%d].name=a"::formatted)
            .collect(Collectors.joining("&"));
    assertThat(stranger.post("/forms/guests/new", Wire.FORM_TYPE, few).response().body())
        .contains("at most 12");
  }

  /** Who may edit and not see writes over what is there, and is told nothing of it. */
  @Test
  void anEditByWhoMayNotSeeTellsNothing() {
    String id =
        key.add("wishes", "{\"wish\": \"zz-secret\", \"price\": 7}").json().path("id").asString();
    String path = "/api/forms/wishes/records/" + id;
    String patch = "application/merge-patch+json";
    List<Wire.Reply> replies =
        List.of(
            stranger.patch(path, patch, "{}", "If-Match", "\"1\""),
            stranger.patch(path, patch, "{\"price\": 8}", "If-Match", "\"1\""),
            stranger.patch(path, patch, "{\"price\": 800}", "If-Match", "\"2\""),
            stranger.patch(path, patch, "{\"price\": 9}", "If-Match", "\"1\""),
            stranger.post("/api/forms/wishes/checks?record=" + id, Wire.JSON_TYPE, "{}"),
            stranger.get(path),
            stranger.get(path + "/versions"),
            stranger.get("/forms/wishes/" + id),
            stranger.get("/forms/wishes/" + id + "/edit"),
            stranger.post("/forms/wishes/" + id + "/edit", Wire.FORM_TYPE, "_version=2&price=900"));
    assertThat(replies)
        .allSatisfy(reply -> assertThat(reply.response().body()).doesNotContain("zz-secret"));
    assertThat(replies.get(1).status()).isEqualTo(200);
    assertThat(replies.get(2).codeOf("price")).isEqualTo("range-overflow");
    assertThat(key.get(path).json().path("values").path("price").asInt()).isEqualTo(8);
    // Its author is warned.
    assertThat(
            key.publish(
                    "unseen",
                    "form: unseen\naccess: { edit: anyone }\nfields: { a: { type: text } }")
                .json()
                .path("warnings")
                .findValuesAsString("code"))
        .containsExactly("edit-unseen");
  }

  /** Who changed what, and what was there before, is for those who may edit. */
  @Test
  void versionsAreNotForWhoMayOnlySee() {
    String id = key.add("guests", "{\"name\": \"Ann\"}").json().path("id").asString();
    String path = "/api/forms/guests/records/" + id + "/versions";
    assertThat(stranger.get(path).status()).isEqualTo(401);
    assertThat(key.get(path).status()).isEqualTo(200);
  }

  @Test
  void anotherSiteSignsNobodyOut() {
    Wire.Reply in =
        stranger.post(
            "/api/session",
            Wire.JSON_TYPE,
            "{\"key\": \"" + RunningService.KEY + "\"}",
            "Origin",
            service.address());
    String cookie = in.header("Set-Cookie").replaceFirst(";.*", "");
    String[] elsewhere = {"Cookie", cookie, "Origin", "https://elsewhere.example"};
    assertThat(stranger.delete("/api/session", elsewhere).status()).isEqualTo(403);
    assertThat(stranger.post("/sign-out", Wire.FORM_TYPE, "", elsewhere).status()).isEqualTo(403);
    assertThat(stranger.get("/api/session", "Cookie", cookie).json().path("caller").asString())
        .isEqualTo("admin");
    assertThat(
            stranger.delete("/api/session", "Cookie", cookie, "Origin", service.address()).status())
        .isEqualTo(204);
  }

  @Test
  void onlyTheServicesOwnUserReadsItsFiles() throws Exception {
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(service.data())))
        .isEqualTo("rwx------");
    try (Stream<Path> files = Files.walk(service.data()).skip(1)) {
      assertThat(files)
          .isNotEmpty()
          .allSatisfy(
              file ->
                  assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(file)))
                      .as(file.toString())
                      .isEqualTo(Files.isDirectory(file) ? "rwx------" : "rw-------"));
    }
  }

  /** A list that looks at every record ends when its time is over, and nobody waits for it. */
  @Test
  void costlyListsOfStrangersEndAndHoldUpNobody() {
    publish(
        "readings",
        """
        form: readings
        access: { add: anyone, see: anyone }
        fields: { name: { type: text }, note: { type: text } }
        """);
    String line = "\"name\": \"reading %d\", \"note\": \"" + "lorem ipsum ".repeat(40) + "\"";
    try (ExecutorService senders = Executors.newFixedThreadPool(16)) {
      for (int i = 0; i < 4_000; i++) {
        String body = "{" + line.formatted(i) + "}";
        senders.submit(() -> key.add("readings", body));
      }
    }
    String costly =
        "/api/forms/readings/records?limit=1&sort=note,name&where=matches(note,+%22.*zzz.*%22)";
    try (ExecutorService strangers = Executors.newVirtualThreadPerTaskExecutor()) {
      List<CompletableFuture<Wire.Reply>> lists = new ArrayList<>();
      for (int i = 0; i < 10; i++) {
        lists.add(CompletableFuture.supplyAsync(() -> stranger.get(costly), strangers));
      }
      // More than these are refused to a stranger within a minute, whoever is served beside.
      int adds = 20;
      while (lists.stream().anyMatch(list -> !list.isDone())) {
        if (adds-- > 0) {
          assertThat(stranger.add("readings", "{\"name\": \"beside\"}").status()).isEqualTo(201);
        }
        assertThat(key.get("/api/forms/readings/records?limit=1").status()).isEqualTo(200);
      }
      assertThat(lists).allSatisfy(list -> assertThat(list.join().status()).isIn(200, 503));
    }
  }

  /** HEAD has no stream, and one address has a part of the places only. */
  @Test
  void watchersOfOneAddressLeaveRoomForOthers() throws Exception {
    HttpClient http = HttpClient.newHttpClient();
    URI changes = URI.create(service.address() + "/api/forms/guests/changes");
    for (int i = 0; i < 150; i++) {
      HttpRequest head = HttpRequest.newBuilder(changes).method("HEAD", noBody()).build();
      assertThat(http.send(head, HttpResponse.BodyHandlers.discarding()).statusCode())
          .isEqualTo(200);
    }
    List<InputStream> streams = new ArrayList<>();
    try {
      int refused = 0;
      for (int i = 0; i < 110; i++) {
        HttpResponse<InputStream> stream =
            http.send(
                HttpRequest.newBuilder(changes).build(), HttpResponse.BodyHandlers.ofInputStream());
        streams.add(stream.body());
        refused += stream.statusCode() == 503 ? 1 : 0;
      }
      assertThat(refused).isEqualTo(10);
      HttpResponse<InputStream> known =
          http.send(
              HttpRequest.newBuilder(changes)
                  .header("Authorization", "Bearer " + RunningService.KEY)
                  .build(),
              HttpResponse.BodyHandlers.ofInputStream());
      streams.add(known.body());
      assertThat(known.statusCode()).isEqualTo(200);
    } finally {
      for (InputStream stream : streams) {
        stream.close();
      }
      http.shutdownNow();
    }
  }

  /**
   * A page of 6 MB is answered, and nobody reads it: whoever sends much next has a turn all the
   * same.
   */
  @Test
  void whoReadsNoAnswerKeepsNobodyFromATurn() throws Exception {
    byte[] body = ("name=&note=" + "\"".repeat(1_000_000)).getBytes(StandardCharsets.UTF_8);
    String head =
        "POST /forms/guests/new HTTP/1.1\r\nHost: localhost\r\nContent-Type: "
            + Wire.FORM_TYPE
            + "\r\nContent-Length: "
            + body.length
            + "\r\n\r\n";
    URI at = URI.create(service.address());
    List<Socket> readers = new ArrayList<>();
    try {
      for (int i = 0; i < 4; i++) {
        Socket socket = new Socket();
        socket.setReceiveBufferSize(4_096);
        socket.connect(new InetSocketAddress(at.getHost(), at.getPort()));
        readers.add(socket);
        socket.getOutputStream().write(head.getBytes(StandardCharsets.UTF_8));
        socket.getOutputStream().write(body);
        await().until(() -> socket.getInputStream().available() > 0);
      }
      String large = "{\"name\": \"Ann\", \"note\": \"" + "x".repeat(20_000) + "\"}";
      assertThat(stranger.add("guests", large).status()).isIn(201, 422);
    } finally {
      for (Socket socket : readers) {
        socket.close();
      }
    }
  }

  private static HttpRequest.BodyPublisher noBody() {
    return HttpRequest.BodyPublishers.noBody();
  }

  @Test
  void anAttemptKeepsAPartOfWhatIsHuge() {
    String huge = "x".repeat(900_000);
    Wire.Reply refused = stranger.add("guests", "{\"name\": \"\", \"note\": \"" + huge + "\"}");
    assertThat(refused.status()).isEqualTo(422);
    Wire.Reply attempt = attempt(refused);
    assertThat(attempt.response().body()).hasSizeLessThan(20_000).contains("xxx…");
    assertThat(attempt.json().path("leftOut").asInt()).isEqualTo(1);
  }

  /** From a backup of the database nobody guesses at passwords, nor makes a cursor. */
  @Test
  void theDatabaseHoldsNeitherThePlainDigestOfABodyNorTheKeyOfDigests() throws Exception {
    publish(
        "accounts",
        "form: accounts\n"
            + "access: { add: anyone }\n"
            + "fields: { name: { type: text }, pw: { type: secret } }");
    String path = "/api/forms/accounts/records";
    String body = "{\"name\": \"ann\", \"pw\": \"correct horse\"}";
    for (int i = 0; i < 2; i++) {
      assertThat(stranger.post(path, Wire.JSON_TYPE, body, "Idempotency-Key", "k1").status())
          .isEqualTo(201);
    }
    MessageDigest sha = MessageDigest.getInstance("SHA-256");
    List<String> plain =
        Stream.of(body, "POST " + path + "\n" + body)
            .map(it -> HexFormat.of().formatHex(sha.digest(it.getBytes(StandardCharsets.UTF_8))))
            .toList();
    Path key = service.data().resolve("nodley.key");
    String secret = Files.readString(key).strip();
    assertThat(secret).hasSize(44);
    try (Stream<Path> files = Files.walk(service.data())) {
      for (Path file : files.filter(it -> Files.isRegularFile(it) && !it.equals(key)).toList()) {
        assertThat(Files.readString(file, StandardCharsets.ISO_8859_1))
            .doesNotContain(plain)
            .doesNotContain(secret);
      }
    }
  }

  /** After 30 wrong keys the right one is not found either, but who has shown it before goes on. */
  @Test
  void guessingOfKeysIsSlowedDown() {
    try (RunningService other = RunningService.fresh()) {
      Wire holder = other.wire();
      Wire nobody = new Wire(other.address(), Optional.empty());
      assertThat(holder.get("/api/session").status()).isEqualTo(200);
      String[] wrong = {"Authorization", "Bearer guess"};
      for (int i = 0; i < 29; i++) {
        assertThat(nobody.get("/api/session", wrong).status()).isEqualTo(401);
      }
      String sent = "{\"key\": \"guess\"}";
      assertThat(nobody.post("/api/session", Wire.JSON_TYPE, sent).status()).isEqualTo(401);
      for (Wire.Reply reply :
          List.of(
              nobody.get("/api/session", wrong),
              nobody.post("/api/session", Wire.JSON_TYPE, sent),
              nobody.post("/sign-in", Wire.FORM_TYPE, "key=guess"),
              nobody.get("/forms", wrong))) {
        assertThat(reply.status()).isEqualTo(429);
        assertThat(Integer.parseInt(reply.header("Retry-After"))).isBetween(1, 61);
      }
      assertThat(holder.get("/api/session").json().path("caller").asString()).isEqualTo("admin");
      assertThat(nobody.get("/forms").status()).isEqualTo(200);
    }
  }

  /** Digests of passwords have threads of their own: whoever sends none does not wait for them. */
  @Test
  void passwordsHoldUpNobodyElse() {
    publish(
        "members",
        "form: members\n"
            + "access: { add: anyone }\n"
            + "fields: { pw: { type: secret }, more: { type: rows, fields: { pw: { type: secret } }"
            + " } }");
    try (ExecutorService senders = Executors.newVirtualThreadPerTaskExecutor()) {
      List<CompletableFuture<Wire.Reply>> sent = new ArrayList<>();
      for (int i = 0; i < 16; i++) {
        String body = "{\"pw\": \"pass word " + i + "\"}";
        sent.add(CompletableFuture.supplyAsync(() -> stranger.add("members", body), senders));
      }
      while (sent.stream().anyMatch(it -> !it.isDone())) {
        assertThat(key.add("guests", "{\"name\": \"beside\"}").status()).isEqualTo(201);
      }
      assertThat(sent).allSatisfy(it -> assertThat(it.join().status()).isIn(201, 503));
      assertThat(sent).anySatisfy(it -> assertThat(it.join().status()).isEqualTo(201));
    }
    String rows = "{\"pw\": \"a\"},".repeat(21).replaceFirst(",$", "");
    assertThat(stranger.add("members", "{\"more\": [" + rows + "]}").status()).isEqualTo(413);
  }

  /** What a record held is nowhere once it is removed: not in the log, not in an answer. */
  @Test
  void aRemovedRecordLeavesNoValues() {
    String path = "/api/forms/guests/records";
    Wire.Reply added =
        stranger.post(
            path, Wire.JSON_TYPE, "{\"name\": \"zz-gone\"}", "Idempotency-Key", "removed-1");
    String id = added.json().path("id").asString();
    assertThat(attempt(added).response().body()).contains("zz-gone");
    assertThat(key.delete(path + "/" + id, "If-Match", "\"1\"").status()).isEqualTo(204);
    assertThat(attempt(added).response().body()).contains("accepted").doesNotContain("zz-gone");
    // What is sent again is known all the same, and makes no second record.
    Wire.Reply again =
        stranger.post(
            path, Wire.JSON_TYPE, "{\"name\": \"zz-gone\"}", "Idempotency-Key", "removed-1");
    assertThat(again.status()).isEqualTo(201);
    assertThat(again.json().path("id").asString()).isEqualTo(id);
    assertThat(again.response().body()).doesNotContain("zz-gone");
  }

  private static Wire.Reply attempt(Wire.Reply reply) {
    return key.get("/api/attempts/" + reply.header("X-Request-Id"));
  }
}
