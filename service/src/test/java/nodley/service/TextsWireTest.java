package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;

/** A form in several languages, over the wire and on its page. */
class TextsWireTest {

  private static final String FORM =
      """
      form: boat
      access: { add: anyone, see: anyone }
      fields:
        name: { type: text, required: true, unique: true }
        rig: { type: choice, options: { sail: Sails, oars: Oars } }
      """;

  private static final String GERMAN =
      """
      title: Boote
      fields:
        name: { label: Bootsname }
        rig: { options: { sail: Segel } }
      """;

  private RunningService service;
  private Wire wire;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.put("/api/forms/boat", "application/yaml", FORM);
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private Wire.Reply publish(String language, String text) {
    return wire.put("/api/texts/boat/" + language, "application/yaml", text);
  }

  private String said(String query, String... headers) {
    HttpRequest.Builder request =
        wire.request("/api/forms/boat/checks" + query)
            .header("Content-Type", Wire.JSON_TYPE)
            .POST(HttpRequest.BodyPublishers.ofString("{}"));
    for (int i = 0; i < headers.length; i += 2) {
      request.header(headers[i], headers[i + 1]);
    }
    return wire.send(request).json().path("errors").path(0).path("detail").asString();
  }

  @Test
  void textsForAllFormsStandWhereAFormHasNone() {
    Wire.Reply put =
        wire.put(
            "/api/texts/service/de",
            "application/yaml",
            """
            say: { value-missing: "Bitte {label} angeben.", page.forms: Vordrucke }
            placeholders: { text: hier }
            """);
    assertThat(put.status()).as(put.response().body()).isEqualTo(201);
    wire.put(
        "/api/texts/service/fr", "application/yaml", "say: { value-missing: '{label} manque.' }");
    assertThat(said("?lang=de")).isEqualTo("Bitte Name angeben.");
    assertThat(said("?lang=fr")).isEqualTo("Name manque.");
    publish("de", "say: { value-missing: 'Ohne {label} geht es nicht.' }");
    assertThat(said("?lang=de")).isEqualTo("Ohne Name geht es nicht.");
    assertThat(wire.get("/forms/boat/new?lang=de").response().body())
        .contains("placeholder=\"hier\"");
    assertThat(wire.get("/forms?lang=de").response().body()).contains("<h1>Vordrucke</h1>");
    assertThat(wire.get("/api/texts/service").json().path("languages").toString())
        .isEqualTo("[\"de\",\"fr\"]");
    assertThat(wire.get("/api/texts/service/de/keys").response().body())
        .contains(
            "{\"key\":\"say.page.forms\",\"state\":\"used\",\"from\":\"texts\",\"text\":\"Vordrucke\"}");
    assertThat(wire.get("/api/texts/boat/de/keys").response().body())
        .contains("\"key\":\"say.page.forms\",\"state\":\"used\",\"from\":\"service-texts\"");
    assertThat(wire.put("/api/texts/service/de", "application/yaml", "fields: {}").status())
        .isEqualTo(422);
    assertThat(said("?lang=de")).isEqualTo("Ohne Name geht es nicht.");
    assertThat(wire.delete("/api/texts/service/fr").status()).isEqualTo(204);
    assertThat(said("?lang=fr")).isEqualTo("Name is required.");
    assertThat(wire.get("/api/texts/service/fr").status()).isEqualTo(404);
  }

