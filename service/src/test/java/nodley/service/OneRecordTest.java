package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/** Forms that have one record: settings, say. */
class OneRecordTest {

  private static final String OFFICE =
      """
      form: office
      records: one
      title: { add: Set up the office, edit: The office }
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        name: { type: text, required: true, length: ..20 }
        code: { type: text, editable: on-add }
        hours: { type: text, default: "9 to 5" }
        sign: { type: text, compute: upper(code) }
        place: { type: group, fields: { dock: { type: text, editable: on-add }, town: { type: text } } }
      after:
        edit: { go: stay, say: Saved. }
      """;

  private static final String PATH = "/api/forms/office/record";

  private static final String PATCH = "application/merge-patch+json";

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
    assertThat(wire.publish("office", OFFICE).status()).isEqualTo(201);
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private Wire.Reply first(String json) {
    return wire.put(PATH, Wire.JSON_TYPE, json, "If-None-Match", "*");
  }

  @Test
  void itIsMadeByItsFirstSaveAndEditedAtTheSameAddress() {
    Wire.Reply none = wire.get(PATH);
    assertThat(none.status()).isEqualTo(404);
    assertThat(none.json().path("detail").asString()).contains("If-None-Match: *");
    assertThat(wire.put(PATH, Wire.JSON_TYPE, "{\"name\":\"North\"}").status()).isEqualTo(428);
    assertThat(wire.put(PATH, Wire.JSON_TYPE, "{\"name\":\"North\"}", "If-Match", "\"1\"").status())
        .isEqualTo(404);
    assertThat(first("{}").status()).isEqualTo(422);
    Wire.Reply made = first("{\"name\":\"North\",\"code\":\"n\"}");
    assertThat(made.status()).isEqualTo(201);
    assertThat(made.json().path("values").path("hours").asString()).isEqualTo("9 to 5");
    assertThat(made.json().path("after").path("go").asString()).isEqualTo("/forms/office/edit");
    Wire.Reply got = wire.get(PATH);
    assertThat(got.response().headers().firstValue("ETag")).contains("\"1\"");
    assertThat(got.json().path("id")).isEqualTo(made.json().path("id"));
    Wire.Reply edited = wire.patch(PATH, PATCH, "{\"name\":\"South\"}", "If-Match", "\"1\"");
    assertThat(edited.status()).isEqualTo(200);
    assertThat(edited.json().path("version").asLong()).isEqualTo(2);
    assertThat(edited.json().path("values").path("code").asString()).isEqualTo("n");
    // It is a record like others, too.
    String id = made.json().path("id").asString();
    assertThat(wire.get("/api/forms/office/records/" + id).status()).isEqualTo(200);
    assertThat(wire.get("/api/forms/office").json().path("records").asString()).isEqualTo("one");
  }

  @Test
  void aSecondFirstSaveIsToldWhatIsThere() {
    first("{\"name\":\"North\"}");
    Wire.Reply again = first("{\"name\":\"South\"}");
    assertThat(again.status()).isEqualTo(412);
    assertThat(again.json().path("version").asLong()).isEqualTo(1);
    assertThat(again.json().path("fields").path(0).path("theirs").asString()).isEqualTo("North");
    assertThat(again.json().path("fields").path(0).path("yours").asString()).isEqualTo("South");
    Wire.Reply added = wire.add("office", "{\"name\":\"South\"}");
    assertThat(added.status()).isEqualTo(409);
    assertThat(added.json().path("type").asString()).isEqualTo("/problems/only-one");
  }

  @Test
  void ofManyFirstSavesAtOnceOneMakesIt() throws Exception {
    try (ExecutorService many = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Callable<Integer>> saves =
          java.util.stream.IntStream.range(0, 50)
              .<Callable<Integer>>mapToObj(i -> () -> first("{\"name\":\"N" + i + "\"}").status())
              .toList();
      List<Integer> outcomes =
          many.invokeAll(saves).stream().map(it -> it.resultNow()).sorted().toList();
      assertThat(outcomes.getFirst()).isEqualTo(201);
      assertThat(outcomes.subList(1, 50)).containsOnly(412);
    }
    assertThat(wire.get("/api/forms/office/records").json().path("records")).hasSize(1);
  }

  @Test
  void aFormOfManyRecordsHasNoSuchAddressAndCannotBecomeOneOfOne() {
    String many = OFFICE.replace("records: one", "records: many");
    assertThat(wire.publish("office", many).status()).isEqualTo(200);
    assertThat(wire.get(PATH).status()).isEqualTo(404);
    assertThat(wire.get("/forms/office/edit").status()).isEqualTo(404);
    wire.add("office", "{\"name\":\"North\"}");
    wire.add("office", "{\"name\":\"South\"}");
    Wire.Reply back = wire.publish("office", OFFICE);
    assertThat(back.status()).isEqualTo(409);
    assertThat(back.json().path("objections").path(0).path("records")).hasSize(2);
    assertThat(back.json().path("detail").asString()).contains("`records: one`");
  }

