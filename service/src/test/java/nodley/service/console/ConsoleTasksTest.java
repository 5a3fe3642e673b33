package nodley.service.console;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import nodley.service.Browser;
import nodley.service.Receiver;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;
import tools.jackson.databind.JsonNode;

/**
 * What authors, clerks and operators come to the console for, each from the first view to its end,
 * counted in clicks.
 */
class ConsoleTasksTest {

  private static final String BERTH =
      """
      form: berth
      title: { list: Berths }
      called: "{code}"
      access: { add: anyone, see: anyone, edit: clerk, remove: clerk }
      fields:
        code: { type: text, required: true, unique: true }
        depth: { type: decimal, unit: m, range: 0.5..12 }
        fee: { type: decimal, unit: EUR }
        kind: { type: choice, options: { float: Floating, fixed: Fixed } }
      rules:
        - { must: depth is blank or fee is blank or fee >= depth, at: fee, say: "A berth of {depth} m costs more than that." }
      """;

  private static RunningService service;
  private static Receiver office;
  private static Browser browser;
  private static Wire wire;

  /** A database that is there already. */
  @TempDir private static Path folder;

  private static Path yard;
  private int clicks;

  @BeforeAll
  static void start() {
    office = new Receiver();
    yard = folder.resolve("yard.db");
    service =
        RunningService.with(
            "nodley.outlets.office: { url: \"%s\", private: true }".formatted(office.url("/")),
            "nodley.deliveries: { first-wait: 50ms, give-up: 100ms }",
            "nodley.sources.yard: { url: \"jdbc:sqlite:%s\" }".formatted(yard));
    wire = service.wire();
    assertThat(wire.publish("berth", BERTH).status()).isEqualTo(201);
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
    office.close();
  }

  @BeforeEach
  void firstView() {
    browser.open("/console");
    browser.untilText("table", "Berths");
    clicks = 0;
  }

  private void click(String css) {
    browser.press(css);
    clicks++;
  }

  private void click(By what) {
    browser.press(what);
    clicks++;
  }

  private static By button(String text) {
    return By.xpath("//button[normalize-space()='" + text + "']");
  }

  private static By link(String text) {
    return By.xpath("//main//a[normalize-space()='" + text + "']");
  }

  private static By tab(String text) {
    return By.xpath("//*[@role='tab'][normalize-space()='" + text + "']");
  }

  /** Opens a box of options by keyboard, and takes one. */
  private void pick(String css, String option) {
    browser.find(css).sendKeys(Keys.ARROW_DOWN);
    browser.press(
        By.xpath(
            "//*[contains(@class, 'ant-select-item-option')][normalize-space()='" + option + "']"));
  }

  private static String add(String json) {
    Wire.Reply added = wire.add("berth", json);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json().path("id").asString();
  }

  private static JsonNode record(String id) {
    return wire.get("/api/forms/berth/records/" + id).json();
  }

  private static void patch(String id, int version, String json) {
    Wire.Reply reply =
        wire.patch(
            "/api/forms/berth/records/" + id,
            "application/merge-patch+json",
            json,
            "If-Match",
            "\"" + version + "\"");
    assertThat(reply.status()).isEqualTo(200);
  }

  @Test
  void theBerthThatChangedIsFoundAndItsDepthPutBack() {
    String id = add("{\"code\": \"H1\", \"depth\": 2.5, \"fee\": 9}");
    add("{\"code\": \"H2\", \"depth\": 3}");
    patch(id, 1, "{\"depth\": 2.8}");
    click(link("Berths"));
    browser.untilText("table", "H1");
    // What changed last comes first.
    click(By.xpath("//th[contains(., 'Changed')]"));
    browser.until(
        "it is sorted", () -> browser.driver().getCurrentUrl().contains("sort=updatedAt"));
    click(By.xpath("//th[contains(., 'Changed')]"));
    browser.until(
        "the latest is first", () -> browser.text("tbody tr.ant-table-row").startsWith("H1"));
    click(button("H1"));
    click(tab("History"));
    browser.untilText(".history", "Depth: from 2.5 m to 2.8 m");
    assertThat(browser.barriers()).isEmpty();
    click(button("Put version 1 back"));
    browser.untilText(".ant-modal-body, .ant-modal-confirm-body", "Depth: from 2.8 m to 2.5 m");
    click(button("Put it back"));
    browser.until("it is back", () -> record(id).at("/values/depth").asString().equals("2.5"));
    assertThat(record(id).path("version").asInt()).isEqualTo(3);
    assertThat(clicks).isLessThanOrEqualTo(7);
    // The address of what is looked at means the same to a colleague.
    browser.open(browser.path());
    browser.untilText(".history", "Version 3");
  }

