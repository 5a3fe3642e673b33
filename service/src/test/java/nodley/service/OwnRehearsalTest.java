package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;

/** The rehearsal on a page of another site, by an address that an author makes. */
class OwnRehearsalTest {

  private static final String CANOE =
      """
      form: canoe
      access: { add: anyone, see: anyone }
      origins: [%s]
      fields:
        name: { type: text, required: true, unique: true }
        length: { type: decimal, range: 2..9 }
      """;

  private final MovableClock clock = new MovableClock(Instant.now());

  private RunningService service;
  private Wire wire;
  private OtherSite site;

  @BeforeEach
  void start() {
    service = RunningService.at(clock);
    wire = service.wire();
    String page =
        """
        <!doctype html><html lang="en"><title>Canoes</title>
        <form data-nodley="canoe" method="post" action="%1$s/forms/canoe/new">
        <label>Name <input name="name"></label><label>Length <input name="length"></label>
        <button>Join</button></form>
        <div id="whole" data-nodley="canoe"></div>
        <script type="module" src="%1$s/page/nodley.js"></script></html>
        """
            .formatted(service.address());
    site = new OtherSite(name -> Optional.of(page));
    assertThat(wire.publish("canoe", CANOE.formatted(site.origin())).status()).isEqualTo(201);
  }

  @AfterEach
  void stop() {
    site.close();
    service.close();
  }

  private String token() {
    Wire.Reply begun = wire.post("/api/forms/canoe/rehearsal", Wire.JSON_TYPE, "");
    assertThat(begun.status()).as(begun.response().body()).isEqualTo(201);
    return begun.json().path("token").asString();
  }

  private Wire.Reply read(String path, String token) {
    return service.stranger().get(path, "Authorization", "Bearer " + token);
  }

  @Test
  void thePanelIsOnThePageAndTellsWhoDecidedAndWhatIsKept() {
    wire.add("canoe", "{\"name\": \"Otter\", \"length\": 4}");
    try (Browser browser = Browser.withScript(site.origin())) {
      browser.open("/#nodley-rehearsal=" + token());
      browser.until("a panel for each form", () -> browser.all(".rehearsal").size() == 2);
      browser.press(".rehearsal summary");
      assertThat(browser.find(".rehearsal:nth-of-type(2)").getDomAttribute("aria-label"))
          .isEqualTo("Rehearsal 2");
      browser.press(By.xpath("(//aside)[1]//button[normalize-space()='Fill in']"));
      browser.until("it is filled in", () -> !browser.valueOf("[name=name]").isEmpty());
      browser.type("[name=name]", "Otter");
      browser.type("[name=length]", "5");
      browser.press("form button:not([type=button])");
      browser.untilText("form", "already registered");
      last(browser);
      browser.untilText(".rehearsal", "the index of what stands only once");
      browser.untilText(".rehearsal", "in the store: Otter, version 1");
      browser.type("[name=name]", "Heron");
      browser.leave();
      browser.untilText("form", "Heron is free.");
      browser.press("form button:not([type=button])");
      browser.until(
          "it is kept",
          () -> wire.get("/api/forms/canoe/records").json().path("records").size() == 2);
      last(browser);
      browser.untilText(".rehearsal", "in the store: Heron, version 1");
      browser.untilText(".rehearsal", "in the service: accepted");
      assertThat(browser.text("form"))
          .as("nobody has chosen to leave a blank field")
          .contains("Canoe added.")
          .doesNotContain("is required");
    }
  }

  private static void last(Browser browser) {
    browser.press(By.xpath("(//aside)[1]//button[normalize-space()='The last exchange']"));
  }

  @Test
  void withoutATokenOrWithAFalseOneThePageIsAsItWas() {
    try (Browser browser = Browser.withScript(site.origin())) {
      for (String hash :
          new String[] {"", "#nodley-rehearsal=rehearsal.1.x", "#nodley-rehearsal="}) {
        browser.open("/" + hash);
        browser.until("both are bound", () -> browser.all("form[data-bound=true]").size() == 2);
        assertThat(browser.all(".rehearsal")).as(hash).isEmpty();
      }
    }
  }

