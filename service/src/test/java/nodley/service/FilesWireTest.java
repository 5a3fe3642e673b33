package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Several files are published together, or none of them. */
class FilesWireTest {

  private static final String BOAT =
      """
      form: boat
      fields:
        name: { type: text }
        port: { type: choice, options: { list: ports } }
        owner: { type: record, form: owner }
      """;
  private static final String OWNER =
      "form: owner\nfields: { name: { type: text }, boat: { type: record, form: boat } }\n";
  private static final String PORTS = "list: ports\noptions: [north, south]\n";
  private static final String GERMAN = "fields: { name: { label: Name des Boots } }\n";

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
  }

  @AfterEach
  void stop() {
    service.close();
  }

  /** Files by name and text, one after the other. */
  private Wire.Reply publish(String path, String... namesAndTexts) {
    List<Map<String, String>> files = new ArrayList<>();
    for (int i = 0; i < namesAndTexts.length; i += 2) {
      files.add(Map.of("name", namesAndTexts[i], "text", namesAndTexts[i + 1]));
    }
    return wire.post(
        path, Wire.JSON_TYPE, JsonMapper.shared().writeValueAsString(Map.of("files", files)));
  }

  private Wire.Reply whole(String boat) {
    return publish(
        "/api/files",
        "boat.de.yaml",
        GERMAN,
        "boat.form.yaml",
        boat,
        "owner.form.yaml",
        OWNER,
        "ports.list.yaml",
        PORTS);
  }

  private static List<String> outcomes(JsonNode reply) {
    return reply
        .path("files")
        .valueStream()
        .map(
            file ->
                file.path("kind").asString()
                    + " "
                    + file.path("name").asString()
                    + " "
                    + file.path("change").asString())
        .toList();
  }

  @Test
  void theyMayReferToEachOtherInAnyOrder() {
    Wire.Reply published = whole(BOAT);
    assertThat(published.status()).as(published.response().body()).isEqualTo(200);
    assertThat(outcomes(published.json()))
        .containsExactly("texts boat.de new", "form boat new", "form owner new", "list ports new");
    assertThat(wire.get("/api/forms/boat").json().path("revision").asInt()).isEqualTo(1);

    Wire.Reply again = whole(BOAT.replace("{ type: text }", "{ type: text, label: Called }"));
    assertThat(outcomes(again.json()))
        .containsExactly(
            "texts boat.de unchanged",
            "form boat revised",
            "form owner unchanged",
            "list ports unchanged");
    assertThat(again.json().path("files").path(1).path("revision").asInt()).isEqualTo(2);
    assertThat(outcomes(publish("/api/files", "owner.form.yaml", OWNER).json()))
        .containsExactly("form owner unchanged");
  }

  @Test
  void oneThatIsWrongKeepsAllOthersBack() {
    Wire.Reply refused = whole(BOAT.replace("ports }", "prots }"));
    assertThat(refused.status()).isEqualTo(422);
    JsonNode files = refused.json().path("files");
    assertThat(files.size()).isEqualTo(1);
    assertThat(files.path(0).path("file").asString()).isEqualTo("boat.form.yaml");
    assertThat(files.path(0).path("errors").toString()).contains("Did you mean `ports`?");
    for (String path : List.of("/api/forms/boat", "/api/forms/owner", "/api/lists/ports")) {
      assertThat(wire.get(path).status()).as(path).isEqualTo(404);
    }
  }

  @Test
  void keptRecordsThatStandAgainstOneKeepAllBack() {
    whole(BOAT);
    wire.add("boat", "{\"name\":\"Grey Heron\"}");
    String[] next = {
      "ports.list.yaml", PORTS.replace("south", "east"),
      "boat.form.yaml", BOAT.replace("name: { type: text }", "name: { type: integer }")
    };
    Wire.Reply preview = publish("/api/files/preview", next);
    assertThat(preview.status()).isEqualTo(200);
    assertThat(preview.json().path("objections").size()).isEqualTo(1);
    Wire.Reply refused = publish("/api/files", next);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(wire.get("/api/forms/boat/options/port").response().body()).contains("south");

    next[3] = BOAT.replace("name: { type: text }", "name: { type: text, length: ..5 }");
    assertThat(publish("/api/files", next).status()).isEqualTo(409);
    assertThat(publish("/api/files?force=rules", next).status()).isEqualTo(200);
    assertThat(wire.get("/api/forms/boat/options/port").response().body()).contains("east");
  }

  @Test
  void formsThatAreNotAmongThemMustStillBeRight() {
    whole(BOAT);
    Wire.Reply refused =
        publish(
            "/api/files",
            "other.list.yaml",
            "list: other\noptions: [a]\n",
            "ports.list.yaml",
            "list: ports\noptions: []\n");
    assertThat(refused.status()).isEqualTo(422);
    publish(
        "/api/files",
        "boat.form.yaml",
        BOAT.replace("name:", "title:"),
        "boat.de.yaml",
        "fields: {}\n");
    Wire.Reply using =
        publish(
            "/api/files",
            "trip.form.yaml",
            "form: trip\n"
                + "fields: { boat: { type: record, form: boat }, t: { type: text, compute:"
                + " boat.title } }\n");
    assertThat(using.status()).as(using.response().body()).isEqualTo(200);
    Wire.Reply breaking = publish("/api/files", "boat.form.yaml", BOAT);
    assertThat(breaking.status()).isEqualTo(409);
    assertThat(breaking.json().path("type").asString()).isEqualTo("/problems/in-use");
  }

  @Test
  void twoForTheSameAndTextsOfNoFormAreErrors() {
    Wire.Reply twice =
        publish(
            "/api/files",
            "a.form.yaml",
            OWNER.replace(", boat: { type: record, form: boat }", ""),
            "b.form.yaml",
            OWNER);
    assertThat(twice.status()).isEqualTo(422);
    assertThat(twice.response().body()).contains("Another of these files declares form `owner`.");
    Wire.Reply texts = publish("/api/files", "ship.de.yaml", GERMAN);
    assertThat(texts.status()).isEqualTo(422);
    assertThat(texts.response().body()).contains("There is no form `ship`");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "[]",
        "{}",
        "{\"files\": []}",
        "{\"files\": {}}",
        "{\"files\": [1]}",
        "{\"files\": [{\"name\": \"a.form.yaml\"}]}",
        "{\"files\": [{\"name\": 1, \"text\": \"\"}]}",
        "{\"files\": [{\"name\": \"a\", \"text\": null}]}",
        "{\"files\": [{\"name\": \"a.form.yaml\", \"text\": \"form: \\ud800\"}]}",
        "{\"files\":"
      })
  void whatIsNoListOfFilesIsToldWhatWouldBe(String body) {
    Wire.Reply reply = wire.post("/api/files", Wire.JSON_TYPE, body);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(400);
    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/unreadable");
  }

  @Test
  void onlyWhoMayPublishMay() {
    Wire stranger = service.stranger();
    assertThat(stranger.post("/api/files", Wire.JSON_TYPE, "{}").status()).isEqualTo(401);
    assertThat(stranger.post("/api/files/preview", Wire.JSON_TYPE, "{}").status()).isEqualTo(401);
  }
}
