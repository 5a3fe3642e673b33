package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.sun.net.httpserver.HttpsConfigurator;
import com.sun.net.httpserver.HttpsServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Outlets are told of what is accepted, and of nothing else. */
class DeliveriesWireTest {

  private static final JsonMapper JSON = JsonMapper.shared();

  /** Thirty-two letters a, and b, in Base64. */
  private static final String SECRET = "whsec_YWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWE=";

  private static final String FORMER = "whsec_YmJiYmJiYmJiYmJiYmJiYmJiYmJiYmJiYmJiYmJiYmI=";

  private static final String VISIT =
      """
      form: visit
      access: { add: anyone }
      fields:
        vessel: { type: text, required: true, unique: true }
        purpose: { type: choice, options: [trade, rest] }
        contact: { type: group, fields: { email: { type: email }, phone: { type: text } } }
        pin: { type: secret }
      deliver:
        - { to: office, on: [add, edit, remove] }
        - { to: customs, on: add, when: purpose = "trade", values: [vessel, contact.email] }
      """;

  @TempDir private static Path folder;

  private static Receiver receiver;
  private static HttpsServer untrusted;
  private static RunningService service;
  private static Wire wire;

  private static String outlet(String name, String more) {
    return "nodley.outlets.%s: { url: \"%s\"%s }"
        .formatted(name, receiver.url("/" + name), more.isEmpty() ? "" : ", " + more);
  }

  @BeforeAll
  static void start() throws IOException {
    receiver = new Receiver();
    Certificate certificate = Certificate.in(folder);
    untrusted = HttpsServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
    untrusted.setHttpsConfigurator(new HttpsConfigurator(certificate.trust()));
    untrusted.start();
    service =
        RunningService.with(
            outlet(
                "office",
                "private: true, secret: \"%s\", former-secret: \"%s\", headers: { X-Quay: north }"
                    .formatted(SECRET, FORMER)),
            outlet("customs", "private: true"),
            outlet("inside", ""),
            outlet("slow", "private: true"),
            outlet("tired", "private: true"),
            outlet("gone", "private: true"),
            outlet("notes", "private: true"),
            "nodley.outlets.closed: { url: \"http://127.0.0.1:1/x\", private: true }",
            "nodley.outlets.certified: { url: \"https://127.0.0.1:%d/x\", private: true }"
                .formatted(untrusted.getAddress().getPort()),
            "nodley.deliveries: { first-wait: 20ms, give-up: 2s, time: 1s }");
    wire = service.wire();
    assertThat(wire.publish("visit", VISIT).status()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
    receiver.close();
    untrusted.stop(0);
  }

  private static void publish(String form, String outlet) {
    String file =
        "form: %s\naccess: { add: anyone }\nfields: { name: { type: text } }\ndeliver: [{ to: %s }]"
            .formatted(form, outlet);
    assertThat(wire.publish(form, file).status()).isIn(200, 201);
  }

  private static Wire.Reply post(String path) {
    return wire.post(path, Wire.JSON_TYPE, "");
  }

  private static List<JsonNode> deliveries(String query) {
    return wire.get("/api/deliveries?" + query).json().path("deliveries").valueStream().toList();
  }

  private static void untilState(String record, String state) {
    await("it is " + state)
        .atMost(Duration.ofSeconds(20))
        .until(
            () -> {
              List<JsonNode> found = deliveries("record=" + record);
              return !found.isEmpty()
                  && found.stream().allMatch(it -> it.path("state").asString().equals(state));
            });
  }

  private static List<Receiver.Came> about(String path, String record) {
    return receiver.came(path).stream()
        .filter(it -> it.json().path("subject").asString().equals(record))
        .toList();
  }

  @Test
  void filesAreToldWithTheirAddressesAndRowsInTheirOrder() {
    String form =
        """
        form: cargo
        access: { add: anyone, see: anyone }
        fields:
          name: { type: text }
          bill: { type: file }
          crates: { type: rows, fields: { mark: { type: text }, weight: { type: decimal } } }
        deliver:
          - { to: office }
          - { to: customs, values: [bill, crates.mark] }
        """;
    assertThat(wire.publish("cargo", form).status()).isEqualTo(201);
    String part = "--cut\r\nContent-Disposition: form-data; name=\"%s\"%s\r\n\r\n%s\r\n";
    String body =
        part.formatted("name", "", "Tern")
            + part.formatted("crates[0].mark", "", "N1")
            + part.formatted("crates[0].weight", "", "2.50")
            + part.formatted("crates[1].mark", "", "N2")
            + part.formatted("bill", "; filename=\"bill.txt\"", "Salt, two crates")
            + "--cut--\r\n";
    Wire.Reply added =
        wire.post("/api/forms/cargo/records", "multipart/form-data; boundary=cut", body);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    String record = added.json().path("id").asString();
    await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> !about("/office", record).isEmpty() && !about("/customs", record).isEmpty());

    JsonNode all = about("/office", record).getFirst().json().path("data").path("values");
    JsonNode some = about("/customs", record).getFirst().json().path("data").path("values");
    assertThat(all.path("name").asString()).isEqualTo("Tern");
    assertThat(all.path("crates"))
        .isEqualTo(JSON.readTree("[{\"mark\":\"N1\",\"weight\":2.5},{\"mark\":\"N2\"}]"));
    assertThat(some.propertyNames()).containsExactlyInAnyOrder("bill", "crates");
    assertThat(some.path("crates"))
        .isEqualTo(JSON.readTree("[{\"mark\":\"N1\"},{\"mark\":\"N2\"}]"));
    for (JsonNode told : List.of(all, some)) {
      String href = told.path("bill").path("href").asString();
      assertThat(href).isEqualTo("/api/forms/cargo/records/" + record + "/files/bill/0");
      assertThat(wire.get(href).response().body()).isEqualTo("Salt, two crates");
    }
  }