  /** Lookup of RFC 4647, section 3.4; weights of RFC 9110, section 12.5.4. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "''|''|Name is required.",
        "?lang=de|''|Bootsname fehlt.",
        "?lang=de-AT|''|Bootsname fehlt.",
        "''|de|Bootsname fehlt.",
        "''|fr, de;q=0.5|Bootsname fehlt.",
        "''|de;q=0.2, en;q=0.9|Name is required.",
        "''|de;q=0|Name is required.",
        "?lang=en|de|Name is required.",
        "?lang=fr|de|Bootsname fehlt.",
        "''|es|Falta Name.",
        "''|*|Name is required.",
        "''|;;;=|Name is required."
      })
  void theLanguageComesFromLangThenFromAcceptLanguage(
      String query, String accept, String expected) {
    publish("de", GERMAN);
    String[] headers = accept.isEmpty() ? new String[0] : new String[] {"Accept-Language", accept};
    assertThat(said(query, headers)).isEqualTo(expected);
  }

  @Test
  void textsAreReadPublishedAndRemovedLikeForms() {
    assertThat(wire.get("/api/texts/boat").json().path("languages").isEmpty()).isTrue();
    Wire.Reply added = publish("de", GERMAN);
    assertThat(added.status()).isEqualTo(201);
    assertThat(added.json().path("change").asString()).isEqualTo("new");
    assertThat(publish("de", GERMAN).json().path("change").asString()).isEqualTo("unchanged");
    assertThat(wire.get("/api/texts/boat").json().path("languages").path(0).asString())
        .isEqualTo("de");
    assertThat(wire.get("/api/texts/boat/de").response().body()).isEqualTo(GERMAN);
    Wire.Reply described = wire.get("/api/forms/boat?lang=de");
    assertThat(described.header("Content-Language")).isEqualTo("de");
    assertThat(described.json().path("title").path("list").asString()).isEqualTo("Boote");
    assertThat(described.json().path("words").path("saving").asString())
        .isEqualTo("Wird gespeichert…");
    assertThat(wire.get("/api/forms?lang=de").json().path("forms").path(0).path("title").asString())
        .isEqualTo("Boote");
    assertThat(wire.get("/api/forms/boat/options/rig?lang=de").json().path("options").toString())
        .contains("Segel", "Oars");
    assertThat(wire.delete("/api/texts/boat/de").status()).isEqualTo(204);
    assertThat(said("?lang=de")).isEqualTo("Name fehlt.");
  }

  @Test
  void aRevisionThatDropsAFieldKeepsItsTextsAsUnused() {
    publish("de", GERMAN);
    assertThat(
            wire.put("/api/forms/boat", "application/yaml", FORM.replace("rig:", "sails:"))
                .status())
        .isEqualTo(200);
    List<String> unused = new ArrayList<>();
    wire.get("/api/texts/boat/de/keys")
        .json()
        .path("keys")
        .forEach(
            it -> {
              if (it.path("state").asString().equals("unused")) {
                unused.add(it.path("key").asString());
              }
            });
    assertThat(unused).containsExactly("fields.rig");
    assertThat(said("?lang=de")).isEqualTo("Bootsname fehlt.");
  }

  @Test
  void textsOutliveARestart() {
    publish("de", GERMAN);
    service.restart();
    wire = service.wire();
    assertThat(said("?lang=de")).isEqualTo("Bootsname fehlt.");
  }

  @Test
  void whatIsWrongIsToldWithItsPlaceAndNothingChanges() {
    Wire.Reply refused = publish("de", "fields: { nmae: { label: A } }");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.json().path("errors").path(0).path("suggestion").asString())
        .isEqualTo("name");
    assertThat(publish("not_a_tag", GERMAN).status()).isEqualTo(404);
    assertThat(wire.put("/api/texts/baot/de", "application/yaml", GERMAN).json().path("detail"))
        .asString()
        .contains("boat");
    assertThat(wire.put("/api/texts/boat/de", "text/plain", GERMAN).status()).isEqualTo(415);
    assertThat(wire.get("/api/texts/boat/de").status()).isEqualTo(404);
    assertThat(wire.get("/api/forms/boat?lang=no_tag").status()).isEqualTo(400);
    assertThat(wire.get("/api/forms/boat?lang=de&lang=es").status()).isEqualTo(400);
    assertThat(service.stranger().get("/api/texts/boat").status()).isEqualTo(401);
  }

  @Test
  void aPageSpeaksTheLanguageWithAndWithoutScript() {
    publish("de", GERMAN);
    wire.add("boat", "{\"name\":\"Heron\"}");
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/boat/new?lang=de");
      assertThat(browser.find("html").getDomAttribute("lang")).isEqualTo("de");
      assertThat(browser.text("label[for=f-name]")).isEqualTo("Bootsname");
      browser.find("button[type=submit]").click();
      browser.until(
          "the summary", () -> browser.text("[data-summary] h2").equals("1 zu berichtigen"));
      browser.find("#f-name").sendKeys("Heron\t");
      browser.until(
          "the service's word in German",
          () -> browser.text("#f-name-error").equals("Bootsname Heron ist schon vergeben."));
    }
    try (Browser plain = Browser.withoutScript(service.address())) {
      plain.open("/forms/boat/new?lang=de");
      plain.go(By.cssSelector("button[type=submit]"));
      assertThat(plain.text("#f-name-error")).isEqualTo("Bootsname fehlt.");
      assertThat(plain.text("button[type=submit]")).isEqualTo("Hinzufügen");
    }
  }
}
