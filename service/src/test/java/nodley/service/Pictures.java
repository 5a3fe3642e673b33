package nodley.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.openqa.selenium.By;
import org.openqa.selenium.Cookie;
import org.openqa.selenium.Keys;
import org.openqa.selenium.OutputType;

/** Takes the pictures of docs/screenshots from a running demo: see tools/pictures. */
public final class Pictures {

  private final Browser browser;
  private final String address;
  private final Path folder;

  private Pictures(Browser browser, String address, Path folder) {
    this.browser = browser;
    this.address = address;
    this.folder = folder;
  }

  /** Arguments: the address of the demo, its key, the folder for the pictures. */
  public static void main(String[] args) throws IOException {
    try (Browser browser = Browser.withScript(args[0])) {
      Pictures pictures = new Pictures(browser, args[0], Path.of(args[2]));
      pictures.screen();
      if (args.length > 3) {
        pictures.files();
      } else {
        pictures.takeAll(args[1]);
      }
    }
  }

  private void screen() {
    browser
        .driver()
        .executeCdpCommand(
            "Emulation.setDeviceMetricsOverride",
            Map.of("width", 1280, "height", 800, "deviceScaleFactor", 1, "mobile", false));
  }

  private void takeAll(String key) throws IOException {
    browser.openBound("/forms/vessel/new");
    browser.find("button[type=submit]").click();
    browser.untilText(".summary h2", "to mend");
    take("page-refused");
    browser.openBound("/forms/vessel/new");
    browser.type("#f-name", "Grey Heron");
    browser.type("#f-callSign", "mq-7ab");
    browser.leave();
    browser.untilText("#f-callSign-error", "already registered");
    take("page-taken");
    browser.open("/console");
    browser.find("#key");
    browser.find("#key").sendKeys(key);
    browser.find("form:has(#key) button[type=submit]").click();
    browser.untilText("table", "Vessels");
    browser.find(".plot svg");
    take("console-first");
    browser.open("/console/forms/vessel?where=length%20%3E%3D%2010%20and%20rig%20%3D%20%22sail%22");
    browser.untilText("table", "Grey Heron");
    take("console-records");
    browser.open("/console/forms/vessel/struggles");
    browser.find(".plot svg");
    take("console-struggles");
    browser.open("/console/forms/vessel/file");
    browser.untilText(".cm-content", "callSign:");
    browser.find(".cm-content").sendKeys(Keys.chord(Keys.CONTROL, Keys.HOME), "titel: Boats\n");
    browser.untilText(".help", "Did you mean");
    browser.leave();
    take("console-file");
    browser.open("/console/people");
    browser.untilText("table", "mara");
    browser.press(By.xpath("//tr[contains(., 'mara')]//button[contains(., 'Address and roles')]"));
    browser.find("#Change-roles");
    take("console-people");
    browser.openBound("/forms/visitor/new");
    browser.type("#f-callSign", "px4tn");
    browser.leave();
    browser.untilValue("#f-name", "Second Wind");
    take("page-asked");
    conflict(key);
    terminal(
        "commands",
        key,
        "forms",
        "check vessel name=Tern callSign=mq-7ab length=1.999 crew=many insured=yes",
        "add berth code=e-7 pontoon=inner length=14 depth=2.8",
        "add visit insurance=@../demo/files/insurance.pdf");
    Path broken = Files.createTempDirectory("pictures").resolve("dinghy.form.yaml");
    Files.writeString(
        broken,
        """
        form: dinghy
        titel: Register a dinghy
        fields:
          sail: { type: text, lenght: 2..8, pattern: "[A-Z]+\\\\d+" }
          length: { type: decimal, range: 6..2 }
          berth: { type: recrod, form: berth }
        """);
    terminal("lint", key, "lint " + broken, "try ../demo/cases/incident.cases.yaml");
    Wire wire = new Wire(address, Optional.of(key));
    String refused = wire.add("vessel", Wire.vessel("Tern", "mq-7ab")).header("X-Request-Id");
    terminal("attempts", key, "attempts vessel --limit 2", "log --limit 2", "attempt " + refused);
    steps();
    browser.find(".rehearsal summary").click();
    files();
    people(wire);
    ownPage(wire);
  }

