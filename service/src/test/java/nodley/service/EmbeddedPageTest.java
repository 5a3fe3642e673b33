package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.http.HttpHeaders;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.logging.Level;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.support.ui.Select;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Forms in pages of another site: the pages of docs/examples, and pages with mistakes. */
class EmbeddedPageTest {

  private static final Path EXAMPLES = Repository.file("docs/examples");

  /** Where the examples say that the service is. */
  private static final String THERE = "http://127.0.0.1:8420";

  @TempDir private static Path folder;

  private static RunningService service;
  private static OtherSite site;
  private static String origin;
  private static Browser browser;
  private static final Map<String, String> pages = new ConcurrentHashMap<>();

  @BeforeAll
  static void start() throws IOException {
    service = RunningService.fresh();
    site = new OtherSite(EmbeddedPageTest::page);
    origin = site.origin();
    service.wire().publishWholeDemo();
    for (String form : List.of("vessel", "incident")) {
      String file = Files.readString(Repository.file("demo/forms/" + form + ".form.yaml"));
      assertThat(
              service
                  .wire()
                  .publish(form, file.replaceAll("(?m)^origins:.*$", "origins: [" + origin + "]"))
                  .status())
          .isEqualTo(200);
    }
    service.wire().addVessel("Grey Heron", "MQ7AB");
    browser = Browser.withScript(origin);
  }

  @AfterAll
  static void stop() {
    browser.close();
    site.close();
    service.close();
  }

