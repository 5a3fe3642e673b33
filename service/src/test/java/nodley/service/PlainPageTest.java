package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.support.ui.Select;

/** The page without script: everything that HTML can do, does. */
class PlainPageTest {

  private static RunningService service;
  private static Browser browser;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    Wire wire = service.wire();
    wire.publishDemo();
    wire.add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    add("Grey Heron", "MQ7AB");
    browser = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static String add(String name, String sign) {
    return service.wire().addVessel(name, sign);
  }

  private static void submit() {
    browser.go(By.cssSelector("form.nodley button[type=submit]"));
  }

  @Test
  void scriptIsOffIndeed() {
    browser.open("/forms/vessel/new");
    assertThat(browser.all("form[data-bound]")).isEmpty();
  }

  @Test
  void aRefusalKeepsWhatWasTypedAndLeadsToTheErrors() {
    browser.open("/forms/vessel/new");
    browser.type("#f-name", "Whimbrel");
    browser.type("#f-callSign", "mq-7ab");
    browser.type("#f-length", "twelve");
    browser.type("#f-notes", "first\nsecond <b>");
    browser.find("#f-rig-1").click();
    new Select(browser.find("#f-berth")).selectByVisibleText("A1, North pontoon");
    submit();
    assertThat(browser.text(".summary h2")).isEqualTo("3 to mend");
    assertThat(browser.all(".summary a"))
        .extracting(WebElement::getText)
        .containsExactly("Call sign", "Length over all", "Third-party insurance is in force");
    assertThat(browser.errorOf("callSign")).isEqualTo("Call sign MQ7AB is already registered.");
    assertThat(browser.find("#f-callSign").getDomAttribute("aria-invalid")).isEqualTo("true");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Whimbrel");
    assertThat(browser.valueOf("#f-callSign")).isEqualTo("MQ7AB");
    assertThat(browser.valueOf("#f-length")).isEqualTo("twelve");
    assertThat(browser.valueOf("#f-notes")).isEqualTo("first\nsecond <b>");
    assertThat(browser.find("#f-rig-1").isSelected()).isTrue();
    assertThat(new Select(browser.find("#f-berth")).getFirstSelectedOption().getText())
        .isEqualTo("A1, North pontoon");
    assertThat(browser.driver().switchTo().activeElement().getDomAttribute("class"))
        .isEqualTo("summary");
    browser.driver().findElement(By.linkText("Length over all")).click();
    browser.until("the focus", () -> "f-length".equals(browser.focused()));
    browser.type("#f-length", "12");
    browser.type("#f-callSign", "mq1wh");
    browser.find("#f-insured").sendKeys(Keys.SPACE);
    submit();
    assertThat(browser.text(".said")).isEqualTo("Whimbrel is registered.");
    assertThat(browser.path()).matches("/forms/vessel/[0-9a-f-]{36}");
    assertThat(browser.text("dl")).contains("A1, North pontoon").contains("Motor vessel");
  }

