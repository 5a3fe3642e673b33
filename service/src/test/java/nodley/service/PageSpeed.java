package nodley.service;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;

/**
 * Measures pages in Chromium, by what it tells itself: when a page can be used, and how long it is
 * from a key to what is painted (Event Timing, which counts in steps of 8 ms). See bench/page.
 */
public final class PageSpeed {

  private static final int FIELDS = 300;
  private static final int STEPS = 12;
  private static final int LOADS = 7;

  /** Notes when the form is bound, and each key that took 16 ms or more until it was painted. */
  private static final String NOTES =
      """
      new MutationObserver((_, it) => {
        if (document.querySelector('form[data-bound]')) {
          window.boundAt = performance.now();
          it.disconnect();
        }
      }).observe(document, { subtree: true, attributes: true, childList: true });
      window.painted = [];
      new PerformanceObserver((list) => list.getEntries().forEach((it) =>
        it.name === 'keydown' && window.painted.push(it.duration)))
        .observe({ type: 'event', durationThreshold: 16, buffered: true });
      """;

  private final Browser browser;

  private PageSpeed(Browser browser) {
    this.browser = browser;
  }

  public static void main(String[] args) {
    try (RunningService service = RunningService.fresh();
        Browser browser = Browser.withScript(service.address())) {
      service.wire().publishWholeDemo();
      service.wire().publish("wide", wide());
      service.wire().publish("long", inSteps(wide().replace("form: wide", "form: long")));
      browser
          .driver()
          .executeCdpCommand("Page.addScriptToEvaluateOnNewDocument", Map.of("source", NOTES));
      PageSpeed speed = new PageSpeed(browser);
      for (int times : List.of(1, 4)) {
        browser.driver().executeCdpCommand("Emulation.setCPUThrottlingRate", Map.of("rate", times));
        System.out.printf(
            Locale.ROOT,
            "processor / %d: visit can be used after %.0f ms; of %d fields after %.0f ms%n",
            times,
            speed.usable("/forms/visit/new"),
            FIELDS,
            speed.usable("/forms/wide/new"));
        speed.typing(times);
        System.out.printf(
            Locale.ROOT,
            "processor / %d: %d fields in %d steps: the first can be used after %.0f ms, the next"
                + " %.0f ms after the button%n",
            times,
            FIELDS,
            STEPS,
            speed.usable("/forms/long/new"),
            speed.stepping());
      }
    }
  }

  /** Texts, numbers and dates; every tenth is the sum of two others, every other tenth depends. */
  private static String wide() {
    StringBuilder form = new StringBuilder("form: wide\naccess: { add: anyone }\nfields:\n");
    for (int i = 0; i < FIELDS; i++) {
      String field =
          switch (i % 10) {
            case 4 -> "{ type: integer, range: 0..5000 }";
            case 5 -> "{ type: decimal, step: 0.01 }";
            case 6 -> "{ type: date }";
            case 7 -> "{ type: integer, compute: f%d + 1 }".formatted(i - 3);
            case 8 -> "{ type: choice, options: [a, b, c] }";
            case 9 -> "{ type: text, length: 2..60, shown: f%d > 0 }".formatted(i - 5);
            default -> "{ type: text, required: true, length: 2..60 }";
          };
      form.append("  f").append(i).append(": ").append(field).append('\n');
    }
    return form.toString();
  }

  /** The same fields in steps of equal length. */
  private static String inSteps(String form) {
    StringBuilder all = new StringBuilder(form + "steps:\n");
    for (int step = 0; step < STEPS; step++) {
      List<String> fields = new ArrayList<>();
      for (int i = step * FIELDS / STEPS; i < (step + 1) * FIELDS / STEPS; i++) {
        fields.add("f" + i);
      }
      all.append("  s").append(step).append(": { fields: ").append(fields).append(" }\n");
    }
    return all.toString().replace("required: true, ", "");
  }

  /** The median of what it takes from pressing Next until the next step has the focus. */
  private double stepping() {
    browser.openBound("/forms/long/new");
    List<Double> all = new ArrayList<>();
    for (int i = 1; i < STEPS; i++) {
      Object took =
          browser
              .driver()
              .executeAsyncScript(
                  "const [heading, done] = arguments, begin = performance.now();"
                      + " document.addEventListener('focusin', (event) => {"
                      + "   if (event.target.id === heading) requestAnimationFrame(() =>"
                      + "     setTimeout(() => done(performance.now() - begin))); });"
                      + " document.querySelector('.actions [name=_next]').click();",
                  "s-s" + i);
      all.add(((Number) took).doubleValue());
    }
    all.sort(null);
    return all.get(all.size() / 2);
  }

  /** The median of some loads, in milliseconds since the navigation began. */
  private double usable(String path) {
    List<Double> all = new ArrayList<>();
    for (int i = 0; i < LOADS; i++) {
      browser.openBound(path);
      all.add(((Number) browser.driver().executeScript("return window.boundAt")).doubleValue());
    }
    all.sort(null);
    return all.get(LOADS / 2);
  }

  private void typing(int times) {
    browser.openBound("/forms/wide/new");
    int keys = 0;
    for (int field : List.of(0, 4, 150, 154, 293)) {
      WebElement input = browser.driver().findElement(By.id("f-f" + field));
      if (input.getDomAttribute("type").equals("text")) {
        for (String key : "12345678".split("")) {
          input.sendKeys(key);
          keys++;
          // The next key comes when this one is painted: nobody types eight within a moment.
          browser
              .driver()
              .executeAsyncScript("requestAnimationFrame(() => setTimeout(arguments[0]))");
        }
      }
    }
    browser.driver().executeAsyncScript("setTimeout(arguments[0], 500)");
    @SuppressWarnings("unchecked")
    List<Number> slow =
        (List<Number>)
            browser.driver().executeScript("return window.painted.sort((a, b) => b - a)");
    System.out.printf(
        Locale.ROOT,
        "processor / %d: %d keys typed one by one into %d fields; until painted at most %s ms, %d"
            + " of them 16 ms or more%n",
        times,
        keys,
        FIELDS,
        slow.isEmpty() ? "15" : slow.getFirst().toString(),
        slow.size());
  }
}