  private static Optional<String> page(String name) {
    String page = pages.get(name);
    Path file = EXAMPLES.resolve(name);
    try {
      if (page == null && Files.isRegularFile(file)) {
        page = Files.readString(file);
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return Optional.ofNullable(page).map(it -> it.replace(THERE, service.address()));
  }

  private static WebElement in(String place, String name) {
    return browser.find(place + " [name='" + name + "']");
  }

  private static void fill(String place, String name, String sign, String length) {
    in(place, "name").sendKeys(name);
    in(place, "callSign").sendKeys(sign);
    in(place, "length").sendKeys(length);
    in(place, "insured").sendKeys(Keys.SPACE);
  }

  private static int kept(String sign) {
    return service.wire().get("/api/forms/vessel/records?q=" + sign).json().path("records").size();
  }

  @Test
  void anOwnFormBecomesOneByAnAttributeAndAScript() {
    browser.openBound("/own-form.html");
    in("form", "callSign").sendKeys("mq-7ab");
    browser.leave();
    browser.untilText("[data-error=callSign]", "Call sign MQ7AB is already registered.");
    WebElement sign = in("form", "callSign");
    assertThat(sign.getDomAttribute("aria-invalid")).isEqualTo("true");
    String described = sign.getDomAttribute("aria-describedby");
    assertThat(described.split(" "))
        .contains(browser.find("[data-error=callSign]").getDomAttribute("id"));
    browser.find("form button").click();
    // What is known to be taken is still said.
    browser.untilText(".summary h2", "4 to mend");
    assertThat(browser.barriers()).isEmpty();
    sign.clear();
    fill("form", "White Petrel", "MQ1AA", "9.5");
    browser.find("form button").click();
    browser.untilText("[data-working]", "White Petrel is registered.");
    assertThat(kept("MQ1AA")).isEqualTo(1);
    // It stays, empty, for the next one.
    assertThat(in("form", "name").getDomProperty("value")).isEmpty();
    assertThat(errors()).isEmpty();
  }

  /** Of a page of one's own, that has no more than a box for files; and of one that is fetched. */
  @ParameterizedTest
  @CsvSource({
    "'<label>Label <input name=\"label\"></label><label>Photo <input type=\"file\""
        + " name=\"photo\"></label><button>Send</button>', form",
    "'', div"
  })
  void aPageOfAnotherSiteUploadsFiles(String inside, String element) throws IOException {
    service
        .wire()
        .publish(
            "crate",
            """
            form: crate
            access: { add: anyone, see: anyone, edit: anyone }
            origins: [%s]
            fields: { label: { type: text }, photo: { type: file } }
            after: { add: { go: stay, say: "Crate {label} added." }, edit: { go: stay, say: "Crate saved." } }
            """
                .formatted(origin));
    String page =
        "<!doctype html><html lang=\"en\"><title>Crates</title><main><%1$s method=\"post\""
            + " data-nodley=\"crate\"%2$s>%3$s</%1$s></main><script type=\"module\" src=\""
            + THERE
            + "/page/nodley.js\"></script></html>";
    pages.put("crate.html", page.formatted(element, "", inside));
    browser.openBound("/crate.html");
    in("form", "label").sendKeys(element);
    in("form", "photo")
        .sendKeys(Files.writeString(folder.resolve("crate.txt"), "in " + element).toString());
    browser.untilText("form .files", "crate.txt");
    browser.find("form button:not([type=button])").click();
    browser.untilText("[data-working]", "Crate " + element + " added.");
    JsonNode added =
        service.wire().get("/api/forms/crate/records?limit=1").json().path("records").path(0);
    assertThat(added.path("values").path("photo").path("name").asString()).isEqualTo("crate.txt");
    assertThat(errors()).isEmpty();
    // An edit of something else keeps the file.
    pages.put(
        "crate.html",
        page.formatted(element, " data-record=\"" + added.path("id").asString() + "\"", inside));
    browser.openBound("/crate.html");
    browser.type("form [name=label]", "other");
    browser.find("form button:not([type=button])").click();
    browser.untilText("[data-working]", "Crate saved.");
    JsonNode values =
        service
            .wire()
            .get("/api/forms/crate/records?limit=1")
            .json()
            .path("records")
            .path(0)
            .path("values");
    assertThat(values.path("label").asString()).isEqualTo("other");
    assertThat(values.path("photo").path("name").asString()).isEqualTo("crate.txt");
    assertThat(errors()).isEmpty();
  }

  /** From nothing to a grid that is edited in place: docs/your-page.md. */
  @Test
  void aPageOfTwelveFieldsAddsAndEditsThreeRecordsInPlace() throws IOException {
    publishMembers();
    for (String name : List.of("ann", "bob", "cy")) {
      addMember(name);
    }
    browser.open("/members.html");
    browser.until("all are bound", () -> browser.all("form[data-bound=true]").size() == 4);
    browser.type("main > form [name=first_name]", "Ann");
    assertThat(browser.valueOf("main > form [name=user_name]")).isEqualTo("ann");
    browser.untilText("[data-error=user_name]", "Free: ann");
    browser.type("main > form [name=user_name]", "annie");
    browser.untilText("output[name=seat_count]", "8");
    assertThat(browser.find("main > form [name=wants_news][type=checkbox]").isSelected()).isTrue();
    browser.find("main > form button").click();
    browser.untilText("main > form .summary", "4 to mend");
    assertThat(browser.barriers()).isEmpty();
    browser.type("main > form [name=last_name]", "Oar");
    browser.type("main > form [name=e_mail]", "Annie@club.example");
    browser.find("main > form [name=born_on]").sendKeys("02111971");
    browser.find("main > form [name=can_swim]").sendKeys(Keys.SPACE);
    browser.find("main > form button").click();
    browser.untilText("main > form [data-working]", "Welcome, Ann.");
    // The newest of the three stands first.
    browser.type("#grid form:first-child [name=first_name]", "Cyril");
    new Select(browser.find("#grid form:first-child [name=boat_class]"))
        .selectByVisibleText("Single");
    browser.find("#grid form:first-child button").click();
    browser.untilText("#grid form:first-child [data-working]", "Saved.");
    JsonNode cyril =
        service.wire().get("/api/forms/member/records?q=cyril").json().path("records").path(0);
    assertThat(cyril.path("values").path("e_mail").asString()).isEqualTo("cy@club.example");
    assertThat(cyril.path("values").path("seat_count").asInt()).isEqualTo(1);
    assertThat(errors()).isEmpty();
  }

  /** The same form in the look of a framework: its classes, and no stylesheet of Nodley's. */
  @ParameterizedTest
  @CsvSource({
    "bootstrap, dist/css/bootstrap.min.css, is-invalid, invalid-feedback",
    "bulma, css/bulma.min.css, is-danger, is-danger"
  })
  void aFrameworksClassesDressWhatIsWrong(String framework, String css, String wrong, String error)
      throws IOException {
    String page = Files.readString(EXAMPLES.resolve("members-" + framework + ".html"));
    Path installed = Repository.file("web/node_modules/" + framework);
    JsonNode about =
        JsonMapper.shared().readTree(Files.readString(installed.resolve("package.json")));
    String address =
        "https://cdn.jsdelivr.net/npm/"
            + framework
            + "@"
            + about.path("version").asString()
            + "/"
            + css;
    assertThat(page).contains(address);
    pages.put(framework + ".css", Files.readString(installed.resolve(css)));
    pages.put(framework + ".html", page.replace(address, "/" + framework + ".css"));
    publishMembers();
    addMember(framework);
    browser.openBound("/" + framework + ".html");
    in("main > form", "years_rowed").sendKeys(Keys.ENTER);
    browser.untilText("[data-summary] h2", "6 to mend");
    WebElement name = in("main > form", "first_name");
    assertThat(name.getDomAttribute("class")).contains(wrong);
    WebElement told = browser.find("[data-error=first_name]");
    assertThat(told.getDomAttribute("class")).contains(error);
    assertThat(told.isDisplayed()).isTrue();
    assertThat(told.getText()).isEqualTo("First name is required.");
    // The framework's own colours: those of what is wrong, not those of a usual control or text.
    browser.until(
        "its border is another",
        () ->
            !in("form", "last_name")
                .getCssValue("border-color")
                .equals(in("form", "phone_number").getCssValue("border-color")));
    assertThat(told.getCssValue("color"))
        .isNotEqualTo(browser.find("[data-state=first_name]").getCssValue("color"));
    for (String label : List.of("can_swim", "born_on", "e_mail")) {
      assertThat(browser.find("[data-error=" + label + "]").isDisplayed()).as(label).isTrue();
    }
    assertThat(browser.barriers()).isEmpty();
    // Its user name is held for this page, and no other test's.
    browser.type("[name=first_name]", "Ann " + framework);
    browser.leave();
    browser.untilText("[data-summary] h2", "4 to mend");
    assertThat(name.getDomAttribute("class")).doesNotContain(wrong);
    assertThat(told.isDisplayed()).isFalse();
    if (page.contains("id=\"grid\"")) {
      browser.find("#grid form[data-bound=true]");
      browser.type("#grid form:first-child [name=first_name]", "");
      browser.find("#grid form:first-child [name=last_name]").sendKeys(Keys.ENTER);
      browser.untilText("#grid [data-error=first_name]", "First name is required.");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#grid form:first-child [name=first_name]", "Mended");
      browser.find("#grid form:first-child [name=last_name]").sendKeys(Keys.ENTER);
      browser.untilText("#grid form:first-child [data-working]", "Saved.");
    }
  }

  private static void addMember(String name) {
    Wire.Reply added =
        service
            .wire()
            .add(
                "member",
                """
                {"first_name": "%s", "last_name": "Oar", "user_name": "%s", "e_mail": "%s@club.example",
                 "born_on": "1990-01-01", "can_swim": true}
                """
                    .formatted(name, name, name));
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
  }

  private static void publishMembers() throws IOException {
    String file = Files.readString(EXAMPLES.resolve("member.form.yaml"));
    Wire.Reply published =
        service
            .wire()
            .publish("member", file.replaceAll("(?m)^origins:.*$", "origins: [" + origin + "]"));
    assertThat(published.status()).as(published.response().body()).isIn(200, 201);
  }

  @Test
  void withoutScriptTheSameFormIsSentAndAnswered() {
    try (Browser plain = Browser.withoutScript(origin)) {
      plain.open("/own-form.html");
      plain.find("[name=name]").sendKeys("Little Tern");
      plain.find("[name=callSign]").sendKeys("MQ1BB");
      plain.find("[name=length]").sendKeys("7");
      plain.find("[name=insured]").click();
      plain.go(By.cssSelector("form button"));
      assertThat(plain.driver().getCurrentUrl()).startsWith(service.address());
      assertThat(plain.text(".said")).isEqualTo("Little Tern is registered.");
    }
    assertThat(kept("MQ1BB")).isEqualTo(1);
  }

  @Test
  void emptyElementsBecomeWholeFormsThatDoNotCross() {
    browser.open("/whole-forms.html");
    browser.find("#yours form[data-bound=true]");
    browser.find("#towed form[data-bound=true]");
    browser.find("#incident form[data-bound=true]");
    List<String> ids = browser.all("[id]").stream().map(it -> it.getDomAttribute("id")).toList();
    assertThat(new HashSet<>(ids)).hasSameSizeAs(ids);
    assertThat(browser.barriers()).isEmpty();
    assertThat(browser.find("#yours .actions a").getDomProperty("href"))
        .startsWith(service.address() + "/forms/vessel");
    in("#towed", "name").sendKeys("X");
    browser.leave();
    browser.untilText("#towed [data-field=name] .error", "at least 2 characters");
    assertThat(browser.text("#yours [data-field=name] .error")).isEmpty();
    browser.find("#yours button[type=submit]").click();
    browser.untilText("#yours .summary h2", "to mend");
    assertThat(browser.find("#towed .summary").isDisplayed()).isFalse();
    browser.find("#yours .summary a").click();
    assertThat(browser.driver().switchTo().activeElement()).isEqualTo(in("#yours", "name"));
    fill("#yours", "Old Gull", "MQ1CC", "8");
    browser.find("#yours button[type=submit]").click();
    browser.untilText("#yours [data-working]", "Old Gull is registered.");
    assertThat(in("#towed", "name").getDomProperty("value")).isEqualTo("X");
    assertThat(kept("MQ1CC")).isEqualTo(1);
  }

  @Test
  void boxesOfOneNameAreChoicesAndRowsHaveButtonsOfOnesOwn() {
    Wire.Reply published =
        service
            .wire()
            .publish(
                "plot",
                """
                form: plot
                access: { add: anyone, see: anyone, edit: anyone }
                origins: ["%s"]
                fields:
                  code: { type: text, required: true, tidy: [upper] }
                  tools: { type: choices, options: { spade: Spade, rake: Rake, barrow: Barrow } }
                  helpers: { type: rows, fields: { name: { type: text, required: true }, born: { type: integer } } }
                """
                    .formatted(origin));
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    pages.put(
        "plot.html",
        """
        <!doctype html><html lang="en"><meta charset="utf-8"><title>Plots</title>
        <script type="module" src="%s/page/nodley.js"></script>
        <main><h1>Plots</h1>
        <form data-nodley="plot" method="post">
          <label>Code <input name="code"></label>
          <fieldset><legend>Tools</legend>
            <label><input type="checkbox" name="tools" value="spade"> Spade</label>
            <label><input type="checkbox" name="tools" value="rake"> Rake</label>
          </fieldset>
          <fieldset data-field="helpers"><legend>Helpers</legend>
            <p data-row><span data-grip>⠿</span>
              <label>Name <input name="helpers[0].name"></label>
              <label>Born <input name="helpers[0].born"></label>
              <button data-up>Up</button> <button data-remove>Remove</button></p>
            <button data-add>More</button>
          </fieldset>
          <button id="go">Send</button>
        </form></main></html>
        """
            .formatted(THERE));
    browser.openBound("/plot.html");
    browser.find("#go").click();
    browser.untilText(".summary h2", "1 to mend");
    assertThat(
            browser.all("[data-error]").stream()
                .map(WebElement::getText)
                .filter(it -> !it.isEmpty()))
        .containsExactly("Code is required.");
    browser.type("[name=code]", "a07");
    browser.find("[value=rake]").click();
    browser.type("[name='helpers[0].name']", "Ann");
    browser.find("[data-add]").click();
    browser.type("[name='helpers[1].name']", "Bob");
    browser.type("[name='helpers[1].born']", "1980");
    browser.all("[data-up]").getLast().click();
    assertThat(browser.valueOf("[name='helpers[0].name']")).isEqualTo("Bob");
    browser.find("#go").click();
    browser.untilText("[data-working]", "Plot added.");
    assertThat(browser.find("[value=rake]").isSelected()).isFalse();
    JsonNode kept =
        service.wire().get("/api/forms/plot/records").json().path("records").path(0).path("values");
    assertThat(kept.toString())
        .isEqualTo(
            "{\"code\":\"A07\",\"tools\":[\"rake\"],\"helpers\":[{\"name\":\"Bob\",\"born\":1980},{\"name\":\"Ann\"}]}");
    assertThat(errors()).isEmpty();
  }

  @Test
  void aSelectInItsLabelStaysWhereItsOptionsDependOnAnotherField() {
    service
        .wire()
        .put(
            "/api/lists/piers",
            "application/yaml",
            """
            list: piers
            options:
              - { value: a, label: A, at: north }
              - { value: b, label: B, at: south }
              - { value: c, label: C, at: south }
            """);
    service
        .wire()
        .publish(
            "moor",
            """
            form: moor
            access: { add: anyone }
            origins: [%s]
            fields:
              coast: { type: choice, options: [north, south] }
              pier: { type: choice, options: { list: piers, where: at = coast } }
            """
                .formatted(origin));
    pages.put(
        "moor.html",
        """
        <!doctype html><html lang="en"><head><title>Moor</title>
        <script type="module" src="%s/page/nodley.js"></script></head><body><main><h1>Moor</h1>
        <form data-nodley="moor" method="post">
        <label>Coast <select name="coast"><option value="">-</option><option>north</option><option>south</option></select></label>
        <label id="pier">Pier <select name="pier"><option value="">-</option><option>a</option><option>b</option><option>c</option></select></label>
        <button>Go</button></form></main></body></html>
        """
            .formatted(THERE));
    browser.openBound("/moor.html");
    in("form", "coast").sendKeys("south");
    browser.until("the options", () -> browser.all("[name=pier] option:not([hidden])").size() == 3);
    assertThat(browser.find("#pier").isDisplayed()).isTrue();
    assertThat(browser.all("[name=pier] option[hidden]"))
        .extracting(it -> it.getDomProperty("value"))
        .containsExactly("a");
  }

  @Test
  void errorsStandWhereTheDeveloperWantsThem() {
    browser.openBound("/own-errors.html");
    browser.find("form button").click();
    browser.untilText(".bubble[data-error=name]", "Name of the vessel is required.");
    browser.untilText(".bubble[data-error=callSign]", "Call sign is required.");
    assertThat(browser.all("[data-error=name]")).hasSize(1);
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void aSubmissionIsTakenOver() {
    browser.openBound("/taken-over.html");
    browser.find("form button").click();
    browser.untilText("#outcome", "4 to mend.");
    fill("form", "Proud Skua", "MQ1DD", "10");
    browser.find("form button").click();
    browser.untilText("#outcome", "Proud Skua pays 120 a year.");
    assertThat(kept("MQ1DD")).isZero();
  }

  @Test
  void aFormIsOpenedFromCodeWithoutAPage() throws Exception {
    Files.copy(EXAMPLES.resolve("without-a-page.mjs"), folder.resolve("without-a-page.mjs"));
    Path example = folder.resolve("without-a-page.mjs");
    Files.writeString(example, Files.readString(example).replace(THERE, service.address()));
    Files.writeString(
        folder.resolve("nodley.js"), service.stranger().get("/page/nodley.js").response().body());
    Process node = new ProcessBuilder("node", example.toString()).redirectErrorStream(true).start();
    assertThat(node.waitFor(60, TimeUnit.SECONDS)).isTrue();
    assertThat(new String(node.getInputStream().readAllBytes(), StandardCharsets.UTF_8).lines())
        .containsExactly(
            "opened",
            "changed",
            "changed",
            "refused",
            "refused",
            "Name of the vessel is required.",
            "changed",
            "changed",
            "accepted",
            "Grey Heron · MQ2ZZ",
            "closed");
  }

  private static List<String> errors() {
    return browser.driver().manage().logs().get(LogType.BROWSER).getAll().stream()
        .filter(it -> it.getLevel().intValue() >= Level.SEVERE.intValue())
        .map(it -> it.getMessage().replace("\\\"", "\""))
        .filter(it -> it.contains("Nodley"))
        .toList();
  }

  @Test
  void aMistakeInThePageIsLoudAtOnce() {
    pages.put(
        "mistaken.html",
        """
        <!doctype html><html lang="en"><title>Mistaken</title>
        <script type="module" src="http://127.0.0.1:8420/page/nodley.js"></script>
        <form data-nodley="vessel" enctype="text/plain">
        <label>Name <input name="nmae"></label><label>Sign <input name="callSign"></label>
        <button>Send</button></form>
        <form data-nodley="vesel"><button>Send</button></form></html>
        """);
    errors();
    browser.openBound("/mistaken.html");
    StringBuilder told = new StringBuilder();
    browser.until(
        "the console to tell",
        () -> {
          errors().forEach(told::append);
          return told.toString().contains("vesel");
        });
    assertThat(told.toString())
        .contains("control \"nmae\", and the form no such field")
        .contains("\"length\" must be filled in, and the page has no control for it")
        .contains("text/plain")
        .contains("method=\"post\"")
        .contains("the form \"vesel\" could not be bound");
  }

  @Test
  void otherSitesAreLetInOnlyWhereAFormNamesThem() {
    Wire stranger = service.stranger();
    HttpHeaders named = ask(stranger, "/api/forms/vessel", origin);
    assertThat(named.firstValue("Access-Control-Allow-Origin")).contains(origin);
    assertThat(named.firstValue("Access-Control-Allow-Credentials")).isEmpty();
    assertThat(named.firstValue("Access-Control-Expose-Headers"))
        .contains("ETag, Location, Retry-After, X-Request-Id");
    // Names of fields have no case (RFC 9110, section 5.1).
    assertThat(String.join(",", named.allValues("Vary"))).containsIgnoringCase("origin");
    for (String other : List.of("http://elsewhere.example", "null", origin + ".evil.example")) {
      assertThat(
              ask(stranger, "/api/forms/vessel", other).firstValue("Access-Control-Allow-Origin"))
          .as(other)
          .isEmpty();
    }
    // What is not a form's own is nobody else's: another form, all forms, attempts, the console.
    for (String path :
        List.of("/api/forms/berth", "/api/forms", "/api/attempts", "/console", "/api/holds")) {
      assertThat(ask(stranger, path, origin).firstValue("Access-Control-Allow-Origin"))
          .as(path)
          .isEmpty();
    }
    Wire.Reply asked =
        stranger.send(
            stranger
                .request("/api/forms/vessel/records")
                .method("OPTIONS", HttpRequest.BodyPublishers.noBody())
                .header("Origin", origin)
                .header("Access-Control-Request-Method", "POST"));
    assertThat(asked.status()).isEqualTo(204);
    assertThat(asked.response().headers().firstValue("Access-Control-Allow-Headers").orElse(""))
        .contains("Idempotency-Key", "If-Match", "Content-Type");
  }

  private static HttpHeaders ask(Wire wire, String path, String from) {
    return wire.send(wire.request(path).GET().header("Origin", from)).response().headers();
  }

  @Test
  void aSessionCountsForNothingOnAnotherSitesPage() {
    browser.open("/nothing.html");
    Object status =
        ((JavascriptExecutor) browser.driver())
            .executeAsyncScript(
                "const done = arguments[arguments.length - 1];"
                    + " fetch(arguments[0] + '/api/attempts', { credentials: 'include' })"
                    + ".then(r => done(r.status), e => done(String(e)))",
                service.address());
    assertThat(status.toString()).contains("Failed to fetch");
  }

  /** Steps and drafts need no address of their own: the browser remembers which draft it was. */
  @Test
  void aFormInStepsIsFilledInAndFoundAgainOnAnotherSite() {
    Wire.Reply published =
        service
            .wire()
            .publish(
                "walk",
                """
                form: walk
                access: { add: anyone, see: signed-in }
                origins: ["%s"]
                fields: { name: { type: text, required: true }, day: { type: text }, code: { type: text, masked: true } }
                steps: { who: { title: Who, fields: [name] }, when: { title: When, fields: [day, code] } }
                """
                    .formatted(origin));
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    pages.put(
        "walk.html",
        """
        <!doctype html><html lang="en"><meta charset="utf-8"><title>Walks</title>
        <script type="module" src="%s/page/nodley.js"></script>
        <main><h1>Walks</h1><div data-nodley="walk"></div></main></html>
        """
            .formatted(THERE));
    browser.openBound("/walk.html");
    browser.press(".actions [name=_next]");
    browser.untilText("form .error", "Name is required.");
    browser.type("[name=name]", "Ida");
    browser.press(".actions [name=_next]");
    browser.until("the next step", () -> browser.find("[name=day]").isDisplayed());
    browser.type("[name=day]", "Monday");
    browser.type("[name=code]", "K17");
    browser.until("it is kept", () -> browser.text("[data-kept]").startsWith("Kept as draft"));
    assertThat(browser.driver().getCurrentUrl()).isEqualTo(origin + "/walk.html");
    assertThat(browser.driver().getTitle()).isEqualTo("Walks");
    browser.openBound("/walk.html");
    browser.until("it is found again", () -> browser.valueOf("[name=name]").equals("Ida"));
    assertThat(browser.valueOf("[name=day]")).isEqualTo("Monday");
    assertThat(browser.valueOf("[name=code]")).isEqualTo("K17");
    browser.press("nav.steps button[value=overview]");
    browser.untilText("[data-overview]", "Monday");
    browser.find("[data-overview] h2 a").click();
    browser.until("the first step", () -> browser.find("[name=name]").isDisplayed());
    assertThat(browser.driver().getCurrentUrl()).isEqualTo(origin + "/walk.html");
    browser.press("nav.steps button[value=overview]");
    browser.until("the button", () -> browser.find("[data-send]").isDisplayed());
    browser.press("[data-send]");
    browser.untilText("[data-working]", "Walk added.");
    JsonNode kept =
        service.wire().get("/api/forms/walk/records").json().path("records").path(0).path("values");
    assertThat(kept.toString()).isEqualTo("{\"name\":\"Ida\",\"day\":\"Monday\",\"code\":\"K17\"}");
    assertThat(browser.driver().executeScript("return localStorage.length")).isEqualTo(0L);
    assertThat(errors()).isEmpty();
  }
}
