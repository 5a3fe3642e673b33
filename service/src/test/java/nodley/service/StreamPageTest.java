package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.WindowType;
import org.openqa.selenium.chrome.ChromeDriver;

/** A browser has six connections to a host: open edits must not use them up. */
class StreamPageTest {

  private static final int FORMS = 12;

  private static RunningService service;
  private static OtherSite site;
  private static Browser browser;
  private static Browser own;
  private static volatile String page = "";

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    site = new OtherSite(_ -> Optional.of(page));
    String origin = site.origin();
    Wire.Reply published =
        service
            .wire()
            .publish(
                "buoy",
                """
                form: buoy
                access: { add: anyone, see: anyone, edit: anyone }
                origins: ["%s"]
                after: { edit: { go: stay, say: "{code} is saved." } }
                fields:
                  code: { type: text, required: true }
                  depth: { type: integer }
                """
                    .formatted(origin));
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    browser = Browser.withScript(origin);
    own = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    own.close();
    site.close();
    service.close();
  }

  private static List<String> buoys(int count) {
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      ids.add(
          service
              .wire()
              .add("buoy", "{\"code\": \"B%d\", \"depth\": 1}".formatted(i))
              .json()
              .path("id")
              .asString());
    }
    return ids;
  }

  private static long version(String id) {
    return service.wire().get("/api/forms/buoy/records/" + id).json().path("version").asLong();
  }

  private static void edit(String id, String json) {
    Wire.Reply reply =
        service
            .wire()
            .patch(
                "/api/forms/buoy/records/" + id,
                "application/merge-patch+json",
                json,
                "If-Match",
                "\"" + version(id) + "\"");
    assertThat(reply.status()).isEqualTo(200);
  }

  @Test
  void twelveFormsOnAPageOfAnotherSiteAllHearAndAllSave() {
    List<String> ids = buoys(FORMS);
    StringBuilder html =
        new StringBuilder("<!doctype html><html lang=en><title>Buoys</title><main>");
    for (String id : ids) {
      html.append(
          """
          <form data-nodley="buoy" data-record="%s" id="b%s" method="post">
          <label>Code <input name="code"></label> <label>Depth <input name="depth"></label>
          <button>Save</button></form>
          """
              .formatted(id, id));
    }
    page =
        html
            + "<script type=\"module\" src=\""
            + service.address()
            + "/page/nodley.js\"></script></main></html>";
    browser.open("/");
    browser.until("all bound", () -> browser.all("form[data-bound=true]").size() == FORMS);
    for (String id : ids) {
      edit(id, "{\"depth\": 2}");
    }
    browser.until(
        "each has heard",
        () ->
            browser.all("form").stream()
                .allMatch(it -> it.getText().contains("Somebody else has just saved")));
    for (String id : ids) {
      browser.type("#b" + id + " [name=code]", "C");
      browser.find("#b" + id + " button:not([type])").click();
    }
    browser.until("each is saved", () -> ids.stream().allMatch(id -> version(id) == 3));
  }

  @Test
  void tenTabsHaveOneStreamAndATabThatWasHiddenLooksAgain() {
    String id = buoys(1).getFirst();
    ChromeDriver driver = own.driver();
    String first = driver.getWindowHandle();
    own.openBound("/forms/buoy/" + id + "/edit");
    for (int i = 0; i < 9; i++) {
      driver.switchTo().newWindow(WindowType.TAB);
      own.openBound("/forms/buoy/" + id + "/edit");
    }
    own.type("#f-code", "D");
    own.find("form.nodley button[type=submit]").click();
    own.untilText(".said", "D is saved.");
    for (String tab : driver.getWindowHandles()) {
      if (!tab.equals(first) && !tab.equals(driver.getWindowHandle())) {
        driver.switchTo().window(tab);
        driver.close();
        driver.switchTo().window(first);
      }
    }
    own.untilText(".summary", "Somebody else has just saved this record: Code.");
  }

  @Test
  void aRecordThatIsRemovedMeanwhileCannotBeSaved() {
    String id = buoys(1).getFirst();
    own.openBound("/forms/buoy/" + id + "/edit");
    service.wire().delete("/api/forms/buoy/records/" + id, "If-Match", "\"1\"");
    own.untilText(".summary", "Somebody else has removed this record.");
    assertThat(own.find("form.nodley .actions button[type=submit]").isEnabled()).isFalse();
    assertThat(own.text(".summary")).doesNotContain(id);
    assertThat(own.barriers()).isEmpty();
  }
}