  /** It reads what an author of this form may, and nothing else; and changes nothing. */
  @Test
  void theTokenReadsAsAnAuthorOfOneForm() {
    wire.publish("raft", "form: raft\nfields: { name: { type: text } }\n");
    wire.add("raft", "{\"name\": \"secret1107\"}");
    String kept = wire.add("canoe", "{\"name\": \"Otter\"}").header("X-Request-Id");
    String other = wire.add("raft", "{\"name\": \"secret1107\"}").header("X-Request-Id");
    String token = token();
    assertThat(read("/api/forms/canoe/file", token).status()).isEqualTo(200);
    assertThat(read("/api/texts/canoe/en/keys", token).status()).isEqualTo(200);
    assertThat(read("/api/forms/canoe/samples", token).status()).isEqualTo(200);
    assertThat(read("/rehearsal/rehearse.js?form=canoe", token).status()).isEqualTo(200);
    assertThat(read("/api/attempts/" + kept + "?form=canoe", token).status()).isEqualTo(200);

    assertThat(read("/api/attempts/" + kept, token).status()).isEqualTo(403);
    assertThat(read("/api/attempts/" + other + "?form=canoe", token).status()).isEqualTo(404);
    assertThat(read("/api/attempts/" + other + "?form=raft", token).status()).isEqualTo(403);
    assertThat(read("/api/attempts?form=raft", token).status()).isEqualTo(403);
    for (String path :
        new String[] {
          "/api/forms/raft/file",
          "/rehearsal/rehearse.js?form=raft",
          "/rehearsal/rehearse.js",
          "/api/forms/raft/records",
          "/api/people",
          "/api/keys",
          "/api/log",
          "/api/backup",
          "/api/lists"
        }) {
      assertThat(read(path, token).status()).as(path).isIn(401, 403, 404);
    }
    String[] bearer = {"Authorization", "Bearer " + token};
    Wire stranger = service.stranger();
    assertThat(
            stranger
                .put("/api/forms/canoe", "application/yaml", CANOE.formatted("x"), bearer)
                .status())
        .isEqualTo(401);
    assertThat(
            stranger
                .post("/api/forms/canoe/records", Wire.JSON_TYPE, "{\"name\": \"x\"}", bearer)
                .json()
                .path("detail")
                .asString())
        .isEqualTo("The token of a rehearsal is for reading alone.");
    assertThat(stranger.post("/api/forms/canoe/rehearsal", Wire.JSON_TYPE, "", bearer).status())
        .isEqualTo(401);
  }

  @Test
  void itEndsAfterAnHourOrWithTheRightsOfWhoeverMadeIt() {
    String token = token();
    clock.advance(Duration.ofMinutes(59));
    assertThat(read("/api/forms/canoe/file", token).status()).isEqualTo(200);
    clock.advance(Duration.ofMinutes(1));
    Wire.Reply late = read("/api/forms/canoe/file", token);
    assertThat(late.status()).isEqualTo(401);
    assertThat(late.json().path("detail").asString()).startsWith("The rehearsal ended at ");

    String author = service.signIn("ada", "[\"author\"]");
    Wire stranger = service.stranger();
    String hers =
        stranger
            .post("/api/forms/canoe/rehearsal", Wire.JSON_TYPE, "", "Cookie", author)
            .json()
            .path("token")
            .asString();
    assertThat(read("/api/forms/canoe/file", hers).status()).isEqualTo(200);
    wire.put("/api/people/ada", Wire.JSON_TYPE, "{\"email\": \"\", \"roles\": []}");
    assertThat(read("/api/forms/canoe/file", hers).json().path("detail").asString())
        .isEqualTo("Whoever began the rehearsal is no author any more.");
    assertThat(read("/api/forms/canoe/file", hers.substring(0, hers.length() - 2)).status())
        .isEqualTo(401);
  }

  @Test
  void whoIsNoAuthorMakesNone() {
    String clerk = service.signIn("cleo", "[\"clerk\"]");
    Wire stranger = service.stranger();
    String path = "/api/forms/canoe/rehearsal";
    assertThat(stranger.post(path, Wire.JSON_TYPE, "").status()).isEqualTo(401);
    assertThat(stranger.post(path, Wire.JSON_TYPE, "", "Cookie", clerk).status()).isEqualTo(403);
    assertThat(wire.post("/api/forms/cano/rehearsal", Wire.JSON_TYPE, "").status()).isEqualTo(404);
  }

  @Test
  void theConsoleMakesTheAddress() {
    try (Browser browser = Browser.withScript(service.address())) {
      browser.signIn(RunningService.KEY).open("/console/forms/canoe/wire");
      browser.type("#rehearse-address", "example");
      browser.press(By.xpath("//button[.='Make the address']"));
      browser.untilText("#rehearse-address-error", "This is not the address of a page.");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#rehearse-address", site.origin() + "/join?from=here");
      browser.press(By.xpath("//button[.='Make the address']"));
      browser.untilText("main", "Open the rehearsal");
      assertThat(browser.find("a[href*=rehearsal]").getDomAttribute("href"))
          .startsWith(site.origin() + "/join?from=here#nodley-rehearsal=rehearsal.");
      assertThat(browser.barriers()).isEmpty();
    }
  }
}
