package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Edits over the wire: in part, at a conflict, and back to an earlier version. */
class EditsWireTest {

  private static final String PATCH = "application/merge-patch+json";

  private static final String BUOY =
      """
      form: buoy
      fields:
        name: { type: text, required: true, unique: true }
        colour: { type: choice, options: [red, green] }
        depth: { type: decimal }
        keeper:
          type: group
          fields: { name: { type: text }, phone: { type: phone } }
        lamps:
          type: rows
          fields: { power: { type: integer } }
        pin: { type: secret }
        twice: { type: decimal, compute: depth * 2 }
        code: { type: text, editable: 'mode = "add"' }
      """;

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    assertThat(wire.publish("buoy", BUOY).status()).isEqualTo(201);
    assertThat(
            wire.publish(
                    "mark",
                    "form: mark\naccess: { edit: anyone }\nfields: { name: { type: text } }")
                .status())
        .isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static String added(String name) {
    Wire.Reply reply =
        wire.add(
            "buoy",
            "{\"name\":\"%s\",\"colour\":\"red\",\"depth\":2.5,\"pin\":\"1234\",\"code\":\"K\","
                    .formatted(name)
                + "\"keeper\":{\"name\":\"Ann\",\"phone\":\"+351210000101\"},"
                + "\"lamps\":[{\"power\":5},{\"power\":10}]}");
    assertThat(reply.status()).isEqualTo(201);
    return "/api/forms/buoy/records/" + reply.json().path("id").asString();
  }

  private static Wire.Reply patch(String path, String body, String version) {
    return wire.patch(path, PATCH, body, "If-Match", "\"" + version + "\"");
  }

  @Test
  void aPatchChangesWhatItNamesAndLeavesTheRest() {
    String path = added("Ash");
    Wire.Reply reply =
        patch(path, "{\"depth\":3,\"colour\":null,\"keeper\":{\"phone\":null}}", "1");
    assertThat(reply.status()).isEqualTo(200);
    assertThat(reply.header("ETag")).isEqualTo("\"2\"");
    assertThat(reply.json().path("values").toString())
        .isEqualTo(
            "{\"name\":\"Ash\",\"depth\":3,\"keeper\":{\"name\":\"Ann\"},"
                + "\"lamps\":[{\"power\":5},{\"power\":10}],\"twice\":6,\"code\":\"K\"}");
  }

  @Test
  void anEditThatChangesNothingMakesNoVersion() {
    String path = added("Rowan");
    for (String same :
        List.of(
            "{}",
            "{\"name\":\" Rowan \",\"depth\":2.50,\"pin\":\"\"}",
            "{\"lamps\":[{\"power\":5},{},{\"power\":10}],\"keeper\":{}}")) {
      Wire.Reply reply = patch(path, same, "1");
      assertThat(reply.status()).as(same).isEqualTo(200);
      assertThat(reply.header("ETag")).as(same).isEqualTo("\"1\"");
      assertThat(reply.json().path("version").asInt()).isEqualTo(1);
    }
    assertThat(wire.get(path + "/versions").json().path("versions").size()).isEqualTo(1);
    // Rows in another order, and a secret, which may be another, are changes.
    assertThat(patch(path, "{\"lamps\":[{\"power\":10},{\"power\":5}]}", "1").header("ETag"))
        .isEqualTo("\"2\"");
    assertThat(patch(path, "{\"pin\":\"1234\"}", "2").header("ETag")).isEqualTo("\"3\"");
    assertThat(patch(path, "{}", "2").status()).isEqualTo(412);
  }

  @Test
  void aPatchIsJudgedLikeAnyEdit() {
    added("Birch");
    String path = added("Beech");
    assertThat(patch(path, "{\"name\":null}", "1").codeOf("name")).isEqualTo("value-missing");
    assertThat(patch(path, "{\"name\":\"Birch\"}", "1").codeOf("name")).isEqualTo("taken");
    assertThat(patch(path, "{\"depht\":1}", "1").codeOf("depht")).isEqualTo("unknown-field");
    assertThat(patch(path, "{\"code\":\"X\"}", "1").codeOf("code")).isEqualTo("not-editable");
    assertThat(patch(path, "{\"lamps\":[{\"power\":\"much\"}]}", "1").codeOf("lamps/0/power"))
        .isEqualTo("bad-input");
    assertThat(wire.patch(path, PATCH, "{}").status()).isEqualTo(428);
    assertThat(wire.patch(path, PATCH, "[1]", "If-Match", "\"1\"").status()).isEqualTo(400);
    assertThat(wire.patch(path, "text/plain", "{}", "If-Match", "\"1\"").status()).isEqualTo(415);
    assertThat(patch(path + "0", "{}", "1").status()).isEqualTo(404);
    assertThat(wire.get(path).json().path("version").asInt()).isEqualTo(1);
  }