  @Test
  void itsPageMakesItThenEditsIt() {
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/office/new");
      assertThat(browser.driver().getCurrentUrl()).endsWith("/forms/office/edit");
      assertThat(browser.text("h1")).isEqualTo("Set up the office");
      browser.type("#f-name", "North");
      browser.type("#f-code", "n");
      browser.type("#f-place-dock", "East");
      browser.find("form.nodley button[type=submit]").click();
      browser.until("it to be made", () -> wire.get(PATH).status() == 200);
      browser.untilText("h1", "The office");
      browser.find("form[data-bound=true]");
      assertThat(browser.text("output#f-code")).isEqualTo("n");
      // What cannot be changed any more is still there for what is computed from it.
      assertThat(browser.text("output#f-sign")).isEqualTo("N");
      browser.type("#f-place-town", "Marrow");
      browser.type("#f-name", "South");
      browser.find("form.nodley button[type=submit]").click();
      browser.untilText(".said", "Saved.");
      assertThat(wire.get(PATH).json().path("values").path("name").asString()).isEqualTo("South");
      assertThat(wire.get(PATH).json().path("values").path("code").asString()).isEqualTo("n");
      assertThat(wire.get(PATH).json().path("values").path("place").toString())
          .isEqualTo("{\"dock\":\"East\",\"town\":\"Marrow\"}");
      browser.open("/forms/office");
      browser.untilText(".record", "South");
      browser.find("a.button").click();
      browser.untilText("h1", "The office");
      assertThat(browser.barriers()).isEmpty();
    }
  }

  @Test
  void withoutScriptAFirstSaveThatComesSecondIsComparedFieldByField() {
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/office/edit");
      plain.type("#f-name", "South");
      first("{\"name\":\"North\"}");
      plain.go(By.cssSelector("form.nodley button[type=submit]"));
      assertThat(plain.text(".conflict")).contains("Somebody else saved this record");
      assertThat(plain.valueOf("#f-name")).isEqualTo("South");
      plain.go(By.cssSelector("form.nodley button[type=submit]"));
      assertThat(plain.text(".said")).isEqualTo("Saved.");
      assertThat(wire.get(PATH).json().path("values").path("name").asString()).isEqualTo("South");
    }
  }

  @Test
  void withoutScriptWhatOnlyOneOfTwoFirstSavesFilledInIsMerged() {
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/office/edit");
      plain.type("#f-name", "North");
      plain.type("#f-place-town", "Marrow");
      first("{\"name\":\"North\",\"hours\":\"8 to 4\",\"place\":{\"dock\":\"East\"}}");
      plain.go(By.cssSelector("form.nodley button[type=submit]"));
      assertThat(plain.text(".said")).isEqualTo("Saved.");
      JsonNode values = wire.get(PATH).json().path("values");
      assertThat(values.path("hours").asString()).isEqualTo("8 to 4");
      assertThat(values.path("place").toString())
          .isEqualTo("{\"dock\":\"East\",\"town\":\"Marrow\"}");
    }
  }

  @Test
  void somebodyElsesSaveIsToldAtOnceAndCanBeTakenOver() {
    first("{\"name\":\"North\",\"hours\":\"8 to 4\"}");
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/office/edit");
      browser.type("#f-name", "South");
      // The stream begins some time after the page has come; what was before it is not told.
      browser.until(
          "it to be told",
          () -> {
            String tag = wire.get(PATH).response().headers().firstValue("ETag").orElseThrow();
            wire.patch(PATH, PATCH, "{\"hours\":\"10 to 2\"}", "If-Match", tag);
            return browser.text("form.nodley").contains("Somebody else has just saved");
          });
      browser.untilText(".summary", "Somebody else has just saved this record: Hours.");
      assertThat(browser.valueOf("#f-hours")).isEqualTo("8 to 4");
      assertThat(browser.barriers()).isEmpty();
      browser.find(".summary button").click();
      browser.until("theirs", () -> browser.valueOf("#f-hours").equals("10 to 2"));
      assertThat(browser.valueOf("#f-name")).isEqualTo("South");
      browser.find("form.nodley button[type=submit]").click();
      browser.untilText(".said", "Saved.");
      assertThat(wire.get(PATH).json().path("values").path("hours").asString())
          .isEqualTo("10 to 2");
    }
  }
}
