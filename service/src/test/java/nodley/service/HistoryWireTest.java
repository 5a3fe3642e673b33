package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** The history of a form, the way back, and its end. */
class HistoryWireTest {

  private static final String ONE = "form: buoy\nfields: { name: { type: text } }";
  private static final String TWO =
      "form: buoy\nfields: { name: { type: text }, lamps: { type: rows, fields: { n: { type:"
          + " integer } } } }";

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.publish("buoy", ONE);
    wire.publish("buoy", TWO);
  }

  @AfterEach
  void stop() {
    service.close();
  }

  @Test
  void theHistoryIsToldAndAnEarlierRevisionIsPublishedAnew() {
    wire.add("buoy", "{\"name\":\"Ash\",\"lamps\":[{\"n\":1}]}");
    Wire.Reply back = wire.put("/api/forms/buoy/revisions/1/current", Wire.JSON_TYPE, "");
    assertThat(back.status()).isEqualTo(200);
    assertThat(back.json().path("revision").asInt()).isEqualTo(3);
    assertThat(wire.add("buoy", "{\"name\":\"Elm\",\"lamps\":[]}").codeOf("lamps"))
        .isEqualTo("unknown-field");
    JsonNode revisions = wire.get("/api/forms/buoy/revisions").json().path("revisions");
    assertThat(revisions.size()).isEqualTo(3);
    assertThat(revisions.get(0).path("revision").asInt()).isEqualTo(3);
    assertThat(revisions.get(0).path("current").asBoolean()).isTrue();
    assertThat(revisions.get(2).path("current").asBoolean()).isFalse();
    assertThat(revisions.get(2).path("publishedAt").asString()).matches(".*T.*Z");
    wire.put("/api/forms/buoy/revisions/2/current", Wire.JSON_TYPE, "");
    JsonNode kept = wire.get("/api/forms/buoy/records").json().path("records").get(0);
    assertThat(kept.path("values").toString())
        .as("what was dropped in between is still there")
        .isEqualTo("{\"name\":\"Ash\",\"lamps\":[{\"n\":1}]}");
    assertThat(wire.put("/api/forms/buoy/revisions/9/current", Wire.JSON_TYPE, "").status())
        .isEqualTo(404);
    assertThat(service.stranger().get("/api/forms/buoy/revisions").status()).isEqualTo(401);
  }

  @Test
  void aFormGoesWithItsRecordsOnlyWhenThatIsSaid() {
    String id =
        wire.add("buoy", "{\"name\":\"Ash\",\"lamps\":[{\"n\":1}]}").json().path("id").asString();
    assertThat(service.stranger().delete("/api/forms/buoy").status()).isEqualTo(401);
    Wire.Reply kept = wire.delete("/api/forms/buoy");
    assertThat(kept.status()).isEqualTo(409);
    assertThat(kept.json().path("detail").asString())
        .isEqualTo("Form buoy has 1 record; ?records=drop removes them with it.");
    assertThat(wire.get("/api/forms/buoy/records/" + id).status()).isEqualTo(200);
    assertThat(wire.delete("/api/forms/buoy?records=keep").status()).isEqualTo(400);
    assertThat(wire.delete("/api/forms/buoy?records=drop").status()).isEqualTo(204);
    assertThat(wire.get("/api/forms/buoy").status()).isEqualTo(404);
    service.restart();
    wire = service.wire();
    assertThat(wire.get("/api/forms/buoy").status()).isEqualTo(404);
    assertThat(wire.publish("buoy", TWO).status()).isEqualTo(201);
    assertThat(wire.get("/api/forms/buoy/records").json().path("records")).isEmpty();
  }

  @Test
  void aFormThatOthersReferToStays() {
    wire.publish("line", "form: line\nfields: { buoy: { type: record, form: buoy } }");
    Wire.Reply kept = wire.delete("/api/forms/buoy?records=drop");
    assertThat(kept.status()).isEqualTo(409);
    assertThat(kept.json().path("type").asString()).isEqualTo("/problems/in-use");
    assertThat(kept.json().path("forms").has("line")).isTrue();
    assertThat(wire.delete("/api/forms/line").status()).isEqualTo(204);
    assertThat(wire.delete("/api/forms/buoy").status()).isEqualTo(204);
  }
}
