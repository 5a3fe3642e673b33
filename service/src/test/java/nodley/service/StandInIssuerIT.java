package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** The demo with the stand-in issuer beside it: people who sign in there, in a browser. */
class StandInIssuerIT {

  private static Program demo;
  private static String address;
  private static Browser browser;

  @BeforeAll
  static void start() {
    demo =
        Program.service(
            Map.of("NODLEY_ADMIN_KEY", RunningService.KEY), "demo", "--issuer", "--port", 0);
    address = demo.ready();
    browser = Browser.withScript(address);
  }

  @AfterAll
  static void stop() {
    browser.close();
    demo.close();
  }

  /** Neither the service nor the issuer remembers anybody; their cookies are of one host. */
  @BeforeEach
  void forgetEverybody() {
    browser.open("/sign-in");
    browser.driver().manage().deleteAllCookies();
  }

  private static Wire wire() {
    return new Wire(address, Optional.of(RunningService.KEY));
  }

  private static void choose(String person) {
    browser.until("the issuer asks", () -> !browser.all("button[value=" + person + "]").isEmpty());
    browser.press("button[value=" + person + "]");
  }

  private static boolean isBackAt(String path) {
    return browser.driver().getCurrentUrl().equals(address + path);
  }

  @Test
  void aClerkSignsInAtTheHarboursOffice() {
    String vessel =
        wire().get("/api/forms/vessel/records?q=heron").json().at("/records/0/id").asString();
    browser.open("/sign-in?to=/forms/vessel/" + vessel + "/edit");
    assertThat(browser.barriers()).isEmpty();
    browser.go(By.linkText("Sign in with Harbour Office"));
    browser.until("the issuer asks", () -> !browser.all("button[value=otto]").isEmpty());
    assertThat(browser.driver().getCurrentUrl()).doesNotStartWith(address);
    choose("otto");
    browser.until("back", () -> isBackAt("/forms/vessel/" + vessel + "/edit"));
    assertThat(browser.text("nav")).contains("Signed in as Otto Brandt");
    assertThat(wire().get("/api/sessions").response().body())
        .contains("\"caller\":\"Otto Brandt\"")
        .contains("\"by\":\"issuer\"");

    browser.press("nav form button");
    browser.until("signed out at the issuer, too", () -> isBackAt("/sign-in"));
    assertThat(wire().get("/api/sessions").response().body()).doesNotContain("Otto");
    browser.go(By.linkText("Sign in with Harbour Office"));
    choose("ida");
    browser.until("back", () -> isBackAt("/forms"));
    assertThat(browser.text("nav")).contains("Signed in as Ida Penhale");
    browser.open("/console/people");
    browser.until("an admin's page", () -> browser.text("main").contains("otto"));
  }

  @Test
  void whatWasTypedBeforeIsThereAfterwards() {
    browser.openBound("/forms/vessel/new");
    browser.type("[name=name]", "Storm Petrel");
    browser.go(By.linkText("Sign in"));
    browser.go(By.linkText("Sign in with Harbour Office"));
    choose("mara");
    browser.until("back", () -> isBackAt("/forms/vessel/new"));
    browser.until("typed", () -> browser.valueOf("[name=name]").equals("Storm Petrel"));
  }
}
