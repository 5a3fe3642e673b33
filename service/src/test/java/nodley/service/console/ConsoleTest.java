package nodley.service.console;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import nodley.service.Browser;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.Keys;

/** The console in Chromium. */
class ConsoleTest {

  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishDemo();
    for (int i = 10; i < 35; i++) {
      add("Boat " + i, "MC" + i);
    }
    browser = Browser.withScript(service.address());
    browser.open("/console");
    browser.find("#key").sendKeys(RunningService.KEY);
    browser.find("form:has(#key) button[type=submit]").click();
    browser.untilText("h1", "Forms");
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static String add(String name, String sign) {
    return service.wire().addVessel(name, sign);
  }

  @BeforeEach
  void forms() {
    browser.open("/console");
    browser.untilText("table", "Vessels");
  }

  private static void press(String button) {
    browser.press(By.xpath("//button[.='" + button + "']"));
  }

  @Test
  void aWrongKeyIsTold() {
    try (Browser other = Browser.withScript(service.address())) {
      other.open("/console");
      other.find("#key").sendKeys("wrong");
      other.find("form:has(#key) button[type=submit]").click();
      other.untilText("#key-error", "This key is not known here.");
      assertThat(other.barriers()).isEmpty();
    }
  }

  @Test
  void filesOfARecordAreShownAddedAndTakenAway(@TempDir Path folder) throws IOException {
    service
        .wire()
        .publish(
            "crate",
            "form: crate\nfields: { label: { type: text }, papers: { type: file, count: 0..3 } }");
    String id = service.wire().add("crate", "{\"label\": \"C1\"}").json().path("id").asString();
    browser.open("/console/forms/crate/records/" + id);
    String list = Files.writeString(folder.resolve("list.txt"), "12 buoys").toString();
    browser.find("#field-papers").sendKeys(list);
    browser.untilText(".editor .files", "list.txt is uploaded.");
    assertThat(browser.barriers()).isEmpty();
    browser.press(".editor button[type=submit]");
    browser.until(
        "it is saved",
        () ->
            service
                    .wire()
                    .get("/api/forms/crate/records/" + id)
                    .json()
                    .path("values")
                    .path("papers")
                    .size()
                == 1);
    browser.open("/console/forms/crate/records/" + id);
    browser.untilText(".editor .files", "list.txt");
    browser.press(By.cssSelector(".editor [aria-label='Remove list.txt']"));
    browser.press(".editor button[type=submit]");
    browser.until(
        "it is gone",
        () ->
            !service
                .wire()
                .get("/api/forms/crate/records/" + id)
                .json()
                .path("values")
                .has("papers"));
  }

  /** Made in the browser, they would take a quarter of the time of each page. */
  @Test
  void stylesAreAFile() {
    browser.open("/console/forms/vessel/records");
    browser.untilText("table", "Boat");
    Object made =
        browser
            .driver()
            .executeScript(
                "return [...document.querySelectorAll('style')].map(it => it.textContent)"
                    + ".filter(it => /\\.ant-(btn|table)\\b[^{]*{(?!--)/.test(it)).length");
    assertThat(made).isEqualTo(0L);
    assertThat(browser.find(".ant-table").getCssValue("font-size")).isEqualTo("15px");
    assertThat(browser.find("header .ant-btn").getCssValue("border-radius")).isEqualTo("8px");
  }

