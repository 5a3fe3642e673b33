package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** What publishing does to tables and records, told over the wire. */
class FormMigrationWireTest {

  private static final String BUOY =
      "form: buoy\nfields:\n  name: { type: text }\n  depth: { type: decimal }\n";

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  @BeforeEach
  void fresh() {
    wire.delete("/api/forms/buoy?records=drop");
    assertThat(wire.publish("buoy", BUOY).status()).isEqualTo(201);
  }

  private static String id(Wire.Reply reply) {
    assertThat(reply.status()).isEqualTo(201);
    return reply.json().path("id").asString();
  }

  private static List<String> changes(JsonNode json) {
    List<String> changes = new ArrayList<>();
    json.path("changes")
        .forEach(
            it -> changes.add(it.path("change").asString() + " " + it.path("field").asString()));
    return changes;
  }

  @Test
  void publishingTellsWhatItDidAndAPreviewWhatItWould() {
    String id = id(wire.add("buoy", "{\"name\":\"Ash\",\"depth\":2.5}"));
    String next = "form: buoy\nfields:\n  title: { type: text, was: name }\n";
    Wire.Reply preview = wire.post("/api/forms/buoy/preview", "application/yaml", next);
    assertThat(preview.status()).isEqualTo(200);
    assertThat(changes(preview.json())).containsExactly("renamed title", "retired depth");
    assertThat(preview.json().path("revision").asInt()).isEqualTo(2);
    assertThat(wire.get("/api/forms/buoy").json().path("revision").asInt()).isEqualTo(1);
    Wire.Reply published = wire.publish("buoy", next);
    assertThat(changes(published.json())).isEqualTo(changes(preview.json()));
    assertThat(wire.get("/api/forms/buoy/records/" + id).json().path("values").toString())
        .isEqualTo("{\"title\":\"Ash\"}");
    JsonNode retired = wire.get("/api/forms/buoy/retired").json().path("retired");
    assertThat(retired).hasSize(1);
    assertThat(retired.get(0).path("field").asString()).isEqualTo("depth");
    assertThat(retired.get(0).path("values").asLong()).isEqualTo(1);
  }

  @Test
  void aRetiredFieldIsForgottenOnlyByNameAndOnlyByAnAdmin() {
    wire.add("buoy", "{\"name\":\"Ash\",\"depth\":2.5}");
    Wire.Reply live = wire.delete("/api/forms/buoy/retired/depth");
    assertThat(live.status()).isEqualTo(409);
    assertThat(live.json().path("type").asString()).isEqualTo("/problems/still-there");
    wire.publish("buoy", "form: buoy\nfields:\n  name: { type: text }\n");
    assertThat(service.stranger().delete("/api/forms/buoy/retired/depth").status()).isEqualTo(401);
    assertThat(service.stranger().get("/api/forms/buoy/retired").status()).isEqualTo(401);
    Wire.Reply misspelt = wire.delete("/api/forms/buoy/retired/detph");
    assertThat(misspelt.status()).isEqualTo(404);
    assertThat(misspelt.json().path("detail").asString()).contains("Did you mean \"depth\"?");
    assertThat(wire.delete("/api/forms/buoy/retired/%22%20drop%20table%20buoy").status())
        .isEqualTo(404);
    Wire.Reply forgotten = wire.delete("/api/forms/buoy/retired/depth");
    assertThat(forgotten.json().path("forgotten").get(0).path("values").asLong()).isEqualTo(1);
    assertThat(wire.get("/api/forms/buoy/retired").json().path("retired")).isEmpty();
    assertThat(wire.delete("/api/forms/buoy/retired/depth").status()).isEqualTo(404);
  }