  @Test
  void aTextThatIsNoDateComesBackAsItWasTyped() {
    Wire.Reply reply =
        service
            .stranger()
            .post("/forms/vessel/new", Wire.FORM_TYPE, "name=Curlew&built=last+spring&crew=many");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.response().body())
        .contains("name=\"built\" type=\"text\" value=\"last spring\"")
        .contains("name=\"crew\" type=\"text\" value=\"many\"")
        .contains("Launched on must be a date in the form 2027-03-01.");
  }

  @Test
  void acceptanceIsASeeOther() {
    Wire.Reply reply =
        service
            .stranger()
            .post(
                "/forms/vessel/new",
                Wire.FORM_TYPE,
                "name=Godwit&callSign=mq1gw&rig=sail&length=8&insured=on");
    assertThat(reply.status()).isEqualTo(303);
    assertThat(reply.header("Location")).matches("/forms/vessel/[0-9a-f-]{36}");
  }

  /** RFC 9110, section 15.4.4: the answer to a page sent twice is the one to the first. */
  @Test
  void aPageThatIsSentTwiceIsKeptOnce() {
    browser.open("/forms/vessel/new");
    String key = browser.find("input[name=_key]").getDomAttribute("value");
    browser.driver().navigate().refresh();
    assertThat(browser.find("input[name=_key]").getDomAttribute("value")).isNotEqualTo(key);
    String body = "name=Knot&callSign=mq1kn&rig=sail&length=8&insured=on&_key=" + key;
    Wire.Reply first = service.stranger().post("/forms/vessel/new", Wire.FORM_TYPE, body);
    Wire.Reply second = service.stranger().post("/forms/vessel/new", Wire.FORM_TYPE, body);
    assertThat(first.status()).isEqualTo(303);
    assertThat(second.status()).isEqualTo(303);
    assertThat(second.header("Location")).isEqualTo(first.header("Location"));
    assertThat(second.header("Set-Cookie")).contains("Knot%20is%20registered.");
    Wire.Reply other =
        service
            .stranger()
            .post("/forms/vessel/new", Wire.FORM_TYPE, body.replace("mq1kn", "mq2kn"));
    assertThat(other.status()).isEqualTo(422);
    assertThat(other.response().body())
        .contains("This page was sent before, and what was sent then is kept.")
        .contains("value=\"MQ2KN\"")
        .doesNotContain(key);
    assertThat(service.wire().get("/api/forms/vessel/records?q=knot").json().path("records"))
        .hasSize(1);
    await()
        .untilAsserted(
            () ->
                assertThat(
                        service
                            .wire()
                            .get("/api/attempts?form=vessel&limit=3")
                            .json()
                            .path("attempts"))
                    .extracting(
                        it -> it.path("verdict").asString() + " " + it.path("problem").asString(""))
                    .containsExactly("failed key-reused", "repeated ", "accepted "));
  }

  @Test
  void anEditThatIsSentTwiceIsOneVersion() {
    String id = add("Ruff", "MQ2RF");
    browser.signIn(RunningService.KEY);
    browser.open("/forms/vessel/" + id + "/edit");
    String body =
        "name=Ruff&callSign=MQ2RF&rig=sail&length=10&insured=on&_version=1&_key="
            + browser.find("input[name=_key]").getDomAttribute("value");
    for (int i = 0; i < 2; i++) {
      Wire.Reply reply = service.wire().post("/forms/vessel/" + id + "/edit", Wire.FORM_TYPE, body);
      assertThat(reply.status()).isEqualTo(303);
    }
    assertThat(service.wire().get("/api/forms/vessel/records/" + id).json().path("version").asInt())
        .isEqualTo(2);
    browser.go(By.cssSelector("header button"));
  }

  @Test
  void oneWhoMayAddButNotSeeStaysAndIsTold() {
    browser.open("/forms/skipper/new");
    browser.type("#f-name", "Ann Ferrow");
    browser.type("#f-email", "Ann@harbour.example");
    new Select(browser.find("#f-licence")).selectByValue("coastal");
    browser.find("#f-rules").click();
    submit();
    assertThat(browser.text(".said")).isEqualTo("Welcome to Marrow Quay, Ann Ferrow.");
    assertThat(browser.path()).isEqualTo("/forms/skipper/new");
    browser.type("#f-email", "ANN@HARBOUR.example");
    submit();
    assertThat(browser.errorOf("email"))
        .isEqualTo("ANN@HARBOUR.example is already registered. Is it yours? Sign in");
    assertThat(browser.find("#f-email-error a").getDomAttribute("href"))
        .isEqualTo("/sign-in?_as=ANN%40HARBOUR.example");
    assertThat(service.stranger().get("/sign-in?_as=ANN%40HARBOUR.example").status())
        .isEqualTo(200);
  }

  @Test
  void anEditIsTheSameFormAndAConflictIsShownFieldByField() {
    String id = add("Plover", "MQ2PL");
    browser.signIn(RunningService.KEY);
    browser.open("/forms/vessel/" + id + "/edit");
    assertThat(browser.text("h1")).isEqualTo("Edit Plover");
    service
        .wire()
        .put(
            "/api/forms/vessel/records/" + id,
            Wire.JSON_TYPE,
            "{\"name\":\"Golden"
                + " Plover\",\"callSign\":\"MQ2PL\",\"rig\":\"tug\",\"length\":9.5,\"insured\":true}",
            "If-Match",
            "\"1\"");
    browser.type("#f-name", "Grey Plover");
    submit();
    assertThat(browser.text(".conflict h2"))
        .isEqualTo("Somebody else saved this record while you were editing it");
    assertThat(browser.all(".conflict tbody tr"))
        .extracting(WebElement::getText)
        .as("what only they changed is merged, and not asked about")
        .containsExactly("Name of the vessel Golden Plover\nKeep theirs Grey Plover");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Grey Plover");
    assertThat(browser.barriers()).isEmpty();
    submit();
    assertThat(browser.text(".said")).isEqualTo("Grey Plover is saved.");
    assertThat(browser.text("main")).contains("Version 3").contains("Tug or workboat");
    browser.go(By.cssSelector("header button"));
    assertThat(browser.text("header")).contains("Sign in");
  }

  @Test
  void theirsIsKeptFieldByFieldAndWhatDoesNotClashIsMergedAtOnce() {
    String id = add("Dunlin", "MQ2DN");
    browser.signIn(RunningService.KEY);
    browser.open("/forms/vessel/" + id + "/edit");
    service.wire().patchVessel(id, 1, "{\"name\":\"Little Dunlin\",\"crew\":3}");
    browser.type("#f-name", "Old Dunlin");
    browser.type("#f-length", "10.5");
    submit();
    browser.find(".conflict input[type=checkbox]").click();
    submit();
    assertThat(browser.text(".said")).isEqualTo("Little Dunlin is saved.");
    assertThat(browser.text("main")).contains("Version 3").contains("10.5 m");
    browser.open("/forms/vessel/" + id + "/edit");
    service.wire().patchVessel(id, 3, "{\"name\":\"Great Dunlin\"}");
    browser.type("#f-length", "11");
    submit();
    assertThat(browser.text(".said")).isEqualTo("Great Dunlin is saved.");
    assertThat(browser.text("main")).contains("Version 5").contains("11 m");
    browser.go(By.cssSelector("header button"));
  }

  @Test
  void aPageThatNeedsASignInLeadsThereAndBack() {
    browser.open("/forms/skipper");
    browser.go(By.cssSelector("main a.button"));
    browser.type("#key", "wrong");
    browser.go(By.cssSelector("form:has(#key) button"));
    assertThat(browser.text("#key-error")).isEqualTo("This key is not known here.");
    browser.type("#key", RunningService.KEY);
    browser.go(By.cssSelector("form:has(#key) button"));
    assertThat(browser.path()).isEqualTo("/forms/skipper");
    browser.go(By.cssSelector("header button"));
  }

  @Test
  void theSignInGoesNowhereElse() {
    for (String to : List.of("https://evil.example", "//evil.example", "/\\evil.example")) {
      Wire.Reply reply =
          service
              .stranger()
              .post(
                  "/sign-in",
                  Wire.FORM_TYPE,
                  "key="
                      + RunningService.KEY
                      + "&to="
                      + URLEncoder.encode(to, StandardCharsets.UTF_8));
      assertThat(reply.header("Location")).isEqualTo("/forms");
    }
  }

  @Test
  void theListIsSearchedAndPaged() {
    for (int i = 10; i < 40; i++) {
      add("Lark " + i, "ML" + i);
    }
    browser.open("/forms/vessel?q=lark");
    assertThat(browser.all("tbody tr")).hasSize(25);
    browser.go(By.linkText("Next page"));
    assertThat(browser.all("tbody tr")).hasSize(5);
    browser.go(By.linkText("First page"));
    assertThat(browser.text("tbody tr:first-child th")).isEqualTo("Lark 39 · ML39");
    browser.type("#q", "nowhere");
    browser.go(By.cssSelector(".search button"));
    assertThat(browser.text(".empty")).isEqualTo("No record has “nowhere” in it.");
  }
}