  /** Nothing is offered that the service would refuse. */
  @Test
  void whoMayOnlyReadIsOfferedNoMore() {
    service
        .wire()
        .publish(
            "fee",
            """
            form: fee
            access: { add: clerk, see: [clerk, pilot], edit: clerk }
            called: "{payer}"
            fields: { payer: { type: text, required: true } }
            """);
    String id = service.wire().add("fee", "{\"payer\": \"Ann\"}").json().path("id").asString();
    String key =
        service
            .wire()
            .post("/api/keys", Wire.JSON_TYPE, "{\"name\": \"jory\", \"roles\": [\"pilot\"]}")
            .json()
            .path("key")
            .asString();
    try (Browser other = Browser.withScript(service.address())) {
      other.open("/console/forms/fee");
      other.find("#key").sendKeys(key);
      other.find("form:has(#key) button[type=submit]").click();
      other.untilText("table", "Ann");
      assertThat(other.text("header")).contains("Signed in as jory");
      assertThat(other.text("[role=tablist]")).contains("Records", "Fields").doesNotContain("File");
      assertThat(other.text(".tools")).doesNotContain("Add fee");
      other.open("/console/forms/fee/file");
      other.until(
          "the records in place of the file", () -> other.path().equals("/console/forms/fee"));
      other.open("/console/forms/fee/records/" + id);
      other.untilText(".editor", "You may read this record, and not change it.");
      assertThat(other.all(".editor button[type=submit]")).isEmpty();
      assertThat(other.find(".editor input").isEnabled()).isFalse();
      assertThat(other.barriers()).isEmpty();
    }
  }