  @Test
  void tighterRulesAreRefusedByNameOrForced() {
    String shallow = id(wire.add("buoy", "{\"name\":\"Ash\",\"depth\":0.5}"));
    id(wire.add("buoy", "{\"name\":\"Elm\",\"depth\":5}"));
    String tight = BUOY.replace("type: decimal", "type: decimal, range: 1..");
    Wire.Reply refused = wire.publish("buoy", tight);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("type").asString()).isEqualTo("/problems/records-stand-against");
    assertThat(refused.json().path("detail").asString()).contains("?force=rules");
    JsonNode objection = refused.json().path("objections").get(0);
    assertThat(objection.path("field").asString()).isEqualTo("depth");
    assertThat(objection.path("records").toString()).isEqualTo("[\"" + shallow + "\"]");
    assertThat(wire.put("/api/forms/buoy?force=all", "application/yaml", tight).status())
        .isEqualTo(400);
    Wire.Reply forced = wire.put("/api/forms/buoy?force=rules", "application/yaml", tight);
    assertThat(forced.status()).isEqualTo(200);
    assertThat(forced.json().path("fallsShort").get(0)).isEqualTo(objection);
    assertThat(wire.add("buoy", "{\"depth\":0.5}").codeOf("depth")).isEqualTo("range-underflow");
    // Nothing but rules can be forced.
    assertThat(
            wire.put(
                    "/api/forms/buoy?force=rules",
                    "application/yaml",
                    "form: buoy\nfields:\n  name: { type: integer }\n")
                .status())
        .isEqualTo(409);
    // Back to the looser revision, and forth again: each is a publish like any other.
    assertThat(wire.put("/api/forms/buoy/revisions/1/current", Wire.JSON_TYPE, "").status())
        .isEqualTo(200);
    assertThat(wire.put("/api/forms/buoy/revisions/2/current", Wire.JSON_TYPE, "").status())
        .isEqualTo(409);
    assertThat(
            wire.put("/api/forms/buoy/revisions/2/current?force=rules", Wire.JSON_TYPE, "")
                .status())
        .isEqualTo(200);
  }

  @Test
  void aPartThatBecomesTighterIsHeldAgainstTheRecordsOfTheFormsThatUseIt() {
    String part = "part: place\nfields:\n  name: { type: text }\n";
    assertThat(wire.put("/api/parts/place", "application/yaml", part).status()).isEqualTo(201);
    wire.publish("buoy", "form: buoy\nfields:\n  at: { type: group, use: place }\n");
    String id = id(wire.add("buoy", "{\"at\":{\"name\":\"Ash\"}}"));
    String tight = part.replace("type: text", "type: text, length: ..2");
    Wire.Reply preview = wire.post("/api/parts/place/preview", "application/yaml", tight);
    assertThat(preview.json().path("fallsShort").get(0).path("field").asString())
        .isEqualTo("at.name");
    Wire.Reply refused = wire.put("/api/parts/place", "application/yaml", tight);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("objections").get(0).path("records").get(0).asString())
        .isEqualTo(id);
    assertThat(wire.put("/api/parts/place?force=rules", "application/yaml", tight).status())
        .isEqualTo(200);
    wire.delete("/api/forms/buoy?records=drop");
    assertThat(wire.delete("/api/parts/place").status()).isEqualTo(204);
  }

  @Test
  void publishesAtOnceFollowEachOtherWhileRecordsAreAddedAndRead() throws Exception {
    int times = 12;
    CountDownLatch go = new CountDownLatch(1);
    List<Future<Integer>> replies = new ArrayList<>();
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      for (int i = 0; i < times; i++) {
        String name = i % 2 == 0 ? "name" : "title";
        String was = i % 2 == 0 ? "title" : "name";
        String file =
            "form: buoy\nfields:\n  %s: { type: text, was: %s, help: \"%d\" }\n  depth: { type: decimal }\n"
                .formatted(name, was, i);
        replies.add(
            threads.submit(
                () -> {
                  go.await();
                  return wire.publish("buoy", file).status();
                }));
        int depth = i + 1;
        replies.add(
            threads.submit(
                () -> {
                  go.await();
                  return wire.add("buoy", "{\"depth\":" + depth + "}").status();
                }));
        replies.add(
            threads.submit(
                () -> {
                  go.await();
                  return wire.get("/api/forms/buoy/records?sort=-depth").status();
                }));
      }
      go.countDown();
      for (Future<Integer> reply : replies) {
        // 503 with Retry-After where the tables changed under a question.
        assertThat(reply.get()).isIn(200, 201, 503);
      }
    }
    assertThat(wire.get("/api/forms/buoy").json().path("revision").asInt()).isEqualTo(times + 1);
    assertThat(wire.get("/api/forms/buoy/retired").json().path("retired")).isEmpty();
    assertThat(wire.add("buoy", "{\"depth\":99}").status()).isEqualTo(201);
  }
}