  @Test
  void anOldVersionTellsBaseTheirsAndYours() {
    String path = added("Cedar");
    patch(path, "{\"depth\":7,\"keeper\":{\"name\":\"Bea\"}}", "1");
    Wire.Reply late = patch(path, "{\"depth\":8,\"colour\":\"green\"}", "1");
    assertThat(late.status()).isEqualTo(412);
    assertThat(late.header("ETag")).isEqualTo("\"2\"");
    List<String> fields = new ArrayList<>();
    late.json().path("fields").forEach(it -> fields.add(it.toString()));
    assertThat(fields)
        .containsExactlyInAnyOrder(
            "{\"pointer\":\"#/depth\",\"base\":2.5,\"theirs\":7,\"yours\":8}",
            "{\"pointer\":\"#/colour\",\"base\":\"red\",\"theirs\":\"red\",\"yours\":\"green\"}",
            "{\"pointer\":\"#/keeper/name\",\"base\":\"Ann\",\"theirs\":\"Bea\",\"yours\":\"Ann\"}",
            "{\"pointer\":\"#/twice\",\"base\":5,\"theirs\":14,\"yours\":16}");
  }

  @Test
  void aVersionThatNeverWasHasNoBase() {
    String path = added("Cherry");
    Wire.Reply reply = patch(path, "{\"depth\":8}", "9");
    assertThat(reply.status()).isEqualTo(412);
    assertThat(reply.json().path("fields").get(0).has("base")).isFalse();
  }

  @Test
  void everyVersionIsKeptWithWhoAndWhat() {
    String path = added("Elm");
    patch(path, "{\"depth\":3}", "1");
    patch(path, "{\"keeper\":{\"name\":\"Bea\"},\"pin\":\"9999\"}", "2");
    JsonNode versions = wire.get(path + "/versions").json().path("versions");
    assertThat(versions.size()).isEqualTo(3);
    assertThat(versions.get(0).path("version").asInt()).isEqualTo(3);
    assertThat(versions.get(0).path("by").asString()).isEqualTo("admin");
    assertThat(versions.get(0).path("at").asString())
        .matches("[0-9]{4}-.*T.*Z")
        .isEqualTo(wire.get(path).json().path("updatedAt").asString());
    assertThat(versions.get(0).path("changes").toString())
        .isEqualTo("[{\"pointer\":\"#/keeper/name\",\"from\":\"Ann\",\"to\":\"Bea\"}]");
    assertThat(versions.get(1).path("changes").toString())
        .isEqualTo(
            "[{\"pointer\":\"#/depth\",\"from\":2.5,\"to\":3},"
                + "{\"pointer\":\"#/twice\",\"from\":5,\"to\":6}]");
    assertThat(versions.get(2).path("changes").get(0).toString())
        .isEqualTo("{\"pointer\":\"#/name\",\"from\":null,\"to\":\"Elm\"}");
    assertThat(versions.toString()).doesNotContain("9999").doesNotContain("pin");
    JsonNode page = wire.get(path + "/versions?limit=1&before=3").json().path("versions");
    assertThat(page.size()).isEqualTo(1);
    assertThat(page.get(0).path("version").asInt()).isEqualTo(2);
    assertThat(page.get(0).path("changes").size()).isEqualTo(2);
  }

  @Test
  void aVersionIsPutBackWithOneCall() {
    String path = added("Fir");
    patch(path, "{\"depth\":3,\"lamps\":[],\"keeper\":null}", "1");
    assertThat(wire.post(path + "/versions/1/restore", Wire.JSON_TYPE, "").status()).isEqualTo(428);
    Wire.Reply back =
        wire.post(path + "/versions/1/restore", Wire.JSON_TYPE, "", "If-Match", "\"2\"");
    assertThat(back.status()).isEqualTo(200);
    assertThat(back.json().path("version").asInt()).isEqualTo(3);
    assertThat(back.json().path("values").toString())
        .isEqualTo(
            "{\"name\":\"Fir\",\"colour\":\"red\",\"depth\":2.5,"
                + "\"keeper\":{\"name\":\"Ann\",\"phone\":\"+351210000101\"},"
                + "\"lamps\":[{\"power\":5},{\"power\":10}],\"twice\":5,\"code\":\"K\"}");
    assertThat(
            wire.post(path + "/versions/9/restore", Wire.JSON_TYPE, "", "If-Match", "\"3\"")
                .status())
        .isEqualTo(404);
    assertThat(
            wire.post(path + "/versions/x/restore", Wire.JSON_TYPE, "", "If-Match", "\"3\"")
                .status())
        .isEqualTo(404);
  }

  @Test
  void whatIsPutBackIsJudged() {
    String path = added("Gorse");
    patch(path, "{\"name\":\"Heath\"}", "1");
    added("Gorse");
    Wire.Reply back =
        wire.post(path + "/versions/1/restore", Wire.JSON_TYPE, "", "If-Match", "\"2\"");
    assertThat(back.status()).isEqualTo(422);
    assertThat(back.codeOf("name")).isEqualTo("taken");
  }

  @Test
  void aRecordTakesItsVersionsWithIt() {
    String path = added("Hazel");
    patch(path, "{\"depth\":3}", "1");
    assertThat(wire.delete(path, "If-Match", "\"2\"").status()).isEqualTo(204);
    assertThat(wire.get(path + "/versions").status()).isEqualTo(404);
  }

  @Test
  void whoMayNotSeeIsToldOfNoVersion() {
    String id = wire.add("mark", "{\"name\":\"A\"}").json().path("id").asString();
    String path = "/api/forms/mark/records/" + id;
    Wire stranger = service.stranger();
    assertThat(stranger.get(path + "/versions").status()).isEqualTo(401);
    Wire.Reply late = stranger.patch(path, PATCH, "{\"name\":\"B\"}", "If-Match", "\"7\"");
    assertThat(late.status()).isEqualTo(412);
    assertThat(late.json().has("fields")).isFalse();
  }
}
