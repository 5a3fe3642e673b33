package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;

/** The panel with which a developer rehearses a hosted form. */
class RehearsalTest {

  private static final String PANEL = ".rehearsal";

  private static final String RAFT =
      """
      form: raft
      access: { add: anyone }
      fields:
        name: { type: text }
        crew: { type: rows, fields: { who: { type: text } } }
        old: { type: text }
      %s\
      """;

  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishWholeDemo();
    service.wire().publishVisitOnOnePage();
    service
        .wire()
        .add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    service.wire().addVessel("Grey Heron", "MQ7AB");
    browser = Browser.withScript(service.address()).signIn(RunningService.KEY);
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  @BeforeEach
  void open() {
    open("vessel");
  }

  private static void open(String form) {
    browser.openBound("/forms/" + form + "/new");
    browser.until("the panel is there", () -> !browser.all(PANEL).isEmpty());
    if (browser.find(PANEL + " details").getDomProperty("open").equals("false")) {
      browser.find(PANEL + " summary").click();
    }
  }

  private static void press(String words) {
    browser
        .find(PANEL)
        .findElement(By.xpath(".//button[normalize-space()='" + words + "']"))
        .click();
  }

  private static Select select(String label) {
    return new Select(
        browser
            .find(PANEL)
            .findElement(
                By.xpath(".//label[starts-with(normalize-space(), '" + label + "')]/select")));
  }

  private static WebElement box(String label) {
    return browser
        .find(PANEL)
        .findElement(By.xpath(".//label[normalize-space()=\"" + label + "\"]/input"));
  }

  private static void send() {
    browser.find("main button[type=submit]").click();
  }

  private static String last() {
    press("The last exchange");
    browser.until("it is told", () -> !browser.text(PANEL + " pre").isEmpty());
    return browser.text(PANEL + " pre");
  }