  @Test
  void whatIsAcceptedIsToldInOrderAndOthersVerifyIt() throws Exception {
    JsonNode added =
        wire.add(
                "visit",
                "{\"vessel\":\"Grey Heron\",\"purpose\":\"trade\",\"pin\":\"1234-5678\","
                    + "\"contact\":{\"email\":\"ann@quay.example\",\"phone\":\"12\"}}")
            .json();
    String id = added.path("id").asString();
    String path = "/api/forms/visit/records/" + id;
    assertThat(
            wire.patch(path, Wire.JSON_TYPE, "{\"purpose\":\"rest\"}", "If-Match", "\"1\"")
                .status())
        .isEqualTo(200);
    assertThat(wire.delete(path, "If-Match", "\"2\"").status()).isEqualTo(204);
    await().atMost(Duration.ofSeconds(20)).until(() -> about("/office", id).size() == 3);
    List<JsonNode> told = verified(SECRET, about("/office", id));
    assertThat(told.stream().map(it -> it.path("type").asString()))
        .containsExactly("nodley.record.added", "nodley.record.edited", "nodley.record.removed");
    assertThat(told.stream().map(it -> it.path("data").path("version").asInt()))
        .containsExactly(1, 2, 3);
    JsonNode first = told.getFirst();
    assertThat(first.path("source").asString()).isEqualTo("/api/forms/visit");
    assertThat(first.path("subject").asString()).isEqualTo(id);
    assertThat(first.path("data").path("values"))
        .isEqualTo(
            JSON.readTree(
                "{\"vessel\":\"Grey Heron\",\"purpose\":\"trade\","
                    + "\"contact\":{\"email\":\"ann@quay.example\",\"phone\":\"12\"}}"));
    // Whoever still has the former secret is served as well.
    assertThat(verified(FORMER, about("/office", id)).getFirst().has("refused")).isFalse();
    String wrong = SECRET.replace("YWFh", "YWFi");
    assertThat(verified(wrong, about("/office", id)).getFirst().has("refused")).isTrue();
    assertThat(about("/office", id).getFirst().headers())
        .containsEntry("x-quay", "north")
        .containsEntry("content-type", "application/cloudevents+json; charset=utf-8");
    List<Receiver.Came> customs = about("/customs", id);
    assertThat(customs).hasSize(1);
    assertThat(customs.getFirst().json().path("data").path("values"))
        .isEqualTo(
            JSON.readTree(
                "{\"vessel\":\"Grey Heron\",\"contact\":{\"email\":\"ann@quay.example\"}}"));
    assertThat(customs.getFirst().headers()).doesNotContainKey("webhook-signature");
  }