  @Test
  void whyNobodyCouldRegisterIsSeenAndTheRuleMended() {
    String pier =
        """
        form: pier
        title: { list: Piers }
        access: { add: anyone }
        fields:
          name: { type: text, required: true }
          depth: { type: decimal, range: 0.5..1.2 }
        """;
    assertThat(wire.publish("pier", pier).status()).isEqualTo(201);
    for (int i = 0; i < 12; i++) {
      wire.add("pier", "{\"name\": \"P%d\", \"depth\": 2.%d}".formatted(i, i));
    }
    browser.open("/console");
    browser.untilText("main", "Refusals of pier have risen in the last day.");
    clicks = 0;
    click(By.xpath("//*[@class='needs']//a[.='Where people struggle']"));
    browser.untilText("main", "range-overflow 12");
    assertThat(browser.text(".statistics")).contains("Refused\n12", "Were refused, and left\n1");
    assertThat(browser.barriers()).isEmpty();
    click(By.xpath("//table//a[starts-with(normalize-space(), '12')]"));
    browser.untilText("table", "depth range-overflow");
    click("tbody tr.ant-table-row a");
    browser.untilText(".errors", "Depth must be 1.2 or less.");
    browser.untilText(".timeline", "judge");
    assertThat(browser.barriers()).isEmpty();

    browser.open("/console/forms/pier/file");
    browser.untilText(".cm-content", "0.5..1.2");
    replaceFile(pier.replace("0.5..1.2", "0.5..12").replace("range", "rnge"));
    browser.untilText(".help", "Did you mean");
    assertThat(browser.find(".tools .ant-btn-primary").isEnabled()).isFalse();
    replaceFile(pier.replace("0.5..1.2", "0.5..12"));
    browser.untilText(".help", "the reader finds nothing wrong");
    click(button("What publishing would do"));
    browser.untilText(".ant-modal-body", "The tables stay as they are");
    assertThat(browser.barriers()).isEmpty();
    click(button("Publish"));
    browser.until(
        "it is published", () -> wire.get("/api/forms/pier").json().path("revision").asInt() == 2);
    assertThat(wire.add("pier", "{\"name\": \"P\", \"depth\": 2}").status()).isEqualTo(201);
    assertThat(clicks).isLessThanOrEqualTo(5);
    browser.untilText("main", "This is what is published.");
    click(button("Revisions"));
    browser.untilText(".ant-modal-body", "On the left revision 1");
    browser.untilText(".cm-mergeView", "0.5..1.2");
    assertThat(browser.barriers()).isEmpty();
  }

  private static void replaceFile(String text) {
    var editor = browser.find(".cm-content");
    editor.click();
    editor.sendKeys(Keys.chord(Keys.CONTROL, "a"));
    // As if it were pasted: what is typed is indented anew.
    browser
        .driver()
        .executeScript(
            "const data = new DataTransfer(); data.setData('text/plain', arguments[1]);"
                + "arguments[0].dispatchEvent(new ClipboardEvent('paste',"
                + " { clipboardData: data, bubbles: true, cancelable: true }));",
            editor,
            text);
  }

  @Test
  void ofTwoAuthorsTheSecondMeetsAConflict() {
    String dock = "form: dock\ntitle: { list: Docks }\nfields: { a: { type: text } }\n";
    assertThat(wire.publish("dock", dock).status()).isEqualTo(201);
    browser.open("/console/forms/dock/file");
    browser.untilText(".cm-content", "Docks");
    assertThat(wire.publish("dock", dock.replace("Docks", "Wet docks")).status()).isEqualTo(200);
    replaceFile(dock.replace("Docks", "Dry docks"));
    browser.untilText(".help", "the reader finds nothing wrong");
    click(button("What publishing would do"));
    click(button("Publish"));
    browser.untilText(".ant-modal-body", "Its revision 2 was published meanwhile");
    assertThat(wire.get("/api/forms/dock/file").response().body()).contains("Wet docks");
    // What was typed is still there.
    click(button("Go on editing"));
    assertThat(browser.text(".cm-content")).contains("Dry docks");
  }

