package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import tools.jackson.databind.JsonNode;

/** Forms in steps: with script and without, by keyboard, back and forth, and by address. */
class StepsPageTest {

  private static final String STAY =
      """
      form: stay
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        guest: { type: text, required: true }
        sign: { type: text, unique: true }
        boat: { type: boolean, label: Comes by boat }
        length: { type: integer, required: true, range: 1..60 }
        nights: { type: integer, required: true, range: 1..28 }
        fee: { type: integer, compute: "nights * 10" }
        dogs: { type: rows, fields: { name: { type: text } } }
        code: { type: secret, length: 4..20 }
      steps:
        who: { title: Who, fields: [guest, sign, boat] }
        berth: { title: The berth, fields: [length], shown: boat }
        when: { title: When, fields: [fee, nights] }
        with: { title: With whom, fields: [dogs] }
      rules:
        - { must: 'guest != "Nobody" or nights < 5', at: guest, say: Nobody stays so long. }
      """;

  private static RunningService service;
  private static Browser browser;
  private static Browser plain;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("stay", STAY).status()).isEqualTo(201);
    browser = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    plain.close();
    service.close();
  }

  private static void next(Browser in) {
    in.press(".actions [name=_next]");
  }

  private static void at(Browser in, String step) {
    in.until(
        "step " + step,
        () -> {
          String address = in.driver().getCurrentUrl();
          return address.contains("step=" + step)
              && (in.all("div[data-step='" + step + "']").stream().anyMatch(WebElement::isDisplayed)
                  || step.equals("overview") && in.find("[data-overview]").isDisplayed());
        });
  }

  private static List<String> steps(Browser in) {
    return in.all("nav.steps li").stream()
        .filter(WebElement::isDisplayed)
        .map(WebElement::getText)
        .toList();
  }

  private static List<String> shown(Browser in) {
    return in.all("[data-field]").stream()
        .filter(WebElement::isDisplayed)
        .map(it -> it.getAttribute("data-field"))
        .toList();
  }

  private static void submit(Browser in) {
    in.press(".actions [data-send]");
  }

  private static JsonNode latest() {
    return service.wire().get("/api/forms/stay/records?limit=1").json().path("records").get(0);
  }

  @Test
  void eachStepIsJudgedWhenItIsLeftAndTheWholeAtTheEnd() {
    browser.openBound("/forms/stay/new");
    assertThat(shown(browser)).containsExactly("guest", "sign", "boat");
    assertThat(browser.find("div[data-step=who] h2").getText()).isEqualTo("Who 1 of 3");
    assertThat(browser.barriers()).isEmpty();
    next(browser);
    browser.until("refused", () -> browser.errorOf("guest").equals("Guest is required."));
    assertThat(browser.focused()).isEqualTo("f-guest");
    browser.type("#f-guest", "Ann");
    next(browser);
    at(browser, "when");
    assertThat(shown(browser)).containsExactly("fee", "nights");
    assertThat(browser.driver().getTitle()).isEqualTo("When · Add stay");
    assertThat(browser.barriers()).isEmpty();
    browser.type("#f-nights", "29");
    next(browser);
    browser.until("refused", () -> browser.errorOf("nights").contains("28 or less"));
    browser.type("#f-nights", "\b\b3");
    next(browser);
    at(browser, "with");
    browser.type("#f-dogs-0-name", "Skip");
    next(browser);
    at(browser, "overview");
    browser.until(
        "the values", () -> browser.find("[data-overview]").getText().contains("With whom"));
    assertThat(browser.find("[data-overview]").getText())
        .contains("Ann")
        .contains("30")
        .contains("Skip");
    assertThat(shown(browser)).containsExactly("code");
    browser.type("#f-code", "abcd");
    assertThat(browser.barriers()).isEmpty();
    submit(browser);
    browser.until("accepted", () -> browser.path().matches("/forms/stay/[0-9a-f-]{36}"));
    assertThat(latest().path("values").path("guest").asString()).isEqualTo("Ann");
    assertThat(latest().path("values").path("fee").asInt()).isEqualTo(30);
  }

  @Test
  void aStepAppearsAndVanishesAndNothingTypedInItIsLost() {
    browser.openBound("/forms/stay/new");
    assertThat(steps(browser)).containsExactly("Who", "When", "With whom", "Overview");
    browser.type("#f-guest", "Bob");
    browser.press("#f-boat");
    browser.until("it appears", () -> steps(browser).contains("The berth"));
    next(browser);
    at(browser, "berth");
    assertThat(browser.find("div[data-step=berth] h2").getText()).isEqualTo("The berth 2 of 4");
    browser.type("#f-length", "12");
    browser.press("[data-back]");
    at(browser, "who");
    browser.press("#f-boat");
    browser.until("it vanishes", () -> !steps(browser).contains("The berth"));
    browser.press("#f-boat");
    browser.until("it appears", () -> steps(browser).contains("The berth"));
    next(browser);
    at(browser, "berth");
    assertThat(browser.valueOf("#f-length")).isEqualTo("12");
  }

  @Test
  void theBackButtonAReloadAndADeepAddressLeadToSteps() {
    browser.openBound("/forms/stay/new");
    browser.type("#f-guest", "Cy");
    next(browser);
    at(browser, "when");
    browser.type("#f-nights", "2");
    next(browser);
    at(browser, "with");
    browser.driver().navigate().back();
    at(browser, "when");
    assertThat(browser.valueOf("#f-nights")).isEqualTo("2");
    browser.driver().navigate().forward();
    at(browser, "with");
    browser.driver().navigate().refresh();
    browser.find("form[data-bound=true]");
    at(browser, "with");
    browser.press("nav.steps button[value=who]");
    at(browser, "who");
    assertThat(browser.valueOf("#f-guest")).isEqualTo("Cy");
    // Without a draft, an address may name a step all the same; one that is none is the first.
    browser.openBound("/forms/stay/new?step=when");
    assertThat(shown(browser)).containsExactly("fee", "nights");
    browser.openBound("/forms/stay/new?step=berth");
    assertThat(shown(browser)).contains("guest");
    browser.openBound("/forms/stay/new?step=none");
    assertThat(shown(browser)).contains("guest");
  }

  @Test
  void anErrorOfAnotherStepThatIsFoundAtTheEndLeadsThere() {
    browser.openBound("/forms/stay/new");
    browser.type("#f-guest", "Nobody");
    next(browser);
    at(browser, "when");
    browser.type("#f-nights", "7");
    next(browser);
    at(browser, "with");
    next(browser);
    at(browser, "overview");
    submit(browser);
    at(browser, "who");
    assertThat(browser.errorOf("guest")).isEqualTo("Nobody stays so long.");
    assertThat(browser.focused()).isEqualTo("f-guest");
    browser.find("#f-guest").clear();
    browser.type("#f-guest", "Dora");
    browser.press("nav.steps button[value=overview]");
    at(browser, "overview");
    submit(browser);
    browser.until("accepted", () -> browser.path().matches("/forms/stay/[0-9a-f-]{36}"));
  }

  @Test
  void whatOnlyTheServiceKnowsIsJudgedWithItsStep() {
    service.wire().add("stay", "{\"guest\": \"Eve\", \"nights\": 1, \"sign\": \"E1\"}");
    browser.openBound("/forms/stay/new");
    browser.type("#f-guest", "Not Eve");
    browser.type("#f-sign", "E1");
    next(browser);
    browser.until("refused", () -> browser.errorOf("sign").contains("already registered"));
    assertThat(browser.driver().getCurrentUrl()).doesNotContain("step=when");
  }

  @Test
  void stepsAreWalkedByKeyboard() {
    browser.openBound("/forms/stay/new");
    browser.type("#f-guest", "Fay");
    browser.find("#f-guest").sendKeys(Keys.ENTER);
    at(browser, "when");
    browser.until(
        "the heading has the focus",
        () ->
            browser
                .driver()
                .executeScript("return document.activeElement.textContent")
                .toString()
                .startsWith("When"));
    browser.driver().switchTo().activeElement().sendKeys(Keys.TAB);
    assertThat(browser.focused()).isEqualTo("f-nights");
    browser.find("#f-nights").sendKeys("4", Keys.ENTER);
    at(browser, "with");
  }

  @Test
  void withoutScriptEachStepIsSentAndKept() {
    plain.open("/forms/stay/new");
    assertThat(shown(plain)).containsExactly("guest", "sign", "boat");
    assertThat(plain.barriers()).isEmpty();
    next(plain);
    plain.until("refused", () -> plain.errorOf("guest").equals("Guest is required."));
    assertThat(plain.driver().getTitle()).isEqualTo("1 to mend · Who · Add stay");
    plain.type("#f-guest", "Gil");
    plain.press("#f-boat");
    next(plain);
    at(plain, "berth");
    assertThat(plain.driver().getCurrentUrl()).contains("draft=");
    plain.type("#f-length", "9");
    next(plain);
    at(plain, "when");
    plain.type("#f-nights", "5");
    plain.press("[data-back]");
    at(plain, "berth");
    assertThat(plain.valueOf("#f-length")).isEqualTo("9");
    plain.driver().navigate().refresh();
    assertThat(plain.valueOf("#f-length")).isEqualTo("9");
    next(plain);
    at(plain, "when");
    assertThat(plain.valueOf("#f-nights")).isEqualTo("5");
    next(plain);
    at(plain, "with");
    plain.type("#f-dogs-0-name", "Rex");
    plain.press("button[name=_more]");
    plain.until("a row more", () -> plain.all("#f-dogs-1-name").size() == 1);
    next(plain);
    at(plain, "overview");
    assertThat(plain.find("[data-overview]").getText())
        .contains("Gil")
        .contains("50")
        .contains("Rex");
    assertThat(plain.barriers()).isEmpty();
    plain.press("[data-overview] section:first-of-type h2 a");
    at(plain, "who");
    plain.find("#f-guest").clear();
    plain.type("#f-guest", "Gill");
    plain.press("nav.steps button[value=overview]");
    at(plain, "overview");
    plain.type("#f-code", "wxyz");
    submit(plain);
    plain.until("accepted", () -> plain.path().matches("/forms/stay/[0-9a-f-]{36}"));
    JsonNode values = latest().path("values");
    assertThat(values.path("guest").asString()).isEqualTo("Gill");
    assertThat(values.path("length").asInt()).isEqualTo(9);
    assertThat(values.path("dogs").get(0).path("name").asString()).isEqualTo("Rex");
  }

  @Test
  void withoutScriptAnErrorOfAnotherStepLeadsThere() {
    plain.open("/forms/stay/new?step=overview");
    submit(plain);
    plain.until("refused", () -> !plain.errorOf("guest").isEmpty());
    assertThat(shown(plain)).contains("guest");
    assertThat(plain.all(".summary li")).hasSize(2);
  }

  /** Where the page stays, the next record begins blank, at the first step, draft or none. */
  @Test
  void whereThePageStaysTheNextOneBeginsAtTheFirstStep() {
    String form =
        """
        form: walk
        access: { add: anyone, see: signed-in }
        fields: { name: { type: text, required: true }, day: { type: text } }
        steps: { who: { fields: [name] }, when: { fields: [day] } }
        after: { add: { go: stay, say: "{name} is booked." } }
        """;
    assertThat(service.wire().publish("walk", form).status()).isEqualTo(201);
    for (boolean again : List.of(false, true)) {
      browser.openBound("/forms/walk/new");
      browser.type("#f-name", "Ida");
      next(browser);
      at(browser, "when");
      if (again) {
        browser.driver().navigate().refresh();
        browser.find("form[data-bound=true]");
      }
      next(browser);
      at(browser, "overview");
      submit(browser);
      browser.until("it is told", () -> browser.find("main").getText().contains("Ida is booked."));
      browser.until("the first step", () -> browser.find("#f-name").isDisplayed());
      assertThat(browser.valueOf("#f-name")).isEmpty();
      assertThat(browser.driver().getCurrentUrl()).doesNotContain("draft=");
    }
    assertThat(service.wire().get("/api/drafts").json().path("drafts")).isEmpty();
  }

  @Test
  void theTitleOfARecordStaysWholeInEachStep() {
    String form =
        STAY.replace("form: stay", "form: room")
            .replace(
                "fields:\n  guest",
                "title: { edit: \"Edit {guest} · {nights}\" }\nfields:\n  guest");
    assertThat(service.wire().publish("room", form).status()).isEqualTo(201);
    Wire.Reply added = service.wire().add("room", "{\"guest\": \"Kit\", \"nights\": 2}");
    browser.openBound("/forms/room/" + added.json().path("id").asString() + "/edit");
    next(browser);
    at(browser, "when");
    assertThat(browser.driver().getTitle()).isEqualTo("When · Edit Kit · 2");
    browser.press("nav.steps button[value=overview]");
    at(browser, "overview");
    browser.until("the title", () -> browser.driver().getTitle().equals("Edit Kit · 2"));
    browser.find("[data-overview] h2 a").click();
    at(browser, "who");
    assertThat(browser.driver().getTitle()).isEqualTo("Who · Edit Kit · 2");
  }

  @Test
  void anEditGoesInStepsToo() {
    String id =
        service
            .wire()
            .add("stay", "{\"guest\": \"Hal\", \"nights\": 2, \"dogs\": [{\"name\": \"Bo\"}]}")
            .json()
            .path("id")
            .asString();
    for (Browser each : List.of(browser, plain)) {
      each.open("/forms/stay/" + id + "/edit");
      if (each == browser) {
        each.find("form[data-bound=true]");
      }
      next(each);
      at(each, "when");
      each.find("#f-nights").clear();
      each.type("#f-nights", each == browser ? "3" : "4");
      next(each);
      at(each, "with");
      assertThat(each.valueOf("#f-dogs-0-name")).isEqualTo("Bo");
      next(each);
      at(each, "overview");
      submit(each);
      each.until("saved", () -> each.path().equals("/forms/stay/" + id));
      JsonNode record = service.wire().get("/api/forms/stay/records/" + id).json();
      assertThat(record.path("values").path("nights").asInt()).isEqualTo(each == browser ? 3 : 4);
      assertThat(record.path("values").path("dogs").get(0).path("name").asString()).isEqualTo("Bo");
    }
  }
}
