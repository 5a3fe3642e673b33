package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Unique values set aside for open pages. */
class HoldsWireTest {

  private static final String BUOY =
      """
      form: buoy
      access: { add: anyone, see: signed-in, edit: signed-in }
      fields:
        code: { type: text, tidy: [upper], unique: { ignore-case: true } }
        mail: { type: email, unique: { early: false } }
        area: { type: text }
        name: { type: text, unique: { within: [area] } }
      """;

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
    assertThat(wire.publish("buoy", BUOY).status()).isEqualTo(201);
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private static String open(Wire by) {
    Wire.Reply reply = by.post("/api/holds?form=buoy", Wire.JSON_TYPE, "");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply.json().path("page").asString();
  }

  private static Wire.Reply hold(Wire by, String page, String values) {
    Wire.Reply reply = by.check("buoy", "?hold=true&page=" + page, values);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    return reply;
  }

  private static boolean isHeld(Wire.Reply reply, String pointer) {
    return reply.json().path("held").has(pointer);
  }

  private Wire.Reply check(String values) {
    return wire.check("buoy", "", values);
  }

  @Test
  void whatAPageHoldsIsHeldAgainstOthersUntilItIsSubmitted() {
    Wire stranger = service.stranger();
    String page = open(stranger);
    Wire.Reply first = hold(stranger, page, "{\"code\":\"a1\"}");
    Instant until = Instant.parse(first.json().path("held").path("#/code").asString());
    assertThat(until)
        .isBetween(
            Instant.now().plus(Duration.ofMinutes(9)), Instant.now().plus(Duration.ofMinutes(10)));
    Wire.Reply other = check("{\"code\":\"A1\"}");
    assertThat(other.codeOf("code")).isEqualTo("held");
    assertThat(other.json().path("errors").get(0).path("detail").asString())
        .isEqualTo(
            "Code A1 is being registered right now. Try again in some minutes, or take another.");
    assertThat(wire.add("buoy", "{\"code\":\"A1\"}").codeOf("code")).isEqualTo("held");
    assertThat(wire.check("buoy", "?page=" + open(wire), "{\"code\":\"A1\"}").codeOf("code"))
        .isEqualTo("held");
    // The page itself goes on as if nothing were; asking again does not make it last longer.
    Wire.Reply again = hold(stranger, page, "{\"code\":\"A1\"}");
    assertThat(again.json().path("verdict").asString()).isEqualTo("accepted");
    assertThat(Instant.parse(again.json().path("held").path("#/code").asString())).isEqualTo(until);
    Wire.Reply added =
        stranger.post("/api/forms/buoy/records?page=" + page, Wire.JSON_TYPE, "{\"code\":\"A1\"}");
    assertThat(added.status()).isEqualTo(201);
    assertThat(wire.get("/api/holds").json().path("holds")).isEmpty();
    assertThat(check("{\"code\":\"A1\"}").codeOf("code")).isEqualTo("taken");
  }

  @Test
  void aPageHoldsOneValueForAFieldAndLetsGo() {
    String page = open(wire);
    hold(wire, page, "{\"code\":\"A1\",\"area\":\"east\",\"name\":\"Ash\"}");
    assertThat(check("{\"area\":\"east\",\"name\":\"Ash\"}").codeOf("name")).isEqualTo("held");
    assertThat(check("{\"area\":\"west\",\"name\":\"Ash\"}").json().path("errors")).isEmpty();
    hold(wire, page, "{\"code\":\"A2\"}");
    assertThat(check("{\"code\":\"A1\"}").json().path("errors")).isEmpty();
    assertThat(check("{\"code\":\"A2\"}").codeOf("code")).isEqualTo("held");
    assertThat(wire.delete("/api/holds?form=buoy&page=" + page).status()).isEqualTo(204);
    assertThat(check("{\"code\":\"A2\"}").json().path("errors")).isEmpty();
    assertThat(wire.delete("/api/holds?form=buoy&page=" + page).status()).isEqualTo(204);
  }

  @Test
  void whatIsAnsweredAtSubmissionOnlyIsNeverHeld() {
    String page = open(wire);
    Wire.Reply reply = hold(wire, page, "{\"mail\":\"ann@quay.example\",\"code\":\"A1\"}");
    assertThat(isHeld(reply, "#/code")).isTrue();
    assertThat(isHeld(reply, "#/mail")).isFalse();
    assertThat(wire.add("buoy", "{\"mail\":\"ann@quay.example\"}").status()).isEqualTo(201);
  }