  /** One photograph is there, and another goes up over a slow line. */
  private void files() {
    browser.openBound("/forms/incident/new");
    Path photographs = Repository.file("demo/files").toAbsolutePath().normalize();
    browser.find("#f-photos").sendKeys(photographs.resolve("quay.jpg").toString());
    browser.until("it is there", () -> browser.all(".files img").size() == 1);
    slow(true);
    browser.find("#f-photos").sendKeys(photographs.resolve("oil.jpg").toString());
    browser.until(
        "some of it has gone",
        () -> browser.all(".files .going").stream().anyMatch(it -> !it.getText().contains(" 0 %")));
    browser
        .driver()
        .executeScript("document.getElementById('f-photos').scrollIntoView({ block: 'center' })");
    take("page-files");
    slow(false);
  }

  private void steps() throws IOException {
    browser.openBound("/forms/visit/new");
    browser.find("[data-field=vessel] [role=combobox]").sendKeys("Grey");
    browser.find("[role=option]").click();
    browser.type("#f-contact-name", "Ann Ferrow");
    browser.type("#f-contact-email", "ann@harbour.example");
    browser.type("#f-crew-0-name", "Ann Ferrow");
    browser.leave();
    browser.until("it is kept", () -> browser.text("[data-kept]").startsWith("Kept"));
    browser.driver().executeScript("document.querySelector('.steps').scrollIntoView()");
    browser.open("/forms/visit/new");
    browser.find("form[data-bound=true]");
    take("page-draft");
    browser.find("[data-drafts] a").click();
    browser.find("[name=_draft]");
    browser.find("form[data-bound=true]");
    browser.press(".actions [name=_next]");
    browser.until("the next step", () -> browser.find("#f-arrives").isDisplayed());
    LocalDate day = LocalDate.now().plusDays(3);
    browser
        .driver()
        .executeScript(
            "for (const [id, day] of [['f-arrives', arguments[0]], ['f-departs', arguments[1]]]) {"
                + " const it = document.getElementById(id); it.value = day;"
                + " it.dispatchEvent(new Event('input', { bubbles: true }));"
                + " it.dispatchEvent(new FocusEvent('blur')); }",
            day.toString(),
            day.plusDays(2).toString());
    browser.press("nav.steps button[value=overview]");
    browser.untilText("[data-overview]", "Papers and fee");
    take("page-overview");
  }

  private void slow(boolean slow) {
    browser.driver().executeCdpCommand("Network.enable", Map.of());
    browser
        .driver()
        .executeCdpCommand(
            "Network.emulateNetworkConditions",
            Map.of(
                "offline",
                false,
                "latency",
                0,
                "downloadThroughput",
                -1,
                "uploadThroughput",
                slow ? 4_000 : -1));
  }

  /** What a skipper sees: where to sign in, what is hers, and what the office alone may change. */
  private void people(Wire wire) {
    browser.driver().manage().deleteAllCookies();
    browser.open("/sign-in?to=/forms/mooring/new");
    take("sign-in");
    String link =
        wire.post("/api/people/mara/link", Wire.JSON_TYPE, "").json().path("link").asString();
    String session =
        new Wire(address, Optional.empty())
            .put(
                "/api/password",
                Wire.JSON_TYPE,
                "{\"link\": \"%s\", \"password\": \"%s\"}"
                    .formatted(link.replaceFirst(".*link=", ""), RunningService.PASSWORD))
            .header("Set-Cookie");
    browser
        .driver()
        .manage()
        .addCookie(new Cookie("nodley_session", session.replaceFirst(".*?=(.*?);.*", "$1")));
    browser.open("/account");
    take("page-account");
    browser.driver().findElement(By.partialLinkText("Grey Heron")).click();
    browser.driver().findElement(By.linkText("Edit")).click();
    browser.find("form[data-bound=true]");
    browser.driver().executeScript("document.getElementById('f-email').scrollIntoView()");
    take("page-roles");
  }

