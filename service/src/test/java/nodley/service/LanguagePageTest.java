package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** Numbers and dates as a person's language writes them; on the wire always in standard form. */
class LanguagePageTest {

  private static RunningService service;
  private static Wire wire;
  private static Browser scripted;
  private static Browser plain;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.publish(
        "measure",
        """
        form: measure
        trap: false
        access: { add: anyone, see: anyone, edit: anyone }
        after: { add: { go: record } }
        fields:
          length: { type: decimal, unit: m, range: ..1000000 }
          double: { type: decimal, compute: length * 2 }
          due: { type: date, compute: 'date("2027-03-01") + 1' }
          rows: { type: rows, fields: { share: { type: decimal } } }
        """);
    scripted = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    scripted.close();
    plain.close();
    service.close();
  }

  private static Browser open(boolean script, String path) {
    return script ? scripted.openBound(path) : plain.open(path);
  }

  private static JsonNode kept(Browser browser) {
    browser.until(
        "it is kept", () -> browser.path().matches("/forms/measure/[0-9a-f-]{36}\\?lang=.+"));
    return wire.get("/api" + browser.path().replace("measure/", "measure/records/"))
        .json()
        .path("values");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        // With script, language, typed, kept, as it is read, and to be typed over.
        "true|de|1.234,5|1234.5|1.234,5 m|1234,5",
        "false|de|1.234,5|1234.5|1.234,5 m|1234,5",
        "true|de|61,25|61.25|61,25 m|61,25",
        "false|es|12.345,5|12345.5|12.345,5 m|12345,5",
        "true|es|1.5|1.5|1,5 m|1,5",
        "false|de|1.500|1500|1.500 m|1500",
        "true|en|1234.5|1234.5|1234.5 m|1234.5",
      })
  void aNumberIsTypedAndReadInTheLanguage(
      boolean script, String language, String typed, String kept, String read, String again) {
    Browser browser = open(script, "/forms/measure/new?lang=" + language);
    browser.type("#f-length", typed);
    browser.type("[name='rows[0].share']", typed);
    browser.press("main button[type=submit]");
    JsonNode values = kept(browser);
    assertThat(values.path("length").decimalValue()).isEqualByComparingTo(kept);
    assertThat(values.path("rows").path(0).path("share").decimalValue()).isEqualByComparingTo(kept);
    String record = browser.path().replaceFirst("\\?.*", "");
    browser.open(record + "?lang=" + language);
    assertThat(browser.text("main")).contains(read);
    open(script, record + "/edit?lang=" + language);
    assertThat(browser.valueOf("#f-length")).isEqualTo(again);
  }

  @Test
  void whatIsWorkedOutWhileOneTypesIsInTheLanguageToo() {
    Browser browser = open(true, "/forms/measure/new?lang=de");
    assertThat(browser.text("[data-field=due] output")).isEqualTo("02.03.2027");
    browser.type("#f-length", "2.000,25");
    browser.untilText("[data-field=double] output", "4.000,5");
    browser.leave();
    assertThat(browser.valueOf("#f-length")).as("it stays as it was typed").isEqualTo("2.000,25");
    browser.untilText("[data-field=length] .state", "Verstanden als 2000,25");
    assertThat(browser.errorOf("length")).isEmpty();
    browser.type("#f-length", "1.5");
    browser.leave();
    browser.untilText("[data-field=length] .state", "Verstanden als 1,5");
    browser.type("#f-length", "1,5");
    browser.leave();
    browser.until("nothing to say", () -> browser.text("[data-field=length] .state").isEmpty());
    browser.type("#f-length", "viel");
    browser.leave();
    browser.until("an example", () -> browser.errorOf("length").endsWith("etwa 12,5."));
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void whatIsNoNumberInTheLanguageStaysAndIsTold(boolean script) {
    Browser browser = open(script, "/forms/measure/new?lang=de");
    browser.type("#f-length", "1,2,3");
    browser.press("main button[type=submit]");
    browser.until("it is told", () -> !browser.errorOf("length").isEmpty());
    assertThat(browser.valueOf("#f-length")).isEqualTo("1,2,3");
  }

  /** In English a comma could be either. */
  @Test
  void englishKeepsToTheStandardForm() {
    Browser browser = open(true, "/forms/measure/new?lang=en");
    browser.type("#f-length", "61,5");
    browser.leave();
    browser.until("it is told", () -> !browser.errorOf("length").isEmpty());
  }

  @Test
  void theWireKnowsNoLanguage() {
    Wire.Reply json =
        wire.post(
            "/api/forms/measure/records",
            Wire.JSON_TYPE,
            "{\"length\":\"1,5\"}",
            "Accept-Language",
            "de");
    assertThat(json.status()).isEqualTo(422);
    assertThat(json.response().body()).contains("bad-input");
    Wire.Reply form =
        wire.post(
            "/api/forms/measure/records",
            "application/x-www-form-urlencoded",
            "length=1.125",
            "Accept-Language",
            "de");
    assertThat(form.json().path("values").path("length").decimalValue())
        .isEqualByComparingTo("1.125");
  }
}
