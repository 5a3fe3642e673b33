package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.interactions.Actions;
import org.openqa.selenium.support.ui.Select;
import tools.jackson.databind.JsonNode;

/** A page with groups, rows, computed and hidden fields: with script and without. */
class VisitPageTest {

  private static final LocalDate DAY = LocalDate.now(ZoneId.of("Europe/Lisbon")).plusDays(3);

  private static RunningService service;
  private static Browser browser;
  private static Browser plain;
  private static String vessel;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    Wire wire = service.wire();
    wire.publishWholeDemo();
    wire.publishVisitOnOnePage();
    wire.add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":1.5}");
    wire.add("berth", "{\"code\":\"A2\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    vessel =
        wire.add(
                "vessel",
                "{\"name\":\"Grey Heron\",\"callSign\":\"MQ7AB\",\"length\":11.4,\"draught\":1.9,"
                    + "\"insured\":true}")
            .json()
            .path("id")
            .asString();
    wire.add(
        "vessel", "{\"name\":\"Tall One\",\"callSign\":\"MQ9ZZ\",\"length\":24,\"insured\":true}");
    browser = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    plain.close();
    service.close();
  }

  /** A date control takes what is typed in the browser's own order; its value is set as one. */
  private static void date(String id, LocalDate day) {
    ((JavascriptExecutor) browser.driver())
        .executeScript(
            "const it = document.getElementById(arguments[0]); it.value = arguments[1];"
                + " it.dispatchEvent(new Event('input', { bubbles: true }));"
                + " it.dispatchEvent(new FocusEvent('blur'));",
            id,
            day.toString());
  }

  @Test
  void whatOnlyTheServiceKnowsIsAskedForOnceTheRecordIsChosen() {
    browser.openBound("/forms/visit/new");
    assertThat(browser.find("[data-field=pilot]").isDisplayed()).isFalse();
    browser.choose("#f-vessel", "Tall One");
    browser.until("the pilot to show", () -> browser.find("[data-field=pilot]").isDisplayed());
    browser.choose("#f-vessel", "Grey Heron");
    browser.until("the pilot to go", () -> !browser.find("[data-field=pilot]").isDisplayed());
  }

  /** Blank rows with boxes in them wait on the page; they are not asked for names. */
  @Test
  void rowsThatNobodyTouchedAreNotSent() {
    browser.openBound("/forms/incident/new");
    assertThat(browser.all("[name='vessels[0].people[0].taken']")).hasSize(1);
    browser.find("button[type=submit]").click();
    browser.untilText(".summary h2", "3 to mend");
  }

  @Test
  void fieldsComeAndGoAndComputedOnesFollow() {
    browser.openBound("/forms/visit/new");
    assertThat(browser.find("[data-field=cargo]").isDisplayed()).isFalse();
    browser.find("input[name=purpose][value=trade]").click();
    browser.until("cargo to show", () -> browser.find("[data-field=cargo]").isDisplayed());
    browser.find("input[name=purpose][value=leisure]").click();
    browser.until("cargo to go", () -> !browser.find("[data-field=cargo]").isDisplayed());
    date("f-arrives", DAY);
    browser.until(
        "a day later to be suggested",
        () -> browser.valueOf("#f-departs").equals(DAY.plusDays(1).toString()));
    browser.untilText("#f-nights", "1");
    date("f-departs", DAY.plusDays(40));
    browser.untilText("#f-nights", "40");
    browser.untilText("#f-departs-error", "At most 28 nights; you asked for 40 nights.");
    date("f-departs", DAY.plusDays(2));
    browser.until("the error to leave", () -> browser.errorOf("departs").isEmpty());
    browser.type("#f-crew-0-name", "A");
    browser.leave();
    browser.untilText(
        "[id='f-crew-0-name-error']", "Name must have at least 2 characters; it has 1.");
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void theBerthsThatAreOfferedFollowTheVessel() {
    browser.openBound("/forms/visit/new");
    assertThat(berths()).containsExactly("None chosen");
    browser.choose("#f-vessel", "Grey Heron");
    browser.until("a deep berth", () -> berths().contains("A2, North pontoon"));
    assertThat(berths()).doesNotContain("A1, North pontoon");
  }

  private static List<String> berths() {
    return browser.all("#f-berth option").stream()
        .map(option -> option.getDomProperty("text"))
        .toList();
  }

  @Test
  void aVisitGoesInWithScript() {
    browser.openBound("/forms/visit/new");
    browser.choose("#f-vessel", "Grey Heron");
    date("f-arrives", DAY);
    browser.type("#f-contact-name", "Ann Ferrow");
    browser.type("#f-contact-email", "Ann@A.example");
    browser.find("input[name=services][value=water]").click();
    press(browser, "Add somebody to the crew");
    browser.type("#f-crew-1-name", "Jory Penn");
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText("[data-working]", "Visit announced.");
  }

  /** What is typed where the focus comes to, by the names of the fields. */
  private static CharSequence keys(String name, LocalDate day) {
    DateTimeFormatter asTyped = DateTimeFormatter.ofPattern("MMddyyyy");
    return switch (name) {
      case "arrives" -> asTyped.format(day);
      case "departs" -> asTyped.format(day.plusDays(3));
      case "eta" -> "0230PM";
      case "berth" -> Keys.ARROW_DOWN;
      case "purpose" -> Keys.ARROW_RIGHT;
      case "cargo" -> "Timber";
      case "dangerous", "services" -> Keys.SPACE;
      case "contact.name" -> "Ann Ferrow";
      case "contact.email" -> "ann@harbour.example";
      case "contact.phone" -> "+351 210 000 101";
      case "crew[0].name" -> "Ann Ferrow";
      case "crew[0].born" -> "02111971";
      case "crew[0].role" -> Keys.ARROW_RIGHT;
      case "crew[0].share" -> "60";
      case "crew[1].name" -> "Jory Penn";
      case "notes" -> "By keyboard alone.";
      default -> "";
    };
  }

  @Test
  void theWholeOfAVisitIsFilledInByKeyboardAlone() {
    LocalDate day = DAY.plusDays(90);
    browser.openBound("/forms/visit/new");
    browser.find("#f-vessel[role=combobox]");
    Set<String> filled = new HashSet<>();
    for (int tabs = 0; tabs < 150; tabs++) {
      WebElement here = browser.driver().switchTo().activeElement();
      String name = String.valueOf(here.getDomAttribute("name"));
      if ("f-vessel".equals(here.getDomAttribute("id")) && filled.add("vessel")) {
        here.sendKeys("grey");
        browser.untilText("#f-vessel-list", "Grey Heron");
        here.sendKeys(Keys.ARROW_DOWN, Keys.ENTER);
        browser.until("a berth", () -> berths().contains("A2, North pontoon"));
      } else if ("submit".equals(here.getDomAttribute("type")) && here.isDisplayed()) {
        here.sendKeys(Keys.ENTER);
        break;
      } else if (name.equals("_more") && filled.add(name)) {
        here.sendKeys(Keys.ENTER);
        browser.until("the new row", () -> "f-crew-1-name".equals(browser.focused()));
        continue;
      } else if (filled.add(name) && !"file".equals(here.getDomAttribute("type"))) {
        here.sendKeys(keys(name, day));
      }
      // To a box for files the driver would send a path.
      new Actions(browser.driver()).sendKeys(Keys.TAB).perform();
    }
    browser.untilText("[data-working]", "Visit announced. We expect you on " + day);
    JsonNode values =
        service
            .wire()
            .get("/api/forms/visit/records?q=keyboard")
            .json()
            .path("records")
            .path(0)
            .path("values");
    assertThat(values.path("arrives").asString()).isEqualTo(day.toString());
    assertThat(values.path("departs").asString()).isEqualTo(day.plusDays(3).toString());
    assertThat(values.path("eta").asString()).isEqualTo("14:30");
    assertThat(values.path("purpose").asString()).isEqualTo("trade");
    assertThat(values.path("dangerous").asBoolean()).isTrue();
    assertThat(values.path("berth").asString()).isNotEmpty();
    assertThat(values.path("crew").findValuesAsString("name"))
        .containsExactly("Ann Ferrow", "Jory Penn");
    assertThat(values.path("crew").path(0).path("born").asString()).isEqualTo("1971-02-11");
  }

  private static void press(Browser browser, String button) {
    String named = "[normalize-space()='%1$s' or @aria-label='%1$s']".formatted(button);
    browser.driver().findElement(By.xpath("//*[@data-field='crew']//button" + named)).click();
  }

  private static List<String> crew(Browser browser) {
    return browser.all("[data-field=crew] input[name$='.name']").stream()
        .map(input -> input.getDomProperty("value"))
        .toList();
  }

  @Test
  void rowsComeAndGoWithScriptAndValuesStayWithTheirRow() {
    browser.openBound("/forms/visit/new");
    browser.type("#f-crew-0-name", "Ann");
    press(browser, "Add somebody to the crew");
    browser.type("#f-crew-1-name", "Jory");
    press(browser, "Add somebody to the crew");
    browser.until("the focus", () -> "f-crew-2-name".equals(browser.focused()));
    browser.type("#f-crew-2-name", "I");
    browser.leave();
    browser.untilText("[id='f-crew-2-name-error']", "at least 2 characters; it has 1.");
    assertThat(browser.find("[id='f-crew-2-name']").getDomAttribute("aria-describedby"))
        .isEqualTo("f-crew-2-name-error f-crew-2-name-state");
    assertThat(browser.barriers()).isEmpty();
    press(browser, "Remove row 1");
    assertThat(crew(browser)).containsExactly("Jory", "I");
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText("[id='f-crew-1-name-error']", "at least 2 characters; it has 1.");
    browser.type("#f-crew-1-name", "Ives");
    browser.choose("#f-vessel", "Grey Heron");
    date("f-arrives", DAY.plusDays(60));
    browser.type("#f-contact-name", "Ann Ferrow");
    browser.type("#f-contact-email", "ann@a.example");
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText("[data-working]", "Visit announced.");
    assertThat(
            service
                .wire()
                .get("/api/forms/visit/records?q=ives")
                .json()
                .path("records")
                .path(0)
                .path("values")
                .path("crew")
                .findValuesAsString("name"))
        .containsExactly("Jory", "Ives");
  }

  @Test
  void aRowShowsItsDefaultsAsSoonAsItIsBegun() {
    browser.openBound("/forms/visit/new");
    By hand = By.cssSelector("[name='crew[0].role'][value=hand]");
    assertThat(browser.driver().findElement(hand).isSelected()).isFalse();
    browser.type("#f-crew-0-name", "Ann");
    browser.until("it shows", () -> browser.driver().findElement(hand).isSelected());
    press(browser, "Add somebody to the crew");
    browser.type("#f-crew-1-name", "Jory");
    browser.until(
        "in an added one, too",
        () -> browser.find("[name='crew[1].role'][value=hand]").isSelected());
  }

  @Test
  void noMoreRowsAreOfferedThanTheFormTakes() {
    for (Browser each : List.of(browser, plain)) {
      each.open("/forms/visit/new");
      if (each == browser) {
        browser.openBound("/forms/visit/new");
      }
      for (int i = 1; i < 12; i++) {
        press(each, "Add somebody to the crew");
        int rows = i + 1;
        each.until(rows + " rows", () -> crew(each).size() == rows);
      }
      assertThat(each.find("button[name=_more]").isDisplayed()).isFalse();
    }
  }

  /** HTML, section 4.10.21.2: Enter presses the first submit button, which must not be a row's. */
  @Test
  void rowsComeAndGoWithoutScriptAndEnterStillSends() {
    plain.open("/forms/visit/new");
    plain.type("#f-contact-name", "Ann Ferrow");
    plain.type("#f-crew-0-name", "Ann");
    press(plain, "Add somebody to the crew");
    plain.type("#f-crew-1-name", "Jory");
    press(plain, "Add somebody to the crew");
    plain.until("a third row", () -> crew(plain).size() == 3);
    assertThat(crew(plain)).containsExactly("Ann", "Jory", "");
    assertThat(plain.valueOf("#f-contact-name")).isEqualTo("Ann Ferrow");
    assertThat(plain.find(".summary").isDisplayed()).as("nothing was judged").isFalse();
    plain.type("#f-crew-2-name", "Ives");
    press(plain, "Remove row 1");
    plain.until("two rows", () -> crew(plain).size() == 2);
    assertThat(crew(plain)).containsExactly("Jory", "Ives");
    plain.find("#f-contact-name").sendKeys(Keys.ENTER);
    plain.until("it to be judged", () -> plain.find(".summary").isDisplayed());
    assertThat(plain.text(".summary")).contains("Arrives");
    assertThat(plain.errorOf("arrives")).isEqualTo("Arrives is required.");
    assertThat(crew(plain)).startsWith("Jory", "Ives");
  }

  @Test
  void aPressThatNamesNoRowsIsRefusedInWordsAndLeavesNoAttempt() {
    for (String name : List.of("_more=notes", "_more=", "_less=crew", "_less=crew[99999999999]")) {
      Wire.Reply reply = service.stranger().post("/forms/visit/new", Wire.FORM_TYPE, name);
      assertThat(reply.status()).as(name).isEqualTo(400);
      assertThat(reply.response().body()).contains("which are no rows of the form");
    }
    Wire.Reply beyond =
        service.stranger().post("/forms/visit/new", Wire.FORM_TYPE, "_less=crew[7]&crew[0].name=A");
    assertThat(beyond.status()).isEqualTo(200);
    assertThat(beyond.response().body()).contains("value=\"A\"");
  }

  @Test
  void aVisitGoesInWithoutScript() {
    plain.open("/forms/visit/new");
    new Select(plain.find("#f-vessel")).selectByIndex(1);
    plain.type("#f-contact-name", "Ann Ferrow");
    plain.type("#f-contact-email", "ann");
    press(plain, "Add somebody to the crew");
    plain.type("#f-crew-1-name", "J");
    plain.go(By.cssSelector("form.nodley button[type=submit]"));
    assertThat(plain.text(".summary")).contains("Arrives");
    assertThat(plain.errorOf("arrives")).isEqualTo("Arrives is required.");
    assertThat(plain.text("[id='f-contact-email-error']")).contains("must be an e-mail address");
    // The blank row before it stays, so that everything is where it was typed.
    assertThat(plain.valueOf("#f-crew-0-name")).isEmpty();
    assertThat(plain.valueOf("#f-crew-1-name")).isEqualTo("J");
    assertThat(plain.text("[id='f-crew-1-name-error']")).contains("at least 2 characters");
    assertThat(plain.valueOf("#f-contact-name")).isEqualTo("Ann Ferrow");
    assertThat(plain.find("input[name=purpose][value=leisure]").isSelected()).isTrue();
  }

  @Test
  void whatMayNotBeChangedNowCannotBeTypedIn() {
    String id =
        service
            .wire()
            .add(
                "harbour",
                "{\"name\":\"Marrow Quay\",\"office\":{\"opens\":\"08:00\",\"closes\":\"17:30\","
                    + "\"phone\":\"210000001\"},\"rates\":[{\"upTo\":10,\"night\":14.5}],"
                    + "\"checked\":\"2026-07-01T09:00:30Z\"}")
            .json()
            .path("id")
            .asString();
    browser.signIn(RunningService.KEY);
    browser.openBound("/forms/harbour/" + id + "/edit");
    assertThat(browser.text("output#f-code")).isEqualTo("marrow-quay");
    assertThat(browser.text("#f-dearest")).isEqualTo("14.5");
    // Lisbon is an hour ahead of UTC in July; its seconds are kept.
    assertThat(browser.valueOf("#f-checked")).isEqualTo("2026-07-01T10:00:30");
    browser.type("#f-rates-0-night", "22.25");
    browser.leave();
    browser.untilText("#f-dearest", "22.25");
    assertThat(browser.barriers()).isEmpty();
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText(".said", "Details saved.");
    browser.untilText("main", "22.25");
  }

  @Test
  void whatIsTakenTogetherIsToldAsSoonAsBothAreThereAndForgottenWhenOneChanges() {
    LocalDate day = DAY.plusDays(20);
    String body =
        "{\"vessel\":\"%s\",\"arrives\":\"%s\",\"departs\":\"%s\",\"contact\":{\"name\":\"Ann\",\"email\":\"a@b.example\"},\"crew\":[{\"name\":\"Ann\"}]}"
            .formatted(vessel, day, day.plusDays(1));
    assertThat(service.wire().add("visit", body).status()).isEqualTo(201);
    browser.openBound("/forms/visit/new");
    date("f-arrives", day);
    browser.choose("#f-vessel", "Grey Heron");
    date("f-arrives", day);
    String taken = "This vessel is announced for " + day + " already.";
    browser.until("the error", () -> browser.text("[data-field=arrives]").contains(taken));
    date("f-arrives", day.plusDays(1));
    browser.until("the error to go", () -> !browser.text("[data-field=arrives]").contains(taken));
  }

  @Test
  void theConsoleEditsRowsAndGroups() {
    String visit =
        service
            .wire()
            .post(
                "/api/forms/visit/records",
                Wire.JSON_TYPE,
                "{\"vessel\":\"%s\",\"arrives\":\"%s\",\"departs\":\"%s\",\"contact\":{\"name\":\"Ann\",\"email\":\"a@b.example\"},\"crew\":[{\"name\":\"Ann\"}]}"
                    .formatted(vessel, DAY.plusDays(7), DAY.plusDays(9)))
            .json()
            .path("id")
            .asString();
    browser.signIn(RunningService.KEY);
    browser.open("/console/forms/visit/records/" + visit);
    browser.untilText("#field-nights", "2 nights");
    assertThat(browser.valueOf("#field-contact-email")).isEqualTo("a@b.example");
    browser.driver().findElement(By.xpath("//button[.='Add somebody to the crew']")).click();
    browser.type("#field-crew-1-name", "B");
    browser.leave();
    browser.untilText("#field-crew-1-name-error", "at least 2 characters; it has 1");
    assertThat(browser.barriers()).isEmpty();
    browser.type("#field-crew-1-name", "Bob");
    browser.driver().findElement(By.cssSelector("button[aria-label='Remove Crew 1']")).click();
    browser.until("one row", () -> browser.all("fieldset.row").size() == 1);
    assertThat(browser.valueOf("#field-crew-0-name")).isEqualTo("Bob");
    browser.find(".editor button[type=submit]").click();
    browser.untilText("body", "Visit saved.");
    assertThat(
            service
                .wire()
                .get("/api/forms/visit/records/" + visit)
                .json()
                .path("values")
                .path("crew")
                .toString())
        .isEqualTo("[{\"name\":\"Bob\"}]");
  }

  @Test
  void aSecretNeverComesBack() {
    plain.open("/forms/skipper/new");
    plain.type("#f-name", "Ann");
    plain.type("#f-password", "grey-heron-110");
    plain.type("#f-again", "gray-heron-110");
    plain.go(By.cssSelector("form.nodley button[type=submit]"));
    assertThat(plain.errorOf("again")).contains("is not the same");
    assertThat(plain.driver().getPageSource()).doesNotContain("heron-110");
  }
}
