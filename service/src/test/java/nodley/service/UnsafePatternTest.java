package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** A pattern that could hold a browser up is judged by the service alone. */
class UnsafePatternTest {

  private static final String FORM =
      """
      form: word
      access: { add: anyone }
      fields:
        word: { type: text, pattern: "([a-z]+)*" }
        code: { type: text, pattern: "[A-Z]+" }
      """;

  /** A browser that tried would be busy for longer than anybody waits. */
  private static final String HOLDING = "a".repeat(60) + "!";

  @Test
  void publishingWarnsThePageLeavesItAndTheServiceJudges() {
    try (RunningService service = RunningService.fresh();
        Browser browser = Browser.withScript(service.address())) {
      Wire wire = service.wire();
      JsonNode published = wire.publish("word", FORM).json();
      assertThat(published.path("warnings")).hasSize(1);
      JsonNode warning = published.path("warnings").path(0);
      assertThat(warning.path("pointer").asString()).isEqualTo("#/fields/word/pattern");
      assertThat(warning.path("code").asString()).isEqualTo("unsafe-pattern");
      assertThat(warning.path("detail").asString()).contains("keep a browser busy");

      JsonNode fields = wire.get("/api/forms/word").json().path("fields");
      assertThat(fields.path(0).has("pattern")).isFalse();
      assertThat(fields.path(0).path("onService").toString()).isEqualTo("[\"pattern\"]");
      assertThat(fields.path(1).has("pattern")).isTrue();
      assertThat(fields.path(1).has("onService")).isFalse();

      browser.openBound("/forms/word/new");
      browser.type("#f-word", HOLDING);
      browser.press("main button[type=submit]");
      browser.untilText("#f-word-error", "Word is not written in the expected way.");
      browser.type("#f-word", "abc");
      browser.press("main button[type=submit]");
      browser.untilText("main", "Word added.");
    }
  }
}
