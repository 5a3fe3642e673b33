package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A page that is open while the service is stopped and started under it. */
class LostServicePageTest {

  private RunningService service;
  private Browser browser;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    service.wire().publishWholeDemo();
    browser = Browser.withScript(service.address());
  }

  @AfterEach
  void stop() {
    browser.close();
    service.close();
  }

  @Test
  void nothingTypedIsLostAndItIsKeptOnceWhenTheServiceIsBack() {
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "Grey Heron");
    service.stop();
    browser.type("#f-callSign", "mq7ab");
    browser.type("#f-length", "11.4");
    browser.find("#f-insured").click();
    browser.untilText("#f-callSign-state", "Could not ask whether MQ7AB is free.");
    browser.press("button[type=submit]");
    browser.untilText(".summary", "The service cannot be reached. What you typed is still here");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Grey Heron");
    service.startAgain();
    browser.press("button[type=submit]");
    browser.untilText(".said", "Grey Heron is registered.");
    assertThat(service.wire().get("/api/forms/vessel/records").json().path("records").size())
        .isEqualTo(1);
  }

  /** A browser fails an import for ever that failed once. */
  @Test
  void aPartOfTheScriptThatDidNotComeIsFetchedAgain() {
    browser.driver().executeCdpCommand("Network.enable", Map.of());
    browser
        .driver()
        .executeCdpCommand("Network.setBlockedURLs", Map.of("urls", List.of("*/more.js*")));
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "Grey Heron");
    browser.type("#f-callSign", "mq7ab");
    browser.leave();
    browser.until(
        "it did not come, nor when it was asked for again",
        () ->
            browser
                .driver()
                .executeScript(
                    "return performance.getEntriesByType('resource')"
                        + ".some((it) => it.name.includes('more.js?'))")
                .equals(true));
    browser.driver().executeCdpCommand("Network.setBlockedURLs", Map.of("urls", List.of()));
    browser.type("#f-length", "11.4");
    browser.find("#f-insured").click();
    browser.press("button[type=submit]");
    browser.untilText(".said", "Grey Heron is registered.");
  }

  /** An edit needs a part of the script of its own, which must be there by then. */
  @ParameterizedTest
  @ValueSource(strings = {"saved", "outdated"})
  void anEditGoesOnWhenTheServiceIsBack(String how) {
    String id = service.wire().addVessel("Grey Heron", "MQ7AB");
    browser.signIn(RunningService.KEY).openBound("/forms/vessel/" + id + "/edit");
    browser.type("#f-name", "White Petrel");
    service.stop();
    browser.press("main button[type=submit]");
    browser.untilText(".summary", "The service cannot be reached.");
    service.startAgain();
    if (how.equals("outdated")) {
      service.wire().patchVessel(id, 1, "{\"name\": \"Old Tern\"}");
      browser.press("main button[type=submit]");
      browser.untilText(".summary", "Old Tern");
    }
    browser.press("main button[type=submit]");
    browser.untilText(".said", "saved");
    assertThat(
            service
                .wire()
                .get("/api/forms/vessel/records/" + id)
                .json()
                .path("values")
                .path("name")
                .asString())
        .isEqualTo("White Petrel");
  }
}
