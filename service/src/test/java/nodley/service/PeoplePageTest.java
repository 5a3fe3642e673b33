package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Locale;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;

/** A person sets a password by their link and signs in, on the pages and in the console. */
class PeoplePageTest {

  private static final String PASSWORD = "a grey heron at low tide";

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishDemo();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static String link(String name) {
    Wire.Reply added =
        service
            .wire()
            .post(
                "/api/people",
                Wire.JSON_TYPE,
                "{\"name\": \"%s\", \"email\": \"%s@harbour.example\"}".formatted(name, name));
    assertThat(added.status()).isEqualTo(201);
    return added.json().path("link").asString().substring(service.address().length());
  }

  private static Browser browser(boolean script) {
    return script
        ? Browser.withScript(service.address())
        : Browser.withoutScript(service.address());
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aLinkLeadsToAPasswordAndThePasswordIn(boolean script) {
    String name = "ann-" + script;
    String link = link(name);
    try (Browser browser = browser(script)) {
      browser.open(link);
      assertThat(browser.text("main")).contains("For " + name);
      assertThat(browser.barriers()).isEmpty();
      browser.type("#password", "short");
      browser.go(By.cssSelector("main button[type=submit]"));
      assertThat(browser.text("#password-error"))
          .isEqualTo("A password has 12 characters or more; this one has 5.");
      assertThat(browser.find("#password").getDomAttribute("aria-describedby"))
          .contains("password-error");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#password", PASSWORD);
      browser.go(By.cssSelector("main button[type=submit]"));
      assertThat(browser.text("header")).contains("Signed in as " + name);
      browser.go(By.cssSelector("header button"));

      browser.open(link);
      assertThat(browser.text("[role=alert]")).startsWith("This link has ended");
      assertThat(browser.barriers()).isEmpty();

      browser.open("/sign-in?to=/forms/skipper");
      browser.type("#name", name.toUpperCase(Locale.ROOT));
      browser.go(By.cssSelector("form:has(#name) button"));
      assertThat(browser.text("#password-error")).isEqualTo("Required.");
      browser.type("#password", "not this one, surely");
      browser.go(By.cssSelector("form:has(#name) button"));
      assertThat(browser.text("#password-error")).isEqualTo("This name or this password is wrong.");
      assertThat(browser.valueOf("#name"))
          .as("is kept")
          .isEqualTo("ANN-" + ("" + script).toUpperCase(Locale.ROOT));
      assertThat(browser.valueOf("#password")).isEmpty();
      assertThat(browser.barriers()).isEmpty();
      browser.type("#password", PASSWORD);
      browser.go(By.cssSelector("form:has(#name) button"));
      assertThat(browser.path()).isEqualTo("/forms/skipper");
      assertThat(browser.text("header")).contains("Signed in as " + name);
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"zoe", "zoe@harbour.example"})
  void theConsoleTakesANameOrAnAddress(String typed) {
    if (service.wire().get("/api/people/zoe").status() == 404) {
      String secret = link("zoe").replaceFirst(".*=", "");
      service
          .stranger()
          .put(
              "/api/password",
              Wire.JSON_TYPE,
              "{\"link\": \"%s\", \"password\": \"%s\"}".formatted(secret, PASSWORD));
    }
    try (Browser browser = Browser.withScript(service.address())) {
      browser.open("/console");
      browser.find("#name").sendKeys(typed);
      browser.find("#password").sendKeys("wrong, as it happens");
      browser.find("#password").sendKeys(Keys.ENTER);
      browser.untilText("#password-error", "This name or this password is wrong.");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#password", PASSWORD);
      browser.find("#password").sendKeys(Keys.ENTER);
      browser.untilText("body", "Signed in as zoe");
    }
  }

  @Test
  void anAdminFindsSomebodyAmongManyAndChangesTheirRoles() {
    try (Browser browser = Browser.withScript(service.address())) {
      for (int i = 0; i < 60; i++) {
        link("crew" + i);
      }
      service.wire().post("/api/people", Wire.JSON_TYPE, "{\"name\": \"Jörg\"}");
      browser.signIn(RunningService.KEY).open("/console/people");
      browser.untilText("table", "crew0");
      assertThat(browser.text("table")).doesNotContain("Jörg");
      browser.type("input[type=search]", "JORG");
      browser.untilText("table", "Jörg");
      browser.untilText(".tools [role=status]", "1 of ");
      assertThat(browser.text("table")).doesNotContain("crew0");
      browser.until(
          "it stands in the address",
          () -> browser.driver().getCurrentUrl().endsWith("/console/people?q=JORG"));
      browser.press(By.xpath("//button[contains(., 'Address and roles')]"));
      browser.untilText(".ant-modal", "Change Jörg");
      browser.type("#Change-roles", "not a role!");
      browser.press(".ant-modal button[type=submit]");
      browser.untilText("#Change-roles-error", "role");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#Change-roles", "clerk, pilot");
      browser.type("#Change-email", "joerg@harbour.example");
      browser.press(".ant-modal button[type=submit]");
      browser.untilText("table", "clerk, pilot");
      assertThat(service.wire().get("/api/people/Jörg").json().path("email").asString())
          .isEqualTo("joerg@harbour.example");
      browser.type("input[type=search]", "nobody of that name");
      browser.untilText("table", "Nothing has these words.");
      browser.open("/console/people?q=crew59");
      browser.untilText(".tools [role=status]", "1 of ");
    }
  }

  @Test
  void anAdminAddsSomebodyInTheConsole() {
    try (Browser browser = Browser.withScript(service.address())) {
      browser.open("/console/people");
      browser.find("#key").sendKeys(RunningService.KEY);
      browser.find("#key").sendKeys(Keys.ENTER);
      browser.untilText("h1", "People");
      browser.find("#Person-name").sendKeys("bea@home");
      browser.find("form[aria-label=Person] button[type=submit]").click();
      browser.untilText("#Person-name-error", "Name is up to 60 letters and digits");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#Person-name", "bea");
      browser.find("#Person-roles").sendKeys("clerk, pilot");
      browser.find("form[aria-label=Person] button[type=submit]").click();
      browser.untilText("[role=status]", "bea sets a password here");
      browser.untilText("table", "clerk, pilot");
      assertThat(browser.text("[role=status]")).contains("/set-password?link=");
      assertThat(browser.barriers()).isEmpty();

      browser.driver().findElement(By.linkText("Keys")).click();
      browser.untilText("h1", "Keys");
      browser.find("#Key-name").sendKeys("night-export");
      browser.find("#Key-forms").sendKeys("vessel");
      browser.find("form[aria-label=Key] button[type=submit]").click();
      browser.untilText("[role=status]", "The key night-export, shown this once");
      browser.untilText("table", "night-export");
      assertThat(browser.barriers()).isEmpty();

      browser.driver().findElement(By.linkText("Sessions")).click();
      browser.untilText("h1", "Sessions");
      browser.untilText("table", "(this one)");
      assertThat(browser.barriers()).isEmpty();

      browser.driver().findElement(By.linkText("People")).click();
      browser.untilText("table", "bea");
      browser.press(By.xpath("//button[.='Remove bea']"));
      browser.press(By.xpath("//button[.='Remove']"));
      browser.until("bea is gone", () -> !browser.text("table").contains("bea"));
    }
    assertThat(service.wire().get("/api/people/bea").status()).isEqualTo(404);
  }

  @Test
  void whoIsNoAdminSeesTheirOwnSessionsAlone() {
    String secret = link("carla").replaceFirst(".*=", "");
    service
        .stranger()
        .put(
            "/api/password",
            Wire.JSON_TYPE,
            "{\"link\": \"%s\", \"password\": \"%s\"}".formatted(secret, PASSWORD));
    try (Browser browser = Browser.withScript(service.address())) {
      browser.open("/console/sessions");
      browser.find("#name").sendKeys("carla");
      browser.find("#password").sendKeys(PASSWORD);
      browser.find("#password").sendKeys(Keys.ENTER);
      browser.untilText("table", "carla (this one)");
      assertThat(browser.text("table")).doesNotContain("admin");
      assertThat(browser.text("header")).doesNotContain("People").doesNotContain("Keys");
    }
  }
}