  @Test
  void manyRecordsAreChangedAndThoseRefusedAreTold() {
    assertThat(
            wire.publish(
                    "stall",
                    BERTH.replace("form: berth", "form: stall").replace("Berths", "Stalls"))
                .status())
        .isEqualTo(201);
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < 20; i++) {
      // Three of them are deeper than the fee that they are to get.
      int depth = i < 3 ? 11 : 2;
      ids.add(
          wire.add("stall", "{\"code\": \"S%02d\", \"depth\": %d}".formatted(i, depth))
              .json()
              .path("id")
              .asString());
    }
    browser.open("/console");
    browser.untilText("table", "Stalls");
    clicks = 0;
    click(link("Stalls"));
    browser.untilText("table", "S19");
    click("thead input[type=checkbox]");
    click(button("Change those chosen (20)"));
    browser.untilText(".ant-modal-body", "Each record is judged");
    pick("#field-to-change", "Fee");
    browser.type("#field-fee", "10");
    assertThat(browser.barriers()).isEmpty();
    click(
        By.xpath(
            "//*[contains(@class, 'ant-modal-footer')]//button[contains(., 'Change those"
                + " chosen')]"));
    browser.untilText(".ant-modal-body", "Changed: 17 of 20. Refused: 3.");
    assertThat(browser.text(".ant-modal-body"))
        .contains("S00", "A berth of 11 m costs more than that.");
    assertThat(browser.barriers()).isEmpty();
    long changed =
        ids.stream()
            .filter(
                id ->
                    wire.get("/api/forms/stall/records/" + id)
                        .json()
                        .at("/values/fee")
                        .asString("")
                        .equals("10"))
            .count();
    assertThat(changed).isEqualTo(17);
    assertThat(clicks).isLessThanOrEqualTo(4);
  }

  @Test
  void filtersAreBuiltAndTheExpressionIsEdited() {
    add("{\"code\": \"F1\", \"depth\": 4, \"kind\": \"float\"}");
    add("{\"code\": \"F2\", \"depth\": 6, \"kind\": \"fixed\"}");
    click(link("Berths"));
    browser.untilText("table", "F2");
    click(button("Add a filter"));
    pick(".condition input[aria-label='Field']", "Kind");
    pick(".condition input[aria-label='Value']", "Fixed");
    browser.until(
        "one is left",
        () -> browser.text("table").contains("F2") && !browser.text("table").contains("F1"));
    assertThat(browser.valueOf("#where")).isEqualTo("kind = \"fixed\"");
    assertThat(browser.driver().getCurrentUrl()).contains("where=kind");
    assertThat(browser.barriers()).isEmpty();
    browser.type("#where", "depth < 5 and code = \"F1\"" + Keys.ENTER);
    browser.until(
        "the other is left",
        () -> browser.text("table").contains("F1") && !browser.text("table").contains("F2"));
    assertThat(browser.all(".condition")).hasSize(2);
    browser.type("#where", "dpth < 5" + Keys.ENTER);
    browser.untilText("#where-error", "depth");
    assertThat(browser.find("#where").getAttribute("aria-invalid")).isEqualTo("true");
    browser.type("#where", "depth > 99" + Keys.ENTER);
    browser.untilText("table", "No record is as the filters say.");
  }

  /** A press that was aimed at one form must not meet another. */
  @Test
  void nothingMovesOnTheFirstViewOnceItIsThere() {
    browser.open("/console");
    browser.untilText(".plots-first", "The last day, by the hour");
    Object moved =
        browser
            .driver()
            .executeAsyncScript(
                """
                const done = arguments[0];
                const moved = [];
                new PerformanceObserver((list) => {
                  for (const { value, sources } of list.getEntries()) {
                    moved.push(value + ' ' + sources.map(({ node }) => node?.outerHTML?.slice(0, 99)));
                  }
                }).observe({ type: 'layout-shift', buffered: true });
                requestAnimationFrame(() => setTimeout(() => done(moved)));
                """);
    assertThat((List<?>) moved).isEmpty();
  }

  @Test
  void columnsAreChosenAndRemembered() {
    add("{\"code\": \"C1\", \"depth\": 7.25}");
    click(link("Berths"));
    browser.untilText("table", "7.25 m");
    click(button("Columns"));
    click(By.xpath("//*[contains(@class, 'columns')]//label[normalize-space()='Depth']"));
    browser.until("it is gone", () -> !browser.text("table").contains("7.25 m"));
    browser.open("/console/forms/berth");
    browser.untilText("table", "C1");
    assertThat(browser.text("thead")).doesNotContain("Depth");
    browser.driver().executeScript("localStorage.clear()");
  }

  @Test
  void aFailedDeliveryIsSentAgain() {
    String told =
        "form: told\n"
            + "title: { list: Told }\n"
            + "fields: { a: { type: text } }\n"
            + "deliver: [{ to: office }]\n";
    assertThat(wire.publish("told", told).status()).isEqualTo(201);
    office.answers(500);
    String id = wire.add("told", "{\"a\": \"x\"}").json().path("id").asString();
    browser.until("it has failed", () -> state(id).equals("failed"));
    office.answers(204);
    browser.open("/console");
    browser.untilText("main", "Deliveries to office have failed: 1.");
    clicks = 0;
    click(link("Look at them"));
    browser.untilText("main", "answered 500");
    click(By.xpath("//button[starts-with(normalize-space(), 'Send again')]"));
    browser.until("it is delivered", () -> state(id).equals("delivered"));
    assertThat(clicks).isEqualTo(2);
  }

  private static String state(String record) {
    return wire.get("/api/deliveries?record=" + record)
        .json()
        .path("deliveries")
        .path(0)
        .path("state")
        .asString("");
  }

  @Test
  void aColleaguesSessionsAreEnded() {
    String session = service.signIn("otto", "[\"clerk\"]");
    Wire.Reply before = service.stranger().get("/api/session", "Cookie", session);
    assertThat(before.json().path("caller").asString()).isEqualTo("otto");
    click(By.xpath("//header//a[.='Sessions']"));
    browser.untilText("table", "otto");
    click(By.xpath("//tr[contains(., 'otto')]//button"));
    browser.until(
        "otto is signed out",
        () ->
            service
                .stranger()
                .get("/api/session", "Cookie", session)
                .json()
                .path("caller")
                .isNull());
    assertThat(clicks).isEqualTo(2);
  }

  @Test
  void whetherTheDiskWillLastIsTold() {
    add("{\"code\": \"D1\"}");
    click(By.xpath("//header//a[.='Service']"));
    browser.untilText("main", "At this pace it lasts for");
    assertThat(browser.text("main"))
        .contains("Growth in 7 days", "Download a backup", "No draft waits.", "No file waits.");
    browser.untilText("main", "99 of 100 took at most");
    press(button("Look over the data now"));
    browser.untilText("main", "All is well.");
    assertThat(browser.text("main")).contains("every page and index is sound");
    assertThat(browser.barriers()).isEmpty();
    assertThat(clicks).isEqualTo(1);
  }

  private static void press(By what) {
    browser.press(what);
  }

  /** Goes by the key Tab, or back by it, to something, as somebody without a mouse does. */
  private static void tabTo(By what) {
    browser.until("it is there: " + what, () -> !browser.driver().findElements(what).isEmpty());
    WebElement wanted = browser.driver().findElement(what);
    boolean isBefore =
        (boolean)
            browser
                .driver()
                .executeScript(
                    "return !!(document.activeElement.compareDocumentPosition(arguments[0])"
                        + " & Node.DOCUMENT_POSITION_PRECEDING)",
                    wanted);
    String key = isBefore ? Keys.chord(Keys.SHIFT, Keys.TAB) : Keys.TAB.toString();
    for (int tabs = 0; tabs < 60; tabs++) {
      WebElement reached = browser.driver().switchTo().activeElement();
      if (reached.equals(wanted)) {
        assertThat(
                browser
                    .driver()
                    .executeScript("return document.activeElement.matches(':focus-visible')"))
            .isEqualTo(true);
        return;
      }
      reached.sendKeys(key);
    }
    throw new AssertionError("The key Tab does not come to " + what);
  }

  private static void enter() {
    browser.driver().switchTo().activeElement().sendKeys(Keys.ENTER);
  }

  @Test
  void tasksAreDoneByKeyboardAlone() {
    String id = add("{\"code\": \"K1\", \"depth\": 2.5}");
    patch(id, 1, "{\"depth\": 2.8}");
    browser.open("/console");
    tabTo(link("Berths"));
    enter();
    tabTo(By.xpath("//main//tbody//*[self::a or self::button][contains(., 'K1')]"));
    enter();
    tabTo(By.xpath("//*[contains(@class, 'ant-drawer')]//*[@role='tab'][@aria-selected='true']"));
    browser.driver().switchTo().activeElement().sendKeys(Keys.ARROW_RIGHT);
    enter();
    tabTo(By.xpath("//button[.='Put version 1 back']"));
    enter();
    tabTo(By.xpath("//button[normalize-space()='Put it back']"));
    enter();
    browser.until("it is put back", () -> record(id).at("/values/depth").asDouble() == 2.5);
    browser.open("/console/service");
    tabTo(button("Look over the data now"));
    enter();
    browser.untilText("main", "All is well.");
    browser.open("/console/forms/berth/file");
    tabTo(By.cssSelector(".cm-content"));
    browser
        .driver()
        .switchTo()
        .activeElement()
        .sendKeys(Keys.chord(Keys.CONTROL, Keys.HOME), "# Mended.", Keys.ENTER);
    browser.untilText("main", "Not published yet");
    tabTo(button("What publishing would do"));
    enter();
    tabTo(button("Publish"));
    enter();
    browser.until(
        "it is published",
        () -> wire.get("/api/forms/berth/file").response().body().startsWith("# Mended."));
  }

  @Test
  void aRecordIsHandedOverAndRemoved() {
    service.signIn("mara", "[\"skipper\"]");
    String id = add("{\"code\": \"R1\"}");
    browser.open("/console/forms/berth/records/" + id);
    click(button("Hand over to somebody"));
    browser.type("#owner", "mara");
    click(button("Hand over"));
    browser.until("it is hers", () -> !record(id).path("owner").asString("").isEmpty());
    click(button("Remove this record"));
    browser.untilText(
        ".ant-modal-confirm", "all its versions (1) and files. It can be put back for 30 days");
    browser.untilText(".ant-modal-confirm-body", "Remove R1?");
    click(button("Remove it"));
    browser.until("it is gone", () -> wire.get("/api/forms/berth/records/" + id).status() == 404);

    press(button("Removed"));
    browser.untilText(".ant-drawer table", "R1");
    assertThat(browser.text(".ant-drawer table")).contains("by admin");
    assertThat(browser.barriers()).isEmpty();
    press(button("Put back R1"));
    browser.until("it is back", () -> wire.get("/api/forms/berth/records/" + id).status() == 200);
    browser.untilText(".ant-drawer table", "Nothing was removed lately.");
    wire.delete("/api/forms/berth/records/" + id + "?restorable=true", "If-Match", "\"1\"");
    browser.open("/console/forms/berth/records?removed=yes");
    press(button("Forget R1"));
    browser.untilText(".ant-modal-confirm-body", "Forget R1 for good?");
    press(button("Forget it"));
    browser.until(
        "it is forgotten",
        () -> wire.get("/api/forms/berth/removed").json().path("removed").isEmpty());
  }

  @Test
  void attemptsAreShownAsTheyCome() {
    click(By.xpath("//header//a[.='Attempts']"));
    browser.untilText("h1", "Attempts");
    click("button[role=switch]");
    browser.until(
        "it listens", () -> !browser.all("button[role=switch][aria-checked=true]").isEmpty());
    assertThat(browser.barriers()).isEmpty();
    browser.until(
        "it comes",
        () -> {
          wire.add("berth", "{\"code\": \"\", \"depth\": 99}");
          return browser.text("table").contains("code value-missing");
        });
  }

  @Test
  void aFormIsBegunFromDataAndSaidInGerman(@TempDir Path folder) throws IOException {
    Path data = folder.resolve("rafts.csv");
    Files.writeString(data, "Raft name,Planks,Built\nKelp,12,1998-03-01\nTern,9,2004-11-30\n");
    click(link("Begin a new form"));
    browser.type("#new-name", "Raft");
    browser.untilText("#new-name-error", "is no name of a form");
    browser.type("#new-name", "raft");
    browser.untilText(".cm-content", "form: raft");
    new Select(browser.find(".content .actions select")).selectByVisibleText("data (CSV)");
    browser.find("input[type=file]").sendKeys(data.toString());
    browser.untilText(".cm-content", "planks: { type: integer");
    inPage(() -> browser.untilText("h1", "Add raft"));
    assertThat(browser.barriers()).isEmpty();
    click(button("What publishing would do"));
    click(button("Publish"));
    browser.untilText("h1", "Raft");
    assertThat(wire.get("/api/forms/raft").status()).isEqualTo(200);
    click(tab("Texts"));
    browser.type("#language-to-add", "de" + Keys.ENTER);
    browser.untilText("main", "Missing: ");
    browser.type("textarea[aria-label='title.add in de']", "Ein Floß anmelden");
    browser.type("textarea[aria-label='fields.raftName.label in de']", "Wie es heißt");
    assertThat(browser.barriers()).isEmpty();
    click(button("Publish the texts in de"));
    browser.until(
        "it is published",
        () ->
            wire.get("/api/forms/raft?lang=de")
                .json()
                .at("/title/add")
                .asString()
                .equals("Ein Floß anmelden"));
    assertThat(wire.get("/api/forms/raft?lang=de").json().at("/fields/0/label").asString())
        .isEqualTo("Wie es heißt");
    assertThat(clicks).isLessThanOrEqualTo(5);
    browser.open("/console/forms/raft/wire");
    browser.untilText("main", "data-nodley=\"raft\"");
    click(button("Send a check"));
    browser.untilText("main pre", "\"verdict\": \"accepted\"");
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void aLongNameLeavesTheOtherColumnsTheirPlace() {
    wire.publish(
        "spar",
        "form: spar\ncalled: \"{code}\"\nfields: { code: { type: text }, note: { type: text } }");
    String word = "mast".repeat(60);
    wire.add("spar", "{\"code\": \"%s\", \"note\": \"%s\"}".formatted(word, word));
    browser.open("/console/forms/spar/records");
    browser.untilText("table", word);
    assertThat(
            ((JavascriptExecutor) browser.driver())
                .executeScript(
                    "return document.querySelector('table').getBoundingClientRect().right <="
                        + " innerWidth"))
        .isEqualTo(true);
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void ofTwoTranslatorsTheSecondMeetsAConflict() {
    wire.publish("scull", "form: scull\nfields: { name: { type: text } }");
    String texts = "/api/texts/scull/de";
    wire.put(texts, "application/yaml", "title: { add: Eins }");
    browser.open("/console/forms/scull/texts");
    browser.type("textarea[aria-label='title.add in de']", "Drei");
    wire.put(texts, "application/yaml", "title: { add: Zwei }");
    press(button("Publish the texts in de"));
    browser.untilText("main", "Its text was published meanwhile.");
    assertThat(browser.valueOf("textarea[aria-label='title.add in de']")).isEqualTo("Drei");
    assertThat(wire.get(texts).response().body()).isEqualTo("title: { add: Zwei }");
  }

  @Test
  void aFormIsBegunFromATable() throws SQLException {
    try (Connection made = DriverManager.getConnection("jdbc:sqlite:" + yard);
        Statement statement = made.createStatement()) {
      statement.execute("CREATE TABLE IF NOT EXISTS cradles (code TEXT NOT NULL UNIQUE, tons INT)");
    }
    browser.open("/console/new-form");
    browser.type("#new-name", "cradle");
    new Select(browser.find(".content .actions select"))
        .selectByVisibleText("a table of a database");
    browser.find(".content optgroup[label=yard]");
    assertThat(browser.barriers()).isEmpty();
    new Select(browser.find(".content p.actions select")).selectByVisibleText("cradles");
    browser.untilText(".cm-content", "code: { type: text, required: true, unique: true }");
    // Under another name it is begun anew, and the same table can be chosen again.
    browser.type("#new-name", "cradles");
    new Select(browser.find(".content p.actions select")).selectByVisibleText("cradles");
    browser.untilText(".cm-content", "form: cradles");
    browser.type("#new-name", "cradle");
    new Select(browser.find(".content p.actions select")).selectByVisibleText("cradles");
    browser.untilText(".cm-content", "code: { type: text, required: true, unique: true }");
    inPage(() -> browser.untilText("h1", "Add cradle"));
  }

  /** Does something in the frame with the page of a form. */
  private static void inPage(Runnable task) {
    browser.driver().switchTo().frame(browser.find(".page-preview iframe"));
    try {
      task.run();
    } finally {
      browser.driver().switchTo().defaultContent();
    }
  }

  @Test
  void thePageIsBesideTheFileAsItIsTyped() {
    String crane =
        "form: crane\ntitle: { list: Cranes }\nfields: { a: { type: text, label: %s } }\n";
    wire.publish("crane", crane.formatted("Reach"));
    wire.put("/api/themes/dusk", "application/yaml", "theme: dusk\nfont: serif\n");
    browser.open("/console/forms/crane/file");
    inPage(() -> browser.untilText("label", "Reach"));
    replaceFile(crane.formatted("Height of the hook"));
    browser.until("it is drawn anew", () -> shownInPage("label").contains("Height of the hook"));
    new Actions(browser.driver()).moveToElement(browser.find(".cm-line span")).perform();
    browser.untilText(".meaning", "The form's name");
    // What the reader finds an error in leaves the page as it was.
    replaceFile(crane.formatted("Depth, rnge: 3"));
    browser.untilText("main", "Errors: 1.");
    assertThat(shownInPage("label")).contains("Height of the hook");
    replaceFile(crane.formatted("Depth"));
    new Select(browser.find(".page-preview label:nth-of-type(1) select")).selectByValue("edit");
    browser.until("a record", () -> shownInPage("button[type=submit]").contains("Save"));
    new Select(browser.find(".page-preview label:nth-of-type(2) select")).selectByVisibleText("es");
    browser.until("in Spanish", () -> shownInPage("button[type=submit]").contains("Guardar"));
    new Select(browser.find(".page-preview label:nth-of-type(3) select"))
        .selectByVisibleText("dusk");
    inPage(() -> browser.find("link[href='/page/themes/dusk.css']"));
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void aFormIsBegunByAnsweringQuestions() {
    browser.open("/console/new-form");
    browser.type("#new-name", "canoe");
    new Select(browser.find(".content .actions select"))
        .selectByVisibleText("answers to questions");
    browser.type("form p input", "Canoes");
    browser.type("fieldset input", "Name");
    press(button("One more field"));
    browser.type("fieldset:nth-of-type(2) input", "Built on");
    new Select(browser.find("fieldset:nth-of-type(2) select")).selectByVisibleText("a day");
    browser.press("fieldset:nth-of-type(2) input[type=checkbox]");
    assertThat(browser.barriers()).isEmpty();
    press(button("Make the file"));
    browser.untilText(
        ".cm-content", "builtOn: { type: date, label: \"Built on\", required: true }");
    inPage(() -> browser.untilText("h1", "Canoes"));
  }

  private static String shownInPage(String css) {
    StringBuilder shown = new StringBuilder();
    inPage(() -> browser.all(css).forEach(it -> shown.append(it.getText())));
    return shown.toString();
  }

  @Test
  void whatFormsShareIsEditedAndSaysWhoUsesIt() {
    String list = "list: woods\noptions:\n  - { value: oak, label: %s }\n";
    wire.put("/api/lists/woods", "application/yaml", list.formatted("Oak"));
    String form = "form: mast\nfields: { wood: { type: choice, options: { list: woods } } }\n";
    assertThat(wire.publish("mast", form).status()).isEqualTo(201);
    click(By.linkText("Shared"));
    browser.untilText("main", "woods");
    assertThat(browser.text("main")).contains("mast");
    assertThat(browser.barriers()).isEmpty();
    click(link("woods"));
    browser.untilText(".cm-content", "label: Oak");
    replaceFile("list: woods\noptoins:\n  - { value: oak }\n");
    browser.untilText("main", "A list needs `options`");
    replaceFile(list.formatted("Old oak"));
    browser.untilText("main", "Not published yet");
    assertThat(browser.barriers()).isEmpty();
    click(button("What publishing would do"));
    click(button("Publish"));
    browser.until(
        "it is published",
        () -> wire.get("/api/lists/woods").response().body().contains("Old oak"));
  }

  /** What a name, a title or a value may be made of. */
  @Test
  void hostileValuesAreTextEverywhere() {
    String evil = "<img src=x onerror=document.title='evil'>{name}</script>";
    assertThat(
            wire.publish(
                    "evil",
                    "form: evil\ntitle: { list: \"<b>evil</b> {x\" }\ncalled: \"{a}\"\nfields: { a: { type: text, label: \"<i>label</i>\", length: ..100 } }\n"
                        .replace(" {x", ""))
                .status())
        .isEqualTo(201);
    String json =
        tools.jackson.databind.json.JsonMapper.shared()
            .writeValueAsString(java.util.Map.of("a", evil));
    String id = wire.add("evil", json).json().path("id").asString();
    wire.add(
        "evil", json.replace("}", ", \"a2\": 1}").replace("{name", "{name}" + "x".repeat(100)));
    for (String view :
        List.of(
            "forms/evil",
            "forms/evil/records/" + id + "?show=history",
            "forms/evil/struggles",
            "attempts?form=evil")) {
      browser.open("/console/" + view);
      browser.until("it is shown", () -> browser.all(".waiting, .ant-spin-spinning").isEmpty());
      assertThat(browser.driver().getTitle()).doesNotContain("evil'");
      assertThat(browser.all("img[src=x]")).isEmpty();
    }
    browser.open("/console/forms/evil");
    browser.untilText("table", evil);
  }

  @Test
  void whoIsNoAuthorOrOperatorSeesNeitherNorByAddress() {
    String key =
        wire.post("/api/keys", Wire.JSON_TYPE, "{\"name\": \"clerk1\", \"roles\": [\"clerk\"]}")
            .json()
            .path("key")
            .asString();
    add("{\"code\": \"V1\"}");
    try (Browser other = Browser.withScript(service.address())) {
      other.open("/console");
      other.find("#key").sendKeys(key);
      other.find("form:has(#key) button[type=submit]").click();
      other.untilText("table", "Berths");
      assertThat(other.text("header nav")).isEqualTo("Forms\nSessions");
      assertThat(other.text("table")).doesNotContain("Sent in 7 days");
      for (String view : List.of("attempts", "deliveries", "people", "keys", "service")) {
        other.open("/console/" + view);
        other.untilText("table", "Berths");
      }
      for (String part : List.of("file", "texts", "struggles", "wire")) {
        other.open("/console/forms/berth/" + part);
        other.untilText("table", "V1");
      }
      assertThat(other.text("[role=tablist]")).isEqualTo("Records\nFields");
    }
  }

  @Test
  void itSpeaksTheLanguageThatIsChosen() {
    browser.driver().executeScript("localStorage.setItem('nodley-console-language', 'de')");
    try {
      for (String view :
          List.of(
              "",
              "forms/berth",
              "attempts",
              "deliveries",
              "people",
              "keys",
              "sessions",
              "service")) {
        browser.open("/console/" + view);
        browser.untilText("header", "Abmelden");
        browser.until("it is shown", () -> browser.all(".waiting").isEmpty());
        assertThat(browser.text("body"))
            .as(view)
            .doesNotContain("Sign out", "Loading", "Actions", "Filters");
        assertThat(browser.barriers()).as(view).isEmpty();
      }
      assertThat(browser.find("html").getAttribute("lang")).isEqualTo("de");
    } finally {
      browser.driver().executeScript("localStorage.clear()");
    }
  }
}
