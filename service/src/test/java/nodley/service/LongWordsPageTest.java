package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Words without an end, in every place: nothing scrolls sideways, and every control can be used.
 */
class LongWordsPageTest {

  private static final String LONG =
      "Donaudampfschifffahrtselektrizitätenhauptbetriebswerkbauunterbeamtengesellschaft";

  /** The characters that a control shows at least. */
  private static final int LEAST = 8;

  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    for (String layout : List.of("stacked", "side", "columns", "inline")) {
      String form =
          """
          form: LAYOUT
          layout: LAYOUT
          title: { add: LONG, list: LONG, edit: "{name}" }
          intro: LONG
          called: "{name}"
          access: { add: anyone, see: anyone, edit: anyone }
          fields:
            name: { type: text, label: LONG, help: LONG, required: true, say: { value-missing: "LONG LONG" } }
            site: { type: url, label: Site }
            length: { type: decimal, label: LONG, unit: LONG, required: true }
            rig: { type: choice, label: LONG, options: { a: LONG, b: Short } }
            kind: { type: choice, label: LONG, control: select, options: { a: LONG, b: Short } }
            with: { type: choices, label: LONG, options: { a: LONG, b: LONG } }
            sure: { type: boolean, label: LONG, required: true }
            sum: { type: decimal, compute: length * 2, unit: LONG }
            place: { type: group, label: LONG, fields: { town: { type: text, label: LONG, required: true } } }
            crew: { type: rows, label: LONG, add: LONG, count: 1.., fields: { who: { type: text, label: LONG, required: true }, age: { type: integer, label: LONG, unit: LONG } } }
          """
              .replace("LAYOUT", layout)
              .replace("LONG", LONG);
      Wire.Reply published = service.wire().publish(layout, form);
      assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    }
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static void screen(int width) {
    browser
        .driver()
        .executeCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            Map.of("width", width, "height", 800, "deviceScaleFactor", 1, "mobile", false));
  }

  private static void nothingScrollsSideways(String where) {
    Object wide =
        browser
            .driver()
            .executeScript(
                """
                const width = document.documentElement.clientWidth;
                return [...document.querySelectorAll('body *')]
                  .filter((it) => it.getBoundingClientRect().right > width + 1
                    && it.checkVisibility() && !it.closest('.scroll, .unseen, .skip'))
                  .map((it) => it.outerHTML.slice(0, 120));
                """);
    assertThat((List<?>) wide).as(where + ", what is wider than the page").isEmpty();
    Object narrow =
        browser
            .driver()
            .executeScript(
                """
                return [...document.querySelectorAll('.control > :is(input, select, textarea)')]
                  .filter((it) => it.checkVisibility())
                  .filter((it) => it.clientWidth < arguments[0] * 8)
                  .map((it) => `${it.name} ${it.clientWidth}`);
                """,
                LEAST);
    assertThat((List<?>) narrow).as(where + ", controls that are too narrow").isEmpty();
  }

  @ParameterizedTest
  @ValueSource(strings = {"stacked", "side", "columns", "inline"})
  void nothingIsWiderThanTheScreen(String layout) {
    String id =
        service
            .wire()
            .add(
                layout,
                "{\"name\":\"NAME\",\"length\":2,\"sure\":true,\"place\":{\"town\":\"NAME\"},\"crew\":[{\"who\":\"NAME\"}]}"
                    .replace("NAME", LONG))
            .json()
            .path("id")
            .asString();
    for (int width : List.of(360, 1280)) {
      screen(width);
      browser.openBound("/forms/" + layout + "/new");
      nothingScrollsSideways("the form at " + width);
      browser.type("#f-site", "x".repeat(80));
      browser.find("form.nodley .actions button[type=submit]").click();
      browser.until("it is refused", () -> !browser.errorOf("name").isEmpty());
      nothingScrollsSideways("refused at " + width);
      for (String page : List.of("/forms", "/forms/" + layout, "/forms/" + layout + "/" + id)) {
        browser.open(page);
        browser.find("main");
        nothingScrollsSideways(page + " at " + width);
      }
    }
  }
}
