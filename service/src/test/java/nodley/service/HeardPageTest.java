package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** What a person who hears a page learns of what goes wrong, and of what went well. */
class HeardPageTest {

  private static RunningService service;
  private static Browser scripted;
  private static Browser plain;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service
        .wire()
        .publish(
            "crossing",
            """
            form: crossing
            access: { add: anyone, see: anyone }
            fields:
              name: { type: text, required: true, unique: true }
              note: { type: text }
              crew: { type: rows, count: 1.., fields: { who: { type: text } } }
            """);
    service.wire().add("crossing", "{\"name\": \"Heron\", \"crew\": [{\"who\": \"Ann\"}]}");
    scripted = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    scripted.close();
    plain.close();
    service.close();
  }

  @Test
  void anErrorThatComesOnceTheFocusIsElsewhereStandsInALiveRegion() {
    scripted.openBound("/forms/crossing/new");
    scripted.type("#f-name", "Heron");
    scripted.leave();
    scripted.untilText("#f-name-error", "Heron is already registered");
    assertThat(scripted.focused()).isEqualTo("f-note");
    assertThat(scripted.find("#f-name-error").getDomAttribute("aria-live")).isEqualTo("polite");
    assertThat(scripted.barriers()).isEmpty();
  }

  @Test
  void theSummaryLeadsToRowsTooAndTheTitleSaysThatSomethingIsToMend() {
    for (Browser browser : List.of(plain, scripted)) {
      if (browser == plain) {
        browser.open("/forms/crossing/new");
        browser.type("#f-name", "Tern");
        browser.go(By.cssSelector("form.nodley button[type=submit]:not([name])"));
        assertThat(browser.driver().getTitle()).isEqualTo("1 to mend · Add crossing");
      } else {
        browser.openBound("/forms/crossing/new");
        browser.type("#f-name", "Tern");
        browser.find("form.nodley button[type=submit]:not([name])").click();
        browser.untilText(".summary", "Crew");
      }
      WebElement link = browser.find(".summary a");
      assertThat(link.getText()).contains("Crew");
      link.click();
      browser.until("the rows", () -> "f-crew".equals(browser.focused()));
      assertThat(browser.barriers()).isEmpty();
    }
  }

  @Test
  void afterAnAcceptanceTheFocusIsOnTheOutcome() {
    for (Browser browser : List.of(plain, scripted)) {
      browser.open("/forms/crossing/new");
      if (browser == scripted) {
        browser.find("form[data-bound=true]");
      }
      browser.type("#f-name", browser == plain ? "Gull" : "Skua");
      browser.type("#f-crew-0-who", "Bob");
      browser.go(By.cssSelector("form.nodley button[type=submit]:not([name])"));
      browser.untilText(".said", "Crossing added.");
      assertThat(browser.driver().switchTo().activeElement().getDomAttribute("class"))
          .isEqualTo("said");
      assertThat(browser.barriers()).isEmpty();
    }
  }
}
