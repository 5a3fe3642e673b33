package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

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
    browser.find("button[type=submit]").click();
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
    browser.driver().findElement(By.xpath("//button[.='" + button + "']")).click();
  }

  @Test
  void aWrongKeyIsTold() {
    try (Browser other = Browser.withScript(service.address())) {
      other.open("/console");
      other.find("#key").sendKeys("wrong");
      other.find("button[type=submit]").click();
      other.untilText("#key-error", "This key is not known here.");
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
    browser.untilText(".file", "callSign:");
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
    press("Older");
    browser.untilText("table", "Boat 14");
    press("Newer");
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
}
