package nodley.service.console;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import nodley.service.Browser;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.openqa.selenium.Keys;

/**
 * Measures the console in Chromium with much of everything: 200 forms, 100 000 records, 300 fields,
 * 50 revisions. See bench/console.
 */
public final class ConsoleSpeed {

  private static final int FORMS = 200;
  private static final int FIELDS = 300;
  private static final int REVISIONS = 50;
  private static final int RECORDS = 100_000;
  private static final int THREADS = 16;
  private static final int ROUNDS = 5;

  private static final String ROWS =
      "[...document.querySelectorAll('main tbody tr.ant-table-row')]";

  private final Browser browser;

  private ConsoleSpeed(Browser browser) {
    this.browser = browser;
  }

  public static void main(String[] args) throws Exception {
    try (RunningService service = RunningService.fresh()) {
      fill(service.wire());
      try (Browser browser = Browser.withScript(service.address())) {
        browser.open("/console");
        browser.find("#key").sendKeys(RunningService.KEY);
        browser.find("form:has(#key) button[type=submit]").click();
        browser.untilText("h1", "Forms");
        var speed = new ConsoleSpeed(browser);
        for (int times : List.of(1, 4)) {
          browser
              .driver()
              .executeCdpCommand("Emulation.setCPUThrottlingRate", Map.of("rate", times));
          speed.measure("processor / " + times);
        }
      }
    }
  }

  private void measure(String where) {
    tell(where, "first view with " + FORMS + " forms", this::firstView);
    tell(where, "list of " + RECORDS + " records", this::list);
    tell(where, "a filter's answer drawn", this::filter);
    tell(where, "sorted by a number", this::sort);
    tell(where, "a record opened", this::record);
    tell(where, "list of a form with " + FIELDS + " fields", this::wide);
    tell(where, "choice of " + FIELDS + " columns opened", this::columns);
    tell(where, "editor with " + FIELDS + " fields there", this::editor);
    tell(where, "an error told, after the key", this::lint);
    tell(where, REVISIONS + " revisions, one beside today's", this::revisions);
  }

  private interface Measured {
    double milliseconds();
  }

  private static void tell(String where, String what, Measured measured) {
    List<Double> all = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      all.add(measured.milliseconds());
    }
    all.sort(null);
    System.out.printf(
        Locale.ROOT,
        "%s: %-44s %6.0f ms (%.0f to %.0f)%n",
        where,
        what,
        all.get(ROUNDS / 2),
        all.getFirst(),
        all.getLast());
  }

  /** From the beginning of a navigation until something is there, in milliseconds. */
  private double loaded(String path, String there) {
    browser.open(path);
    return until("", there);
  }

  /**
   * Does something, and waits until something else is so and painted; milliseconds from the one to
   * the other.
   */
  private double until(String act, String there) {
    String script =
        """
        const done = arguments[0];
        const begin = %s;
        %s;
        const look = () => (%s)
          ? requestAnimationFrame(() => setTimeout(() => done(performance.now() - begin)))
          : setTimeout(look, 4);
        look();
        """
            .formatted(act.isEmpty() ? "0" : "performance.now()", act, there);
    return ((Number) browser.driver().executeAsyncScript(script)).doubleValue();
  }

  private double firstView() {
    return loaded("/console", "document.querySelectorAll('main tbody tr').length > 190");
  }

  private double list() {
    return loaded("/console/forms/many", ROWS + ".length > 9");
  }

  private double filter() {
    loaded("/console/forms/many?where=depth%20%3D%208", allAre(8));
    browser.type("#where", "depth = 7 and code < \"B500\"");
    return until(
        "document.querySelector('#where').dispatchEvent(new KeyboardEvent('keydown',"
            + " { key: 'Enter', code: 'Enter', keyCode: 13, bubbles: true }))",
        allAre(7));
  }

  private static String allAre(int depth) {
    return "%s.length > 0 && %s.every((it) => /\\b%d m\\b/.test(it.innerText))"
        .formatted(ROWS, ROWS, depth);
  }

  private double sort() {
    list();
    String first = "document.querySelector('main tbody tr.ant-table-row')?.innerText";
    return until(
        "window.before = "
            + first
            + "; [...document.querySelectorAll('thead th')]"
            + ".find((it) => it.innerText.includes('Depth')).click()",
        first + " && " + first + " !== window.before");
  }

  private double record() {
    list();
    return until(
        "document.querySelector('main tbody tr.ant-table-row a, main tbody tr.ant-table-row"
            + " button').click()",
        "document.querySelector('#field-code')");
  }

  private double wide() {
    return loaded("/console/forms/wide", "document.querySelector('main table')");
  }

  private double columns() {
    wide();
    return until(
        "[...document.querySelectorAll('button')].find((it) => it.innerText === 'Columns').click()",
        "document.querySelectorAll('.columns label').length >= " + FIELDS);
  }

  private double editor() {
    return loaded("/console/forms/wide/file", "document.querySelector('.cm-content')");
  }

  private double lint() {
    editor();
    browser.untilText("main", "This is what is published.");
    browser.find(".cm-content").click();
    browser.find(".cm-content").sendKeys(Keys.chord(Keys.CONTROL, Keys.HOME));
    return until(
        "document.execCommand('insertText', false, 'x')",
        "document.querySelector('main').innerText.includes('Errors: ')");
  }

  private double revisions() {
    editor();
    return until(
        "[...document.querySelectorAll('button')].find((it) => it.innerText ==="
            + " 'Revisions').click()",
        "document.querySelectorAll('.cm-mergeView .cm-content').length === 2");
  }

  private static void fill(Wire wire) throws Exception {
    for (int i = 0; i < FORMS - 2; i++) {
      publish(wire, "form" + i, "form: form%d\nfields: { a: { type: text } }\n".formatted(i));
    }
    for (int i = 0; i < REVISIONS; i++) {
      publish(wire, "wide", wide(i));
    }
    publish(
        wire,
        "many",
        """
        form: many
        fields:
          code: { type: text, required: true }
          depth: { type: integer, unit: m }
          kind: { type: choice, options: [fixed, float, dry] }
        """);
    try (ExecutorService threads = Executors.newFixedThreadPool(THREADS)) {
      List<Future<?>> all = new ArrayList<>();
      for (int thread = 0; thread < THREADS; thread++) {
        int first = thread;
        all.add(
            threads.submit(
                () -> {
                  for (int i = first; i < RECORDS; i += THREADS) {
                    String json =
                        "{\"code\": \"B%d\", \"depth\": %d, \"kind\": \"float\"}"
                            .formatted(i, i % 97);
                    assertThat(wire.add("many", json).status()).isEqualTo(201);
                  }
                }));
      }
      for (Future<?> each : all) {
        each.get();
      }
    }
  }

  private static void publish(Wire wire, String name, String text) {
    Wire.Reply reply = wire.publish(name, text);
    assertThat(reply.status()).as(reply.response().body()).isIn(200, 201);
  }

  private static String wide(int revision) {
    StringBuilder form = new StringBuilder("form: wide\nfields:\n");
    for (int i = 0; i < FIELDS; i++) {
      form.append(
          "  f%d: { type: text, label: Field %d of %d, length: 2..60 }\n"
              .formatted(i, i, revision));
    }
    return form.toString();
  }
}
