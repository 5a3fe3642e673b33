package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** A page says that somebody is asked, and fills in what they propose, for review. */
class AsksPageTest {

  private static final String VESSEL =
      """
      form: vessel
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        sign:
          type: text
          tidy: [upper]
          ask: { of: register }
          say: { filled: From the register., asking: Looking it up… }
        length: { type: decimal, range: 1..80, unit: m }
        flag: { type: choice, control: radio, options: [pt, de], default: pt }
        owner: { type: group, fields: { name: { type: text } } }
      """;

  private static Receiver register;
  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    register = new Receiver();
    service =
        RunningService.with(
            "nodley.asks.register: { url: \"%s\", private: true }".formatted(register.url("/")));
    assertThat(service.wire().publish("vessel", VESSEL).status()).isEqualTo(201);
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
    register.close();
  }

  @BeforeEach
  void knowTwo() {
    register.answers(
        came ->
            Receiver.Answer.json(
                switch (came.json().path("values").path("sign").asString()) {
                  case "MQ7AB" ->
                      "{\"fill\":{\"length\":11.4,\"flag\":\"de\",\"owner\":{\"name\":\"Ann\"}}}";
                  case "LONG" -> "{\"fill\":{\"length\":99}}";
                  case "BAD" -> "{\"errors\":[{\"detail\":\"It was sold for scrap.\"}]}";
                  default -> "{}";
                }));
  }

  /** What a screen reader says of a control after its label. */
  private static String describedBy(String id) {
    return (String)
        browser
            .driver()
            .executeScript(
                "return document.getElementById(arguments[0]).getAttribute('aria-describedby')"
                    + ".split(' ').map(it => document.getElementById(it)?.textContent).join(' ')",
                id);
  }

  private static void call(String sign) {
    browser.type("#f-sign", sign);
    browser.leave();
  }

  @Test
  void whatIsKnownIsFilledInAndSaysWhereItIsFrom() {
    browser.open("/forms/vessel/new");
    call("mq7ab");
    browser.untilValue("#f-length", "11.4");
    assertThat(browser.valueOf("[name='owner.name']")).isEqualTo("Ann");
    assertThat(browser.valueOf("[name=flag]:checked")).isEqualTo("de");
    browser.untilText("main", "From the register.");
    assertThat(describedBy("f-length")).contains("From the register.");
    assertThat(browser.barriers()).isEmpty();
    // Another vessel is not as long as the first; whoever knows nothing proposes nothing.
    call("mq7ac");
    browser.untilValue("#f-length", "");
    assertThat(browser.text("main")).doesNotContain("From the register.");
  }

  @Test
  void whatAPersonTypedStays() {
    browser.open("/forms/vessel/new");
    browser.type("#f-length", "9.5");
    call("MQ7AB");
    browser.untilValue("[name='owner.name']", "Ann");
    assertThat(browser.valueOf("#f-length")).isEqualTo("9.5");
    browser.type("[name='owner.name']", "Ann Bo");
    call("MQ7AC");
    browser.until("the default is back", () -> browser.valueOf("[name=flag]:checked").equals("pt"));
    browser.press("form .actions button[type=submit]");
    browser.untilText("main", "Ann Bo");
    assertThat(browser.text("main")).contains("9.5 m").contains("pt");
  }

  @Test
  void anEditFillsInOnlyWhatIsBlank() {
    String id =
        service
            .wire()
            .add("vessel", "{\"sign\":\"OLD\",\"length\":7,\"flag\":\"pt\"}")
            .json()
            .path("id")
            .asString();
    browser.open("/forms/vessel/" + id + "/edit");
    call("MQ7AB");
    browser.untilValue("[name='owner.name']", "Ann");
    assertThat(browser.valueOf("#f-length")).isEqualTo("7");
    assertThat(browser.valueOf("[name=flag]:checked")).isEqualTo("pt");
  }

  @Test
  void aProposalIsJudgedLikeAnythingTyped() {
    browser.open("/forms/vessel/new");
    call("LONG");
    browser.untilValue("#f-length", "99");
    browser.untilText("#f-length-error", "80");
  }

  @Test
  void whatIsAskedIsSaidAndThePageIsNotHeldUp() throws InterruptedException {
    CountDownLatch asked = new CountDownLatch(1);
    register.answers(
        _ -> {
          try {
            assertThat(asked.await(30, TimeUnit.SECONDS)).isTrue();
          } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
          }
          return Receiver.Answer.of(200);
        });
    browser.open("/forms/vessel/new");
    call("MQ7AX");
    browser.untilText("main", "Looking it up…");
    browser.type("#f-length", "9");
    browser.untilText("main", "Nobody could be asked about MQ7AX.");
    asked.countDown();
  }

  @Test
  void whatStandsAgainstItIsSaidAtTheField() {
    browser.open("/forms/vessel/new");
    call("BAD");
    browser.untilText("#f-sign-error", "It was sold for scrap.");
    // Without script, at submission.
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/vessel/new");
      plain.type("#f-sign", "BAD");
      plain.press("form .actions button[type=submit]");
      plain.untilText("#f-sign-error", "It was sold for scrap.");
    }
  }
}
