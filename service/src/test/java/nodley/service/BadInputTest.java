package nodley.service;

import static nodley.service.Wire.FORM_TYPE;
import static nodley.service.Wire.JSON_TYPE;
import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Each: a clear problem, nothing lost, nothing kept, and the service goes on. */
class BadInputTest {

  private static final String RECORDS = "/api/forms/vessel/records";

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.publishDemo();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  @AfterEach
  void theServiceGoesOnAndKeptNothing() {
    assertThat(wire.get(RECORDS).json().path("records")).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "de,en,es,fr,it,pl,pt,nl,sv,da,fi,no,el",
        ";;;",
        "x--y, *;q=2",
        "de;q=5",
        "-",
        "a-,b_c"
      })
  void languagesThatNobodyCanReadAreNoneAndNoFault(String languages) {
    for (String path : List.of("/api/forms/vessel", "/forms/vessel/new", "/nowhere")) {
      for (String header : List.of(languages, (languages + ",").repeat(150))) {
        Wire.Reply reply = wire.send(wire.request(path).header("Accept-Language", header).GET());
        assertThat(reply.status()).as(path).isIn(200, 404);
      }
    }
  }

  static Stream<Arguments> bodies() {
    return Stream.of(
        Arguments.of("ends early", JSON_TYPE, "{\"name\":\"a", 400, "not JSON"),
        Arguments.of("empty", JSON_TYPE, "", 400, "empty"),
        Arguments.of("an array", JSON_TYPE, "[]", 400, "not a JSON object"),
        Arguments.of(
            "2 MB", JSON_TYPE, "{\"name\":\"" + "a".repeat(2_000_000) + "\"}", 413, "1 MiB"),
        Arguments.of("15 MB", JSON_TYPE, " ".repeat(15_000_000), 413, "1 MiB"),
        Arguments.of(
            "5 000 deep", JSON_TYPE, "{\"name\":" + "[".repeat(5_000), 400, "deeper than 32"),
        Arguments.of("a name twice", JSON_TYPE, "{\"name\":\"a\",\"name\":\"b\"}", 400, "twice"),
        Arguments.of(
            "10 000 digits",
            JSON_TYPE,
            "{\"crew\":" + "1".repeat(10_000) + "}",
            400,
            "1000 characters"),
        Arguments.of("a billion", JSON_TYPE, "{\"crew\":1e1000000000}", 400, "exponent"),
        Arguments.of("a lone surrogate", JSON_TYPE, "{\"name\":\"\\ud800\"}", 422, "bad-input"),
        Arguments.of("NUL", JSON_TYPE, "{\"name\":\"a\\u0000\"}", 422, "bad-input"),
        Arguments.of("a surrogate in a name", JSON_TYPE, "{\"\\udc00\":1}", 422, "unknown-field"),
        Arguments.of(
            "an unknown field", JSON_TYPE, "{\"nmae\":\"a\"}", 422, "Did you mean \\\"name\\\"?"),
        Arguments.of(
            "a method of objects",
            JSON_TYPE,
            "{\"constructor\":1,\"__proto__\":2}",
            422,
            "unknown-field"),
        Arguments.of("_ in JSON", JSON_TYPE, "{\"_version\":1}", 422, "unknown-field"),
        Arguments.of(
            "wrong types",
            JSON_TYPE,
            "{\"name\":{\"a\":1},\"length\":[1,2],\"insured\":\"x\"}",
            422,
            "bad-input"),
        Arguments.of(
            "30 000 values",
            JSON_TYPE,
            "{\"a\":[" + "1,".repeat(30_000) + "1]}",
            413,
            "20000 values"),
        Arguments.of("1 000 unknown fields", FORM_TYPE, many(1_000), 422, "unknown-field"),
        Arguments.of("100 000 pairs", FORM_TYPE, many(100_000), 413, "20000 values"),
        Arguments.of("a broken percent", FORM_TYPE, "name=%zz", 400, "hexadecimal"),
        Arguments.of("Latin-1 in form encoding", FORM_TYPE, "name=%FC", 400, "UTF-8"),
        Arguments.of("plain text", "text/plain", "name=a", 415, "send application/json"),
        Arguments.of(
            "another charset",
            "application/json; charset=latin1",
            "{}",
            415,
            "send application/json"));
  }

  private static String many(int count) {
    var body = new StringBuilder();
    for (int i = 0; i < count; i++) {
      body.append("x").append(i).append("=&");
    }
    return body.toString();
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("bodies")
  void isAClearProblem(String what, String type, String body, int status, String told) {
    Wire.Reply reply = wire.post(RECORDS, type, body);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(status);
    assertThat(reply.header("Content-Type")).isEqualTo("application/problem+json");
    assertThat(reply.response().body()).contains(told).doesNotContain("Exception");
    assertThat(reply.header("X-Request-Id")).isNotEmpty();
  }

  @Test
  void aBodyWithoutATypeIs415() {
    Wire.Reply reply =
        wire.send(wire.request(RECORDS).POST(HttpRequest.BodyPublishers.ofString("{}")));
    assertThat(reply.status()).isEqualTo(415);
  }

  @Test
  void bytesThatAreNotUtf8Are400() {
    byte[] body = "{\"name\":\"\u00fc\"}".getBytes(StandardCharsets.ISO_8859_1);
    Wire.Reply reply =
        wire.send(
            wire.request(RECORDS)
                .header("Content-Type", JSON_TYPE)
                .POST(HttpRequest.BodyPublishers.ofByteArray(body)));
    assertThat(reply.status()).isEqualTo(400);
    assertThat(reply.response().body()).contains("UTF-8");
  }

  /** The order in which a request is found wanting: 3-wire's. */
  static Stream<Arguments> order() {
    String unknownForm = "/api/forms/vesel/records/gone";
    String gone = RECORDS + "/gone";
    return Stream.of(
        Arguments.of("404 form before 401", unknownForm, false, "text/plain", "", 404),
        Arguments.of("401 before 415", gone, false, "text/plain", "", 401),
        Arguments.of("415 before 400", gone, true, "text/plain", "{", 415),
        Arguments.of("413 before 400", gone, true, JSON_TYPE, "{".repeat(2_000_000), 413),
        Arguments.of("400 before 404 record", gone, true, JSON_TYPE, "{", 400),
        Arguments.of("404 record before 428", gone, true, JSON_TYPE, "{}", 404));
  }

  @ParameterizedTest(name = "{0}")
  @MethodSource("order")
  void whichComesFirst(
      String what, String path, boolean known, String type, String body, int status) {
    Wire caller = known ? wire : service.stranger();
    assertThat(caller.put(path, type, body).status()).isEqualTo(status);
  }

  @Test
  void fieldsNamedLikeSqlAndJavaScriptWorkThroughAllDoors() {
    String file =
        """
        form: select
        access: { add: anyone, see: anyone, edit: anyone }
        fields:
          select: { type: text, unique: true }
          order: { type: integer }
          group: { type: text }
          toString: { type: text }
          hasOwnProperty: { type: text }
          values: { type: choice, options: [where, "1; DROP TABLE vessel"] }
        """;
    assertThat(wire.publish("select", file).status()).isEqualTo(201);
    String body =
        "{\"select\":\"x' OR 1=1\",\"order\":1,\"group\":\"by\",\"toString\":\"a\","
            + "\"hasOwnProperty\":\"b\",\"values\":\"1; DROP TABLE vessel\"}";
    Wire.Reply added = wire.add("select", body);
    assertThat(added.status()).isEqualTo(201);
    String path = "/api/forms/select/records/" + added.json().path("id").asString();
    assertThat(wire.get(path).json().path("values").toString()).isEqualTo(body);
    assertThat(wire.add("select", body).codeOf("select")).isEqualTo("taken");
    assertThat(wire.get("/forms/select/new").status()).isEqualTo(200);
    assertThat(wire.delete(path, "If-Match", "\"1\"").status()).isEqualTo(204);
  }

  static Stream<Arguments> addresses() {
    return Stream.of(
        Arguments.of("GET", "/api", 404),
        Arguments.of("GET", "/api/", 404),
        Arguments.of("GET", "/api/nothing", 404),
        Arguments.of("GET", "/api/forms/vessel/records/1/2/3", 404),
        Arguments.of("GET", "/api/forms/vessel/records?limit=x", 400),
        Arguments.of("GET", "/api/forms/vessel/records?limt=1", 400),
        Arguments.of("GET", "/api/forms/vessel/records?limit=1&limit=2", 400),
        Arguments.of("GET", "/api/forms/vessel/records?q=%FC", 400),
        Arguments.of("GET", "/api/forms/vessel/records/%00", 400),
        Arguments.of("GET", "/api/forms/vessel%2Frecords", 400),
        Arguments.of("GET", "/api/forms/vessel;x=1", 400),
        Arguments.of("POST", "/api/forms", 405),
        Arguments.of("PATCH", "/api/forms/vessel", 405),
        Arguments.of("TRACE", "/api/forms", 405),
        Arguments.of("BREW", "/api/forms", 501),
        Arguments.of("get", "/api/forms", 501),
        Arguments.of("GET", "/page/nothing.js", 404),
        Arguments.of("GET", "/problems/nothing", 404),
        Arguments.of("GET", "/api/forms/vessel/records?q=a%00b", 400),
        Arguments.of("GET", "/api/forms/vessel/options/brth", 404));
  }

  @ParameterizedTest(name = "{0} {1}")
  @MethodSource("addresses")
  void whateverIsAskedForTheAnswerIsAProblem(String method, String path, int status)
      throws IOException {
    String reply = raw(method + " " + path + " HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n");
    assertThat(reply).startsWith("HTTP/1.1 " + status);
    assertThat(reply.toLowerCase(Locale.ROOT))
        .contains("application/problem+json")
        .contains("x-request-id:");
  }

  @Test
  void requestsThatTomcatTurnsAwayAreProblemsToo() throws IOException {
    assertThat(raw("GET /api/{} HTTP/1.1\r\nHost: x\r\n\r\n"))
        .startsWith("HTTP/1.1 400")
        .contains("application/problem+json");
    assertThat(raw("GET /api/forms HTTP/1.1\r\nHost: x\r\nX: " + "a".repeat(20_000) + "\r\n\r\n"))
        .startsWith("HTTP/1.1 431")
        .contains("application/problem+json")
        .contains("/problems/too-large");
    assertThat(raw("GET /api/forms?" + "a".repeat(20_000) + " HTTP/1.1\r\nHost: x\r\n\r\n"))
        .startsWith("HTTP/1.1 414")
        .contains("/problems/too-long");
  }

  @ParameterizedTest
  @ValueSource(strings = {"utf-8x", "utf-16", "\"utf-8", "latin1"})
  void aCharsetIsReadExactly(String charset) {
    Wire.Reply reply = wire.post(RECORDS, "application/json; charset=" + charset, "{}");
    assertThat(reply.status()).isEqualTo(415);
    assertThat(reply.header("Accept-Post"))
        .isEqualTo("application/json, application/x-www-form-urlencoded, multipart/form-data");
  }

  @Test
  void aBodyThatIsPackedIs415() {
    Wire.Reply reply = wire.post(RECORDS, Wire.JSON_TYPE, "{}", "Content-Encoding", "gzip");
    assertThat(reply.status()).isEqualTo(415);
    assertThat(reply.header("Accept-Encoding")).isEqualTo("identity");
    assertThat(wire.post(RECORDS, Wire.JSON_TYPE, "{}", "Content-Encoding", "identity").status())
        .isEqualTo(422);
    Wire.Reply patch = wire.patch(RECORDS + "/x", "text/plain", "{}", "If-Match", "\"1\"");
    assertThat(patch.status()).isEqualTo(415);
    assertThat(patch.header("Accept-Patch"))
        .isEqualTo("application/merge-patch+json, application/json");
  }

  @Test
  void whatIsAllowedIsWhatOptionsSays() {
    for (String path : List.of("/api/forms", "/api/forms/vessel", RECORDS, "/api/session")) {
      Wire.Reply refused =
          wire.send(wire.request(path).method("PATCH", HttpRequest.BodyPublishers.noBody()));
      Wire.Reply asked =
          wire.send(wire.request(path).method("OPTIONS", HttpRequest.BodyPublishers.noBody()));
      assertThat(Set.of(refused.header("Allow").split(", ?")))
          .as(path)
          .isEqualTo(Set.of(asked.header("Allow").split(", ?")));
    }
  }

  @Test
  void theAddressOfAProblemSaysWhatItMeans() throws IOException {
    Wire.Reply refused = wire.post(RECORDS, Wire.JSON_TYPE, "{}");
    Wire.Reply page = service.stranger().get(refused.json().path("type").asString());
    assertThat(page.status()).isEqualTo(200);
    assertThat(page.header("Content-Type")).startsWith("text/html");
    assertThat(page.response().body()).contains("The submission has errors.");
    // Every type that is told anywhere is explained, and stands in the docs.
    String docs = Files.readString(Repository.file("docs/wire.md"));
    try (Stream<Path> sources = Files.walk(Repository.file("service/src/main/java"))) {
      for (Path source : sources.filter(it -> it.toString().endsWith(".java")).toList()) {
        Matcher type =
            Pattern.compile(
                    "(?:Problem\\.|return |\\s)of\\(\\s*[1-5][0-9]{2},\\s*\"([a-z-]*[a-z])\"")
                .matcher(Files.readString(source));
        while (type.find()) {
          assertThat(service.stranger().get("/problems/" + type.group(1)).status())
              .as(type.group(1))
              .isEqualTo(200);
          assertThat(docs).contains(type.group(1));
        }
      }
    }
  }

  @Test
  void aKeyThatIsNotKnownIsToldWhoeverAsks() {
    Wire unknown = new Wire(service.address(), Optional.of("nobody-has-this"));
    assertThat(unknown.get("/api/session").status()).isEqualTo(401);
    assertThat(service.stranger().get("/api/session").status()).isEqualTo(200);
  }

  @Test
  void aPersonGetsAPageInsteadOfAProblem() {
    Wire.Reply reply = wire.get("/forms/vesel");
    assertThat(reply.status()).isEqualTo(404);
    assertThat(reply.header("Content-Type")).startsWith("text/html");
    assertThat(reply.response().body()).contains("Did you mean &quot;vessel&quot;?");
    assertThat(service.stranger().get("/forms/skipper").response().body())
        .contains("/sign-in?to&#x3D;%2Fforms%2Fskipper");
  }

  private static String raw(String request) throws IOException {
    URI address = URI.create(service.address());
    try (Socket socket = new Socket(address.getHost(), address.getPort())) {
      socket.setSoTimeout(10_000);
      socket.getOutputStream().write(request.getBytes(StandardCharsets.ISO_8859_1));
      InputStream in = socket.getInputStream();
      var reply = new StringBuilder();
      byte[] buffer = new byte[8_192];
      for (int n = in.read(buffer); n > 0; n = in.read(buffer)) {
        reply.append(new String(buffer, 0, n, StandardCharsets.UTF_8));
        if (reply.indexOf("\r\n\r\n{") > 0 && reply.charAt(reply.length() - 1) == '}') {
          break;
        }
      }
      return reply.toString();
    }
  }
}
