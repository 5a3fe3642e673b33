package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.net.http.HttpClient;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** The log of attempts: what it keeps of each submission, and what it does not. */
class AttemptsWireTest {

  private static final String BERTHING =
      """
      form: berthing
      access: { add: anyone, see: anyone, edit: signed-in }
      fields:
        name: { type: text, required: true, unique: true }
        phone: { type: phone, masked: true, say: { type-mismatch: "Nobody answers at {value}." } }
        word: { type: secret, length: 4.. }
        crew:
          type: rows
          fields: { name: { type: text, required: true }, born: { type: date, masked: true } }
      """;

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("berthing", BERTHING).status()).isEqualTo(201);
    assertThat(
            service.wire().publish("buoy", "form: buoy\nfields:\n  name: { type: text }").status())
        .isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static String id(Wire.Reply reply) {
    return reply.header("X-Request-Id");
  }

  private static JsonNode logged(Wire.Reply reply) {
    Wire.Reply attempt = service.wire().get("/api/attempts/" + id(reply));
    assertThat(attempt.status()).isEqualTo(200);
    return attempt.json();
  }

  private static List<String> ids(String query) {
    List<String> ids = new ArrayList<>();
    Wire.Reply reply = service.wire().get("/api/attempts" + query);
    assertThat(reply.status()).isEqualTo(200);
    reply.json().path("attempts").forEach(it -> ids.add(it.path("id").asString()));
    return ids;
  }

  private static List<String> steps(JsonNode attempt) {
    List<String> steps = new ArrayList<>();
    attempt.path("steps").forEach(it -> steps.add(it.path("step").asString()));
    return steps;
  }

  @Test
  void anAcceptedAddTellsItsWayFromTheDoorToTheCommit() {
    Wire.Reply added = service.wire().add("berthing", "{\"name\":\"  Alder \"}");
    assertThat(added.status()).isEqualTo(201);
    JsonNode attempt = service.wire().get("/api/attempts/" + id(added)).json();
    assertThat(attempt.path("form").asString()).isEqualTo("berthing");
    assertThat(attempt.path("revision").asInt()).isEqualTo(1);
    assertThat(attempt.path("mode").asString()).isEqualTo("add");
    assertThat(attempt.path("verdict").asString()).isEqualTo("accepted");
    assertThat(attempt.path("by").asString()).isEqualTo("admin");
    assertThat(attempt.path("from").asString()).isEqualTo("127.0.0.1");
    assertThat(attempt.path("door").asString()).isEqualTo("json");
    assertThat(attempt.path("record").asString()).isEqualTo(added.json().path("id").asString());
    assertThat(attempt.path("values").path("name").asString()).isEqualTo("Alder");
    assertThat(steps(attempt)).containsExactly("read", "tidy", "judge", "question", "write");
    assertThat(attempt.path("steps").get(3).path("about").asString()).isEqualTo("name: taken?");
    long sum = 0;
    for (JsonNode step : attempt.path("steps")) {
      sum += step.path("micros").asLong();
    }
    assertThat(attempt.path("micros").asLong()).isGreaterThanOrEqualTo(sum);
  }

  @Test
  void anAcceptedAttemptIsThereWithItsAnswer() {
    Wire.Reply added = service.wire().add("berthing", "{\"name\":\"Osier\"}");
    assertThat(service.wire().get("/api/attempts/" + id(added)).status()).isEqualTo(200);
  }

  @Test
  void whatIsSecretOrMaskedIsNotInTheLogNorInItsSentences() {
    Wire.Reply refused =
        service
            .wire()
            .add(
                "berthing",
                "{\"name\":\"Birch\",\"phone\":\"call 0451-abc\",\"word\":\"swordfish9\","
                    + "\"crew\":[{\"name\":\"\",\"born\":\"1961-02-03\"}]}");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.response().body()).contains("0451");
    JsonNode attempt = logged(refused);
    assertThat(attempt.toString()).doesNotContain("0451", "swordfish9", "1961");
    assertThat(attempt.path("values").path("phone").asString()).isEqualTo("•••");
    assertThat(attempt.path("values").path("crew").get(0).path("born").asString()).isEqualTo("•••");
    assertThat(attempt.path("values").path("name").asString()).isEqualTo("Birch");
    assertThat(attempt.path("errors").get(0).path("code").asString()).isEqualTo("type-mismatch");
    assertThat(attempt.path("errors").get(0).path("detail").asString()).isEmpty();
  }

  @Test
  void whatDoesNotHaveTheShapeOfItsFieldIsMaskedWhole() {
    Wire.Reply refused =
        service.wire().add("berthing", "{\"name\":\"Fig\",\"crew\":\"born 1961-02-03\"}");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(logged(refused).path("values").toString()).doesNotContain("1961");
  }

  @Test
  void aRuleThatTellsOfWhatIsMaskedTellsTheMask() {
    String form =
        """
        form: crate
        fields:
          code: { type: text, masked: true }
          owner: { type: text }
        rules:
          - { must: "code = owner", at: owner, say: "{owner} does not own {code}." }
        """;
    assertThat(service.wire().publish("crate", form).status()).isEqualTo(201);
    Wire.Reply refused = service.wire().add("crate", "{\"code\":\"K7731\",\"owner\":\"Ann\"}");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(logged(refused).toString()).doesNotContain("K7731");
  }

  @Test
  void whatIsAcceptedIsMaskedToo() {
    Wire.Reply added =
        service
            .wire()
            .add("berthing", "{\"name\":\"Ash\",\"phone\":\"+44 20 7946\",\"word\":\"pass4you\"}");
    assertThat(added.status()).isEqualTo(201);
    JsonNode attempt = logged(added);
    assertThat(attempt.toString()).doesNotContain("207946", "pass4you");
    assertThat(attempt.path("values").path("phone").asString()).isEqualTo("•••");
  }

  @Test
  void attemptsAreFoundByFormVerdictCodeFieldAndTime() {
    Wire wire = service.wire();
    wire.add("berthing", "{\"name\":\"Cedar\"}");
    Wire.Reply taken = wire.add("berthing", "{\"name\":\"Cedar\"}");
    Wire.Reply row =
        wire.add("berthing", "{\"name\":\"Elm\",\"crew\":[{\"born\":\"1999-01-01\"}]}");
    Wire.Reply unreadable = wire.add("buoy", "{\"name\":");
    logged(taken);
    logged(row);
    logged(unreadable);
    assertThat(ids("?code=taken")).contains(id(taken)).doesNotContain(id(row), id(unreadable));
    assertThat(ids("?field=crew")).contains(id(row)).doesNotContain(id(taken));
    assertThat(ids("?field=crew.0.name")).contains(id(row));
    assertThat(ids("?field=cre")).isEmpty();
    assertThat(ids("?verdict=failed&form=buoy")).contains(id(unreadable));
    assertThat(ids("?code=unreadable")).contains(id(unreadable));
    assertThat(ids("?form=buoy")).doesNotContain(id(taken), id(row));
    assertThat(ids("?until=2001-01-01T00:00:00Z")).isEmpty();
    assertThat(ids("?since=2001-01-01T00:00:00Z&limit=1000")).contains(id(taken));
    assertThat(logged(unreadable).path("detail").asString()).contains("line 1");
  }

  @Test
  void aPageOfTheLogLeadsToTheNext() {
    Wire wire = service.wire();
    Wire.Reply older = wire.add("buoy", "{\"nam\":1}");
    logged(older);
    Wire.Reply newer = wire.add("buoy", "{\"nam\":2}");
    logged(newer);
    JsonNode page = wire.get("/api/attempts?form=buoy&code=unknown-field&limit=1").json();
    assertThat(page.path("attempts")).hasSize(1);
    assertThat(page.path("attempts").get(0).path("id").asString()).isEqualTo(id(newer));
    String before = page.path("before").asString();
    assertThat(ids("?form=buoy&code=unknown-field&limit=1&before=" + before))
        .containsExactly(id(older));
  }

  @Test
  void aReplayedAddAndAnOutdatedEditAndARefusedCallerAreToldApart() {
    Wire wire = service.wire();
    String body = "{\"name\":\"Hazel\"}";
    String records = "/api/forms/berthing/records";
    Wire.Reply first = wire.post(records, Wire.JSON_TYPE, body, "Idempotency-Key", "hazel");
    Wire.Reply again = wire.post(records, Wire.JSON_TYPE, body, "Idempotency-Key", "hazel");
    assertThat(logged(first).path("verdict").asString()).isEqualTo("accepted");
    assertThat(logged(again).path("verdict").asString()).isEqualTo("repeated");
    assertThat(logged(again).path("record")).isEqualTo(logged(first).path("record"));
    String record = records + "/" + first.json().path("id").asString();
    Wire.Reply outdated = wire.put(record, Wire.JSON_TYPE, body, "If-Match", "\"9\"");
    assertThat(outdated.status()).isEqualTo(412);
    assertThat(logged(outdated).path("mode").asString()).isEqualTo("edit");
    assertThat(logged(outdated).path("problem").asString()).isEqualTo("outdated");
    Wire.Reply stranger = service.stranger().put(record, Wire.JSON_TYPE, body, "If-Match", "\"1\"");
    assertThat(stranger.status()).isEqualTo(401);
    assertThat(logged(stranger).path("problem").asString()).isEqualTo("not-signed-in");
    assertThat(logged(stranger).path("by").asString()).isEmpty();
  }

  @Test
  void aFormPageLeavesAttemptsToo() {
    Wire.Reply page =
        service
            .stranger()
            .post("/forms/berthing/new", "application/x-www-form-urlencoded", "name=");
    assertThat(page.status()).isEqualTo(422);
    JsonNode attempt = logged(page);
    assertThat(attempt.path("door").asString()).isEqualTo("page");
    assertThat(attempt.path("errors").get(0).path("code").asString()).isEqualTo("value-missing");
  }

  @Test
  void checksAreCountedAndLoggedOnlyWhereSomebodyAskedForIt() {
    Wire wire = service.wire();
    assertThat(wire.publish("float", "form: float\nfields:\n  name: { type: text }").status())
        .isEqualTo(201);
    Wire.Reply unasked = wire.check("float", "", "{\"name\":\"a\"}");
    assertThat(wire.put("/api/attempts/checks/float?minutes=1", Wire.JSON_TYPE, "").status())
        .isEqualTo(200);
    Wire.Reply asked = wire.check("float", "", "{\"name\":\"b\"}");
    assertThat(logged(asked).path("mode").asString()).isEqualTo("check");
    assertThat(logged(asked).path("verdict").asString()).isEqualTo("accepted");
    assertThat(ids("?form=float")).containsExactly(id(asked)).doesNotContain(id(unasked));
    assertThat(wire.get("/api/attempts?form=float").json().path("checks").asInt()).isEqualTo(2);
    assertThat(wire.put("/api/attempts/checks/none", Wire.JSON_TYPE, "").status()).isEqualTo(404);
    assertThat(wire.put("/api/attempts/checks/float?minutes=121", Wire.JSON_TYPE, "").status())
        .isEqualTo(400);
  }

  @Test
  void whoWatchesSeesWhatIsWantedAsItComes() throws Exception {
    HttpResponse<java.io.InputStream> live =
        HttpClient.newHttpClient()
            .send(
                service.wire().request("/api/attempts/live?form=buoy&verdict=refused").build(),
                HttpResponse.BodyHandlers.ofInputStream());
    assertThat(live.headers().firstValue("Content-Type").orElse(""))
        .startsWith("text/event-stream");
    try (BufferedReader lines =
        new BufferedReader(new InputStreamReader(live.body(), StandardCharsets.UTF_8))) {
      assertThat(lines.readLine()).isEqualTo(": watching");
      service.wire().add("berthing", "{}");
      service.wire().add("buoy", "{\"name\":\"Fir\"}");
      Wire.Reply refused = service.wire().add("buoy", "{\"nmae\":\"Fir\"}");
      String line = lines.readLine();
      while (line.isEmpty() || line.startsWith(":")) {
        line = lines.readLine();
      }
      assertThat(line).isEqualTo("event: attempt");
      assertThat(lines.readLine()).isEqualTo("id: " + id(refused));
      assertThat(lines.readLine()).startsWith("data: {").contains("\"unknown-field\"");
    }
  }

  @Test
  void onlyTheAdminSeesTheLogAndBadQueriesAreTold() {
    for (String path : List.of("", "/live", "/nothing")) {
      assertThat(service.stranger().get("/api/attempts" + path).status()).isEqualTo(401);
    }
    Wire wire = service.wire();
    assertThat(wire.get("/api/attempts/nothing").status()).isEqualTo(404);
    assertThat(wire.get("/api/attempts?before=x").status()).isEqualTo(400);
    assertThat(wire.get("/api/attempts?limit=0").status()).isEqualTo(400);
    Wire.Reply verdict = wire.get("/api/attempts?verdict=bad");
    assertThat(verdict.status()).isEqualTo(400);
    assertThat(verdict.json().path("detail").asString()).contains("accepted, refused");
    Wire.Reply since = wire.get("/api/attempts?since=yesterday");
    assertThat(since.json().path("detail").asString()).contains("RFC 3339");
    assertThat(wire.get("/api/attempts?form=%27%20OR%201=1").json().path("attempts")).isEmpty();
  }

  @Test
  void theLogOutlivesARestart() {
    Wire.Reply added = service.wire().add("berthing", "{\"name\":\"Yew\"}");
    Wire.Reply refused = service.wire().add("berthing", "{\"name\":\"Yew\"}");
    service.restart();
    assertThat(service.wire().get("/api/attempts/" + id(added)).status()).isEqualTo(200);
    assertThat(service.wire().get("/api/attempts/" + id(refused)).status()).isEqualTo(200);
  }
}
