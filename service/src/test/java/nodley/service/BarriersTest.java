package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;

/** That what tests ask of axe-core can be answered otherwise than by nothing. */
class BarriersTest {

  private static final String GREY = "<p><font color=\"#cccccc\">Grey on white</font></p>";

  @Test
  void whatIsWrongWithAPageIsFoundInFramesToo() {
    try (RunningService service = RunningService.fresh();
        Browser browser = Browser.withScript(service.address())) {
      browser.open("/sign-in");
      assertThat(browser.barriers()).isEmpty();
      add(browser, "<img src=\"/page/nodley.svg\">" + GREY);
      assertThat(browser.barriers())
          .anyMatch(it -> it.startsWith("image-alt: "))
          .anyMatch(it -> it.startsWith("color-contrast: ") && it.contains("Grey on white"));
      assertThat(browser.paleness()).singleElement().asString().startsWith("color-contrast: ");

      browser.open("/sign-in");
      add(browser, "<iframe title=\"A form\" srcdoc='" + GREY + "'></iframe>");
      browser.until(
          "the frame is there",
          () ->
              (boolean)
                  browser
                      .driver()
                      .executeScript(
                          "return !!document.querySelector('iframe').contentDocument"
                              + "?.querySelector('font')"));
      assertThat(browser.paleness()).singleElement().asString().startsWith("color-contrast: ");
    }
  }

  private static void add(Browser browser, String html) {
    browser
        .driver()
        .executeScript(
            "document.querySelector('main').insertAdjacentHTML('beforeend', arguments[0])", html);
  }
}
