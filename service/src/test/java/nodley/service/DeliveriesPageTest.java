package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import tools.jackson.databind.JsonNode;

/** The console's view of deliveries, for operators. */
class DeliveriesPageTest {

  private static Receiver receiver;
  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    receiver = new Receiver();
    service =
        RunningService.with(
            "nodley.outlets.office: { url: \"%s\", private: true }".formatted(receiver.url("/")),
            "nodley.outlets.archive: { url: \"%s\", private: true }".formatted(receiver.url("/a")),
            "nodley.deliveries: { first-wait: 20ms, give-up: 100ms }");
    service
        .wire()
        .publish(
            "landing",
            "form: landing\nfields: { vessel: { type: text } }\ndeliver: [{ to: office }]\n");
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
    receiver.close();
  }

  @Test
  void aFormThatKeepsNothingSaysThankYou() {
    receiver.answers(200);
    assertThat(
            service
                .wire()
                .publish(
                    "letter",
                    "form: letter\nrecords: none\naccess: { add: anyone }\n"
                        + "fields: { name: { type: text, required: true } }\n"
                        + "deliver: [{ to: archive }]\nafter: { add: { say: Thank you. } }\n")
                .status())
        .isEqualTo(201);
    try (Browser plain = Browser.withoutScript(service.address())) {
      for (Browser each : List.of(browser, plain)) {
        each.open("/forms/letter/new");
        each.type("#f-name", "Ann");
        each.press("form .actions button[type=submit]");
        each.untilText("main", "Thank you.");
        assertThat(each.path()).isEqualTo("/forms/letter/new");
        assertThat(each.valueOf("#f-name")).isEmpty();
        assertThat(each.barriers()).isEmpty();
      }
    }
    browser.until(
        "both have come",
        () ->
            receiver.came("/a").stream()
                    .filter(
                        it ->
                            it.json().path("type").asString().equals("nodley.submission.accepted"))
                    .count()
                == 2);
  }

  private static String text(String region) {
    return browser.text("[role=region][aria-label=" + region + "]");
  }

  private static void press(String region, String words) {
    browser
        .find("[role=region][aria-label=" + region + "]")
        .findElement(By.xpath(".//button[contains(., '" + words + "')]"))
        .click();
  }

  @Test
  void anOperatorSeesWhatFailedAndSendsItAgain() {
    receiver.answers(500);
    service.wire().add("landing", "{\"vessel\":\"<b>Petrel</b>\"}");
    browser.until(
        "it has failed",
        () ->
            service.wire().get("/api/deliveries?state=failed").json().path("deliveries").size()
                == 1);
    browser.signIn(RunningService.KEY);
    browser.open("/console/deliveries?state=failed");
    browser.until("it is listed", () -> text("Deliveries").contains("answered 500"));
    assertThat(text("Outlets")).contains("office", "archive");
    assertThat(browser.driver().getTitle()).startsWith("Deliveries");
    assertThat(browser.barriers()).isEmpty();
    receiver.answers(200);
    press("Deliveries", "Send again");
    browser.until("it has gone", () -> text("Deliveries").contains("There is no such delivery."));
    JsonNode sent =
        service.wire().get("/api/deliveries?state=delivered").json().path("deliveries").get(0);
    assertThat(sent.path("answer").asString()).isEqualTo("answered 200");

    press("Outlets", "Switch off");
    browser.until("it is off", () -> text("Outlets").contains("Off: switched off by"));
    assertThat(browser.barriers()).isEmpty();
    press("Outlets", "Switch on");
    browser.until("all are on", () -> !text("Outlets").contains("Off:"));
    press("Outlets", "Send a sample");
    browser.until(
        "the sample has come",
        () ->
            receiver.came().stream()
                .anyMatch(it -> it.json().path("type").asString().equals("nodley.sample")));
  }
}
