package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.chrome.ChromeDriver;

/** A page without script loses nothing that was typed: not to a sign-in, and not to others. */
class TypedValuesPageTest {

  private static final String WATCH =
      """
      form: watch
      title: Watch
      access: { add: clerk, see: clerk, edit: clerk, remove: clerk }
      fields:
        title: { type: text, required: true }
        note: { type: text, control: textarea }
        pin: { type: secret }
        hands:
          type: rows
          fields:
            name: { type: text }
            pin: { type: secret }
      """;

  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("watch", WATCH).status()).isEqualTo(201);
    browser = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static void endSessions() {
    service
        .wire()
        .get("/api/sessions")
        .json()
        .path("sessions")
        .forEach(it -> service.wire().delete("/api/sessions/" + it.path("id").asString()));
  }

  private static String add(String title) {
    return service
        .wire()
        .add("watch", "{\"title\": \"" + title + "\", \"hands\": [{\"name\": \"Ann\"}]}")
        .json()
        .path("id")
        .asString();
  }

  /** The session ends while a page is open; its sender signs in beside it and goes on. */
  @Test
  void whoHasToSignInFirstGoesOnFromThere() {
    browser.signIn(RunningService.KEY);
    browser.open("/forms/watch/new?lang=en");
    browser.type("#f-title", "First <watch> & \"dog\"");
    browser.type("#f-note", "one\ntwo");
    browser.type("#f-pin", "seven grey seals");
    browser.go(By.cssSelector("button[name=_more]"));
    browser.type("[name='hands[0].name']", "Tide");
    browser.type("[name='hands[0].pin']", "eight grey seals");
    endSessions();
    browser.go(By.cssSelector("form.nodley .actions button"));
    assertThat(browser.text("h1")).isEqualTo("Sign in");
    assertThat(browser.text("main")).contains("what you typed is still here, passwords aside.");
    assertThat(browser.driver().getPageSource()).doesNotContain("grey seals");
    assertThat(browser.barriers()).isEmpty();

    ChromeDriver driver = browser.driver();
    String before = driver.getWindowHandle();
    driver.findElement(By.linkText("Sign in (in a new tab)")).click();
    browser.until("the new tab", () -> driver.getWindowHandles().size() == 2);
    Set<String> tabs = driver.getWindowHandles();
    driver.switchTo().window(tabs.stream().filter(it -> !it.equals(before)).findFirst().get());
    browser.type("#key", RunningService.KEY);
    browser.go(By.cssSelector("form:has(#key) button"));
    assertThat(browser.path()).isEqualTo("/account");
    driver.close();
    driver.switchTo().window(before);

    browser.go(By.cssSelector("button[name=_again]"));
    assertThat(browser.path()).startsWith("/forms/watch/new");
    assertThat(browser.valueOf("#f-title")).isEqualTo("First <watch> & \"dog\"");
    assertThat(browser.valueOf("#f-note")).isEqualTo("one\ntwo");
    assertThat(browser.valueOf("#f-pin")).isEmpty();
    assertThat(browser.valueOf("[name='hands[0].name']")).isEqualTo("Tide");
    browser.go(By.cssSelector("form.nodley .actions button"));
    String kept = service.wire().get("/api/forms/watch/records?q=first").response().body();
    assertThat(kept).contains("one\\ntwo", "Tide");
    endSessions();
  }

  /** A button that adds a row does not make what somebody else saved meanwhile disappear. */
  @Test
  void aRowMoreStillBeginsFromTheVersionThatWasOpened() {
    String id = add("Second");
    browser.signIn(RunningService.KEY);
    browser.open("/forms/watch/" + id + "/edit");
    browser.type("#f-note", "mine");
    service
        .wire()
        .patch(
            "/api/forms/watch/records/" + id,
            Wire.JSON_TYPE,
            "{\"title\": \"Theirs\"}",
            "If-Match",
            "\"1\"");
    browser.go(By.cssSelector("button[name=_more]"));
    browser.type("[name='hands[1].name']", "Bo");
    browser.go(By.cssSelector("form.nodley .actions button"));
    // A form with secrets is not merged unasked.
    assertThat(browser.text(".conflict")).contains("Somebody else saved");
    assertThat(browser.valueOf("#f-title")).isEqualTo("Theirs");
    browser.go(By.cssSelector("form.nodley .actions button"));
    String kept = service.wire().get("/api/forms/watch/records/" + id).response().body();
    assertThat(kept).contains("\"Theirs\"", "\"mine\"", "\"Bo\"");
    endSessions();
  }

  @Test
  void whatIsNotOfAFormIsNotSentBack() {
    Wire stranger = service.stranger();
    Wire.Reply page =
        stranger.post(
            "/forms/watch/new", Wire.FORM_TYPE, "title=a%22b&_again=1&pin=p1&hands%5B0%5D.pin=p2");
    assertThat(page.status()).isEqualTo(401);
    assertThat(page.response().body())
        .contains("name=\"title\" value=\"a&quot;b\"")
        .doesNotContain("p1", "p2", "name=\"_again\" value=\"1\"");
    for (String body : List.of("title=%ff", "title=%", "a=1&".repeat(30_000))) {
      assertThat(stranger.post("/forms/watch/new", Wire.FORM_TYPE, body).response().body())
          .doesNotContain("type=\"hidden\"");
    }
    String large = "title=" + "x".repeat(300_000);
    assertThat(stranger.post("/forms/watch/new", Wire.FORM_TYPE, large).response().body())
        .hasSizeLessThan(20_000)
        .contains("<h1>Sign in</h1>");
    assertThat(stranger.post("/forms/none/new", Wire.FORM_TYPE, "title=x").response().body())
        .doesNotContain("type=\"hidden\"");
    assertThat(stranger.post("/forms/watch/new", Wire.JSON_TYPE, "{\"title\": \"x\"}").status())
        .isEqualTo(401);
  }

  /**
   * What does not fit into a page is left out; why nothing came of the form is told all the same.
   */
  @Test
  void whatWouldMakeThePageTooLargeIsLeftOut() {
    try (RunningService small = RunningService.with("nodley.limits.page.size: 100KB")) {
      assertThat(small.wire().publish("watch", WATCH).status()).isEqualTo(201);
      Wire stranger = small.stranger();
      String fits = "title=" + "'".repeat(5_000);
      assertThat(stranger.post("/forms/watch/new", Wire.FORM_TYPE, fits).response().body())
          .contains("&#39;&#39;", "name=\"_again\"");
      Wire.Reply page =
          stranger.post("/forms/watch/new", Wire.FORM_TYPE, "title=" + "'".repeat(50_000));
      assertThat(page.status()).isEqualTo(401);
      assertThat(page.response().body())
          .contains("<h1>Sign in</h1>")
          .doesNotContain("&#39;&#39;", "name=\"_again\"");
    }
  }
}