  /** What the packages of others make of deliveries. */
  private static List<JsonNode> verified(String secret, List<Receiver.Came> came) throws Exception {
    Process node =
        new ProcessBuilder("node", "page/test/verify-webhook.mjs")
            .directory(Repository.file("web").toFile())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    try (var in = node.outputWriter(StandardCharsets.UTF_8)) {
      for (Receiver.Came each : came) {
        in.write(
            JSON.writeValueAsString(
                    Map.of("secret", secret, "headers", each.headers(), "body", each.body()))
                + "\n");
      }
    }
    String out = new String(node.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    return out.lines().map(JSON::readTree).toList();
  }

  @Test
  void whatIsRefusedOrChangesNothingIsToldNobody() {
    JsonNode added = wire.add("visit", "{\"vessel\":\"Petrel\"}").json();
    String id = added.path("id").asString();
    assertThat(wire.add("visit", "{\"vessel\":\"Petrel\"}").status()).isEqualTo(422);
    assertThat(wire.add("visit", "{}").status()).isEqualTo(422);
    String path = "/api/forms/visit/records/" + id;
    assertThat(
            wire.patch(path, Wire.JSON_TYPE, "{\"vessel\":\"Petrel\"}", "If-Match", "\"1\"")
                .status())
        .isEqualTo(200);
    assertThat(
            wire.patch(path, Wire.JSON_TYPE, "{\"vessel\":\"Tern\"}", "If-Match", "\"9\"").status())
        .isEqualTo(412);
    untilState(id, "delivered");
    assertThat(deliveries("record=" + id)).hasSize(1);
  }

  @Test
  void theSameSubmissionAgainIsToldOnce() {
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < 3; i++) {
      ids.add(
          wire.post(
                  "/api/forms/visit/records",
                  Wire.JSON_TYPE,
                  "{\"vessel\":\"Once\"}",
                  "Idempotency-Key",
                  "told-once")
              .json()
              .path("id")
              .asString());
    }
    assertThat(ids.stream().distinct()).hasSize(1);
    untilState(ids.getFirst(), "delivered");
    assertThat(deliveries("record=" + ids.getFirst())).hasSize(1);
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 301, 400, 429, 500, 503})
  void whateverItAnswersIsTriedAgainInOrderUnderOneId(int status) {
    publish("tries", "tired");
    List<Receiver.Answer> first =
        List.of(
            Receiver.Answer.of(status),
            new Receiver.Answer(status, Map.of("Location", receiver.url("/elsewhere")), ""));
    var answered = new AtomicInteger();
    receiver.answers(
        came ->
            came.path().equals("/tired") && answered.get() < 2
                ? first.get(answered.getAndIncrement())
                : Receiver.Answer.of(200));
    String id = wire.add("tries", "{\"name\":\"x\"}").json().path("id").asString();
    wire.patch(
        "/api/forms/tries/records/" + id, Wire.JSON_TYPE, "{\"name\":\"y\"}", "If-Match", "\"1\"");
    untilState(id, "delivered");
    List<Receiver.Came> came = about("/tired", id);
    assertThat(came.stream().map(it -> it.json().path("data").path("version").asInt()))
        .containsExactly(1, 1, 1, 2);
    assertThat(came.stream().limit(3).map(Receiver.Came::id).distinct()).hasSize(1);
    assertThat(receiver.came("/elsewhere")).isEmpty();
  }

  @Test
  void whatItAsksToWaitIsWaited() {
    publish("polite", "slow");
    receiver.answers(
        came ->
            came.path().equals("/slow") && receiver.came("/slow").size() == 1
                ? new Receiver.Answer(429, Map.of("Retry-After", "1"), "")
                : Receiver.Answer.of(200));
    String id = wire.add("polite", "{\"name\":\"x\"}").json().path("id").asString();
    untilState(id, "delivered");
    List<Receiver.Came> came = about("/slow", id);
    assertThat(came).hasSize(2);
    assertThat(
            Long.parseLong(came.get(1).headers().get("webhook-timestamp"))
                - Long.parseLong(came.get(0).headers().get("webhook-timestamp")))
        .isGreaterThanOrEqualTo(1);
  }

  @Test
  void anAnswerOfTenMegabytesIsNotReadToItsEnd() {
    publish("long", "customs");
    receiver.answers(_ -> new Receiver.Answer(200, Map.of(), "y".repeat(10_000_000)));
    String id = wire.add("long", "{\"name\":\"x\"}").json().path("id").asString();
    untilState(id, "delivered");
    receiver.answers(200);
  }

  @Test
  void whatIsGivenUpIsToldAndCanBeSentAgain() {
    publish("failing", "customs");
    receiver.answers(500);
    String id = wire.add("failing", "{\"name\":\"x\"}").json().path("id").asString();
    untilState(id, "failed");
    receiver.answers(200);
    JsonNode failed = deliveries("state=failed&form=failing").getFirst();
    assertThat(failed.path("answer").asString()).isEqualTo("answered 500");
    assertThat(failed.path("tries").asInt()).isGreaterThan(2);
    String delivery = failed.path("id").asString();
    assertThat(wire.get("/api/deliveries/" + delivery).json().at("/data/values/name").asString())
        .isEqualTo("x");
    assertThat(post("/api/deliveries/" + delivery + "/again").status()).isEqualTo(200);
    untilState(id, "delivered");
    assertThat(about("/customs", id).getLast().id()).isEqualTo(delivery);
    assertThat(wire.get("/api/log?what=send-again").json().at("/entries/0/subject").asString())
        .isEqualTo("deliveries/" + delivery);
  }

  @Test
  void anOutletThatIsGoneIsSwitchedOffAndWhatIsForItWaits() {
    publish("parting", "gone");
    receiver.answers(it -> Receiver.Answer.of(it.path().equals("/gone") ? 410 : 200));
    String id = wire.add("parting", "{\"name\":\"x\"}").json().path("id").asString();
    await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> !standing("gone").path("on").asBoolean(true));
    assertThat(standing("gone").path("why").asString()).isEqualTo("answered 410 Gone");
    String later = wire.add("parting", "{\"name\":\"y\"}").json().path("id").asString();
    assertThat(deliveries("record=" + later).getFirst().path("state").asString())
        .isEqualTo("waiting");
    receiver.answers(200);
    assertThat(wire.put("/api/outlets/gone", Wire.JSON_TYPE, "{\"on\": true}").status())
        .isEqualTo(200);
    untilState(id, "delivered");
    untilState(later, "delivered");
  }

  private static JsonNode standing(String outlet) {
    return wire.get("/api/outlets")
        .json()
        .path("outlets")
        .valueStream()
        .filter(it -> it.path("name").asString().equals(outlet))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void noAddressButAPublicOneIsCalledUnlessItIsSetSo() {
    JsonNode told = post("/api/outlets/inside/test").json();
    assertThat(told.path("delivered").asBoolean()).isFalse();
    assertThat(told.path("answer").asString())
        .isEqualTo(
            "127.0.0.1 is at 127.0.0.1, an address of a private network or of this machine; set"
                + " private: true to allow it");
    assertThat(receiver.came("/inside")).isEmpty();
  }

  @Test
  void aSampleShowsWhetherAnOutletTakesThem() throws Exception {
    receiver.answers(200);
    JsonNode told = post("/api/outlets/office/test").json();
    assertThat(told.path("delivered").asBoolean()).isTrue();
    Receiver.Came came =
        receiver.came("/office").stream()
            .filter(it -> it.json().path("type").asString().equals("nodley.sample"))
            .findFirst()
            .orElseThrow();
    assertThat(verified(SECRET, List.of(came)).getFirst().at("/data/sample").asBoolean()).isTrue();
    assertThat(post("/api/outlets/closed/test").json().path("answer").asString())
        .isEqualTo("nothing answers there");
    // A machine that is busy may not come to the certificate within the second that there is.
    await()
        .untilAsserted(
            () ->
                assertThat(post("/api/outlets/certified/test").json().path("answer").asString())
                    .startsWith("its certificate is not good: "));
    Wire.Reply none = post("/api/outlets/ofice/test");
    assertThat(none.status()).isEqualTo(404);
    assertThat(none.json().path("detail").asString())
        .isEqualTo("The settings have no outlet ofice. Did you mean office?");
  }

  @Test
  void anOutletThatTheSettingsDoNotHaveIsToldAtPublishing() {
    Wire.Reply refused =
        wire.publish(
            "lost", "form: lost\nfields: { name: { type: text } }\ndeliver:\n  - { to: offise }\n");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.json().at("/errors/0/detail").asString())
        .isEqualTo("There is no outlet `offise`. Did you mean `office`?");
    assertThat(refused.json().at("/errors/0/line").asInt()).isEqualTo(4);
  }

  @Test
  void anAttemptShowsWhatItCaused() {
    receiver.answers(200);
    Wire.Reply added = wire.add("visit", "{\"vessel\":\"Cause\"}");
    JsonNode caused =
        wire.get("/api/attempts/" + added.header("X-Request-Id")).json().path("deliveries");
    assertThat(caused.at("/0/outlet").asString()).isEqualTo("office");
    assertThat(
            deliveries("record=" + added.json().path("id").asString()).getFirst().path("attempt"))
        .hasToString("\"" + added.header("X-Request-Id") + "\"");
  }

  @Test
  void aFormThatKeepsNothingLeavesNothingOnceItIsTold() throws IOException {
    assertThat(
            wire.publish(
                    "letter",
                    "form: letter\nrecords: none\naccess: { add: anyone }\n"
                        + "fields: { text: { type: text, multiline: true, length: ..90 },"
                        + " mail: { type: email } }\n"
                        + "deliver: [{ to: notes }]\n")
                .status())
        .isEqualTo(201);
    receiver.answers(503);
    Wire.Reply sent =
        service
            .stranger()
            .add("letter", "{\"text\":\"A grey zz-secret sea\",\"mail\":\"a@b.example\"}");
    assertThat(sent.status()).isEqualTo(202);
    assertThat(sent.response().body()).doesNotContain("zz-secret");
    Wire.Reply refused =
        service.stranger().add("letter", "{\"text\":\"A\",\"mail\":\"zz-secret\"}");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(wire.get("/api/attempts/" + refused.header("X-Request-Id")).response().body())
        .contains("\"code\":\"type-mismatch\"")
        .doesNotContain("zz-secret");
    await().atMost(Duration.ofSeconds(20)).until(() -> receiver.came("/notes").size() > 1);
    receiver.answers(200);
    await().atMost(Duration.ofSeconds(20)).until(() -> deliveries("form=letter").isEmpty());
    JsonNode told = receiver.came("/notes").getLast().json();
    assertThat(told.path("type").asString()).isEqualTo("nodley.submission.accepted");
    assertThat(told.at("/data/values/text").asString()).isEqualTo("A grey zz-secret sea");
    assertThat(wire.get("/api/forms/letter/records").json().path("records")).isEmpty();
    assertThat(wire.get("/api/attempts/" + sent.header("X-Request-Id")).response().body())
        .contains("\"verdict\":\"accepted\"")
        .doesNotContain("zz-secret");
    try (Stream<Path> files = Files.walk(service.data())) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        assertThat(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1))
            .as(file.toString())
            .doesNotContain("zz-secret");
      }
    }
  }

  @Test
  void aFormThatHasRecordsCannotKeepNone() {
    publish("full", "office");
    wire.add("full", "{\"name\":\"x\"}");
    Wire.Reply refused =
        wire.publish(
            "full",
            "form: full\nrecords: none\nfields: { name: { type: text } }\n"
                + "deliver: [{ to: office }]\n");
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.response().body())
        .contains("`records: none` is for a form that has no records: remove them first.");
  }

  @Test
  void whatWasRemovedIsToldAndNotKept() {
    receiver.answers(200);
    String id = wire.add("visit", "{\"vessel\":\"Last\"}").json().path("id").asString();
    untilState(id, "delivered");
    wire.delete("/api/forms/visit/records/" + id, "If-Match", "\"1\"");
    await().atMost(Duration.ofSeconds(20)).until(() -> about("/office", id).size() == 2);
    assertThat(about("/office", id).getLast().json().at("/data/values/vessel").asString())
        .isEqualTo("Last");
    await().atMost(Duration.ofSeconds(20)).until(() -> deliveries("record=" + id).size() == 1);
  }

  @Test
  void whatARecordToldIsForgottenWithIt() {
    receiver.answers(200);
    String id = wire.add("visit", "{\"vessel\":\"Gone\"}").json().path("id").asString();
    untilState(id, "delivered");
    String delivery = deliveries("record=" + id).getFirst().path("id").asString();
    wire.delete("/api/forms/visit/records/" + id, "If-Match", "\"1\"");
    await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> wire.get("/api/deliveries/" + delivery).json().path("data").isMissingNode());
    Wire.Reply again = post("/api/deliveries/" + delivery + "/again");
    assertThat(again.status()).isEqualTo(409);
    assertThat(again.json().path("type").asString()).isEqualTo("/problems/nothing-left");
  }

  @Test
  void whatWasToBeToldIsToldAfterARestart() {
    receiver.answers(500);
    try (RunningService other =
        RunningService.with(
            outlet("office", "private: true"), "nodley.deliveries: { first-wait: 50ms }")) {
      other
          .wire()
          .publish(
              "boat", "form: boat\nfields: { name: { type: text } }\ndeliver: [{ to: office }]");
      String id = other.wire().add("boat", "{\"name\":\"x\"}").json().path("id").asString();
      await().atMost(Duration.ofSeconds(20)).until(() -> !about("/office", id).isEmpty());
      other.restart();
      receiver.answers(200);
      await()
          .atMost(Duration.ofSeconds(20))
          .until(
              () ->
                  other
                          .wire()
                          .get("/api/deliveries?state=delivered")
                          .json()
                          .path("deliveries")
                          .size()
                      == 1);
      assertThat(about("/office", id).stream().map(Receiver.Came::id).distinct()).hasSize(1);
    }
  }

  @Test
  void deliveriesAreForOperators() {
    String clerk = service.signIn("clerk-of-deliveries", "[\"clerk\"]");
    for (String path : List.of("/api/deliveries", "/api/outlets", "/api/deliveries/x")) {
      assertThat(service.stranger().get(path, "Cookie", clerk).status()).as(path).isEqualTo(403);
      assertThat(service.stranger().get(path).status()).as(path).isEqualTo(401);
    }
    assertThat(Optional.of(wire.get("/api/deliveries?state=lost").status())).contains(400);
  }
}
