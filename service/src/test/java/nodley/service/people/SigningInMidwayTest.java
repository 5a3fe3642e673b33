package nodley.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import nodley.service.Browser;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/** Signing in half-way through a form loses nothing of what was typed. */
class SigningInMidwayTest {

  private static final String VISIT =
      """
      form: visit
      access: { add: %s, see: anyone, edit: signed-in }
      fields:
        name: { type: text, required: true }
        kind: { type: choice, options: [sail, motor], control: radio }
        paid: { type: boolean }
        berth: { type: record, form: berth, control: search }
        code: { type: secret }
        crew: { type: rows, fields: { called: { type: text } } }
      """;

  private RunningService service;
  private Browser browser;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    publish(
        "form: berth\n"
            + "called: \"{code}\"\n"
            + "access: { see: anyone }\n"
            + "fields: { code: { type: text } }\n");
    for (String code : new String[] {"North 1", "South 2"}) {
      assertThat(service.wire().add("berth", "{\"code\": \"%s\"}".formatted(code)).status())
          .isEqualTo(201);
    }
    service.signIn("ann", "[]");
    browser = Browser.withScript(service.address());
  }

  @AfterEach
  void stop() {
    browser.close();
    service.close();
  }

  private void publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    Wire.Reply published = service.wire().publish(name, yaml);
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
  }

  private void fillIn() {
    browser.type("#f-name", "Grey Heron");
    browser.driver().findElement(By.cssSelector("input[name=kind][value=motor]")).click();
    browser.find("#f-paid").click();
    browser.choose("#f-berth", "South 2");
    browser.type("#f-code", "hush-hush-7531");
    for (int row = 0; row < 2; row++) {
      if (browser.all("[name='crew[" + row + "].called']").isEmpty()) {
        browser.press("button[name=_more]");
      }
      browser.type("[name='crew[" + row + "].called']", "Hand " + row);
    }
  }

  private void signIn() {
    browser.find("#name").sendKeys("ann");
    browser.find("#password").sendKeys(RunningService.PASSWORD);
    browser.go(By.cssSelector("form:has(#password) button[type=submit]"));
  }

  private JsonNode newest() {
    return service.wire().get("/api/forms/visit/records?limit=1").json().path("records").path(0);
  }

  private void allIsThere() {
    browser.find("form[data-bound=true]");
    browser.untilText(".said", "What you typed is here again.");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Grey Heron");
    assertThat(browser.find("input[name=kind][value=motor]").isSelected()).isTrue();
    assertThat(browser.find("#f-paid").isSelected()).isTrue();
    browser.until("the berth", () -> "South 2".equals(browser.valueOf("#f-berth[role=combobox]")));
    assertThat(browser.valueOf("[name='crew[0].called']")).isEqualTo("Hand 0");
    assertThat(browser.valueOf("[name='crew[1].called']")).isEqualTo("Hand 1");
    assertThat(browser.valueOf("#f-code")).as("a secret").isEmpty();
    assertThat(
            browser.driver().executeScript("return JSON.stringify({...sessionStorage})").toString())
        .doesNotContain("Heron")
        .doesNotContain("hush");
    assertThat(browser.barriers()).isEmpty();
    browser.press("form.nodley button[type=submit]:not([hidden]):not([name])");
    browser.until(
        "it is added",
        () -> newest().path("values").path("name").asString("").equals("Grey Heron"));
    assertThat(newest().path("createdBy").asString()).isEqualTo("ann");
    assertThat(newest().at("/values/kind").asString()).isEqualTo("motor");
    assertThat(newest().at("/values/paid").asBoolean()).isTrue();
    assertThat(newest().at("/values/crew/1/called").asString()).isEqualTo("Hand 1");
  }

  @Test
  void byTheLinkOfThePage() {
    publish(VISIT.formatted("anyone"));
    browser.openBound("/forms/visit/new");
    fillIn();
    browser.go(By.cssSelector("header a[href^='/sign-in']"));
    assertThat(
            browser.driver().executeScript("return JSON.stringify({...sessionStorage})").toString())
        .contains("Grey Heron")
        .doesNotContain("hush");
    signIn();
    assertThat(browser.path()).isEqualTo("/forms/visit/new");
    allIsThere();
  }

  @Test
  void whereTheSessionHasEnded() {
    publish(VISIT.formatted("signed-in"));
    browser.open("/sign-in?to=/forms/visit/new");
    signIn();
    browser.find("form[data-bound=true]");
    fillIn();
    for (JsonNode session : service.wire().get("/api/sessions").json().path("sessions")) {
      service.wire().delete("/api/sessions/" + session.path("id").asString());
    }
    browser.press("form.nodley button[type=submit]:not([hidden]):not([name])");
    browser.find(".summary a[href^='/sign-in']");
    assertThat(browser.barriers()).isEmpty();
    browser.go(By.cssSelector(".summary a[href^='/sign-in']"));
    signIn();
    assertThat(browser.path()).isEqualTo("/forms/visit/new");
    allIsThere();
  }
}