  @Test
  void nobodyElseIsSentIt() {
    Wire stranger = service.stranger();
    assertThat(stranger.get("/forms/vessel/new").response().body()).doesNotContain("rehears");
    for (String file : List.of("rehearse.js", "rehearse.css")) {
      assertThat(stranger.get("/rehearsal/" + file).status()).isEqualTo(401);
      assertThat(service.wire().get("/rehearsal/" + file).status()).isEqualTo(200);
    }
    assertThat(service.wire().get("/rehearsal/other.js").status()).isEqualTo(404);
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void ofTwoSidesThatSendTheSameAtOnceTheIndexKeepsOne() {
    browser.type("#f-name", "Gannet");
    browser.type("#f-callSign", "MQ9ZZ");
    browser.type("#f-length", "9");
    browser.press("#f-insured");
    press("Send it from two sides at once");
    browser.untilText(PANEL, "The index of what stands only once has decided");
    assertThat(browser.text(PANEL))
        .contains("201, ", "422, Call sign MQ9ZZ is already registered.");
    assertThat(service.wire().get("/api/forms/vessel/records?q=gannet").json().path("records"))
        .hasSize(1);
    assertThat(browser.barriers()).isEmpty();
    // Of an edit, the version decides.
    String id =
        service
            .wire()
            .get("/api/forms/vessel/records?q=gannet")
            .json()
            .at("/records/0/id")
            .asString();
    browser.openBound("/forms/vessel/" + id + "/edit");
    browser.type("#f-length", "9.5");
    press("Send it from two sides at once");
    browser.untilText(PANEL, "The version has decided");
    assertThat(service.wire().get("/api/forms/vessel/records/" + id).json().path("version").asInt())
        .isEqualTo(2);
  }

  @Test
  void ofEachErrorItIsToldWhoDecided() {
    browser.type("#f-name", "Heron");
    browser.type("#f-callSign", "MQ7AB");
    browser.type("#f-length", "9");
    send();
    browser.untilText("#f-callSign-error", "already registered");
    assertThat(last()).contains("#/callSign taken: the index of what stands only once, line 9");
  }

  @Test
  void aFormIsFilledInSoThatItIsAcceptedAndTheExchangeIsTold() {
    open("visit");
    press("Fill in");
    browser.untilText(PANEL + " p", "Filled in.");
    // By the name of a vessel, not by its id; other tests of this class may have added some.
    assertThat(browser.valueOf("input[role=combobox]")).matches(".+ · [A-Z0-9]+");
    send();
    browser.untilText("[data-working]", "Visit announced.");
    open("visit");
    assertThat(last())
        .contains("POST ", "/api/forms/visit/records", "answered: 201", "in the service: accepted")
        .containsSubsequence("read: ", "judge: ", "write: ");
  }

  /** Its moments are shown in local time. */
  @Test
  void whatIsFilledInIsSeenInEveryControl() {
    open("incident");
    press("Fill in");
    browser.untilText(PANEL + " p", "Filled in.");
    assertThat(browser.valueOf("#f-seen")).startsWith("20");
    send();
    browser.untilText("[data-working]", "Thank you.");
  }

  @Test
  void aFormIsFilledInWrongInOneWay() {
    browser.find(PANEL + " select").sendKeys("");
    browser.until("the faults are there", () -> select("Fill in").getOptions().size() > 5);
    select("Fill in").selectByVisibleText("callSign: taken");
    browser.untilText(PANEL + " p", "is already registered");
    send();
    browser.until(
        "it is refused", () -> browser.errorOf("callSign").contains("already registered"));
    assertThat(browser.all("[aria-invalid]")).hasSize(1);
  }

  /** A date's box holds dates and nothing else: that fault can only be sent by a program. */
  @Test
  void onlyFaultsThatAControlCanHoldAreOffered() {
    browser.find(PANEL + " select").sendKeys("");
    browser.until("the faults are there", () -> select("Fill in").getOptions().size() > 5);
    List<String> faults = select("Fill in").getOptions().stream().map(WebElement::getText).toList();
    assertThat(faults).contains("callSign: taken", "length: bad-input");
    assertThat(faults)
        .doesNotContain("built: bad-input", "rig: not-an-option", "crw: unknown-field");
  }

  @Test
  void whatAnEarlierSampleLeftGoes() {
    open("visit");
    press("Fill in");
    browser.untilText(PANEL + " p", "Filled in.");
    browser.find("button[name=_more][value=crew]").click();
    browser.type("[name$='].name'][name^='crew[']", "x");
    browser.find(PANEL + " select").sendKeys("");
    browser.until("the faults are there", () -> select("Fill in").getOptions().size() > 5);
    select("Fill in").selectByVisibleText("contact/email: type-mismatch");
    browser.until("it is filled in", () -> !browser.text(PANEL + " p").equals("Filled in."));
    send();
    browser.until("it is refused", () -> !browser.errorOf("contact-email").isEmpty());
    assertThat(browser.all(".summary a")).hasSize(1);
  }

  @Test
  void theNetworkIsLostAndComesBack() {
    select("The network is").selectByVisibleText("lost");
    press("Fill in");
    browser.untilText(PANEL + " p", "Filled in.");
    send();
    browser.untilText("[data-summary]", "What you typed is still here");
    assertThat(last()).contains("no answer: the network is lost");
    select("The network is").selectByVisibleText("as it is");
    send();
    browser.until("it was accepted", () -> !browser.path().endsWith("/new"));
  }

  /** It is no account of the service's, and no difference between page and service. */
  @Test
  void theServiceRefuses() {
    browser.driver().manage().logs().get("browser");
    select("The network is").selectByVisibleText("there, but the service refuses");
    press("Fill in");
    browser.untilText(PANEL + " p", "Filled in.");
    send();
    browser.untilText("[data-summary]", "The whole is refused, as rehearsed.");
    assertThat(browser.errorOf("name")).isEqualTo("Refused, as rehearsed.");
    assertThat(browser.driver().manage().logs().get("browser").getAll())
        .noneMatch(it -> it.getMessage().contains("the page accepted what the service refused"));
    assertThat(last()).contains("answered: 422").doesNotContain("in the service:");
  }

  @Test
  void withoutThePagesOwnRulesTheServicesAreSeen() {
    box("The page's own rules").click();
    browser.untilText(PANEL + " p", "Only the service judges now.");
    browser.find("#f-name").sendKeys("A");
    browser.find("#f-callSign").click();
    assertThat(browser.errorOf("name")).isEmpty();
    send();
    browser.until("the service has spoken", () -> !browser.errorOf("name").isEmpty());
    assertThat(last()).contains("answered: 422", "too-short", "in the service: refused");
  }

  @Test
  void theKeysOfTextsAreShownAndTakenAway() {
    box("Keys of texts").click();
    browser.until("they are there", () -> browser.all(".rehearsed-key").size() > 5);
    assertThat(browser.text("label[for=f-callSign]")).contains("fields.callSign.label");
    assertThat(browser.text("h1")).contains("title.add");
    box("Keys of texts").click();
    browser.until("they are gone", () -> browser.all(".rehearsed-key").isEmpty());
    assertThat(browser.text("h1")).isEqualTo("Register a vessel");
  }

  @Test
  void thePanelSpeaksThePagesLanguage() {
    browser.openBound("/forms/vessel/new?lang=es");
    browser.untilText(PANEL + " summary", "Ensayo");
    press("Rellenar");
    browser.untilText(PANEL + " [role=status]", "Rellenado.");
    WebElement faults = browser.all(PANEL + " select").getFirst();
    faults.click();
    browser.until("the faults are there", () -> new Select(faults).getOptions().size() > 5);
    new Select(faults).selectByVisibleText("name: value-missing");
    browser.untilText(PANEL + " [role=status]", "Falta ");
    browser.openBound("/forms/vessel/new?lang=de");
    browser.untilText(PANEL + " summary", "Probe");
  }

  @Test
  void aPageIsDrawnAnewWhenItsFormIsPublishedAnewAndKeepsWhatWasTyped() {
    service.wire().publish("raft", RAFT.formatted("  pin: { type: secret }\n"));
    open("raft");
    browser.type("#f-name", "Grebe");
    browser.type("#f-crew-0-who", "Ann");
    browser.type("#f-old", "goes");
    browser.type("#f-pin", "1234");
    String next =
        RAFT.formatted("  pin: { type: secret }\n  length: { type: decimal }\n")
            .replace("  old: { type: text }\n", "");
    assertThat(service.wire().publish("raft", next).status()).isEqualTo(200);
    browser.find("#f-length");
    browser.until("what was typed", () -> browser.valueOf("#f-name").equals("Grebe"));
    assertThat(browser.valueOf("#f-crew-0-who")).isEqualTo("Ann");
    assertThat(browser.valueOf("#f-pin")).isEmpty();
    assertThat(browser.all("#f-old")).isEmpty();
    // Without a change, nothing is filled in a second time.
    browser.openBound("/forms/raft/new");
    assertThat(browser.valueOf("#f-name")).isEmpty();
  }
}