  @Test
  void formsAreListedWithTheirCounts() {
    service
        .wire()
        .add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    browser.open("/console");
    browser.untilText("table", "Berths berth 1 5 1");
    assertThat(browser.barriers()).isEmpty();
    browser.driver().findElement(By.linkText("Skippers")).click();
    browser.untilText("table", "There are no records yet.");
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void oneFormShowsItsFieldsAndItsFile() {
    browser.open("/console/forms/vessel/fields");
    browser.untilText("table", "required, unique, length 3..8, pattern");
    assertThat(browser.barriers()).isEmpty();
    browser.open("/console/forms/vessel/file");
    browser.untilText(".cm-content", "callSign:");
    browser.untilText("main", "This is what is published.");
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void anUnknownFormIsAnErrorInWords() {
    browser.open("/console/forms/vesel");
    browser.untilText("main", "There is no form \"vesel\". Did you mean \"vessel\"?");
  }

  @Test
  void recordsAreSearchedAndPaged() {
    browser.open("/console/forms/vessel");
    browser.untilText("table", "Boat 34");
    assertThat(browser.text("table")).doesNotContain("Boat 14");
    press("Next page");
    browser.untilText("table", "Boat 14");
    press("Page before");
    browser.untilText("table", "Boat 34");
    browser.type("input[aria-label='Search records']", "boat 12\n");
    browser.until(
        "one record",
        () ->
            browser.text("table").contains("Boat 12")
                && !browser.text("table").contains("Boat 34"));
  }

  @Test
  void addingRunsOnThePagesRulesErrorsAndLiveChecks() {
    browser.open("/console/forms/vessel/records/new");
    browser.find("#field-callSign");
    browser.press(".editor button[type=submit]");
    browser.untilText("#field-name-error", "Name of the vessel is required.");
    browser.until("the focus", () -> "field-name".equals(browser.focused()));
    // As on pages: a dot at what is needed, and the error in a tab below its control.
    assertThat(browser.text(".editor .marks")).isEqualTo("What has a dot must be filled in.");
    assertThat(browser.text(".editor")).doesNotContain("optional");
    assertThat(browser.find(".field.wrong").getCssValue("border-left-width")).isEqualTo("0px");
    assertThat(browser.find("#field-name-error").getCssValue("background-color"))
        .isNotEqualTo("rgba(0, 0, 0, 0)");
    assertThat(browser.barriers()).isEmpty();
    browser.type("#field-name", "  New   Boat ");
    browser.type("#field-callSign", "mc-10");
    browser.leave();
    browser.untilText("#field-callSign-error", "Call sign MC10 is already registered.");
    assertThat(browser.valueOf("#field-name")).isEqualTo("New Boat");
    browser.type("#field-callSign", "mc99");
    browser.leave();
    browser.untilText("#field-callSign-state", "MC99 is free.");
    browser.type("#field-length", "7.5");
    browser.find("#field-insured").click();
    browser.press(".editor button[type=submit]");
    browser.untilText("body", "New Boat is registered.");
    browser.untilText("table", "New Boat · MC99");
  }

  @Test
  void editingIsTheSameFormAndAConflictIsExplained() {
    String id = add("Edited", "MC77");
    browser.open("/console/forms/vessel/records/" + id);
    browser.find("#field-name");
    assertThat(browser.valueOf("#field-name")).isEqualTo("Edited");
    service
        .wire()
        .put(
            "/api/forms/vessel/records/" + id,
            Wire.JSON_TYPE,
            "{\"name\":\"Theirs\",\"callSign\":\"MC77\",\"rig\":\"sail\",\"length\":9.5,\"insured\":true}",
            "If-Match",
            "\"1\"");
    browser.type("#field-name", "Mine");
    browser.press(".editor button[type=submit]");
    browser.untilText(".editor", "they saved Theirs, you typed Mine");
    assertThat(browser.barriers()).isEmpty();
    browser.press(".editor button[type=submit]");
    browser.untilText("table", "Mine · MC77");
  }

  @Test
  void theConsolesPageLetsNoOtherScriptOrStyleRun() {
    String policy = service.stranger().get("/console").header("Content-Security-Policy");
    assertThat(policy).contains("script-src 'self';").contains("'nonce-").doesNotContain("unsafe");
    browser.open("/console/forms/vessel");
    browser.untilText("table", "Boat");
    assertThat(browser.driver().manage().logs().get("browser").getAll())
        .noneMatch(entry -> entry.getMessage().contains("Content Security Policy"));
  }

  private static final String DEPOT =
      """
      form: depot
      title: { add: Open a depot, edit: "The depot {name}", list: Depots }
      called: "{name}"
      fields:
        name: { type: text, required: true, rules: [{ must: name != "Old", say: { text: "{name} is closed.", link: { text: Read why, href: /closed } } }] }
        bay: { type: choice, options: [north, south] }
        berth: { type: choice, control: select, options: { list: berths, where: side = bay } }
        depth: { type: decimal }
      """;

  private static final String BERTHS =
      """
      list: berths
      options:
        - { value: n1, label: North 1, side: north }
        - { value: s1, label: South 1, side: south }
      """;

  private static String depot() {
    Wire.Reply list = service.wire().put("/api/lists/berths", "application/yaml", BERTHS);
    assertThat(list.status()).as(list.response().body()).isIn(200, 201);
    Wire.Reply published = service.wire().publish("depot", DEPOT);
    assertThat(published.status()).as(published.response().body()).isIn(200, 201);
    return service
        .wire()
        .add("depot", "{\"name\":\"East\",\"bay\":\"north\",\"depth\":2.5}")
        .json()
        .path("id")
        .asString();
  }

  private static String title() {
    return browser.driver().getTitle();
  }

  @Test
  void everyViewHasATitleOfItsOwn() {
    String id = depot();
    assertThat(title()).isEqualTo("Forms · Nodley console");
    browser.open("/console/forms/depot");
    browser.untilText("table", "East");
    browser.until("the title", () -> title().equals("Depots, records · Nodley console"));
    browser.open("/console/forms/depot/records/" + id);
    browser.untilText(".ant-drawer-title", "The depot East");
    browser.until("the title", () -> title().equals("The depot East · Nodley console"));
  }

  @Test
  void optionsFollowOtherValuesAndASentenceLeadsOn() {
    String id = depot();
    browser.open("/console/forms/depot/records/" + id);
    browser.find("#field-berth").click();
    browser.untilText("body", "North 1");
    assertThat(browser.text("body")).doesNotContain("South 1");
    browser.find("#field-bay-2").click();
    browser.find("#field-berth").click();
    browser.untilText("body", "South 1");
    browser.type("#field-name", "Old");
    browser.leave();
    browser.untilText("#field-name-error", "Old is closed.");
    assertThat(browser.find("#field-name-error a").getDomAttribute("href")).isEqualTo("/closed");
  }

  @Test
  void closingTheDrawerAsksBeforeAnythingTypedIsLost() {
    String id = depot();
    browser.open("/console/forms/depot/records/" + id);
    browser.type("#field-name", "West");
    browser.find("#field-name").sendKeys(Keys.ESCAPE);
    browser.untilText(
        "[role=dialog] .ant-modal-confirm-title, .ant-modal-confirm", "Leave without saving?");
    press("Stay");
    browser.until("it is gone", () -> browser.all(".ant-modal-confirm").isEmpty());
    assertThat(browser.valueOf("#field-name")).isEqualTo("West");
    browser.find("#field-name").sendKeys(Keys.ESCAPE);
    browser.untilText(".ant-modal-confirm", "Leave without saving?");
    press("Leave");
    browser.until("closed", () -> browser.all("#field-name").isEmpty());
  }

  @Test
  void somebodyElsesEditAndRemovalAreTold() {
    String id = depot();
    browser.open("/console/forms/depot/records/" + id);
    browser.type("#field-name", "West");
    service
        .wire()
        .patch(
            "/api/forms/depot/records/" + id,
            "application/merge-patch+json",
            "{\"depth\": 3}",
            "If-Match",
            "\"1\"");
    browser.untilText(".editor", "Somebody else has just saved this record: Depth.");
    press("Take theirs now");
    browser.until("theirs", () -> browser.valueOf("#field-depth").equals("3"));
    assertThat(browser.valueOf("#field-name")).isEqualTo("West");
    service.wire().delete("/api/forms/depot/records/" + id, "If-Match", "\"2\"");
    browser.untilText(".editor", "Somebody else has removed this record.");
    assertThat(browser.find(".editor button[type=submit]").isEnabled()).isFalse();
    assertThat(browser.barriers()).isEmpty();
  }

  /** Does something in a browser that is told of another medium, and has another size. */
  private static void in(String feature, String value, Dimension size, Runnable task) {
    media(List.of(Map.of("name", feature, "value", value)));
    browser.driver().manage().window().setSize(size);
    try {
      task.run();
    } finally {
      browser.driver().manage().window().setSize(new Dimension(1280, 800));
      media(List.of());
    }
  }

  private static void media(List<Map<String, String>> features) {
    browser.driver().executeCdpCommand("Emulation.setEmulatedMedia", Map.of("features", features));
  }

  @Test
  void inForcedColoursAndOnATabletNothingIsLost() {
    String id = depot();
    List<String> views =
        List.of(
            "",
            "/forms/depot/file",
            "/forms/depot/texts",
            "/forms/depot/struggles",
            "/forms/depot/records/" + id,
            "/attempts",
            "/shared",
            "/service");
    in("forced-colors", "active", new Dimension(768, 1024), () -> views.forEach(ConsoleTest::fits));
  }

  private static void fits(String view) {
    browser.open("/console" + view);
    browser.until(
        "it is shown",
        () -> browser.all("main .waiting").isEmpty() && !browser.all("h1").isEmpty());
    assertThat(browser.driver().executeScript("return document.documentElement.scrollWidth"))
        .as("the width of " + view)
        .isEqualTo(768L);
    assertThat(browser.barriers()).as(view).isEmpty();
  }

  @Test
  void nothingBarsAnybodyInTheDarkOrOnANarrowScreen() {
    depot();
    in(
        "prefers-color-scheme",
        "dark",
        new Dimension(360, 800),
        () -> {
          for (String view : List.of("records/new", "records", "fields", "file")) {
            browser.open("/console/forms/depot/" + view);
            browser.find(view.equals("file") ? ".cm-content" : "table");
            assertThat(browser.barriers()).as(view).isEmpty();
          }
        });
  }
}
