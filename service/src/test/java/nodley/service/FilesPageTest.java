package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;
import org.openqa.selenium.WebElement;
import tools.jackson.databind.JsonNode;

/** Files on a page: chosen, sent at once, kept by a refusal, removed; with script and without. */
class FilesPageTest {

  private static final String LOG =
      """
      form: log
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        title: { type: text, required: true, length: ..20 }
        photo: { type: file, accept: [image/*], size: ..64 KiB }
        papers: { type: file, label: Papers, required: true, count: 1..3 }
        crew: { type: rows, fields: { who: { type: text }, pass: { type: file } } }
      """;

  /** The smallest picture: one pixel, as GIF89a has it. */
  private static final byte[] GIF =
      Base64.getDecoder().decode("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7");

  @TempDir static Path files;

  private static RunningService service;
  private static Browser browser;
  private static Browser plain;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("log", LOG).status()).isEqualTo(201);
    browser = Browser.withScript(service.address());
    plain = Browser.withoutScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    plain.close();
    service.close();
  }

  private static String file(String name, byte[] bytes) throws IOException {
    return Files.write(files.resolve(name), bytes).toString();
  }

  private static void choose(Browser in, String id, String... paths) {
    in.find("#" + id).sendKeys(String.join("\n", paths));
  }

  private static List<String> listed(Browser in, String field) {
    return in.all("[data-field='" + field + "'] > .files li[data-file]").stream()
        .map(WebElement::getText)
        .toList();
  }

  private static JsonNode latest() {
    return service.wire().get("/api/forms/log/records?limit=1").json().path("records").get(0);
  }

  @Test
  void aStockClientOfTheProtocolSendsFilesFromABrowser() throws IOException {
    browser.open("/forms/log/new");
    browser
        .driver()
        .executeScript(
            Files.readString(Repository.file("web/node_modules/tus-js-client/dist/tus.min.js")));
    Object added =
        browser
            .driver()
            .executeAsyncScript(
                """
                const done = arguments[0];
                const file = new Blob([new Uint8Array(3_000_000).fill(7)]);
                const upload = new tus.Upload(file, {
                  endpoint: '/api/uploads', chunkSize: 1_000_000,
                  metadata: { form: 'log', field: 'papers', filename: 'sevens.bin' },
                  onError: (error) => done(String(error)),
                  onSuccess: async () => {
                    const papers = ['upload:' + upload.url.split('/').at(-1)];
                    const reply = await fetch('/api/forms/log/records', {
                      method: 'POST', headers: { 'Content-Type': 'application/json' },
                      body: JSON.stringify({ title: 'Sevens', papers }) });
                    done(reply.status + ' ' + (await reply.json()).values.papers[0].sha256);
                  } });
                upload.start();
                """);
    // By sha256sum.
    assertThat(added)
        .isEqualTo("201 892f2fe04ec507da2fe21530851fc8c60ae8a0d9b126b61d7168fd5dbb209a1b");
  }

  @Test
  void aChosenFileGoesUpAtOnceAndARefusalKeepsIt() throws IOException {
    browser.openBound("/forms/log/new");
    choose(browser, "f-papers", file("Logbuch.txt", "Tag 1".getBytes()), file("b.txt", GIF));
    browser.until("both are listed", () -> listed(browser, "papers").size() == 2);
    assertThat(listed(browser, "papers").getFirst()).contains("Logbuch.txt").contains("5 bytes");
    browser.until(
        "it is told", () -> browser.stateOf("papers").matches("(Logbuch|b).txt: .* uploaded"));
    choose(browser, "f-photo", file("harbour.gif", GIF));
    browser.until("the picture is there", () -> browser.all("[data-field=photo] img").size() == 1);
    assertThat(browser.barriers()).isEmpty();

    browser.press("form .actions button[type=submit]");
    browser.until("refused", () -> !browser.errorOf("title").isEmpty());
    assertThat(listed(browser, "papers")).hasSize(2);
    browser.press("[data-field=papers] li[data-file] button");
    browser.until("one is gone", () -> listed(browser, "papers").size() == 1);
    assertThat(browser.focused()).isEqualTo("f-papers");
    browser.type("#f-title", "First day");
    browser.press("form .actions button[type=submit]");
    browser.until("accepted", () -> browser.path().matches("/forms/log/[0-9a-f-]{36}"));
    JsonNode values = latest().path("values");
    assertThat(values.path("papers")).hasSize(1);
    assertThat(values.path("photo").path("type").asString()).isEqualTo("image/gif");
    assertThat(browser.find("dd a.file").getText()).contains("harbour.gif");
    assertThat(browser.barriers()).isEmpty();

    // An edit keeps what is there, and says nothing is to be saved.
    browser.openBound(browser.path() + "/edit");
    browser.until("they are listed", () -> listed(browser, "photo").size() == 1);
    browser.press("[data-field=photo] li[data-file] button");
    browser.press("form .actions button[type=submit]");
    browser.until("saved", () -> !browser.path().endsWith("/edit"));
    assertThat(latest().path("values").has("photo")).isFalse();
    assertThat(latest().path("values").path("papers")).hasSize(1);
  }

  @Test
  void whatTheFieldDoesNotTakeIsToldAndNothingIsLost() throws IOException {
    browser.openBound("/forms/log/new");
    choose(browser, "f-photo", file("large.gif", new byte[70_000]));
    browser.until(
        "it is told",
        () ->
            browser
                .text("[data-field=photo] .files")
                .equals(
                    "large.gif was not taken. Photo: large.gif has 68.4 KiB; at most 64 KiB is"
                        + " allowed."));
    assertThat(browser.barriers()).isEmpty();
  }

  @Test
  void aLostLineIsWaitedFor() throws IOException {
    browser.openBound("/forms/log/new");
    browser.find(".files ul");
    service.stop();
    choose(browser, "f-papers", file("c.txt", "three".getBytes()));
    browser.until(
        "it waits",
        () ->
            browser
                .text("[data-field=papers] .going")
                .contains("the line is broken; it goes on by itself."));
    service.startAgain();
    browser.until("it went on", () -> listed(browser, "papers").size() == 1);
  }

  /** Whoever chooses a file before the script for files is there does not lose it. */
  @Test
  void aFileChosenEarlyGoesUpToo() throws IOException {
    lag(400);
    browser.openBound("/forms/log/new");
    choose(browser, "f-papers", file("early.txt", "five!".getBytes()));
    lag(0);
    browser.until("it went up", () -> listed(browser, "papers").size() == 1);
  }

  /** Where that script cannot be fetched, the form takes its files along, as it does without. */
  @Test
  void aFileThatNoScriptTakesGoesWithTheForm() throws IOException {
    cdp("Network.setBlockedURLs", Map.of("urls", List.of("*/files-*.js", "*/files.js")));
    browser.openBound("/forms/log/new");
    browser.type("#f-title", "By itself");
    // Its list is the script's.
    assertThat(browser.all("[data-field=papers] .files ul")).isEmpty();
    choose(browser, "f-papers", file("alone.txt", "six six".getBytes()));
    browser.press("form .actions button[type=submit]");
    cdp("Network.setBlockedURLs", Map.of("urls", List.of()));
    browser.until("accepted", () -> browser.path().matches("/forms/log/[0-9a-f-]{36}"));
    assertThat(latest().path("values").path("title").asString()).isEqualTo("By itself");
    assertThat(latest().path("values").path("papers").path(0).path("size").asInt()).isEqualTo(7);
  }

  /** Whatever is in a file, nothing of it runs where its address is opened. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      value = {
        "harbour.png | <html><script>document.title = 'ran'</script></html>",
        "map.svg | <svg xmlns='http://www.w3.org/2000/svg'><script>document.title ="
            + " 'ran'</script></svg>",
        "page.html | <html><body onload='document.title = \"\"ran\"\"'></body></html>",
        "paper.pdf | %PDF-1.4 <html><script>document.title = 'ran'</script></html>",
      })
  void nothingInAFileRuns(String name, String content) {
    Wire wire = service.wire();
    String metadata =
        Stream.of("form log", "field papers", "filename " + name)
            .map(it -> it.split(" "))
            .map(it -> it[0] + " " + Base64.getEncoder().encodeToString(it[1].getBytes()))
            .collect(Collectors.joining(","));
    Wire.Reply sent =
        wire.post(
            "/api/uploads",
            "application/offset+octet-stream",
            content,
            "Tus-Resumable",
            "1.0.0",
            "Upload-Length",
            Integer.toString(content.length()),
            "Upload-Metadata",
            metadata);
    String upload = "upload:" + sent.header("Location").replaceFirst(".*/", "");
    String href =
        wire.add("log", "{\"title\": \"A\", \"papers\": [\"%s\"]}".formatted(upload))
            .json()
            .at("/values/papers/0/href")
            .asString();
    browser.driver().get(service.address() + href);
    assertThat(browser.driver().getTitle()).isNotEqualTo("ran");
  }

  /** Whoever sends the form while a file goes up does not lose the file. */
  @Test
  void aFormWaitsForItsFiles() throws IOException {
    browser.openBound("/forms/log/new");
    browser.find(".files ul");
    browser.type("#f-title", "Slow line");
    sendAtMost(20_000);
    choose(browser, "f-papers", file("slow.bin", new byte[50_000]));
    browser.until("it goes up", () -> browser.all(".files .going").size() == 1);
    browser.press("form .actions button[type=submit]");
    sendAtMost(-1);
    browser.until("accepted", () -> browser.path().matches("/forms/log/[0-9a-f-]{36}"));
    assertThat(latest().path("values").path("title").asString()).isEqualTo("Slow line");
    assertThat(latest().path("values").path("papers").path(0).path("size").asInt())
        .isEqualTo(50_000);
  }

  /** Bytes a second; −1 for as many as there can be. */
  private static void sendAtMost(int speed) {
    network(0, speed);
  }

  /** Milliseconds that every answer takes longer. */
  private static void lag(int latency) {
    network(latency, -1);
  }

  private static void network(int latency, int speed) {
    cdp(
        "Network.emulateNetworkConditions",
        Map.of(
            "offline",
            false,
            "latency",
            latency,
            "downloadThroughput",
            -1,
            "uploadThroughput",
            speed));
  }

  private static void cdp(String command, Map<String, Object> parameters) {
    browser.driver().executeCdpCommand("Network.enable", Map.of());
    browser.driver().executeCdpCommand(command, parameters);
  }

  @Test
  void aRowTakesItsFilesAlongWhenItIsMoved() throws IOException {
    browser.openBound("/forms/log/new");
    browser.type("#f-crew-0-who", "Ann");
    choose(browser, "f-crew-0-pass", file("ann.txt", "A".getBytes()));
    browser.until("hers is there", () -> listed(browser, "crew[0].pass").size() == 1);
    browser.press("button[name=_more]");
    assertThat(listed(browser, "crew[1].pass")).isEmpty();
    browser.type("#f-crew-1-who", "Bob");
    choose(browser, "f-crew-1-pass", file("bob.txt", "B".getBytes()));
    browser.until("his is there", () -> listed(browser, "crew[1].pass").size() == 1);
    browser.press("button[name=_up][value='crew[1]']");
    browser.until(
        "it went along", () -> listed(browser, "crew[0].pass").toString().contains("bob.txt"));
    assertThat(listed(browser, "crew[1].pass").toString()).contains("ann.txt");
  }

  @Test
  void withoutScriptAFileIsChosenBesideThoseThatWereKept() throws IOException {
    plain.open("/forms/log/new");
    choose(plain, "f-papers", file("d.txt", "four".getBytes()));
    plain.press("form .actions button[type=submit]");
    plain.until("refused", () -> !plain.errorOf("title").isEmpty());
    assertThat(plain.find("[data-field=papers] .files").getText())
        .contains("Untick what is to be removed.")
        .contains("d.txt");
    assertThat(plain.barriers()).isEmpty();
    plain.type("#f-title", "Plain");
    choose(plain, "f-papers", file("e.txt", "five".getBytes()));
    plain.find("#f-title").sendKeys(Keys.TAB);
    plain.press("form .actions button[type=submit]");
    plain.until("accepted", () -> plain.path().matches("/forms/log/[0-9a-f-]{36}"));
    assertThat(latest().path("values").path("papers")).hasSize(2);
    assertThat(plain.driver().findElements(By.cssSelector("dd a.file"))).hasSize(2);
  }
}
