package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;

/** What follows an acceptance: where the page goes, and what it says there. */
class AfterwardsTest {

  private static final String FORM =
      """
      form: %s
      access: { add: anyone, see: anyone, edit: anyone }
      after: { add: { go: %s } }
      fields:
        name: { type: text }
        size: { type: decimal }
        rig: { type: choice, options: { s: Sail, m: Motor } }
        home: { type: group, fields: { town: { type: text } } }
        other: { type: record, form: %s }
      """;

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply publish(String name, String go) {
    return wire.put(
        "/api/forms/" + name, "application/yaml", FORM.formatted(name, "\"" + go + "\"", name));
  }

  private static String goes(String name, String values) {
    return wire.add(name, values).json().path("after").path("go").asString();
  }

  @Test
  void anAddressNamesFieldsAndItsValuesAreEncoded() {
    assertThat(publish("one", "/forms/one/new?title={name}&size={size}#{rig}-{home.town}").status())
        .isEqualTo(201);
    assertThat(
            goes(
                "one",
                """
                {"name": "Gr\u00e9y & Co/?#", "size": 12.5, "rig": "s", "home": {"town": "Sel +1"}}
                """))
        .isEqualTo("/forms/one/new?title=Gr%C3%A9y%20%26%20Co%2F%3F%23&size=12.5#s-Sel%20%2B1");
    assertThat(goes("one", "{}")).isEqualTo("/forms/one/new?title=&size=#-");
    publish("two", "https://shop.example/thanks/{id}");
    Wire.Reply added = wire.add("two", "{}");
    assertThat(added.json().path("after").path("go").asString())
        .isEqualTo("https://shop.example/thanks/" + added.json().path("id").asString());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "/x?a={nmae}|Did you mean `name`?",
        "/x?a={other.name}|is the id of the other record",
        "https://{name}.example/|is list, record, stay",
        "https://a.example{name}|is list, record, stay",
        "/{name}|is list, record, stay",
        "https://a b/|is list, record, stay",
        "https://[::1/|is list, record, stay",
        "https://a.example/%|is list, record, stay",
        "/x?a=%zz|is list, record, stay",
        "javascript:alert(1)|is list, record, stay",
        "//a.example|is list, record, stay",
        "recrod|is list, record, stay",
      })
  void anAddressThatCannotBeGoneToIsNotPublished(String go, String said) {
    Wire.Reply reply = publish("bad", go);
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("errors").path(0).path("detail").asString()).contains(said);
  }

  @Test
  void aPageLetsItsFormLeadWhereItIsSaid() {
    publish("away", "https://shop.example/thanks?for={name}");
    assertThat(wire.get("/forms/away/new").header("Content-Security-Policy"))
        .contains("form-action 'self' https://shop.example;");
    Wire.Reply sent = wire.post("/forms/away/new", Wire.FORM_TYPE, "name=a+b&_key=k-away");
    assertThat(sent.status()).isEqualTo(303);
    assertThat(sent.header("Location")).isEqualTo("https://shop.example/thanks?for=a%20b");
    assertThat(publish("near", "list").status()).isEqualTo(201);
    assertThat(wire.get("/forms/near/new").header("Content-Security-Policy"))
        .contains("form-action 'self';");
  }

  @Test
  void aLongOutcomeIsCutShortAndNeverAnError() {
    String long3000 = "\u00e9".repeat(3_000);
    wire.publish(
        "long",
        "form: long\naccess: { add: anyone, see: anyone }\nafter: { add: { go: list, say: "
            + long3000
            + " } }\nfields: { a: { type: text } }\n");
    for (int i = 0; i < 2; i++) {
      Wire.Reply sent = wire.post("/forms/long/new", Wire.FORM_TYPE, "a=1&_key=key-of-long-1");
      assertThat(sent.status()).isEqualTo(303);
      String cookie = sent.header("Set-Cookie").replaceFirst(";.*", "");
      assertThat(wire.get("/forms/long", "Cookie", cookie).response().body())
          .contains("\u00e9".repeat(300) + "\u2026</p>");
    }
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/long/new");
      browser.find("button[type=submit]").click();
      browser.untilText(".said", "\u00e9".repeat(300) + "\u2026");
    }
  }

  @Test
  void theLanguageThatAnAddressAskedForStays() {
    publish("speaks", "record");
    try (Browser plain = Browser.withoutScript(service.address());
        Browser scripted = Browser.withScript(service.address())) {
      plain.open("/forms/speaks/new?lang=de");
      plain.go(By.cssSelector("button[type=submit]"));
      scripted.openBound("/forms/speaks/new?lang=de");
      scripted.find("button[type=submit]").click();
      for (Browser each : new Browser[] {plain, scripted}) {
        each.until("the record", () -> each.path().matches("/forms/speaks/[0-9a-f-]{36}.*"));
        assertThat(each.path()).endsWith("?lang=de");
        each.until("German", () -> "de".equals(each.find("html").getDomAttribute("lang")));
      }
    }
  }

  /** A page that stays is as new: nothing is wrong, and one can go on typing. */
  @Test
  void aPageThatStaysIsReadyForTheNextOne() {
    wire.publish(
        "stays",
        """
        form: stays
        access: { add: anyone }
        after: { add: { go: stay, say: "{name} is here.", clear: [name] } }
        fields:
          name: { type: text, required: true }
          town: { type: text, required: true }
        """);
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/stays/new");
      assertThat(browser.find("form.nodley").getDomAttribute("data-clear")).isEqualTo("name");
      browser.type("#f-name", "Ann");
      browser.type("#f-town", "Sel");
      browser.find("button[type=submit]").click();
      browser.untilText("[data-working]", "Ann is here.");
      assertThat(browser.focused()).isEqualTo("f-name");
      assertThat(browser.valueOf("#f-name")).isEmpty();
      assertThat(browser.valueOf("#f-town")).isEqualTo("Sel");
      // A click elsewhere is no visit of the field that had the focus from nobody.
      browser.find("h1").click();
      browser.driver().executeScript("document.activeElement.blur()");
      assertThat(browser.all(".error").stream().filter(it -> !it.getText().isEmpty())).isEmpty();
      browser.type("#f-name", "Bob");
      browser.find("button[type=submit]").click();
      browser.untilText("[data-working]", "Bob is here.");
      browser.find("#f-name").sendKeys("x", Keys.BACK_SPACE);
      browser.leave();
      browser.until("the error", () -> browser.errorOf("name").equals("Name is required."));
    }
  }
}