  @Test
  void aTakenOrRefusedValueIsNotHeld() {
    wire.add("buoy", "{\"code\":\"A1\"}");
    String page = open(wire);
    Wire.Reply reply = hold(wire, page, "{\"code\":\"a1\"}");
    assertThat(reply.codeOf("code")).isEqualTo("taken");
    assertThat(reply.json().path("held")).isEmpty();
    assertThat(wire.get("/api/holds").json().path("holds")).isEmpty();
  }

  @Test
  void holdsOutliveARestartAndStandInAnEditsWay() {
    JsonNode record = wire.add("buoy", "{\"code\":\"B1\"}").json();
    hold(wire, open(wire), "{\"code\":\"A1\"}");
    service.restart();
    wire = service.wire();
    assertThat(check("{\"code\":\"A1\"}").codeOf("code")).isEqualTo("held");
    String path = "/api/forms/buoy/records/" + record.path("id").asString();
    Wire.Reply edit = wire.patch(path, Wire.JSON_TYPE, "{\"code\":\"A1\"}", "If-Match", "\"1\"");
    assertThat(edit.codeOf("code")).isEqualTo("held");
    JsonNode hold = wire.get("/api/holds").json().path("holds").get(0);
    assertThat(hold.path("form").asString()).isEqualTo("buoy");
    assertThat(hold.path("unique").asString()).isEqualTo("code");
    assertThat(hold.toString()).doesNotContain("page");
  }

  @Test
  void oneAddressHoldsSoManyAndNoMore() {
    Wire stranger = service.stranger();
    for (int i = 0; i < 20; i++) {
      Wire.Reply reply = hold(stranger, open(stranger), "{\"code\":\"A" + i + "\"}");
      assertThat(isHeld(reply, "#/code")).as("value %d", i).isTrue();
    }
    Wire.Reply over = hold(stranger, open(stranger), "{\"code\":\"B1\"}");
    assertThat(over.json().path("verdict").asString()).isEqualTo("accepted");
    assertThat(isHeld(over, "#/code")).isFalse();
    assertThat(wire.add("buoy", "{\"code\":\"B1\"}").status()).isEqualTo(201);
  }

  @Test
  void onlyAPageThatTheServiceNamedHolds() {
    String page = open(wire);
    wire.publish("line", "form: line\nfields: { code: { type: text, unique: true } }");
    String other =
        wire.post("/api/holds?form=line", Wire.JSON_TYPE, "").json().path("page").asString();
    for (String forged :
        List.of("", "x", "%F0%9F%9A%A4", page + "A", page.substring(1), other, "A".repeat(5000))) {
      assertThat(wire.check("buoy", "?hold=true&page=" + forged, "{\"code\":\"A1\"}").status())
          .as(forged)
          .isEqualTo(400);
      assertThat(wire.delete("/api/holds?form=buoy&page=" + forged).status()).isEqualTo(400);
    }
    assertThat(wire.check("buoy", "?hold=true", "{}").status()).isEqualTo(400);
    assertThat(wire.check("buoy", "?hold=yes&page=" + page, "{}").status()).isEqualTo(400);
    assertThat(wire.post("/api/holds", Wire.JSON_TYPE, "").status()).isEqualTo(400);
    assertThat(wire.post("/api/holds?form=bouy", Wire.JSON_TYPE, "").status()).isEqualTo(404);
    assertThat(service.stranger().post("/api/holds?form=line", Wire.JSON_TYPE, "").status())
        .isEqualTo(401);
    assertThat(service.stranger().get("/api/holds").status()).isEqualTo(401);
  }

  @Test
  void ofManyPagesThatAskAtOnceOneHolds() throws Exception {
    int many = 50;
    CountDownLatch go = new CountDownLatch(1);
    List<Future<Wire.Reply>> replies = new ArrayList<>();
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      for (int i = 0; i < many; i++) {
        String page = open(wire);
        replies.add(
            threads.submit(
                () -> {
                  go.await();
                  return hold(wire, page, "{\"code\":\"A1\"}");
                }));
      }
      go.countDown();
      int holding = 0;
      for (Future<Wire.Reply> reply : replies) {
        boolean held = isHeld(reply.get(), "#/code");
        holding += held ? 1 : 0;
        assertThat(reply.get().json().path("verdict").asString())
            .isEqualTo(held ? "accepted" : "refused");
      }
      assertThat(holding).isEqualTo(1);
    }
  }
}
