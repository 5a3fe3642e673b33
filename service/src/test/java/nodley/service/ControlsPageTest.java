package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;

/** What a person handles on a page, and what the page says of it. */
class ControlsPageTest {

  private static RunningService service;
  private static Browser browser;
  private static String heron;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    Wire wire = service.wire();
    wire.publishWholeDemo();
    wire.publishVisitOnOnePage();
    wire.add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    heron = wire.addVessel("Grey Heron", "MQ7AB");
    wire.addVessel("White Petrel", "MQ3CD");
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static Object script(String script) {
    return browser.driver().executeScript("return " + script);
  }

  private static void mobile(int width) {
    browser
        .driver()
        .executeCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            Map.of("width", width, "height", 800, "deviceScaleFactor", 1, "mobile", false));
  }

  private static WebElement searchBox() {
    return searchBox("vessel");
  }

  private static WebElement searchBox(String field) {
    return browser.find("input#f-" + field + "[role=combobox]");
  }

  @Test
  void oneMoreIsAddedAtOnceAndSomeOfWhatWasTypedStays() {
    service
        .wire()
        .publish(
            "catch",
            """
            form: catch
            access: { add: anyone }
            after: { add: { go: stay, say: "{weight} kg noted.", clear: [weight, seen, at] } }
            fields:
              boat: { type: text, required: true }
              seen: { type: boolean }
              at: { type: datetime }
              weight: { type: decimal, required: true }
              port: { type: record, form: vessel, control: search }
            """);
    browser.openBound("/forms/catch/new");
    browser.type("#f-boat", "Grey Heron");
    browser.find("#f-seen").click();
    browser.driver().executeScript("document.getElementById('f-at').value = '2026-07-01T10:00'");
    browser.type("#f-weight", "12.5");
    searchBox("port").sendKeys("her");
    browser.untilText("#f-port-list", "Grey Heron");
    searchBox("port").sendKeys(Keys.ARROW_DOWN, Keys.ENTER);
    browser.press("main button[type=submit]");
    browser.untilText("[data-working]", "12.5 kg noted.");
    assertThat(browser.valueOf("#f-boat")).isEqualTo("Grey Heron");
    assertThat(searchBox("port").getDomProperty("value")).startsWith("Grey Heron");
    assertThat(browser.valueOf("#f-weight")).isEmpty();
    assertThat(browser.valueOf("#f-at")).isEmpty();
    assertThat(browser.find("#f-seen").isSelected()).isFalse();
    browser.type("#f-weight", "3");
    browser.press("main button[type=submit]");
    browser.untilText("[data-working]", "3 kg noted.");
    assertThat(service.wire().get("/api/forms/catch/records").json().path("records").size())
        .isEqualTo(2);
  }

  @Test
  void whatIsOnlyShownIsInWordsAsTheServiceWritesIt() {
    service
        .wire()
        .publish(
            "pledge",
            """
            form: pledge
            access: { add: anyone, see: anyone, edit: anyone }
            fields:
              boat: { type: record, form: vessel, editable: on-add }
              rig: { type: choice, options: { s: Sailing, m: By motor }, editable: on-add }
              extras: { type: choices, options: { a: Anchor, b: Buoy }, editable: on-add }
              sum: { type: integer }
              great: { type: boolean, compute: sum > 10 }
            """);
    String id =
        service
            .wire()
            .add(
                "pledge",
                "{\"boat\": \"%s\", \"rig\": \"m\", \"extras\": [\"a\", \"b\"], \"sum\": 1}"
                    .formatted(heron))
            .json()
            .path("id")
            .asString();
    browser.openBound("/forms/pledge/" + id + "/edit");
    assertThat(browser.text("[data-field=boat] output")).startsWith("Grey Heron");
    assertThat(browser.text("[data-field=rig] output")).isEqualTo("By motor");
    assertThat(browser.text("[data-field=extras] output")).isEqualTo("Anchor, Buoy");
    assertThat(browser.text("[data-field=great] output")).isEqualTo("no");
    browser.type("#f-sum", "11");
    browser.untilText("[data-field=great] output", "yes");
    assertThat(browser.text("[data-field=rig] output")).isEqualTo("By motor");
  }

  @Test
  void aSearchBoxListsWhatFitsAndIsHandledByKeyboard() {
    browser.openBound("/forms/visit/new");
    searchBox().sendKeys("her");
    browser.untilText("#f-vessel-list", "Grey Heron · MQ7AB");
    assertThat(browser.all("#f-vessel-list [role=option]")).hasSize(1);
    assertThat(browser.text("[data-field=vessel] [role=status].unseen")).isEqualTo("One found");
    assertThat(searchBox().getDomAttribute("aria-expanded")).isEqualTo("true");
    searchBox().sendKeys(Keys.ARROW_DOWN);
    assertThat(searchBox().getDomAttribute("aria-activedescendant")).isEqualTo("f-vessel-list-0");
    searchBox().sendKeys(Keys.ENTER);
    assertThat(script("document.querySelector('select[name=vessel]').value")).isEqualTo(heron);
    assertThat(script("document.querySelector('#f-vessel').value")).isEqualTo("Grey Heron · MQ7AB");
    assertThat(searchBox().getDomAttribute("aria-expanded")).isEqualTo("false");
    // What is typed and not chosen is nothing: the record that was chosen stands there again.
    searchBox().sendKeys("x");
    browser.untilText("[data-field=vessel] [role=status].unseen", "Nothing found");
    searchBox().sendKeys(Keys.TAB);
    assertThat(script("document.querySelector('#f-vessel').value")).isEqualTo("Grey Heron · MQ7AB");
    // Emptied, nothing is chosen.
    browser.type("input#f-vessel", " ");
    assertThat(script("document.querySelector('select[name=vessel]').value")).isEqualTo("");
  }

  @Test
  void aSearchBoxIsHandledByPointerAndTellsItsError() {
    browser.openBound("/forms/visit/new");
    browser.find("button[type=submit]").click();
    browser.untilText("#f-vessel-error", "Vessel is required.");
    assertThat(browser.barriers()).isEmpty();
    assertThat(searchBox().getDomAttribute("aria-invalid")).isEqualTo("true");
    assertThat(browser.driver().switchTo().activeElement()).isEqualTo(searchBox());
    searchBox().sendKeys("mq3");
    browser.untilText("#f-vessel-list", "White Petrel");
    browser.find("#f-vessel-list li").click();
    browser.untilText("#f-vessel-error", "");
    assertThat(script("document.querySelector('#f-vessel').value"))
        .isEqualTo("White Petrel · MQ3CD");
  }

  @Test
  void aChoiceThatAnotherRulesOutIsTakenOutAndThatIsSaid() {
    browser.openBound("/forms/visit/new");
    browser.find("input[name=purpose][value=trade]").click();
    browser.find("input[name=services][value=crane]").click();
    browser.find("input[name=services][value=water]").click();
    browser.find("input[name=purpose][value=leisure]").click();
    browser.untilText(
        "#f-services-state", "Crane for cargo is no longer offered, so it was taken out.");
    assertThat(browser.find("input[name=services][value=water]").isSelected()).isTrue();
    assertThat(script("document.querySelector('[name=services][value=crane]').checked"))
        .isEqualTo(false);
  }

  @Test
  void lengthIsCountedInWordsAsTheRuleCountsIt() {
    browser.openBound("/forms/incident/new");
    assertThat(browser.text("#f-account-counter")).isEqualTo("0 of 600");
    browser.find("#f-account").sendKeys("Oil");
    browser.untilText("#f-account-counter", "3 of 600");
    // One code point, two UTF-16 units; blanks at the ends are trimmed, and not counted.
    browser
        .driver()
        .executeScript(
            "const a = document.querySelector('#f-account'); a.value = ' \\u{1F6A2} ';"
                + "a.dispatchEvent(new Event('input', { bubbles: true }))");
    browser.untilText("#f-account-counter", "1 of 600");
  }

  @Test
  void aFieldThatIsCheckedWhileTypingTellsAfterAPause() {
    browser.openBound("/forms/incident/new");
    browser.find("#f-account").sendKeys("Oil");
    browser.untilText("#f-account-error", "at least 20");
    assertThat(browser.driver().switchTo().activeElement().getDomAttribute("id"))
        .isEqualTo("f-account");
  }

  @Test
  void whatTidyingChangedIsSaid() {
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "  Grey   Heron ");
    browser.leave();
    browser.untilText("#f-name-state", "Tidied to Grey Heron");
    browser.type("#f-name", " Whimbrel ");
    browser.leave();
    assertThat(browser.text("#f-name-state")).isEmpty();
  }

  /**
   * The word about the name comes up above the box, and must not take it from under the pointer.
   */
  @Test
  void aPressIsNotLostToWhatComesUpMeanwhile() {
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "Grey   Heron");
    browser.find("#f-rig-1").click();
    browser.untilText("#f-name-state", "Tidied to Grey Heron");
    assertThat(browser.find("#f-rig-1").isSelected()).isTrue();
    browser.type("#f-callSign", "x");
    browser.find("#f-insured").click();
    browser.untilText("#f-callSign-error", "at least 3 characters");
    assertThat(browser.find("#f-insured").isSelected()).isTrue();
  }

  @Test
  void anAddressFillsInWhatTheFormLetsIt() {
    browser.openBound("/forms/vessel/new?name=Grey%20Heron&callSign=MQ7AB&nothing=1");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Grey Heron");
    assertThat(browser.valueOf("#f-callSign")).isEmpty();
    // The form's own first values are there as ever.
    assertThat(browser.find("#f-rig-0").isSelected()).isTrue();
    browser.open("/forms/vessel/new?name=%3Cscript%3Ealert(1)%3C%2Fscript%3E");
    assertThat(browser.valueOf("#f-name")).isEqualTo("<script>alert(1)</script>");
    assertThat(browser.open("/forms/vessel/new?name=%ff&%").all("#f-name")).hasSize(1);
  }

  @Test
  void leavingWithWhatIsNotSavedAsks() {
    String leaves =
        "(() => { const e = new Event('beforeunload', { cancelable: true });"
            + " window.dispatchEvent(e); return !e.defaultPrevented })()";
    browser.openBound("/forms/vessel/new");
    assertThat(script(leaves)).isEqualTo(true);
    browser.find("#f-name").sendKeys("G");
    assertThat(script(leaves)).isEqualTo(false);
  }

  @Test
  void aSecretCanBeLookedAt() {
    browser.openBound("/forms/skipper/new");
    WebElement secret = browser.find("input[type=password]");
    String id = secret.getDomAttribute("id");
    WebElement show = browser.find("[data-field=" + id.substring(2) + "] [data-reveal]");
    assertThat(show.getText()).isEqualTo("Show");
    show.click();
    assertThat(secret.getDomAttribute("type")).isEqualTo("text");
    assertThat(show.getDomAttribute("aria-pressed")).isEqualTo("true");
    show.click();
    assertThat(secret.getDomAttribute("type")).isEqualTo("password");
  }

  private static List<String> names() {
    return browser.all("[name^='crew['][name$='.name']").stream()
        .map(it -> it.getDomProperty("value"))
        .toList();
  }

  @Test
  void aRowMovesUpWithAllThatIsInIt() {
    browser.openBound("/forms/visit/new");
    browser.type("#f-crew-0-name", "Ann");
    browser.find("button[name=_more]").click();
    browser.type("#f-crew-1-name", "Jory");
    browser.type("#f-crew-1-share", "30");
    browser.find("button[name=_up][value='crew[1]']").sendKeys(Keys.ENTER);
    browser.until("moved", () -> names().equals(List.of("Jory", "Ann")));
    assertThat(browser.valueOf("#f-crew-0-share")).isEqualTo("30");
    assertThat(browser.valueOf("#f-crew-1-share")).isEmpty();
    assertThat(browser.all("button[name=_up][value='crew[0]']").getFirst().isDisplayed()).isFalse();
  }

  @Test
  void withoutScriptARowMovesUpAndChoicesFollowByAButton() {
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/visit/new");
      plain.type("#f-crew-0-name", "Ann");
      plain.go(By.cssSelector("button[name=_more][value=crew]"));
      plain.type("#f-crew-1-name", "Jory");
      plain.go(By.cssSelector("button[name=_up][value='crew[1]']"));
      assertThat(plain.valueOf("#f-crew-0-name")).isEqualTo("Jory");
      assertThat(plain.valueOf("#f-crew-1-name")).isEqualTo("Ann");
      assertThat(plain.find("[name=services][value=crane]").isDisplayed()).isFalse();
      plain.find("input[name=purpose][value=trade]").click();
      plain.go(By.cssSelector("button[name=_again][value=services]"));
      assertThat(plain.find("[name=services][value=crane]").isDisplayed()).isTrue();
      assertThat(plain.valueOf("#f-crew-0-name")).isEqualTo("Jory");
      assertThat(plain.all(".error:not(:empty)")).isEmpty();
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"vessel", "visit", "incident", "skipper", "berth"})
  void aNarrowScreenIsEnough(String form) {
    try (Browser narrow = Browser.withScript(service.address())) {
      narrow.signIn(RunningService.KEY);
      narrow
          .driver()
          .executeCdpCommand(
              "Emulation.setDeviceMetricsOverride",
              Map.of("width", 360, "height", 740, "deviceScaleFactor", 1, "mobile", true));
      narrow.openBound("/forms/" + form + "/new");
      assertThat(narrow.driver().executeScript("return document.documentElement.scrollWidth"))
          .isEqualTo(360L);
    }
  }

  @Test
  void aLanguageThatRunsFromTheRightIsLaidOutFromTheRight() {
    Wire wire = service.wire();
    assertThat(
            wire.put(
                    "/api/texts/vessel/he",
                    "application/yaml",
                    "form: vessel\nfields: { name: { label: שם כלי השיט } }")
                .status())
        .isIn(200, 201);
    browser.openBound("/forms/vessel/new?lang=he");
    assertThat(browser.find("html").getDomAttribute("dir")).isEqualTo("rtl");
    assertThat(browser.text("label[for=f-name]")).startsWith("שם כלי השיט");
    int label = browser.find("#f-insured").getRect().getX();
    int field = browser.find("[data-field=insured]").getRect().getX();
    assertThat(label).isGreaterThan(field + 300);
    assertThat(browser.barriers()).isEmpty();
    mobile(1280);
  }

  private static final String EVIL = "<img src=x onerror=window.hit=1>";

  /** Every text that a form file can have, hostile. */
  private static final String HOSTILE =
      """
      form: hostile
      title: { add: "EVIL", edit: "EVIL", list: "EVIL" }
      intro: "EVIL"
      called: "EVIL {name}"
      access: { add: anyone, see: anyone, edit: anyone }
      buttons: { add: "EVIL", edit: "EVIL" }
      sections: { all: { title: "EVIL", fields: [name, kind, more, body, ref] } }
      fields:
        name:
          type: text
          label: "EVIL"
          help: "EVIL"
          placeholder: "EVIL"
          unit: "EVIL"
          unique: true
          prefill: true
          say: { value-missing: "EVIL", taken: { text: "EVIL {value}", link: { text: "EVIL", href: "/sign-in?x={name}" } } }
          required: true
        kind: { type: choice, control: search, options: { a: "EVIL", b: "EVIL" } }
        more: { type: choices, options: { a: "EVIL", b: "EVIL" }, count: 0..1, say: { too-many: "EVIL" } }
        body: { type: rows, label: "EVIL", fields: { a: { type: text, label: "EVIL", options: { x: "EVIL" } } } }
        ref: { type: record, form: vessel, label: "EVIL" }
      after: { add: { go: record, say: "EVIL {name}" } }
      """
          .replace("EVIL", EVIL);

  private static void nothingWasRun() {
    assertThat(script("window.hit === undefined")).isEqualTo(true);
    assertThat(browser.all("img")).isEmpty();
    assertThat(browser.driver().getPageSource()).doesNotContain("javascript:");
  }

  @Test
  void hostileTextInEveryPlaceIsShownAndNeverRun() {
    Wire wire = service.wire();
    assertThat(wire.publish("hostile", HOSTILE).status()).isEqualTo(201);
    wire.add("vessel", Wire.vessel(EVIL, "MQ6EV"));
    assertThat(wire.add("hostile", "{\"name\":\"<b>x</b>\"}").status()).isEqualTo(201);
    browser.openBound("/forms/hostile/new?name=%3Cb%3Ex%3C%2Fb%3E");
    assertThat(browser.text("h1")).isEqualTo(EVIL);
    assertThat(browser.text("label[for=f-name]")).isEqualTo(EVIL);
    nothingWasRun();
    browser.find("#f-name").click();
    browser.leave();
    browser.untilText("#f-name-error", EVIL + " <b>x</b>");
    assertThat(browser.find("#f-name-error a").getDomAttribute("href"))
        .isEqualTo("/sign-in?x=%3Cb%3Ex%3C%2Fb%3E");
    searchBox("kind").sendKeys("img");
    browser.untilText("#f-kind-list", EVIL);
    nothingWasRun();
    browser.type("#f-name", EVIL);
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText(".said", EVIL);
    nothingWasRun();
    browser.open("/forms/hostile");
    browser.untilText("tbody", EVIL);
    nothingWasRun();
    String refused =
        HOSTILE.replace("href: \"/sign-in?x={name}\"", "href: \"javascript:window.hit=1\"");
    assertThat(wire.publish("hostile", refused).status()).isEqualTo(422);
  }
}
