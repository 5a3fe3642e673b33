package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import nodley.service.standin.StandIns;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;

/** The demo's form for visitors, with the register, the almanac and the outbox that it begins. */
class StandInsPageTest {

  @TempDir private static Path folder;

  /** Not where the service is, whose port nobody knows before it is there. */
  private static final String LINKS = "http://127.0.0.1:1";

  private static StandIns standIns;
  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() throws IOException {
    standIns = new StandIns(Files.createDirectory(folder.resolve("stand-ins")));
    service = RunningService.with("nodley:\n" + standIns.settings(LINKS));
    String visitor = Files.readString(Repository.file("demo/outside/visitor.form.yaml"));
    assertThat(service.wire().publish("visitor", visitor).status()).isEqualTo(201);
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
    standIns.close();
  }

  @Test
  void theRegisterFillsInThePortIsFoundAndTheMailGoes() {
    browser.open("/forms/visitor/new?lang=de");
    browser.type("#f-callSign", "px 4tn");
    browser.leave();
    browser.untilValue("#f-name", "Second Wind");
    browser.untilValue("#f-length", "13,2");
    assertThat(browser.valueOf("#f-flag")).isEqualTo("nl");
    browser.choose("#f-from", "La Ro");
    browser.type("#f-email", "Ann@Quay.example");
    assertThat(browser.barriers()).isEmpty();
    browser.press("form .actions button[type=submit]");
    browser.untilText("main", "Second Wind is registered; a mail is on its way.");
    browser.until("the mail is there", () -> outbox().contains("Second Wind at Marrow Quay"));
    assertThat(outbox())
        .contains("ann@quay.example", "office@marrow-quay.example", "Second Wind (PX4TN)")
        .contains("ist als Gast in Marrow Quay angemeldet");
    browser.until("the link is there", () -> outbox().contains("/confirm-address?lang"));
    browser.driver().get(standIns.outbox());
    assertThat(browser.barriers()).isEmpty();
    String link =
        browser.driver().findElement(By.partialLinkText("/confirm-address")).getAttribute("href");
    assertThat(link).startsWith(LINKS);
    browser.open(link.substring(LINKS.length()));
    assertThat(browser.barriers()).isEmpty();
    browser.press("main button[type=submit]");
    browser.untilText("main", "Die Adresse ist bestätigt.");
    assertThat(browser.barriers()).isEmpty();
    assertThat(
            service
                .wire()
                .get("/api/forms/visitor/records?where=not%20(confirmedAt%20is%20blank)")
                .json()
                .path("records"))
        .hasSize(1);
  }

  private static String outbox() {
    browser.driver().get(standIns.outbox());
    return browser.text("main");
  }

  @Test
  void aPortThatIsClosedIsNotOfferedAndAVesselStruckOffIsRefused() {
    assertThat(
            service.wire().get("/api/forms/visitor/options/from?q=marrow").json().path("options"))
        .isEmpty();
    assertThat(
            service
                .wire()
                .check("visitor", "?fields=callSign", "{\"callSign\":\"PX1ZZ\"}")
                .json()
                .at("/errors/0/detail")
                .asString())
        .isEqualTo("PX1ZZ was struck off the register in 2019.");
    // Another flag than the register has.
    assertThat(
            service
                .wire()
                .check("visitor", "", "{\"callSign\":\"PX2LK\",\"flag\":\"pt\"}")
                .json()
                .at("/errors/0/pointer")
                .asString())
        .isEqualTo("#/flag");
  }
}
