package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Function;
import java.util.stream.IntStream;
import javax.crypto.Mac;
import javax.crypto.spec.SecretKeySpec;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Services outside are asked about submissions, and a submission never waits long for them. */
class AsksWireTest {

  private static final String VESSEL =
      """
      form: vessel
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        sign:
          type: text
          tidy: [upper]
          length: 3..8
          ask: { of: register, sends: [flag] }
          say: { filled: From the register. }
        flag: { type: choice, options: [pt, de] }
        length: { type: decimal, range: 1..80 }
        pin: { type: secret }
        owner: { type: group, fields: { name: { type: text }, email: { type: email } } }
        crew: { type: rows, fields: { name: { type: text } } }
        total: { type: integer, compute: count(crew) }
      """;

  private static final int NONSENSE = 11;

  private static final AtomicInteger next = new AtomicInteger();

  private static Receiver register;
  private static MovableClock clock;
  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    register = new Receiver();
    clock = new MovableClock(Instant.parse("2027-03-01T09:00:00Z"));
    String at = "nodley.asks.%s: { url: \"%s\", private: true%s }";
    List<String> settings = new ArrayList<>();
    for (int i = 0; i < NONSENSE; i++) {
      settings.add(at.formatted("n" + i, register.url("/n" + i), ", unanswered: refuse, wait: 1s"));
    }
    settings.addAll(
        List.of(
            at.formatted("register", register.url("/register"), ", wait: 1s"),
            at.formatted(
                "customs",
                register.url("/customs"),
                ", unanswered: refuse, wait: 1s, headers: { X-Quay: north },"
                    + " secret: whsec_YWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWE="),
            at.formatted("weary", register.url("/weary"), ", wait: 1s"),
            at.formatted("slow", register.url("/slow"), ", wait: 2s"),
            "nodley.asks.inside: { url: \"%s\" }".formatted(register.url("/inside"))));
    service = RunningService.with(clock, settings.toArray(String[]::new));
    wire = service.wire();
    assertThat(wire.publish("vessel", VESSEL).status()).isEqualTo(201);
    publish("landing", "asks: [{ of: customs, sends: all, on: submit }]", "");
    publish("weary", "", ", ask: { of: weary }");
    publish("inside", "", ", ask: { of: inside }");
    publish("slow", "", ", ask: { of: slow }");
    publish("late", "", ", ask: { of: register, on: submit }");
  }

  private static void publish(String form, String more, String ask) {
    String file =
        "form: %s\naccess: { add: anyone }\nfields: { name: { type: text%s } }\n%s"
            .formatted(form, ask, more);
    assertThat(wire.publish(form, file).status()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
    register.close();
  }

  @BeforeEach
  void knowNothing() {
    register.clear();
    answer("");
    // What was answered a minute ago is asked again, and who rested does not any more.
    clock.advance(Duration.ofMinutes(2));
  }

  private static void answer(String body) {
    answer(_ -> body);
  }

  private static void answer(Function<Receiver.Came, String> how) {
    register.answers(came -> Receiver.Answer.json(how.apply(came)));
  }

  private static Wire.Reply check(String form, String body) {
    return wire.check(form, "", body);
  }

  @Test
  void aFieldIsAskedAboutWithWhatItNamesAndNothingElse() {
    check(
        "vessel", "{\"sign\":\" mq7ab \",\"flag\":\"pt\",\"pin\":\"1234-5678\",\"length\":\"12\"}");
    Receiver.Came came = register.came("/register").getFirst();
    assertThat(came.json().path("form").asString()).isEqualTo("vessel");
    assertThat(came.json().path("mode").asString()).isEqualTo("add");
    assertThat(came.json().path("field").asString()).isEqualTo("sign");
    assertThat(came.json().path("values").toString())
        .isEqualTo("{\"sign\":\"MQ7AB\",\"flag\":\"pt\"}");
    assertThat(came.json().path("caller").path("roles").isArray()).isTrue();
    assertThat(came.headers()).doesNotContainKey("webhook-signature");
  }

  @Test
  void whatItHasAgainstAValueStandsAtTheFieldInItsWords() {
    answer(
        """
        {"errors": [
          {"pointer": "#/length", "code": "too-small", "detail": "It is 14 m in\\nthe register."},
          {"pointer": "/owner/email", "detail": "Somebody else's."},
          {"pointer": "#/crew/1/name", "code": "banned"},
          {"code": "unknown", "detail": "Nobody knows MQ7AB."}]}
        """);
    Wire.Reply reply =
        wire.add(
            "vessel",
            "{\"sign\":\"MQ7AB\",\"length\":12,\"owner\":{\"email\":\"ann@quay.example\"},"
                + "\"crew\":[{\"name\":\"Ann\"},{\"name\":\"Bo\"}]}");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.codes())
        .containsExactly(
            "#/sign ask-refused",
            "#/length ask-refused",
            "#/owner/email ask-refused",
            "#/crew/1/name ask-refused");
    JsonNode length = reply.json().path("errors").get(1);
    assertThat(length.path("detail").asString()).isEqualTo("It is 14 m in the register.");
    assertThat(length.path("params").path("code").asString()).isEqualTo("too-small");
    assertThat(length.path("params").path("of").asString()).isEqualTo("register");
    assertThat(reply.json().path("errors").get(3).path("detail").asString())
        .isEqualTo("Name: Bo was not accepted.");
  }

  @Test
  void whatItProposesIsOfTheFieldsTypeAndForThePerson() {
    answer(
        """
        {"fill": {"length": "11.40", "flag": "de", "owner": {"name": "  Ann "},
          "owner.email": "ann@quay.example", "pin": "1234", "total": 9, "lenght": 1, "crew": [], "crew.name": "Bo",
          "sign": "OTHER"}}
        """);
    Wire.Reply reply =
        wire.check("vessel", "", "{\"sign\":\"MQ7AB\",\"crew\":[{\"name\":\"Ann\"}]}");
    assertThat(reply.json().path("fill").toString())
        .isEqualTo(
            "["
                + "{\"pointer\":\"#/length\",\"value\":11.4,\"detail\":\"From the register.\"},"
                + "{\"pointer\":\"#/flag\",\"value\":\"de\",\"detail\":\"From the register.\"},"
                + "{\"pointer\":\"#/owner/name\",\"value\":\"Ann\","
                + "\"detail\":\"From the register.\"},"
                + "{\"pointer\":\"#/owner/email\",\"value\":\"ann@quay.example\","
                + "\"detail\":\"From the register.\"}]");
    // An add is what was sent, and nothing else.
    assertThat(wire.add("vessel", "{\"sign\":\"MQ7AC\"}").json().path("values").toString())
        .isEqualTo("{\"sign\":\"MQ7AC\",\"total\":0}");
  }

  @Test
  void aValueThatFailsIsNotAskedAboutNorOneThatIsNotThere() {
    assertThat(check("vessel", "{\"sign\":\"M\"}").codes()).containsExactly("#/sign too-short");
    check("vessel", "{\"flag\":\"pt\"}");
    JsonNode open = check("vessel", "{\"sign\":\"MQ7AB\",\"flag\":\"xx\"}").json();
    assertThat(open.path("unasked").toString()).isEqualTo("[\"#/sign\"]");
    assertThat(register.came()).isEmpty();
  }

  private static Wire.Reply edit(String path, String change, int version) {
    return wire.patch(
        path, "application/merge-patch+json", change, "If-Match", "\"" + version + "\"");
  }

  @Test
  void anEditThatLeavesItAloneDoesNotAsk() {
    String id =
        wire.add("vessel", "{\"sign\":\"MQ7AB\",\"length\":9}").json().path("id").asString();
    String path = "/api/forms/vessel/records/" + id;
    register.clear();
    assertThat(edit(path, "{\"length\":10}", 1).status()).isEqualTo(200);
    assertThat(register.came()).isEmpty();
    assertThat(edit(path, "{\"flag\":\"de\"}", 2).status()).isEqualTo(200);
    Receiver.Came came = register.came().getFirst();
    assertThat(came.json().path("mode").asString()).isEqualTo("edit");
    assertThat(came.json().path("record").asString()).isEqualTo(id);
  }

  @Test
  void anAnswerIsGoodForAMinute() {
    answer("{\"errors\": [{\"detail\": \"No.\"}]}");
    for (int i = 0; i < 3; i++) {
      assertThat(check("vessel", "{\"sign\":\"MQ7AD\"}").codes())
          .containsExactly("#/sign ask-refused");
    }
    assertThat(register.came()).hasSize(1);
    answer("");
    clock.advance(Duration.ofSeconds(59));
    assertThat(check("vessel", "{\"sign\":\"MQ7AD\"}").codes()).isNotEmpty();
    clock.advance(Duration.ofSeconds(2));
    assertThat(check("vessel", "{\"sign\":\"MQ7AD\"}").codes()).isEmpty();
    assertThat(register.came()).hasSize(2);
  }

  @Test
  void onSubmitItIsAskedThenAndACheckLeavesItOpen() {
    JsonNode open = check("late", "{\"name\":\"Heron\"}").json();
    assertThat(open.path("unasked").toString()).isEqualTo("[\"#/name\"]");
    assertThat(register.came()).isEmpty();
    assertThat(wire.add("late", "{\"name\":\"Heron\"}").status()).isEqualTo(201);
    assertThat(register.came()).hasSize(1);
  }

  /** HMAC-SHA256 (RFC 2104) by the JDK, with a key of thirty-two letters a. */
  private static String signature(Receiver.Came came) throws GeneralSecurityException {
    Mac mac = Mac.getInstance("HmacSHA256");
    mac.init(new SecretKeySpec("a".repeat(32).getBytes(StandardCharsets.UTF_8), "HmacSHA256"));
    String signed = came.id() + "." + came.headers().get("webhook-timestamp") + "." + came.body();
    byte[] digest = mac.doFinal(signed.getBytes(StandardCharsets.UTF_8));
    return "v1," + Base64.getEncoder().encodeToString(digest);
  }

  @Test
  void whoIsAskedAboutTheWholeDecidesLastAndIsAskedEachTime() throws Exception {
    JsonNode open = check("landing", "{\"name\":\"Heron\"}").json();
    assertThat(open.path("unasked").toString()).isEqualTo("[\"#\"]");
    assertThat(wire.add("landing", "{\"name\":\"Heron\",\"extra\":1}").status()).isEqualTo(422);
    assertThat(register.came()).as("what has an error is not asked about").isEmpty();
    answer("{\"errors\": [{\"code\": \"full\", \"detail\": \"The quay is full.\"}]}");
    for (int i = 0; i < 2; i++) {
      Wire.Reply refused = wire.add("landing", "{\"name\":\"Heron\"}");
      assertThat(refused.status()).isEqualTo(422);
      assertThat(refused.codes()).containsExactly("# ask-refused");
      assertThat(refused.json().path("errors").get(0).path("detail").asString())
          .isEqualTo("The quay is full.");
    }
    assertThat(register.came("/customs")).hasSize(2);
    Receiver.Came came = register.came("/customs").getFirst();
    assertThat(came.json().has("field")).isFalse();
    assertThat(came.headers()).containsEntry("x-quay", "north");
    // HMAC-SHA256 (RFC 2104), computed here by the JDK alone.
    assertThat(came.headers().get("webhook-signature")).isEqualTo(signature(came));
    answer("");
    assertThat(wire.add("landing", "{\"name\":\"Heron\"}").status()).isEqualTo(201);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "200 | not json | no JSON object",
        "200 | [1, 2] | no JSON object",
        "200 | {\"errors\": {}} | no list",
        "200 | {\"errors\": [\"no\"]} | no objects",
        "200 | {\"errors\": [{\"detail\": 7}]} | is no text",
        "200 | {\"fill\": [1]} | no object",
        "200 | LARGE | more than 64 kB",
        "200 | DEEP | no JSON object",
        "500 | {} | answered 500",
        "302 | {} | a redirect, which is not followed",
        "0 | {} | without an answer",
      })
  void anAnswerThatIsNoneIsNone(int status, String body, String said) {
    String sent =
        body.equals("LARGE")
            ? "{\"x\":\"" + "y".repeat(10_000_000) + "\"}"
            : body.equals("DEEP") ? "[".repeat(5_000) : body;
    register.answers(_ -> new Receiver.Answer(status, Map.of("Location", "/x"), sent));
    String name = "n" + next.getAndIncrement();
    publish(name, "", ", ask: { of: %s }".formatted(name));
    JsonNode open = check(name, "{\"name\":\"Heron\"}").json();
    assertThat(open.path("unasked").toString()).isEqualTo("[\"#/name\"]");
    assertThat(open.path("errors")).isEmpty();
    Wire.Reply refused = wire.add(name, "{\"name\":\"Heron\"}");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.codes()).containsExactly("#/name ask-unanswered");
    String attempt = "/api/attempts/" + refused.header("X-Request-Id");
    Awaited.until("it is written", () -> wire.get(attempt).status() == 200);
    assertThat(wire.get(attempt).json().toString()).contains(name + ": ").contains(said);
    assertThat(standing(name).path("said").asString()).contains(said);
  }

  private static JsonNode standing(String name) {
    return wire.get("/api/asks")
        .json()
        .path("asks")
        .valueStream()
        .filter(it -> it.path("name").asString().equals(name))
        .findFirst()
        .orElseThrow();
  }

  private static void waitFor(CountDownLatch latch) {
    try {
      assertThat(latch.await(30, TimeUnit.SECONDS)).isTrue();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Test
  void aSilentServiceIsWaitedForNoLongerThanIsSet() throws Exception {
    CountDownLatch silent = new CountDownLatch(1);
    register.answers(
        _ -> {
          waitFor(silent);
          return Receiver.Answer.of(200);
        });
    Wire.Reply added = wire.add("landing", "{\"name\":\"Heron\"}");
    assertThat(added.codes()).containsExactly("# ask-unanswered");
    assertThat(wire.add("vessel", "{\"sign\":\"MQ7AF\"}").status()).isEqualTo(201);
    assertThat(standing("register").path("said").asString()).isEqualTo("no answer within 1 s");
    silent.countDown();
  }

  @Test
  void whoDoesNotAnswerAgainAndAgainRestsAndIsTriedOnceThen() {
    register.answers(500);
    for (int i = 0; i < 5; i++) {
      check("weary", "{\"name\":\"N%d\"}".formatted(i));
    }
    assertThat(register.came("/weary")).hasSize(5);
    assertThat(standing("weary").path("resting").asBoolean()).isTrue();
    check("weary", "{\"name\":\"Heron\"}");
    assertThat(register.came("/weary")).as("it rests").hasSize(5);
    clock.advance(Duration.ofSeconds(16));
    check("weary", "{\"name\":\"Heron\"}");
    assertThat(register.came("/weary")).as("one try").hasSize(6);
    check("weary", "{\"name\":\"Heron\"}");
    assertThat(register.came("/weary")).as("and it rests on").hasSize(6);
    clock.advance(Duration.ofSeconds(16));
    answer("");
    check("weary", "{\"name\":\"Heron\"}");
    check("weary", "{\"name\":\"Egret\"}");
    assertThat(register.came("/weary")).as("it is back").hasSize(8);
    assertThat(standing("weary").path("resting").asBoolean()).isFalse();
  }

  @Test
  void aSlowServiceHoldsUpNoMoreThanAFewSubmissionsAtATime() throws Exception {
    CountDownLatch slow = new CountDownLatch(1);
    register.answers(
        _ -> {
          waitFor(slow);
          return Receiver.Answer.of(200);
        });
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Future<Wire.Reply>> checks =
          IntStream.range(0, 60)
              .mapToObj(i -> threads.submit(() -> check("slow", "{\"name\":\"S%d\"}".formatted(i))))
              .toList();
      for (Future<Wire.Reply> each : checks) {
        assertThat(each.get(20, TimeUnit.SECONDS).json().path("unasked").toString())
            .isEqualTo("[\"#/name\"]");
      }
    }
    slow.countDown();
    assertThat(register.came("/slow").size()).isBetween(1, 32);
  }

  @Test
  void privateAddressesAreNotCalledUnlessTheyAreSetSo() {
    assertThat(check("inside", "{\"name\":\"Heron\"}").json().path("unasked").toString())
        .isEqualTo("[\"#/name\"]");
    assertThat(register.came("/inside")).isEmpty();
    assertThat(standing("inside").path("said").asString()).contains("127.0.0.1");
  }

  @Test
  void onlyOperatorsSeeWhoIsAsked() {
    assertThat(service.stranger().get("/api/asks").status()).isEqualTo(401);
  }

  @Test
  void aWrongNameIsFoundAtPublishing() {
    Wire.Reply reply =
        wire.publish(
            "other", "form: other\nfields: { name: { type: text, ask: { of: registar } } }");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("errors").get(0).path("suggestion").asString())
        .isEqualTo("register");
  }

  @Test
  void thePageIsToldWhatToAskAbout() {
    JsonNode fields = wire.get("/api/forms/vessel").json().path("fields");
    assertThat(fields.get(0).path("ask").toString()).isEqualTo("{\"reads\":[\"flag\"]}");
    assertThat(fields.get(0).path("say").path("asking").toString()).contains("Asking about ");
    JsonNode late = wire.get("/api/forms/late").json().path("fields");
    assertThat(late.get(0).path("ask").toString()).isEqualTo("{\"early\":false}");
  }
}
