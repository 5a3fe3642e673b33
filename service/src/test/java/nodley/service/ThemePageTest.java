package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/** How pages look: themes of forms and of the service; in light and dark nothing bars anybody. */
class ThemePageTest {

  private static RunningService service;
  private static Wire wire;
  private static Browser browser;
  private static String heron;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.publishWholeDemo();
    heron = wire.addVessel("Grey Heron", "MQ7AB");
    browser = Browser.withScript(service.address()).signIn(RunningService.KEY);
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static Wire.Reply theme(String name, String yaml) {
    return wire.put("/api/themes/" + name, "application/yaml", "theme: " + name + "\n" + yaml);
  }

  private static void scheme(String scheme) {
    browser
        .driver()
        .executeCdpCommand(
            "Emulation.setEmulatedMedia",
            Map.of("features", List.of(Map.of("name", "prefers-color-scheme", "value", scheme))));
  }

  private static String style(String css, String property) {
    return browser.find(css).getCssValue(property);
  }

  @Test
  void aFormWearsItsThemeAndTheOthersDoNot() {
    scheme("light");
    browser.openBound("/forms/incident/new");
    assertThat(style("button[type=submit]", "background-color")).isEqualTo("rgba(138, 47, 27, 1)");
    assertThat(style("#f-account", "border-top-left-radius")).isEqualTo("2px");
    assertThat(style("body", "font-family")).startsWith("Georgia");
    assertThat(browser.all("form.nodley.side")).hasSize(1);
    assertThat(browser.find(".bar img").getDomProperty("naturalWidth")).isNotEqualTo("0");
    scheme("dark");
    assertThat(style("button[type=submit]", "background-color"))
        .isEqualTo("rgba(242, 164, 143, 1)");
    browser.openBound("/forms/berth/new");
    assertThat(style("button[type=submit]", "background-color"))
        .isEqualTo("rgba(111, 195, 205, 1)");
    scheme("light");
  }

  @Test
  void theThemeOfTheServiceDressesAllOthersUntilItGoes() {
    assertThat(theme("service", "scheme: dark\nlayout: columns\nradius: 0\n").status())
        .isEqualTo(201);
    scheme("light");
    browser.openBound("/forms/berth/new");
    assertThat(style("body", "background-color")).isEqualTo("rgba(16, 25, 28, 1)");
    assertThat(browser.all("form.nodley.columns")).hasSize(1);
    browser.open("/forms");
    assertThat(style("body", "background-color")).isEqualTo("rgba(16, 25, 28, 1)");
    assertThat(wire.delete("/api/themes/service").status()).isEqualTo(204);
    browser.openBound("/forms/berth/new");
    assertThat(style("body", "background-color")).isEqualTo("rgba(246, 247, 244, 1)");
  }

  /** So that the look of any framework can be worn. */
  @Test
  void partsGetTheClassesOfTheTheme() {
    theme(
        "worn",
        """
        classes:
          label: our-label
          control: our-control
          help: our-help
          error: invalid
          select: our-select
          checkbox: our-box
          wrong: is-wrong
          row: our-row
          button: our-button
        styles: [/page/worn.css, "https://styles.example/a.css"]
        logo: https://images.example/logo.png
        """);
    wire.publish(
        "worn",
        """
        form: worn
        theme: worn
        access: { add: anyone }
        fields:
          name: { type: text, help: As it is called., required: true }
          sort: { type: choice, options: [a, b, c, d, e, f] }
          kind: { type: choice, options: [a, b] }
          sure: { type: boolean }
          people: { type: rows, fields: { who: { type: text } } }
        """);
    Wire.Reply page = wire.get("/forms/worn/new");
    assertThat(page.response().headers().firstValue("Content-Security-Policy"))
        .hasValueSatisfying(
            policy ->
                assertThat(policy)
                    .contains("style-src 'self' https://styles.example;")
                    .contains("img-src 'self' data: https://images.example;")
                    .contains("script-src 'self';"));
    assertThat(
            wire.get("/forms/berth/new").response().headers().firstValue("Content-Security-Policy"))
        .hasValueSatisfying(policy -> assertThat(policy).contains("style-src 'self';"));
    browser.openBound("/forms/worn/new");
    List<WebElement> sheets = browser.driver().findElements(By.cssSelector("link[rel=stylesheet]"));
    assertThat(sheets)
        .extracting(it -> it.getDomAttribute("href"))
        .startsWith(
            "/page/nodley.css",
            "/page/worn.css",
            "https://styles.example/a.css",
            "/page/themes/worn.css");
    for (String part :
        List.of(
            "[data-field=name].our-row",
            "label.our-label[for=f-name]",
            "input.our-control#f-name",
            "select.our-select#f-sort",
            "input.our-box[name=kind]",
            "input.our-box#f-sure",
            "p.help.our-help",
            "p.error.invalid",
            "button.our-button[type=submit]",
            "[data-field='people[0].who'].our-row input.our-control")) {
      assertThat(browser.all(part)).as(part).isNotEmpty();
    }
    assertThat(browser.all(".is-wrong")).isEmpty();
    browser.find("form.nodley .actions button").click();
    browser.find("#f-name.is-wrong");
    browser.type("#f-name", "Ann");
    browser.until("it is mended", () -> browser.all(".is-wrong").isEmpty());
    assertThat(wire.post("/forms/worn/new", Wire.FORM_TYPE, "name=").response().body())
        .contains("class=\" our-control is-wrong\" id=\"f-name\"");
    browser.press("button[name=_more]");
    assertThat(browser.all("[data-field='people[1].who'].our-row input.our-control")).hasSize(1);
  }

  @Test
  void aThemeThatIsWornCannotGo() {
    Wire.Reply refused = wire.delete("/api/themes/watch");
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.response().body()).contains("incident").contains("There is no theme");
    assertThat(wire.get("/api/themes").json().path("themes").toString()).contains("watch");
    assertThat(theme("pale", "colours: { soft: \"#999999\" }").status()).isEqualTo(422);
    assertThat(wire.get("/page/themes/pale.css").status()).isEqualTo(404);
  }

  /** Every page, refused and accepted too. */
  @Test
  void nothingBarsAnybodyInLightAndDark() {
    String record = "/forms/vessel/" + heron;
    for (String path :
        List.of(
            "/forms",
            "/sign-in",
            "/forms/nothing",
            "/forms/vessel",
            record,
            record + "/edit",
            "/forms/harbour/edit")) {
      browser.open(path);
      barNobody(path);
    }
    for (String form : List.of("berth", "vessel", "skipper", "visit", "incident")) {
      browser.openBound("/forms/" + form + "/new");
      barNobody(form);
      browser.find("button[type=submit]").click();
      browser.until("it was refused", () -> browser.find("[data-summary]").isDisplayed());
      barNobody(form + ", refused");
    }
    browser.openBound("/forms/incident/new");
    browser.type("#f-account", "A buoy drifts in the fairway.");
    browser.driver().executeScript("document.querySelector('#f-seen').value = '2026-01-02T03:04'");
    browser.find("#f-sort").sendKeys("Theft");
    browser.find("button[type=submit]").click();
    browser.until(
        "it was accepted",
        () ->
            browser.all("[data-working], .said").stream().anyMatch(it -> !it.getText().isEmpty()));
    barNobody("accepted");
  }

  private static void barNobody(String where) {
    scheme("light");
    assertThat(browser.barriers()).as(where).isEmpty();
    scheme("dark");
    assertThat(browser.paleness()).as(where + ", in the dark").isEmpty();
    scheme("light");
  }
}
