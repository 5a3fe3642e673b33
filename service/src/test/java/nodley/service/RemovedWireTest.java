package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.time.Duration;
import java.time.Instant;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** Records that somebody removed: for a while they can be put back, and are told nowhere else. */
class RemovedWireTest {

  private static final String JETTY =
      """
      form: jetty
      called: "{name}"
      access: { add: [owner, clerk], see: [owner, clerk], edit: [owner, clerk], remove: [owner, clerk] }
      fields:
        name: { type: text, unique: { ignore-case: true } }
        depth: { type: decimal }
        since: { type: date }
        open: { type: boolean }
        badge: { type: text, unique: { when: open } }
        remarks: { type: text, see: clerk, edit: clerk }
        pin: { type: secret }
        plan: { type: file }
        bollards:
          type: rows
          fields:
            load: { type: integer }
            lines: { type: rows, fields: { colour: { type: text } } }
      """;

  private static final String FULL =
      """
      {"name": "Long Jetty", "depth": 2.1, "since": "1921-05-01", "open": true, "badge": "J7",
       "remarks": "quail9917", "pin": "kittiwake 4 rope",
       "bollards": [{"load": 20, "lines": [{"colour": "red"}, {"colour": "blue"}]}, {"load": 30}]}
      """;

  private static final String RESTORABLE = "?restorable=true";

  private final MovableClock clock = new MovableClock(Instant.now());

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.at(clock);
    wire = service.wire();
    assertThat(wire.publish("jetty", JETTY).status()).isEqualTo(201);
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private static String path(String id) {
    return "/api/forms/jetty/records/" + id;
  }

  private String add(String json) {
    Wire.Reply added = wire.add("jetty", json);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json().path("id").asString();
  }

  private void remove(String id, int version) {
    assertThat(wire.delete(path(id) + RESTORABLE, "If-Match", "\"" + version + "\"").status())
        .isEqualTo(204);
  }

  private JsonNode removed() {
    return wire.get("/api/forms/jetty/removed").json().path("removed");
  }

  private Wire.Reply restore(String id) {
    return wire.post("/api/forms/jetty/removed/" + id + "/restore", Wire.JSON_TYPE, "");
  }

  @Test
  void aRemovedRecordComesBackAsItWas() {
    String id = add(FULL);
    assertThat(
            wire.patch(
                    path(id),
                    "application/merge-patch+json",
                    "{\"depth\": 2.4}",
                    "If-Match",
                    "\"1\"")
                .status())
        .isEqualTo(200);
    JsonNode before = wire.get(path(id)).json();
    JsonNode versions = wire.get(path(id) + "/versions").json();
    remove(id, 2);

    assertThat(wire.get(path(id)).status()).isEqualTo(404);
    assertThat(wire.get(path(id) + "/versions").status()).isEqualTo(404);
    assertThat(wire.get("/api/forms/jetty/records?q=jetty").json().path("records")).isEmpty();
    JsonNode one = removed().path(0);
    assertThat(one.path("id").asString()).isEqualTo(id);
    assertThat(one.path("called").asString()).isEqualTo("Long Jetty");
    assertThat(one.path("version").asInt()).isEqualTo(2);
    assertThat(one.path("removedBy").asString()).isEqualTo("admin");
    assertThat(
            Duration.between(
                Instant.parse(one.path("removedAt").asString()),
                Instant.parse(one.path("until").asString())))
        .isBetween(Duration.ofDays(30).minusSeconds(1), Duration.ofDays(30));

    Wire.Reply back = restore(id);
    assertThat(back.status()).as(back.response().body()).isEqualTo(200);
    assertThat(wire.get(path(id)).json()).isEqualTo(before);
    assertThat(wire.get(path(id) + "/versions").json()).isEqualTo(versions);
    assertThat(
            wire.post(
                    path(id) + "/secrets/pin/verify",
                    Wire.JSON_TYPE,
                    "{\"secret\": \"kittiwake 4 rope\"}")
                .json()
                .path("matches")
                .asBoolean())
        .isTrue();
    assertThat(wire.get("/api/forms/jetty/records?q=jetty").json().path("records")).hasSize(1);
    assertThat(removed()).isEmpty();
    assertThat(restore(id).status()).as("twice").isEqualTo(404);
    // What is unique without regard to case, and on a condition, is so again.
    assertThat(wire.add("jetty", "{\"name\": \"LONG JETTY\"}").status()).isEqualTo(422);
    assertThat(
            wire.add("jetty", "{\"name\": \"Other\", \"open\": true, \"badge\": \"J7\"}").status())
        .isEqualTo(422);
    remove(id, 2);
    assertThat(restore(id).status()).isEqualTo(200);
  }

