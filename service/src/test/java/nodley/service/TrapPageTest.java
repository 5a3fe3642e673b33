package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import tools.jackson.databind.JsonNode;

/** Programs that fill in every form they find, and people who never notice. */
class TrapPageTest {

  private static final Pattern OPENED = Pattern.compile("name=\"_opened\" value=\"([^\"]+)\"");

  private static final MovableClock CLOCK = new MovableClock(Instant.parse("2027-03-01T10:00:00Z"));

  private static RunningService service;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.at(CLOCK);
    stranger = service.stranger();
    publish("guestbook", "");
    publish("plain", "trap: false\n");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String more) {
    Wire.Reply published =
        service
            .wire()
            .publish(
                form,
                "form: "
                    + form
                    + "\n"
                    + more
                    + "access: { add: anyone }\nafter: { add: { say: \"Thank you, {name}.\" } }\n"
                    + "fields: { name: { type: text, required: true }, site: { type: url } }\n");
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
  }

  private static String opened(Wire by, String form) {
    Matcher opened = OPENED.matcher(by.get("/forms/" + form + "/new").response().body());
    return opened.find() ? opened.group(1) : "";
  }

  private static Wire.Reply send(String form, String body) {
    return stranger.post("/forms/" + form + "/new", Wire.FORM_TYPE, body);
  }

  private static int kept(String form) {
    return service.wire().get("/api/forms/" + form + "/records").json().path("records").size();
  }

  private static JsonNode trapped(String form) {
    return service.wire().get("/api/attempts?verdict=trapped&form=" + form).json().path("attempts");
  }

  /** What a caller is told of an answer, but for the values. */
  private static String told(Wire.Reply reply) {
    return reply.status()
        + " "
        + reply.header("Location")
        + " "
        + reply.header("Set-Cookie").replaceAll("=[^;]*", "=");
  }

  @Test
  void whatFillsInEveryFieldIsAnsweredAndNotKept() {
    String opened = opened(stranger, "guestbook");
    CLOCK.advance(Duration.ofMinutes(1));
    Wire.Reply person = send("guestbook", "name=Ann&_remarks=&_opened=" + opened);
    assertThat(person.status()).isEqualTo(303);
    int before = kept("guestbook");
    int trapped = trapped("guestbook").size();
    Wire.Reply program =
        send(
            "guestbook",
            "name=kestrel99&site=https%3A%2F%2Fx.example&_remarks=x&_opened=" + opened);
    assertThat(told(program)).isEqualTo(told(person));
    assertThat(kept("guestbook")).isEqualTo(before);
    assertThat(trapped("guestbook")).hasSizeGreaterThan(trapped);
    String id = trapped("guestbook").path(0).path("id").asString();
    assertThat(service.wire().get("/api/attempts/" + id).response().body())
        .contains("\"trapped\"")
        .doesNotContain("kestrel99");
    // Nor does it hear what was wrong.
    assertThat(told(send("guestbook", "_remarks=x&_opened=" + opened))).isEqualTo(told(person));
  }

  @Test
  void whatIsSentAtOnceIsNotKept() {
    String opened = opened(stranger, "guestbook");
    int before = kept("guestbook");
    assertThat(send("guestbook", "name=Fast&_opened=" + opened).status()).isEqualTo(303);
    // What could not be kept anyway is told, to people who press the button first.
    assertThat(send("guestbook", "name=&_opened=" + opened).status()).isEqualTo(422);
    CLOCK.advance(Duration.ofMillis(299));
    assertThat(send("guestbook", "name=Fast&_opened=" + opened).status()).isEqualTo(303);
    assertThat(kept("guestbook")).isEqualTo(before);
    CLOCK.advance(Duration.ofMillis(1));
    assertThat(send("guestbook", "name=Steady&_opened=" + opened).status()).isEqualTo(303);
    assertThat(kept("guestbook")).isEqualTo(before + 1);
    // A page may be open for days.
    CLOCK.advance(Duration.ofDays(9));
    assertThat(send("guestbook", "name=Slow&_opened=" + opened).status()).isEqualTo(303);
    assertThat(kept("guestbook")).isEqualTo(before + 2);
  }

  @Test
  void aTimeThatIsNotTheServicesOwnIsNoTime() {
    String opened = opened(stranger, "guestbook");
    CLOCK.advance(Duration.ofMinutes(1));
    int before = kept("guestbook");
    for (String wrong :
        new String[] {"x", "", opened + "A", "1772359200000", opened.substring(2)}) {
      assertThat(send("guestbook", "name=Forged&_opened=" + wrong).status()).isEqualTo(303);
    }
    assertThat(kept("guestbook")).isEqualTo(before);
    // What says nothing of it is no page of the service: a program of somebody's own, or a form.
    assertThat(send("guestbook", "name=Own").status()).isEqualTo(303);
    assertThat(stranger.add("guestbook", "{\"name\": \"Own\"}").status()).isEqualTo(201);
    assertThat(kept("guestbook")).isEqualTo(before + 2);
  }

  /** The page comes again with its errors; who mends them at once is not taken for a program. */
  @Test
  void aPageThatComesAgainHasBeenOpenBefore() {
    String opened = opened(stranger, "guestbook");
    CLOCK.advance(Duration.ofMinutes(1));
    Wire.Reply refused = send("guestbook", "name=&_opened=" + opened);
    assertThat(refused.status()).isEqualTo(422);
    Matcher again = OPENED.matcher(refused.response().body());
    assertThat(again.find()).isTrue();
    int before = kept("guestbook");
    assertThat(send("guestbook", "name=Mended&_opened=" + again.group(1)).status()).isEqualTo(303);
    assertThat(kept("guestbook")).isEqualTo(before + 1);
  }

  @Test
  void aFormMayDoWithout() {
    assertThat(stranger.get("/forms/plain/new").response().body())
        .doesNotContain("_remarks")
        .doesNotContain("_opened");
    int before = kept("plain");
    assertThat(send("plain", "name=Ann&_remarks=x&_opened=x").status()).isEqualTo(303);
    assertThat(kept("plain")).isEqualTo(before + 1);
  }

  @Test
  void whoIsKnownHasNone() {
    assertThat(service.wire().get("/forms/guestbook/new").response().body())
        .doesNotContain("_remarks");
    int before = kept("guestbook");
    assertThat(
            service
                .wire()
                .post("/forms/guestbook/new", Wire.FORM_TYPE, "name=Ann&_remarks=x")
                .status())
        .isEqualTo(303);
    assertThat(kept("guestbook")).isEqualTo(before + 1);
  }

  /** Those who see, who listen and who use the keyboard alone do not meet it. */
  @Test
  void nobodyMeetsIt() {
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/guestbook/new");
      assertThat(browser.barriers()).isEmpty();
      Set<String> reached = new HashSet<>();
      for (int tabs = 0; tabs < 20; tabs++) {
        browser.driver().switchTo().activeElement().sendKeys(Keys.TAB);
        reached.add(
            String.valueOf(browser.driver().switchTo().activeElement().getDomAttribute("name")));
      }
      assertThat(reached).contains("name", "site").doesNotContain("_remarks");
      By trap = By.name("_remarks");
      assertThat(browser.driver().findElement(trap).getAccessibleName()).isEmpty();
      assertThat(browser.driver().findElement(trap).getSize().getWidth()).isLessThan(400);
      // As the driver has it: what is clipped to nothing is not shown.
      assertThat(browser.find("main").getText()).doesNotContain("Leave this empty");

      // A program with a browser of its own, which fills in all that it finds.
      int before = kept("guestbook");
      int trapped = trapped("guestbook").size();
      browser.type("#f-name", "Filled");
      browser.driver().executeScript("document.querySelector('[name=_remarks]').value = 'x'");
      browser.driver().executeScript("window.onbeforeunload = null");
      browser.driver().executeScript("document.querySelector('form.nodley').requestSubmit()");
      browser.until("it is answered", () -> trapped("guestbook").size() > trapped);
      assertThat(kept("guestbook")).isEqualTo(before);
    }
  }
}
