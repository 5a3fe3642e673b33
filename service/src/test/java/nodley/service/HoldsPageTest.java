package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Two people choose the same name at once: the first to hear that it is free has it. */
class HoldsPageTest {

  private static RunningService service;
  private static Browser ann;
  private static Browser bob;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    Wire.Reply published =
        service
            .wire()
            .publish(
                "club",
                """
                form: club
                access: { add: anyone, see: anyone, edit: anyone }
                fields: { name: { type: text, required: true, unique: { hold: true } } }
                """);
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    ann = Browser.withScript(service.address());
    bob = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    ann.close();
    bob.close();
    service.close();
  }

  private static void ask(Browser browser, String name) {
    browser.type("#f-name", name);
    browser.leave();
  }

  private static JsonNode holds() {
    return service.wire().get("/api/holds").json().path("holds");
  }

  @Test
  void aNameThatOneWasToldIsFreeIsHeldUntilSentOrLeft() {
    ann.openBound("/forms/club/new");
    ask(ann, "Terns");
    ann.untilText("[data-field=name] .state", "free");
    bob.openBound("/forms/club/new");
    ask(bob, "Terns");
    bob.until("it is held", () -> bob.errorOf("name").contains("being registered right now"));
    // Leaving the page lets go of it.
    ann.open("/forms");
    ann.until("nothing is held", () -> holds().isEmpty());
    ask(bob, "Ternss");
    ask(bob, "Terns");
    bob.untilText("[data-field=name] .state", "free");
    assertThat(holds()).hasSize(1);
    // Coming back to the page as it was left, by the browser's own button, holds nothing of Bob's.
    ann.driver().navigate().back();
    ann.find("form[data-bound=true]");
    ask(ann, "Tern");
    ask(ann, "Terns");
    ann.until("it is held", () -> ann.errorOf("name").contains("being registered right now"));
    bob.find("form.nodley .actions button[type=submit]").click();
    bob.until("it is kept", () -> !bob.path().endsWith("/new"));
    ask(ann, "Gulls");
    ann.untilText("[data-field=name] .state", "free");
    ann.find("form.nodley .actions button[type=submit]").click();
    ann.until("it is kept", () -> !ann.path().endsWith("/new"));
    assertThat(holds()).isEmpty();
  }
}
