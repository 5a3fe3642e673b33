package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.LocalDate;
import java.time.format.TextStyle;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Cookie;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebDriverException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.WindowType;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A page keeps what is typed as a draft, by itself; without script, by a button. */
class DraftPageTest {

  private static final String VOYAGE =
      """
      form: voyage
      access: { add: anyone, see: anyone, edit: anyone }
      draft:
      fields:
        vessel: { type: text, required: true }
        cargo: { type: text }
        port: { type: text, default: Marrow Quay }
        contact: { type: group, fields: { email: { type: text }, phone: { type: text } } }
        crew: { type: rows, fields: { name: { type: text } } }
        insured: { type: boolean, default: true }
        pin: { type: secret }
        passport: { type: text, masked: true }
      """;

  private static RunningService service;
  private static Browser browser;
  private static Browser plain;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    browser = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    plain.close();
    service.close();
  }

  @BeforeEach
  void publish() {
    service.wire().publish("voyage", VOYAGE);
  }

  /** No test finds the drafts of another. */
  @AfterEach
  void forget() {
    for (Browser each : List.of(browser, plain)) {
      each.open("/sign-in");
      each.driver().manage().deleteAllCookies();
    }
    browser.driver().executeScript("localStorage.clear()");
  }

  private static void untilKept() {
    browser.until("it is kept", () -> browser.text("[data-kept]").startsWith("Kept as draft, "));
  }

  private static void untilKept(String field, String value) {
    browser.until("it is kept", () -> kept().path(field).asString().equals(value));
  }

  /** The values of the draft that the page shows, as the service has them. */
  private static JsonNode kept() {
    String id =
        browser
            .driver()
            .executeScript("return document.querySelector('form.nodley').dataset.draft")
            .toString();
    return browser
        .driver()
        .executeAsyncScript(
            "const done = arguments[1]; fetch('/api/drafts/' + arguments[0]).then((it) =>"
                + " it.text()).then(done)",
            id)
        .toString()
        .transform(JsonMapper.shared()::readTree)
        .path("values");
  }

  private static void openAgain() {
    browser.open("/sign-in");
    browser.openBound("/forms/voyage/new");
  }

  @Test
  void whatIsTypedIsKeptByItselfAndFoundAgain() {
    browser.openBound("/forms/voyage/new");
    browser.until("the page keeps by itself", () -> browser.all("[data-keep]").isEmpty());
    browser.type("#f-vessel", "Grey Heron");
    browser.type("#f-crew-0-name", "Ann");
    browser.press("button[name=_more]");
    browser.type("#f-crew-1-name", "Bob");
    browser.press("#f-insured");
    untilKept();
    browser.until(
        "all of it is kept",
        () ->
            kept().at("/crew/1/name").asString("").equals("Bob")
                && !kept().path("insured").asBoolean(true));
    assertThat(browser.driver().getCurrentUrl()).contains("draft=");
    assertThat(browser.barriers()).isEmpty();
    openAgain();
    String day = LocalDate.now().getDayOfWeek().getDisplayName(TextStyle.FULL, Locale.ENGLISH);
    WebElement link = browser.find("[data-drafts] a");
    assertThat(link.getText())
        .startsWith("Go on with your draft of " + day + ", ")
        .endsWith(": Grey Heron");
    assertThat(browser.valueOf("#f-vessel")).isEmpty();
    assertThat(browser.barriers()).isEmpty();
    link.click();
    browser.find("form[data-draft]:not([data-draft=''])[data-bound=true]");
    assertThat(browser.valueOf("#f-vessel")).isEqualTo("Grey Heron");
    assertThat(browser.valueOf("#f-crew-1-name")).isEqualTo("Bob");
    assertThat(browser.find("#f-insured").isSelected()).isFalse();
    browser.press("form .actions button[type=submit]:not([name])");
    browser.until("accepted", () -> browser.path().matches("/forms/voyage/[0-9a-f-]{36}"));
    openAgain();
    assertThat(browser.all("[data-drafts]")).isEmpty();
  }

  @Test
  void whatIsClearedStaysBlank() {
    browser.openBound("/forms/voyage/new");
    assertThat(browser.valueOf("#f-port")).isEqualTo("Marrow Quay");
    browser.type("#f-port", Keys.chord(Keys.CONTROL, "a") + Keys.BACK_SPACE);
    untilKept();
    browser.driver().navigate().refresh();
    browser.find("form[data-draft]:not([data-draft=''])[data-bound=true]");
    assertThat(browser.valueOf("#f-port")).isEmpty();
  }

  @Test
  void aReloadFindsWhatWasTypedAndNobodyIsAskedWhetherToLeave() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Tern");
    untilKept();
    browser.type("#f-cargo", "Salt");
    // What is on its way is sent with the page that goes.
    browser.driver().navigate().refresh();
    browser.find("form[data-bound=true]");
    assertThat(browser.valueOf("#f-vessel")).isEqualTo("Tern");
    browser.until(
        "the last word",
        () -> {
          browser.driver().navigate().refresh();
          return browser.valueOf("#f-cargo").equals("Salt");
        });
  }

  @Test
  void aKilledBrowserLosesTwoSecondsAtMost() {
    try (Browser killed = Browser.withScript(service.address())) {
      String session = service.signIn("kim", "[]").replaceFirst("^[^=]*=", "");
      killed.open("/sign-in");
      killed.driver().manage().addCookie(new Cookie("nodley_session", session));
      killed.openBound("/forms/voyage/new");
      killed.type("#f-vessel", "Lost at sea");
      killed.until("it is kept", () -> killed.text("[data-kept]").startsWith("Kept"));
      killed.driver().executeCdpCommand("Browser.crash", Map.of());
    } catch (WebDriverException e) {
      // It is gone, as it should be.
    }
    // The same person goes on elsewhere.
    String session =
        service
            .stranger()
            .post(
                "/api/session",
                Wire.JSON_TYPE,
                "{\"name\": \"kim\", \"password\": \"" + RunningService.PASSWORD + "\"}")
            .header("Set-Cookie")
            .replaceFirst(";.*", "");
    try (Browser other = Browser.withScript(service.address())) {
      other.open("/sign-in");
      String value = session.replaceFirst("^[^=]*=", "");
      other.driver().manage().addCookie(new Cookie("nodley_session", value));
      other.openBound("/forms/voyage/new");
      other.press("[data-drafts] a");
      other.find("form[data-draft]:not([data-draft=''])[data-bound=true]");
      assertThat(other.valueOf("#f-vessel")).isEqualTo("Lost at sea");
    }
  }

  @Test
  void theServiceMayRestartUnderThePage() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Before");
    untilKept();
    service.stop();
    browser.type("#f-cargo", "Timber");
    browser.type("#f-passport", "P 123");
    browser.type("#f-pin", "geheim");
    browser.until(
        "it is told",
        () -> browser.text("[data-unkept]").startsWith("The service cannot be reached."));
    String stored =
        browser.driver().executeScript("return JSON.stringify(localStorage)").toString();
    assertThat(stored).contains("Timber").doesNotContain("P 123").doesNotContain("geheim");
    service.startAgain();
    browser.until("it is kept", () -> browser.text("[data-kept]").startsWith("Kept"));
    assertThat(kept().path("cargo").asString()).isEqualTo("Timber");
    assertThat(kept().path("passport").asString()).isEqualTo("P 123");
    assertThat(kept().has("pin")).isFalse();
    assertThat(browser.text("[data-unkept]")).isEmpty();
    assertThat(browser.driver().executeScript("return localStorage.length")).isEqualTo(0L);
  }

  @Test
  void whatWasTypedOfflineComesBackWithThePage() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Before");
    untilKept();
    String page = browser.driver().getCurrentUrl();
    service.stop();
    browser.type("#f-cargo", "Slate");
    browser.until("it is told", () -> !browser.text("[data-unkept]").isEmpty());
    browser.driver().get("about:blank");
    service.startAgain();
    browser.driver().get(page);
    browser.find("form[data-bound=true]");
    browser.until("it is back", () -> browser.valueOf("#f-cargo").equals("Slate"));
    untilKept("cargo", "Slate");
    assertThat(kept().path("vessel").asString()).isEqualTo("Before");
  }

  @Test
  void whatTwoPagesTypeIsBroughtTogether() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Shared");
    browser.type("#f-contact-email", "ann@quay.example");
    untilKept();
    String page = browser.driver().getCurrentUrl();
    String first = browser.driver().getWindowHandle();
    browser.driver().switchTo().newWindow(WindowType.TAB);
    browser.driver().get(page);
    browser.find("form[data-bound=true]");
    browser.type("#f-cargo", "Salt");
    untilKept("cargo", "Salt");
    browser.driver().close();
    browser.driver().switchTo().window(first);
    browser.type("#f-crew-0-name", "Ann");
    browser.untilText("[data-unkept]", "taken over: Cargo");
    assertThat(browser.text("[data-unkept]"))
        .isEqualTo("Changed on another page meanwhile, and taken over: Cargo");
    assertThat(browser.valueOf("#f-cargo")).isEqualTo("Salt");
    browser.until(
        "both are kept", () -> kept().path("crew").path(0).path("name").asString().equals("Ann"));
    assertThat(kept().path("cargo").asString()).isEqualTo("Salt");
  }

  @Test
  void aDraftIsDiscarded() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Mistake");
    untilKept();
    browser.press("[data-discard]");
    browser.until(
        "the page is blank",
        () ->
            !browser.driver().getCurrentUrl().contains("draft=")
                && browser.all("[data-drafts]").isEmpty());
    browser.find("form[data-bound=true]");
    assertThat(browser.valueOf("#f-vessel")).isEmpty();
  }

  @Test
  void aDraftThatIsOverIsSaid() {
    browser.openBound("/forms/voyage/new?draft=none");
    assertThat(browser.text(".said")).startsWith("This draft is no longer there");
    assertThat(browser.path()).isEqualTo("/forms/voyage/new");
  }

  @Test
  void withoutScriptAButtonKeepsIt() {
    plain.open("/forms/voyage/new");
    plain.type("#f-vessel", "Plain");
    plain.press("#f-insured");
    plain.type("#f-pin", "geheim");
    plain.press("[data-keep]");
    plain.until("it is told", () -> plain.text(".said").startsWith("Kept as draft, "));
    assertThat(plain.valueOf("#f-vessel")).isEqualTo("Plain");
    assertThat(plain.valueOf("#f-pin")).isEmpty();
    assertThat(plain.find("#f-insured").isSelected()).isFalse();
    assertThat(plain.barriers()).isEmpty();
    plain.open("/forms/voyage/new");
    plain.find("[data-drafts] a").click();
    assertThat(plain.valueOf("#f-vessel")).isEqualTo("Plain");
    plain.press("form .actions button[type=submit]:not([name])");
    plain.until("accepted", () -> plain.path().matches("/forms/voyage/[0-9a-f-]{36}"));
    plain.open("/forms/voyage/new");
    assertThat(plain.all("[data-drafts]")).isEmpty();
    plain.type("#f-vessel", "Another");
    plain.press("[data-keep]");
    plain.press("[data-discard]");
    plain.until("it is told", () -> plain.text(".said").equals("The draft is discarded."));
    plain.open("/forms/voyage/new");
    assertThat(plain.all("[data-drafts]")).isEmpty();
  }

  @Test
  void valuesThatTheFormAsksForNoLongerAreShownOnceMore() {
    plain.open("/forms/voyage/new");
    plain.type("#f-vessel", "Old");
    plain.type("#f-cargo", "Slate");
    plain.press("[data-keep]");
    plain.until("it is kept", () -> plain.driver().getCurrentUrl().contains("draft="));
    String page = plain.driver().getCurrentUrl();
    service.wire().publish("voyage", VOYAGE.replace("  cargo: { type: text }\n", ""));
    plain.driver().get(page);
    assertThat(plain.text("[data-dropped]"))
        .contains("The form no longer asks for this.")
        .contains("cargo")
        .contains("Slate");
    assertThat(plain.barriers()).isEmpty();
    plain.press("[data-keep]");
    plain.until("it is dropped", () -> plain.all("[data-dropped]").isEmpty());
    assertThat(plain.valueOf("#f-vessel")).isEqualTo("Old");
    plain.press("form .actions button[type=submit]:not([name])");
    plain.until("accepted", () -> plain.path().matches("/forms/voyage/[0-9a-f-]{36}"));
  }

  @Test
  void aDraftIsToldByTheBeginningOfALongName() {
    browser.openBound("/forms/voyage/new");
    browser.type("#f-vessel", "Tern " + "x".repeat(500));
    browser.leave();
    browser.until("it is kept", () -> kept().path("vessel").asString("").endsWith("xxx"));
    openAgain();
    assertThat(browser.find("[data-drafts] a").getText())
        .endsWith(": Tern " + "x".repeat(55) + "…");
  }

  @Test
  void whatAnotherPageKeptOfAnEditLeavesTheRestOfTheRecord() {
    String id =
        service
            .wire()
            .add(
                "voyage",
                "{\"vessel\": \"Tern\", \"cargo\": \"Salt\", \"contact\": {\"phone\":"
                    + " \"+351210000001\"}}")
            .json()
            .path("id")
            .asString();
    browser.openBound("/forms/voyage/" + id + "/edit");
    browser.type("#f-cargo", "Slate");
    browser.leave();
    untilKept();
    browser.until("all of it is kept", () -> kept().path("cargo").asString("").equals("Slate"));
    Object version =
        browser
            .driver()
            .executeAsyncScript(
                """
                const done = arguments[0];
                const at = '/api/drafts/' + new URLSearchParams(location.search).get('draft');
                (async () => {
                  const { version } = await (await fetch(at)).json();
                  const headers = {
                    'Content-Type': 'application/merge-patch+json', 'If-Match': `"${version}"`
                  };
                  const body = '{"port": "East", "contact": {"email": "a@quay.example"}}';
                  await fetch(at, { method: 'PATCH', headers, body });
                  done(version + 1);
                })();
                """);
    assertThat(version).isNotNull();
    browser.type("#f-cargo", "Slag");
    browser.leave();
    browser.untilValue("#f-port", "East");
    assertThat(browser.valueOf("#f-vessel")).isEqualTo("Tern");
    assertThat(browser.valueOf("#f-cargo")).isEqualTo("Slag");
    assertThat(browser.valueOf("#f-contact-email")).isEqualTo("a@quay.example");
    assertThat(browser.valueOf("#f-contact-phone")).isEqualTo("+351210000001");
    browser.until("all of it is kept", () -> kept().path("cargo").asString("").equals("Slag"));
    assertThat(kept().has("vessel")).isFalse();
  }

  @Test
  void aDraftOfAnEditWhoseRecordChangedMeanwhileIsTheSameConflictAsEver() {
    Wire wire = service.wire();
    for (Browser each : List.of(browser, plain)) {
      String id =
          wire.add("voyage", "{\"vessel\": \"Tern\", \"cargo\": \"Salt\"}")
              .json()
              .path("id")
              .asString();
      String edit = "/forms/voyage/" + id + "/edit";
      each.open(edit);
      if (each == browser) {
        each.find("form[data-bound=true]");
      }
      each.find("#f-cargo").clear();
      each.type("#f-cargo", "Slate");
      if (each == browser) {
        untilKept();
      } else {
        each.press("[data-keep]");
        each.until("it is kept", () -> each.driver().getCurrentUrl().contains("draft="));
      }
      String draft = each.path();
      wire.patch(
          "/api/forms/voyage/records/" + id,
          Wire.JSON_TYPE,
          "{\"cargo\": \"Crab\"}",
          "If-Match",
          "\"1\"");
      each.open("/forms/voyage/" + id);
      each.open(draft);
      if (each == browser) {
        each.find("form[data-bound=true]");
      }
      assertThat(each.valueOf("#f-cargo")).isEqualTo("Slate");
      each.press("form .actions button[type=submit]:not([name])");
      if (each == browser) {
        each.until("the conflict shows", () -> each.text(".summary").contains("Crab"));
      } else {
        each.until("the conflict shows", () -> each.text(".conflict").contains("Crab"));
      }
      each.press("form .actions button[type=submit]:not([name])");
      each.until("saved", () -> each.path().equals("/forms/voyage/" + id));
      JsonNode record = wire.get("/api/forms/voyage/records/" + id).json();
      assertThat(record.path("values").path("cargo").asString()).isEqualTo("Slate");
      assertThat(record.path("version").asInt()).isEqualTo(3);
      each.open(edit);
      assertThat(each.all("[data-drafts]")).isEmpty();
    }
  }
}
