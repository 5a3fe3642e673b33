package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.logging.LogEntry;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.support.ui.Select;
import tools.jackson.databind.JsonNode;

/** What a page of another site may leave to the form, and what it is told when it is wrong. */
class OwnPageTest {

  private static RunningService service;
  private static OtherSite site;
  private static Browser browser;
  private static volatile String page = "";

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    site = new OtherSite(_ -> Optional.of(page));
    String origin = site.origin();
    Wire wire = service.wire();
    Wire.Reply published =
        wire.publish(
            "trip",
            """
            form: trip
            access: { add: anyone, see: anyone, edit: anyone }
            origins: ["%s"]
            called: "{trip_name}"
            after: { add: { go: stay, say: "{trip_name} is planned." }, edit: { go: stay, say: "{trip_name} is saved." } }
            fields:
              trip_name: { type: text, required: true }
              slug: { type: text, suggest: slug(trip_name), unique: true }
              kind: { type: choice, options: { fish: Fishing, dive: Diving }, default: dive, control: select }
              licensed: { type: boolean, default: true }
              started: { type: date, default: today }
              note: { type: text, length: ..10, control: textarea }
              crew:
                type: rows
                fields: { who: { type: text, required: true }, age: { type: integer } }
              people: { type: integer, compute: count(crew) }
            """
                .formatted(origin));
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    wire.publish("closed", "form: closed\naccess: { add: anyone }\nfields: { t: { type: text } }");
    browser = Browser.withScript(origin);
  }

  @AfterAll
  static void stop() {
    browser.close();
    site.close();
    service.close();
  }

  private static void open(String body) {
    browser.driver().manage().logs().get(LogType.BROWSER);
    page =
        "<!doctype html><html lang=en><title>Trips</title><main><h1>Trips</h1>"
            + body
            + "</main><script type=module src="
            + service.address()
            + "/page/nodley.js></script></html>";
    browser.open("/");
  }

  private static List<String> errors() {
    return browser.driver().manage().logs().get(LogType.BROWSER).getAll().stream()
        .map(LogEntry::getMessage)
        .filter(it -> it.contains("Nodley"))
        .toList();
  }

  private static final String FORM =
      """
      <form data-nodley="trip" method="post">
        <label>Name <input name="trip_name"></label>
        <label>Address <input name="slug"></label>
        <label>Kind <select name="kind"></select></label>
        <label><input type="checkbox" name="licensed"> Licensed</label>
        <label>From <input type="date" name="started"></label>
        <div data-field="crew">
          <div data-row>
            <label>Who <input name="crew[0].who"></label>
            <label>Age <input name="crew[0].age"></label>
            <button data-remove>Not on board</button>
          </div>
          <button data-add>One more</button>
        </div>
        <p>People: <output name="people"></output></p>
        <button id="send">Plan it</button>
      </form>
      """;

  private static JsonNode latest() {
    return service.wire().get("/api/forms/trip/records?limit=1").json().path("records").path(0);
  }

  @Test
  void whatThePageLeavesOutTheFormFillsIn() {
    open(FORM);
    browser.find("form[data-bound=true]");
    Select kind = new Select(browser.find("[name=kind]"));
    assertThat(kind.getOptions()).extracting(it -> it.getText()).contains("Fishing", "Diving");
    assertThat(kind.getFirstSelectedOption().getText()).isEqualTo("Diving");
    assertThat(browser.find("[name=licensed]").isSelected()).isTrue();
    assertThat(browser.valueOf("[name=started]")).matches("20\\d\\d-\\d\\d-\\d\\d");
    browser.type("[name=trip_name]", "To Sel");
    assertThat(browser.valueOf("[name=slug]")).isEqualTo("to-sel");
    browser.type("[name='crew[0].who']", "Ann");
    browser.find("[data-add]").click();
    browser.type("[name='crew[1].who']", "Bob");
    browser.untilText("output[name=people]", "2");
    browser.find("[data-add]").click();
    browser.type("[name='crew[2].who']", "Cy");
    browser.all("[data-remove]").get(1).click();
    browser.untilText("output[name=people]", "2");
    assertThat(browser.valueOf("[name='crew[1].who']")).isEqualTo("Cy");
    browser.find("[name=licensed]").click();
    browser.find("#send").click();
    browser.untilText("[data-working]", "To Sel is planned.");
    JsonNode values = latest().path("values");
    assertThat(values.path("kind").asString()).isEqualTo("dive");
    assertThat(values.path("licensed").asBoolean(true)).isFalse();
    assertThat(values.path("started").asString()).startsWith("20");
    assertThat(values.path("crew").findValuesAsString("who")).containsExactly("Ann", "Cy");
    assertThat(errors()).isEmpty();
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void aFormOfOnesOwnEditsTheRecordThatItNames() {
    String id =
        service
            .wire()
            .add("trip", "{\"trip_name\":\"Old\",\"kind\":\"fish\",\"note\":\"kept\"}")
            .json()
            .path("id")
            .asString();
    open(
        """
        <form data-nodley="trip" data-record="%s" method="post">
          <label>Name <input name="trip_name"></label>
          <label>Kind <select name="kind"></select></label>
          <button>Save</button>
        </form>
        """
            .formatted(id));
    browser.find("form[data-bound=true]");
    assertThat(browser.valueOf("[name=trip_name]")).isEqualTo("Old");
    assertThat(browser.valueOf("[name=kind]")).isEqualTo("fish");
    browser.type("[name=trip_name]", "New");
    browser.find("form button").click();
    browser.untilText("[data-working]", "New is saved.");
    JsonNode record = service.wire().get("/api/forms/trip/records/" + id).json();
    assertThat(record.path("version").asInt()).isEqualTo(2);
    assertThat(record.path("values").path("trip_name").asString()).isEqualTo("New");
    assertThat(record.path("values").path("note").asString()).isEqualTo("kept");
  }

  @Test
  void namesThatTheFormLacksAreToldWhereverTheyStand() {
    open(
        """
        <form data-nodley="trip" method="post" data-clear="trip_nam">
          <label>Name <input name="trip_name"></label>
          <span data-error="tripName"></span><span data-state="slugg"></span>
          <div data-field="craw"></div>
        </form>
        """);
    browser.find("form[data-bound=true]");
    assertThat(String.join("\n", errors()))
        .contains("data-error names \\\"tripName\\\"")
        .contains("data-state names \\\"slugg\\\"")
        .contains("data-field names \\\"craw\\\"")
        .contains("data-clear names \\\"trip_nam\\\"");
  }

  @Test
  void whyAFormCannotBeThereIsToldToDeveloperAndPerson() {
    open("<div data-nodley=\"closed\"></div><div data-nodley=\"trpi\" lang=\"de\"></div>");
    browser.untilText("[data-nodley=closed] [role=alert]", "The form could not be loaded.");
    browser.untilText("[data-nodley=trpi] [role=alert]", "konnte nicht geladen werden");
    String told = String.join("\n", errors());
    assertThat(told).contains("origins: [" + site.origin() + "]");
    assertThat(told).contains("There is no form \\\"trpi\\\"");
    assertThat(browser.find("[data-nodley=closed] a").getDomAttribute("href"))
        .isEqualTo(service.address() + "/forms/closed/new");
  }

  @Test
  void formsThatComeLaterAreBoundAndThoseThatLeaveAreClosed() {
    open("<p id=place></p>");
    browser
        .driver()
        .executeScript(
            """
            window.moments = [];
            for (const it of ['opened', 'closed']) {
              document.addEventListener(`nodley:${it}`, () => window.moments.push(it), true);
            }
            document.querySelector('#place').innerHTML =
              '<form data-nodley="trip" method="post"><label>Name <input name="trip_name"></label></form>';
            """);
    browser.find("form[data-bound=true]");
    browser.until("opened", () -> moments().equals(List.of("opened")));
    browser
        .driver()
        .executeScript(
            """
            const form = document.querySelector('form');
            form.addEventListener('nodley:closed', () => window.moments.push('closed'));
            form.remove();
            """);
    browser.until("closed", () -> moments().equals(List.of("opened", "closed")));
  }

  @Test
  void aFormThatComesWhileTheScriptIsStillLoadingIsBound() {
    page =
        """
        <!doctype html><html lang=en><title>Trips</title><main><h1>Trips</h1><p id=place></p></main>
        <script type=module src=%s/page/nodley.js></script>
        <script type=module>
          document.querySelector('#place').innerHTML =
            '<form data-nodley="trip" method="post"><label>Name <input name="trip_name"></label></form>';
        </script></html>
        """
            .formatted(service.address());
    browser.open("/");
    browser.find("form[data-bound=true]");
  }

  private static Object moments() {
    return browser.driver().executeScript("return window.moments");
  }

  @Test
  void aFunctionOfThePageSendsAndItsOwnErrorIsSaid() {
    open(FORM.replace("data-nodley=\"trip\"", "id=own"));
    browser
        .driver()
        .executeAsyncScript(
            """
            const done = arguments[0];
            import('%s/page/nodley.js').then(async ({ attach, Refusal }) => {
              window.keys = [];
              const send = (values, key) => {
                window.keys.push(key);
                if (values.trip_name === 'Closed') {
                  throw new Error('The harbour is closed today.');
                }
                throw new Refusal({ type: '/mine', title: 'No', status: 422,
                  errors: [{ pointer: '#/trip_name', code: 'mine', detail: 'Not this one.' }] });
              };
              const opened = await attach(document.querySelector('#own'), 'trip', { send });
              window.complete = [];
              opened.addEventListener('complete', ({ detail }) => window.complete.push(detail.complete));
              done();
            });
            """
                .formatted(service.address()));
    browser.type("[name=trip_name]", "Closed");
    browser.until(
        "complete",
        () -> browser.driver().executeScript("return window.complete.at(-1)") == Boolean.TRUE);
    browser.find("#send").click();
    browser.untilText(".summary", "The harbour is closed today.");
    browser.type("[name=trip_name]", "Other");
    browser.find("#send").click();
    browser.untilText("main", "Not this one.");
    assertThat((List<?>) browser.driver().executeScript("return window.keys.map(String)"))
        .hasSize(2)
        .allMatch(it -> it.toString().length() > 20);
    assertThat(browser.all("[aria-invalid=true]")).hasSize(1);
  }

  @Test
  void aSuggestedValueIsAskedAboutThoughNobodyWasThere() {
    service.wire().add("trip", "{\"trip_name\":\"Round Sel\",\"slug\":\"round-sel\"}");
    open(FORM);
    browser.find("form[data-bound=true]");
    browser.type("[name=trip_name]", "Round Sel");
    browser.untilText("main", "Slug round-sel is already registered.");
  }

  @Test
  void aCounterSaysHowManyAreTooMany() {
    browser.driver().get(service.address() + "/forms/trip/new");
    browser.find("form[data-bound=true]");
    browser.type("#f-note", "twelve chars");
    browser.untilText(".counter", "2 characters too many");
    assertThat(browser.driver().findElements(By.cssSelector(".counter.over"))).hasSize(1);
  }
}
