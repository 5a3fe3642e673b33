package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/** Two people change the rows of a record at once: what is shown, held and kept is one thing. */
class MergingPageTest {

  private static final String CREW =
      """
      form: trip
      access: { add: anyone, see: anyone, edit: anyone }
      after: { edit: { go: stay, say: "Saved." } }
      fields:
        name: { type: text }
        crew:
          type: rows
          count: ..9
          fields:
            who: { type: text, required: true }
            age: { type: integer, required: true }
        people: { type: integer, compute: count(crew) }
      """;

  private static RunningService service;
  private static Browser browser;

  private String id;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publish("trip", CREW);
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  @BeforeEach
  void open() {
    id =
        service
            .wire()
            .add(
                "trip",
                """
                {"name": "Quay", "crew": [{"who": "Ann", "age": 1}, {"who": "Bob", "age": 2}, {"who": "Cy", "age": 3}]}
                """)
            .json()
            .path("id")
            .asString();
    browser.openBound("/forms/trip/" + id + "/edit");
  }

  private JsonNode record() {
    return service.wire().get("/api/forms/trip/records/" + id).json();
  }

  /** Somebody else saves the record; ROW0 and the like stand for the rows that it has. */
  private void elsewhere(String template) {
    String tag = "\"" + record().path("version").asInt() + "\"";
    String values = template;
    for (int i = 0; i < kept().size(); i++) {
      values = values.replace("ROW" + i, record().path("rows").path("#/crew/" + i).asString());
    }
    Wire.Reply saved =
        service
            .wire()
            .patch(
                "/api/forms/trip/records/" + id,
                "application/merge-patch+json",
                values,
                "If-Match",
                tag);
    assertThat(saved.status()).as(saved.response().body()).isEqualTo(200);
  }

  private void save() {
    browser
        .driver()
        .findElement(By.cssSelector("form.nodley button[type=submit]:not([name^='_'])"))
        .click();
  }

  private List<String> kept() {
    return record()
        .path("values")
        .path("crew")
        .valueStream()
        .map(it -> it.path("who").asString() + " " + it.path("age").asInt())
        .toList();
  }

  /** What stands in the rows of the page that are not blank. */
  private List<String> shown() {
    return browser.all("fieldset.row").stream()
        .map(
            row ->
                row.findElement(By.cssSelector("[name$='.who']")).getDomProperty("value")
                    + " "
                    + row.findElement(By.cssSelector("[name$='.age']")).getDomProperty("value"))
        .filter(it -> !it.isBlank())
        .toList();
  }

  @Test
  void rowsThatAreTakenOverAreWhatIsShownAndKept() {
    browser.type("#f-name", "Quay of Sel");
    browser.until(
        "it to be told",
        () -> {
          elsewhere("{\"crew\": [{\"who\": \"Ann\", \"age\": 1}]}");
          return browser.text("form.nodley").contains("Somebody else has just saved");
        });
    browser.find(".summary button").click();
    browser.until("theirs", () -> shown().equals(List.of("Ann 1")));
    save();
    browser.untilText(".said", "Saved.");
    assertThat(kept()).containsExactly("Ann 1");
    assertThat(record().path("values").path("name").asString()).isEqualTo("Quay of Sel");
  }

  @Test
  void aRowChangedHereAndAnotherThereAreBothKept() {
    browser.type("#f-crew-0-age", "11");
    elsewhere(
        """
        {"crew": [{"_row": ROW0, "who": "Ann", "age": 1}, {"_row": ROW1, "who": "Bob", "age": 22}, {"_row": ROW2, "who": "Cy", "age": 3}, {"who": "Dee", "age": 4}]}
        """);
    save();
    browser.untilText(".said", "Saved.");
    assertThat(kept()).containsExactly("Ann 11", "Bob 22", "Cy 3", "Dee 4");
    browser.until(
        "all of them", () -> shown().equals(List.of("Ann 11", "Bob 22", "Cy 3", "Dee 4")));
  }

  @Test
  void ofAConflictInARowTheirsCanBeKept() {
    browser.type("#f-crew-1-age", "21");
    elsewhere(
        """
        {"crew": [{"_row": ROW1, "who": "Bob", "age": 22}, {"_row": ROW2, "who": "Cy", "age": 3}]}
        """);
    save();
    browser.untilText(".summary", "Crew 1: Age");
    assertThat(shown()).containsExactly("Bob 21", "Cy 3");
    assertThat(browser.barriers()).isEmpty();
    browser.find(".summary button").click();
    browser.until("theirs", () -> shown().equals(List.of("Bob 22", "Cy 3")));
    browser.until(
        "the focus", () -> browser.driver().switchTo().activeElement().getText().equals("Save"));
    save();
    browser.untilText(".said", "Saved.");
    assertThat(kept()).containsExactly("Bob 22", "Cy 3");
  }

  private void saveWithoutScript(Browser plain) {
    plain.go(By.cssSelector("form.nodley .actions button[type=submit]"));
  }

  @Test
  void withoutScriptRowsAreMergedAsWell() {
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/trip/" + id + "/edit");
      plain.type("#f-crew-0-age", "11");
      elsewhere(
          "{\"crew\": [{\"_row\": ROW2, \"who\": \"Cy\", \"age\": 33}, {\"_row\": ROW0, \"who\":"
              + " \"Ann\", \"age\": 1}]}");
      saveWithoutScript(plain);
      assertThat(plain.all(".conflict")).isEmpty();
      assertThat(kept()).containsExactly("Cy 33", "Ann 11");
    }
  }

  @Test
  void withoutScriptTheirsCanBeKeptOfOneFieldInARow() {
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/trip/" + id + "/edit");
      plain.type("#f-crew-1-age", "21");
      plain.type("#f-crew-1-who", "Robert");
      elsewhere(
          "{\"crew\": [{\"_row\": ROW1, \"who\": \"Bobby\", \"age\": 22}, {\"_row\": ROW2, \"who\":"
              + " \"Cy\", \"age\": 3}]}");
      saveWithoutScript(plain);
      assertThat(plain.all(".conflict tbody tr"))
          .extracting(it -> it.getText().replace("\n", " "))
          .containsExactly("Crew 1: Who Bobby Keep theirs Robert", "Crew 1: Age 22 Keep theirs 21");
      plain.find(".conflict input[value='#/crew/0/age']").click();
      saveWithoutScript(plain);
      assertThat(kept()).containsExactly("Robert 22", "Cy 3");
    }
  }
}
