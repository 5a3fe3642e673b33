package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** A form in another site's page, for people who have signed in there: docs/examples/with-pass. */
class PassPageTest {

  private static final Path EXAMPLES = Repository.file("docs/examples");

  private static RunningService service;
  private static Wire key;
  private static OtherSite site;
  private static Browser browser;

  /** What pages the site has besides the example. */
  private static final Map<String, String> pages = new ConcurrentHashMap<>();

  /** The passes that the site has given out, which are good for {@link #seconds}. */
  private static final List<String> given = new CopyOnWriteArrayList<>();

  private static volatile int seconds = 900;

  @BeforeAll
  static void start() throws IOException {
    service = RunningService.fresh();
    site = new OtherSite(PassPageTest::page);
    String form = Files.readString(EXAMPLES.resolve("request.form.yaml"));
    assertThat(
            service
                .wire()
                .publish("request", form.replace("http://127.0.0.1:8000", site.origin()))
                .status())
        .isEqualTo(201);
    key =
        new Wire(
            service.address(),
            Optional.of(
                service
                    .wire()
                    .post(
                        "/api/keys",
                        Wire.JSON_TYPE,
                        "{\"name\": \"website\", \"roles\": [\"vouch\"], \"forms\": [\"request\"]}")
                    .json()
                    .path("key")
                    .asString()));
    browser = Browser.withScript(site.origin());
  }

  @AfterAll
  static void stop() {
    browser.close();
    site.close();
    service.close();
  }

  private static Optional<String> page(String path) {
    if (path.equals("pass")) {
      String pass = pass();
      given.add(pass);
      return Optional.of(pass);
    }
    try {
      String page =
          path.equals("with-pass.html")
              ? Files.readString(EXAMPLES.resolve(path))
              : pages.get(path);
      return Optional.ofNullable(page)
          .map(it -> it.replace("http://127.0.0.1:8420", service.address()));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static String pass() {
    return key.post(
            "/api/passes",
            Wire.JSON_TYPE,
            """
            {"person": {"id": "17", "name": "Ann Penrose"}, "forms": ["request"], "seconds": %d}
            """
                .formatted(seconds))
        .json()
        .path("pass")
        .asString();
  }

  private static void awaitEnd(String pass) {
    Wire with = new Wire(service.address(), Optional.of(pass));
    Awaitility.await()
        .atMost(Duration.ofSeconds(30))
        .until(() -> with.get("/api/forms/request").status() == 401);
  }

  private static JsonNode newest() {
    JsonNode records =
        service.wire().get("/api/forms/request/records?limit=1").json().path("records");
    return records.path(0);
  }

  @Test
  void itIsTheirsWhoSignedInThere() {
    seconds = 900;
    given.clear();
    browser.openBound("/with-pass.html");
    browser.type("[name=about]", "A mooring buoy");
    browser.untilText("main", "Your name");
    assertThat(browser.valueOf("[name=from]")).isEqualTo("Ann Penrose");
    browser.press("form.nodley button[type=submit]");
    browser.until(
        "it is added", () -> newest().at("/values/about").asString().equals("A mooring buoy"));
    assertThat(newest().path("owner").asString()).isEqualTo("pass:website:17");
    assertThat(newest().at("/values/from").asString()).isEqualTo("Ann Penrose");
    assertThat(given).as("one for all that the page asked").hasSize(1);
    assertThat(browser.barriers()).isEmpty();
  }

  /** A pass ends while the form is open: nothing of what was typed is lost, and it is sent. */
  @Test
  void itIsRenewedWhileTheFormIsOpen() {
    seconds = 4;
    given.clear();
    browser.openBound("/with-pass.html");
    browser.type("[name=about]", "Two mooring buoys");
    awaitEnd(given.getLast());
    browser.press("form.nodley button[type=submit]");
    browser.until(
        "it is added", () -> newest().at("/values/about").asString().equals("Two mooring buoys"));
    assertThat(given).hasSizeGreaterThan(1);
  }

  /** A page that gives no other one says why nothing is sent, and keeps what was typed. */
  @Test
  void onePassThatEndsIsSaid() {
    seconds = 4;
    String pass = pass();
    pages.put(
        "stale.html",
        """
        <!doctype html><html lang="en"><title>Stale</title>
        <script type="module" src="http://127.0.0.1:8420/page/nodley.js"></script>
        <main><div data-nodley="request" data-pass="%s"></div></main>
        """
            .formatted(pass));
    browser.openBound("/stale.html");
    browser.type("[name=about]", "Three buoys");
    awaitEnd(pass);
    browser.press("form.nodley button[type=submit]");
    browser.untilText(".summary", "The pass ended at");
    assertThat(browser.valueOf("[name=about]")).isEqualTo("Three buoys");
    // The page finds another one, and it is sent.
    seconds = 900;
    browser
        .driver()
        .executeScript("document.querySelector('[data-pass]').dataset.pass = arguments[0]", pass());
    browser.press("form.nodley button[type=submit]");
    browser.until(
        "it is added", () -> newest().at("/values/about").asString().equals("Three buoys"));
  }

  /** From code, without an element; a record of one's own is edited. */
  @Test
  void aProgramOfThePageHasAFunctionForIt() {
    seconds = 900;
    pages.put(
        "code.html",
        """
        <!doctype html><html lang="en"><title>Code</title>
        <main><output></output></main>
        <script type="module">
          import { open } from "http://127.0.0.1:8420/page/nodley.js";
          const pass = () => fetch("/pass").then((reply) => reply.text());
          const form = await open("request", { at: "http://127.0.0.1:8420", pass });
          form.set("about", "Four buoys");
          const added = await form.submit();
          const { id } = added.record;
          const edit = await open("request", { at: "http://127.0.0.1:8420", pass, record: id });
          edit.set("about", "Five buoys");
          document.querySelector("output").value = (await edit.submit()).kind;
        </script>
        """);
    given.clear();
    browser.open("/code.html");
    browser.untilText("output", "accepted");
    assertThat(newest().at("/values/about").asString()).isEqualTo("Five buoys");
    assertThat(newest().path("version").asInt()).isEqualTo(2);
  }
}