  /** A page of another site in the look of a CSS framework, refused. */
  private void ownPage(Wire wire) throws IOException {
    Path examples = Repository.file("docs/examples");
    Path css = Repository.file("web/node_modules/bootstrap/dist/css/bootstrap.min.css");
    String page =
        Files.readString(examples.resolve("members-bootstrap.html"))
            .replaceAll("https://cdn[^\"]*", "/look.css")
            .replace("http://127.0.0.1:8420", address);
    Map<String, String> files = Map.of("look.css", Files.readString(css), "members.html", page);
    try (OtherSite site = new OtherSite(name -> Optional.ofNullable(files.get(name)));
        Browser theirs = Browser.withScript(site.origin())) {
      String form = Files.readString(examples.resolve("member.form.yaml"));
      wire.publish(
          "member", form.replaceAll("(?m)^origins:.*$", "origins: [" + site.origin() + "]"));
      Pictures pictures = new Pictures(theirs, address, folder);
      pictures.screen();
      theirs.openBound("/members.html");
      theirs.type("[name=e_mail]", "ann");
      theirs.find("[name=e_mail]").sendKeys(Keys.ENTER);
      theirs.untilText("[data-summary] h2", "to mend");
      theirs.type("[name=first_name]", "Ann");
      theirs.leave();
      theirs.untilText("[data-summary] h2", "4 to mend");
      theirs.driver().executeScript("scrollTo(0, 0)");
      pictures.take("page-own");
    }
  }

  /** Somebody else saves the record while its page is open. */
  private void conflict(String key) {
    browser.open("/forms/vessel?q=heron");
    browser.find("tbody a").click();
    browser.untilText("h1", "Grey Heron");
    browser.driver().findElement(By.linkText("Edit")).click();
    browser.find("form[data-bound=true]");
    String path =
        browser.path().replaceFirst("^/forms/vessel/(.*)/edit$", "/api/forms/vessel/records/$1");
    Wire wire = new Wire(address, Optional.of(key));
    String theirs =
        wire.get(path)
            .json()
            .path("values")
            .toString()
            .replace("\"Grey Heron\"", "\"Grey Heron II\"")
            .replace("\"sail\"", "\"motor\"");
    wire.put(path, Wire.JSON_TYPE, theirs, "If-Match", "\"1\"");
    browser.type("#f-name", "Great Grey Heron");
    browser.find("form.nodley button[type=submit]").click();
    browser.untilText(".summary h2", "This record has changed");
    browser.driver().executeScript("scrollTo(0, 0)");
    take("page-conflict");
  }

  /** Runs commands of the packed client and draws what they print. */
  private void terminal(String name, String key, String... commands) {
    var text = new StringBuilder();
    for (String command : commands) {
      Object[] arguments = command.split(" ");
      Program.Ended ended =
          Program.client(Map.of("NODLEY_AT", address, "NODLEY_KEY", key), arguments);
      text.append("$ ./nodley ").append(command.replaceAll("(\\.\\.)?/\\S*/", "")).append('\n');
      text.append(uploaded(command, key));
      text.append(
              ended
                  .out()
                  .replaceAll("(?m)^\\S+: .* uploaded\\.\\R", "")
                  .replaceAll("(\\.\\.)?/\\S*/", ""))
          .append("\n\n");
    }
    String page =
        "<body style='margin:0;background:#10191c;color:#e6eeee;padding:28px'>"
            + "<pre style='font:17px/1.45 monospace;margin:0'>"
            + text.toString().replace("&", "&amp;").replace("<", "&lt;");
    browser
        .driver()
        .get(
            "data:text/html;charset=utf-8;base64,"
                + Base64.getEncoder().encodeToString(page.getBytes(StandardCharsets.UTF_8)));
    take(name);
  }

  /** The bar that a person sees of an upload, which only a terminal shows. */
  private String uploaded(String command, String key) {
    if (!command.contains("=@")) {
      return "";
    }
    List<String> words = new ArrayList<>(Program.clientCommand());
    words.addAll(List.of(command.split(" ")));
    ProcessBuilder script =
        new ProcessBuilder("script", "-qec", String.join(" ", words), "/dev/null");
    script.environment().putAll(Map.of("NODLEY_AT", address, "NODLEY_KEY", key));
    try {
      Process process = script.start();
      String printed = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
      // Each state of the bar is written over the one before.
      String states = printed.substring(0, Math.max(0, printed.indexOf('\n'))).strip();
      return states.substring(states.lastIndexOf('\r') + 1) + "\n";
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void take(String name) {
    browser.until(
        "what moves to come to rest",
        () ->
            (Boolean)
                browser.driver().executeScript("return document.getAnimations().length === 0"));
    try {
      Files.createDirectories(folder);
      Path picture = folder.resolve(name + ".png");
      Files.write(picture, browser.driver().getScreenshotAs(OutputType.BYTES));
      System.out.println(picture);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