  @Test
  void itsFilesComeBackAndAreNotServedMeanwhile() {
    String upload =
        wire.send(
                wire.request("/api/uploads")
                    .header("Tus-Resumable", "1.0.0")
                    .header("Upload-Length", "6")
                    .header("Upload-Metadata", "form amV0dHk=,field cGxhbg==,filename cGxhbi50eHQ=")
                    .header("Content-Type", "application/offset+octet-stream")
                    .POST(HttpRequest.BodyPublishers.ofString("oyster")))
            .header("Location");
    String id =
        add(
            "{\"name\": \"Ferry Steps\", \"plan\": \"upload:%s\"}"
                .formatted(upload.replaceFirst(".*/", "")));
    JsonNode file = wire.get(path(id)).json().path("values").path("plan");
    String href = file.path("href").asString();
    assertThat(wire.get(href).response().body()).isEqualTo("oyster");
    remove(id, 1);
    assertThat(wire.get(href).status()).isEqualTo(404);
    clock.advance(Duration.ofDays(29));
    assertThat(restore(id).status()).isEqualTo(200);
    assertThat(wire.get(href).response().body()).isEqualTo("oyster");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"name\": \"long jetty\"}",
        "{\"name\": \"Other\", \"open\": true, \"badge\": \"J7\"}"
      })
  void whatIsUniqueStaysSo(String other) {
    String id = add(FULL);
    remove(id, 1);
    String taken = add(other);
    Wire.Reply refused = restore(id);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("type").asString()).endsWith("/problems/cannot-restore");
    assertThat(refused.json().path("detail").asString())
        .isEqualTo(
            "Another record has the same by now: "
                + (other.contains("badge") ? "Badge" : "Name")
                + ". Change that one first.");
    assertThat(wire.get(path(id)).status()).isEqualTo(404);
    remove(taken, 1);
    assertThat(restore(id).status()).isEqualTo(200);
  }

  @Test
  void whatItRefersToMustBeThere() {
    wire.publish(
        "boat", "form: boat\nfields: { at: { type: record, form: jetty, label: Lies at } }\n");
    String jetty = add(FULL);
    String boat =
        wire.add("boat", "{\"at\": \"%s\"}".formatted(jetty)).json().path("id").asString();
    assertThat(wire.delete(path(jetty) + RESTORABLE, "If-Match", "\"1\"").status()).isEqualTo(409);
    wire.delete("/api/forms/boat/records/" + boat + RESTORABLE, "If-Match", "\"1\"");
    remove(jetty, 1);
    String back = "/api/forms/boat/removed/" + boat + "/restore";
    assertThat(wire.post(back, Wire.JSON_TYPE, "").json().path("detail").asString())
        .isEqualTo("What it refers to is gone: Lies at. Put that back first.");
    assertThat(restore(jetty).status()).isEqualTo(200);
    assertThat(wire.post(back, Wire.JSON_TYPE, "").status()).isEqualTo(200);
  }

  @Test
  void itFollowsTheFormMeanwhile() {
    String id = add(FULL);
    remove(id, 1);
    String renamed =
        JETTY
            .replace("  depth:", "  draught:")
            .replace("{ type: decimal }", "{ type: decimal, was: depth }")
            .replace("bollards:\n    type: rows", "posts:\n    type: rows\n    was: bollards")
            .replace("  since: { type: date }\n", "");
    assertThat(wire.publish("jetty", renamed).status()).isEqualTo(200);
    assertThat(wire.delete("/api/forms/jetty/retired/since").status()).isIn(200, 204);
    assertThat(restore(id).status()).isEqualTo(200);
    JsonNode values = wire.get(path(id)).json().path("values");
    assertThat(values.path("draught").asDouble()).isEqualTo(2.1);
    assertThat(values.path("posts").path(0).path("lines").path(1).path("colour").asString())
        .isEqualTo("blue");
    wire.publish("jetty", renamed + "  since: { type: date }\n");
    assertThat(wire.get(path(id)).json().path("values").path("since").asString(""))
        .as("it was forgotten in removed records, too")
        .isEmpty();
  }

  @Test
  void aFieldThatIsAnotherThingNowIsInTheWay() {
    String id = add(FULL.replace("\"since\": \"1921-05-01\"", "\"since\": \"1921-05-01\""));
    remove(id, 1);
    assertThat(
            wire.publish(
                    "jetty", JETTY.replace("since: { type: date }", "since: { type: integer }"))
                .status())
        .isEqualTo(200);
    Wire.Reply refused = restore(id);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("detail").asString()).startsWith("The form has changed so much");
    assertThat(removed()).hasSize(1);
  }

  @Test
  void afterThirtyDaysItIsGoneForGood() throws IOException {
    String id = add(FULL);
    remove(id, 1);
    clock.advance(Duration.ofDays(31));
    Awaitility.await().atMost(Duration.ofSeconds(30)).until(() -> removed().isEmpty());
    assertThat(restore(id).status()).isEqualTo(404);
  }

  @Test
  void itIsForgottenBeforeByWhoeverSaysSo() {
    String id = add(FULL);
    remove(id, 1);
    assertThat(wire.delete("/api/forms/jetty/removed/" + id).status()).isEqualTo(204);
    assertThat(wire.delete("/api/forms/jetty/removed/" + id).status()).isEqualTo(404);
    assertThat(restore(id).status()).isEqualTo(404);
  }

  @Test
  void pagesOfThemFollowEachOther() {
    for (int i = 0; i < 5; i++) {
      remove(add("{\"name\": \"Jetty %d\"}".formatted(i)), 1);
    }
    JsonNode first = wire.get("/api/forms/jetty/removed?limit=3").json();
    assertThat(first.path("removed"))
        .extracting(it -> it.path("called").asString())
        .containsExactly("Jetty 4", "Jetty 3", "Jetty 2");
    JsonNode second =
        wire.get("/api/forms/jetty/removed?limit=3&before=" + first.path("before").asString())
            .json();
    assertThat(second.path("removed"))
        .extracting(it -> it.path("called").asString())
        .containsExactly("Jetty 1", "Jetty 0");
    assertThat(second.has("before")).isFalse();
    assertThat(wire.get("/api/forms/jetty/removed?limit=0").status()).isEqualTo(400);
    assertThat(wire.get("/api/forms/jetty/removed?wher=x").status()).isEqualTo(400);
  }

  /**
   * Whoever may remove their own finds their own, and nobody is told of a field they may not see.
   */
  @Test
  void whoseItWasDecidesWhoFindsIt() throws IOException {
    String ann = service.signIn("ann", "[]");
    String bob = service.signIn("bob", "[]");
    Wire stranger = service.stranger();
    String id =
        stranger
            .post(
                "/api/forms/jetty/records",
                Wire.JSON_TYPE,
                "{\"name\": \"Ann's Jetty\"}",
                "Cookie",
                ann)
            .json()
            .path("id")
            .asString();
    assertThat(stranger.delete(path(id) + RESTORABLE, "If-Match", "\"1\"", "Cookie", ann).status())
        .isEqualTo(204);
    remove(add(FULL), 1);
    String list = "/api/forms/jetty/removed";
    assertThat(stranger.get(list).status()).isEqualTo(401);
    assertThat(stranger.get(list, "Cookie", bob).json().path("removed")).isEmpty();
    assertThat(stranger.get(list, "Cookie", ann).json().path("removed"))
        .extracting(it -> it.path("id").asString())
        .containsExactly(id);
    String back = list + "/" + id + "/restore";
    assertThat(stranger.post(back, Wire.JSON_TYPE, "", "Cookie", bob).status()).isEqualTo(404);
    assertThat(stranger.post(back, Wire.JSON_TYPE, "").status()).isEqualTo(401);
    Wire.Reply mine = stranger.post(back, Wire.JSON_TYPE, "", "Cookie", ann);
    assertThat(mine.status()).isEqualTo(200);
    assertThat(mine.json().path("values").path("name").asString()).isEqualTo("Ann's Jetty");
  }

  @Test
  void whatAPersonOwnedIsHandedOutAndForgotten() throws Exception {
    String ann = service.signIn("ann", "[]");
    String id =
        service
            .stranger()
            .post(
                "/api/forms/jetty/records",
                Wire.JSON_TYPE,
                "{\"name\": \"grebe5530\"}",
                "Cookie",
                ann)
            .json()
            .path("id")
            .asString();
    remove(id, 1);
    String person = wire.get("/api/people/ann").json().path("id").asString();
    HttpResponse<byte[]> zip =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(
                        URI.create(service.address() + "/api/people/" + person + "/export"))
                    .header("Authorization", "Bearer " + RunningService.KEY)
                    .build(),
                HttpResponse.BodyHandlers.ofByteArray());
    StringBuilder all = new StringBuilder();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip.body()))) {
      for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
        if (entry.getName().equals("removed/jetty.json")) {
          all.append(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        }
      }
    }
    assertThat(all.toString()).contains("grebe5530").contains(id);
    assertThat(wire.post("/api/people/" + person + "/forget", Wire.JSON_TYPE, "").status())
        .isEqualTo(200);
    assertThat(removed()).isEmpty();
    try (Connection on =
            DriverManager.getConnection("jdbc:sqlite:" + service.data().resolve("nodley.db"));
        ResultSet left =
            on.createStatement()
                .executeQuery(
                    "SELECT (SELECT count(*) FROM nodley_removed)"
                        + " + (SELECT count(*) FROM nodley_versions)")) {
      assertThat(left.getInt(1)).isZero();
    }
  }

  @Test
  void aRecordThatIsRemovedForGoodIsAmongThemNot() {
    for (String query : new String[] {"", "?restorable=false"}) {
      String id = add("{\"name\": \"Long Jetty\"}");
      assertThat(wire.delete(path(id) + query, "If-Match", "\"1\"").status()).isEqualTo(204);
      assertThat(removed()).isEmpty();
      assertThat(restore(id).status()).isEqualTo(404);
    }
  }

  /**
   * The values of a removed record are in no reply, list, log or stream but when it is put back.
   */
  @Test
  void itsValuesAreToldNowhere() {
    String id = add(FULL);
    remove(id, 1);
    for (String place :
        new String[] {
          "/api/forms/jetty/removed",
          "/api/forms/jetty/records",
          "/api/forms/jetty/records?q=quail9917",
          "/api/attempts?form=jetty",
          "/api/log",
          "/api/deliveries"
        }) {
      assertThat(wire.get(place).response().body())
          .as(place)
          .doesNotContain("quail9917")
          .doesNotContain("kittiwake");
    }
  }
}
