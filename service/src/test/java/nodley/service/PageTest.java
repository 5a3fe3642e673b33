package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Keys;

/** The page with script, in Chromium, behind a gate that can hold or cut what the page sends. */
class PageTest {

  private static RunningService service;
  private static Gate gate;
  private static Browser browser;

  /** Passes requests on to the service; a test may hold those below /api, or cut them off. */
  private static final class Gate implements AutoCloseable {
    private final HttpServer server;
    private final HttpClient client = HttpClient.newHttpClient();
    private final String target;
    private final List<String> sent = new CopyOnWriteArrayList<>();
    private final AtomicReference<CountDownLatch> held = new AtomicReference<>();
    private final AtomicReference<CountDownLatch> heldRecords = new AtomicReference<>();
    private volatile boolean cut;
    private volatile boolean loseAnswers;

    Gate(String target) throws IOException {
      this.target = target;
      server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
      server.setExecutor(Executors.newVirtualThreadPerTaskExecutor());
      server.createContext("/", this::pass);
      server.start();
    }

    String address() {
      return "http://127.0.0.1:" + server.getAddress().getPort();
    }

    void hold() {
      held.set(new CountDownLatch(1));
    }

    void release() {
      held.getAndSet(null).countDown();
    }

    /** Pages of records are asked for, and come once the browser has told that it has pressed. */
    void holdRecords() {
      heldRecords.set(new CountDownLatch(1));
    }

    private void pass(HttpExchange exchange) throws IOException {
      String path = exchange.getRequestURI().toString();
      if (path.equals("/pressed")) {
        heldRecords.getAndSet(null).countDown();
      }
      byte[] body = exchange.getRequestBody().readAllBytes();
      boolean change = exchange.getRequestMethod().equals("POST") && path.startsWith("/api");
      if (change) {
        sent.add(path.replaceFirst("^/api/forms/", "") + " " + new String(body));
        if (cut) {
          exchange.close();
          return;
        }
        CountDownLatch latch = held.get();
        if (latch != null) {
          await(latch);
        }
      }
      HttpRequest.Builder request = HttpRequest.newBuilder(URI.create(target + path));
      exchange
          .getRequestHeaders()
          .forEach(
              (name, values) -> {
                if (!List.of("Host", "Connection", "Content-length", "Upgrade").contains(name)) {
                  values.forEach(value -> request.header(name, value));
                }
              });
      request.method(exchange.getRequestMethod(), HttpRequest.BodyPublishers.ofByteArray(body));
      try {
        HttpResponse<byte[]> reply =
            client.send(request.build(), HttpResponse.BodyHandlers.ofByteArray());
        reply
            .headers()
            .map()
            .forEach(
                (name, values) -> {
                  if (!List.of("transfer-encoding", "content-length").contains(name)) {
                    exchange.getResponseHeaders().put(name, values);
                  }
                });
        if (change && loseAnswers) {
          return;
        }
        CountDownLatch latch = heldRecords.get();
        if (latch != null && path.matches("/forms/vessel/[0-9a-f-]{36}")) {
          await(latch);
        }
        boolean empty = reply.body().length == 0;
        exchange.sendResponseHeaders(reply.statusCode(), empty ? -1 : reply.body().length);
        exchange.getResponseBody().write(reply.body());
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      } finally {
        exchange.close();
      }
    }

    private static void await(CountDownLatch latch) {
      try {
        if (!latch.await(30, TimeUnit.SECONDS)) {
          throw new AssertionError("nobody released the gate");
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }

    @Override
    public void close() {
      server.stop(0);
    }
  }

  @BeforeAll
  static void start() throws IOException {
    service = RunningService.fresh();
    service.wire().publishDemo();
    add("Grey Heron", "MQ7AB");
    gate = new Gate(service.address());
    browser = Browser.withScript(gate.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    gate.close();
    service.close();
  }

  @BeforeEach
  void open() {
    gate.cut = false;
    gate.loseAnswers = false;
    browser.openBound("/forms/vessel/new");
    gate.sent.clear();
  }

  private static String add(String name, String sign) {
    return service.wire().addVessel(name, sign);
  }

  private static void fill(String name, String sign) {
    browser.type("#f-name", name);
    browser.type("#f-callSign", sign);
    browser.type("#f-length", "9.5");
    browser.find("#f-insured").click();
  }

  private static void submit() {
    browser.find("form.nodley button[type=submit]").click();
  }

  @Test
  void aFieldsOwnRulesRunOnLeavingItAndNotBefore() {
    browser.type("#f-name", "x");
    assertThat(browser.errorOf("name")).isEmpty();
    browser.leave();
    browser.untilText(
        "#f-name-error", "Name of the vessel must have at least 2 characters; it has 1.");
    assertThat(browser.find("#f-name").getDomAttribute("aria-invalid")).isEqualTo("true");
    assertThat(browser.find("#f-name").getDomAttribute("aria-describedby"))
        .contains("f-name-error");
    browser.find("#f-name").sendKeys("y");
    browser.until("the error to leave", () -> browser.errorOf("name").isEmpty());
    assertThat(browser.find("#f-name").getDomAttribute("aria-invalid")).isNull();
    assertThat(gate.sent).isEmpty();
  }

  @Test
  void whatTidyingMadeOfItStandsInTheField() {
    browser.type("#f-name", "  Grey   Heron ");
    browser.leave();
    browser.until("tidied", () -> browser.valueOf("#f-name").equals("Grey Heron"));
  }

  @Test
  void aTakenValueIsToldLiveAndLeavesWhenMended() {
    browser.type("#f-callSign", "mq-7ab");
    browser.leave();
    browser.untilText("#f-callSign-error", "Call sign MQ7AB is already registered.");
    assertThat(gate.sent).containsExactly("vessel/checks?fields=callSign {\"callSign\":\"MQ7AB\"}");
    browser.type("#f-callSign", "mq8ab");
    browser.leave();
    browser.untilText("#f-callSign-state", "MQ8AB is free.");
    assertThat(browser.errorOf("callSign")).isEmpty();
  }

  @Test
  void nothingIsAskedOfABlankOrFailingValue() {
    browser.type("#f-callSign", " ");
    browser.leave();
    browser.untilText("#f-callSign-error", "Call sign is required.");
    browser.type("#f-callSign", "12345");
    browser.leave();
    browser.untilText("#f-callSign-error", "12345 is not a call sign");
    assertThat(gate.sent).isEmpty();
  }

  @Test
  void whileTheQuestionIsUnderWayThatIsSaidAndALateReplyIsDropped() {
    gate.hold();
    browser.type("#f-callSign", "mq7ab");
    browser.leave();
    browser.untilText("#f-callSign-state", "Asking whether MQ7AB is free…");
    browser.type("#f-callSign", "mq8cc");
    gate.release();
    browser.leave();
    browser.untilText("#f-callSign-state", "MQ8CC is free.");
    assertThat(browser.errorOf("callSign")).isEmpty();
  }

  @Test
  void aQuestionThatCannotBeAskedNeverBlocks() {
    gate.cut = true;
    fill("Storm Petrel", "mq1sp");
    browser.untilText("#f-callSign-state", "Could not ask whether MQ1SP is free.");
    submit();
    browser.untilText(".summary", "The service cannot be reached. What you typed is still here");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Storm Petrel");
    gate.cut = false;
    gate.loseAnswers = false;
    submit();
    browser.untilText(".said", "Storm Petrel is registered.");
  }

  @Test
  void submitIsNeverGreyAndShowsWhatIsMissing() {
    assertThat(browser.find("form.nodley button[type=submit]").isEnabled()).isTrue();
    submit();
    browser.untilText(".summary h2", "4 to mend");
    assertThat(browser.focused()).isEqualTo("f-name");
    assertThat(browser.errorOf("insured"))
        .isEqualTo("Third-party insurance is in force must be ticked.");
    assertThat(gate.sent).isEmpty();
    browser.driver().findElement(By.linkText("Length over all")).click();
    assertThat(browser.focused()).isEqualTo("f-length");
    browser.type("#f-length", "3");
    browser.untilText(".summary h2", "3 to mend");
  }

  @Test
  void anAddGoesToItsRecordAndTellsTheOutcomeOnce() {
    fill("Sandpiper", "mq2sp");
    submit();
    browser.untilText(".said", "Sandpiper is registered.");
    assertThat(browser.path()).matches("/forms/vessel/[0-9a-f-]{36}");
    assertThat(browser.text("h1")).isEqualTo("Sandpiper · MQ2SP");
    assertThat(browser.text("dl")).contains("9.5 m");
    browser.driver().navigate().refresh();
    assertThat(browser.find(".said").isDisplayed()).isFalse();
  }

  @Test
  void aSecondPressDoesNothingAndWorkIsShown() {
    fill("Turnstone", "mq3ts");
    browser.leave();
    browser.untilText("#f-callSign-state", "is free");
    gate.sent.clear();
    gate.hold();
    submit();
    browser.untilText("[data-working]", "Saving…");
    submit();
    browser.find("#f-name").sendKeys(Keys.ENTER);
    gate.release();
    browser.untilText(".said", "Turnstone is registered.");
    assertThat(gate.sent).hasSize(1);
  }

  /**
   * The service tells the outcome on the first page asked for, which a second press would replace.
   */
  @Test
  void aPressWhileTheNextPageIsOnItsWayDoesNothing() {
    fill("Greenshank", "mq8gs");
    browser.leave();
    browser.untilText("#f-callSign-state", "is free");
    gate.sent.clear();
    gate.holdRecords();
    browser
        .driver()
        .executeScript(
            """
            const form = document.querySelector('form.nodley');
            form.addEventListener('nodley:accepted', () => {
              let presses = 0;
              const again = setInterval(() => {
                form.requestSubmit();
                if (++presses === 5) {
                  clearInterval(again);
                  fetch('/pressed');
                }
              }, 20);
            }, { once: true });
            """);
    submit();
    browser.untilText(".said", "Greenshank is registered.");
    assertThat(gate.sent).hasSize(1);
  }

  @Test
  void anAnswerThatIsLostCostsNothingAndWhatIsSentAgainIsKeptOnce() {
    fill("Sanderling", "mq5sa");
    browser.leave();
    browser.untilText("#f-callSign-state", "is free");
    gate.loseAnswers = true;
    submit();
    browser.untilText(".summary", "The service cannot be reached.");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Sanderling");
    gate.loseAnswers = false;
    submit();
    browser.untilText(".said", "Sanderling is registered.");
    assertThat(service.wire().get("/api/forms/vessel/records?q=sanderling").json().path("records"))
        .hasSize(1);
  }

  @Test
  void aRefusalPutsErrorsInPlaceAndTheFocusOnTheFirst() {
    fill("Dunlin", "mq4du");
    browser.leave();
    browser.untilText("#f-callSign-state", "is free");
    add("Somebody faster", "MQ4DU");
    submit();
    browser.untilText("#f-callSign-error", "Call sign MQ4DU is already registered.");
    assertThat(browser.focused()).isEqualTo("f-callSign");
    assertThat(browser.text(".summary")).contains("1 to mend");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Dunlin");
    browser.type("#f-callSign", "mq4dv");
    submit();
    browser.untilText(".said", "Dunlin is registered.");
  }

  @Test
  void anEditIsTheSameFormFilledInAndItsOwnValueIsNotAsked() {
    String id = add("Knot", "MQ5KN");
    browser.signIn(RunningService.KEY);
    browser.openBound("/forms/vessel/" + id + "/edit");
    gate.sent.clear();
    assertThat(browser.text("h1")).isEqualTo("Edit Knot");
    assertThat(browser.valueOf("#f-length")).isEqualTo("9.5");
    assertThat(browser.find("#f-insured").isSelected()).isTrue();
    browser.type("#f-callSign", " mq5kn ");
    browser.leave();
    browser.until("tidied", () -> browser.valueOf("#f-callSign").equals("MQ5KN"));
    assertThat(gate.sent).isEmpty();
    browser.type("#f-callSign", "MQ7AB");
    browser.leave();
    browser.untilText("#f-callSign-error", "already registered");
    assertThat(gate.sent.getFirst()).contains("record=" + id);
    browser.type("#f-callSign", "mq5kn");
    browser.type("#f-crew", "4");
    submit();
    browser.untilText(".said", "Knot is saved.");
    assertThat(browser.text("main")).contains("Version 2");
    signOut();
  }

  @Test
  void aConflictIsExplainedAndNothingIsLost() {
    String id = add("Ruff", "MQ6RU");
    browser.signIn(RunningService.KEY);
    browser.openBound("/forms/vessel/" + id + "/edit");
    service
        .wire()
        .put(
            "/api/forms/vessel/records/" + id,
            Wire.JSON_TYPE,
            "{\"name\":\"Ruff"
                + " II\",\"callSign\":\"MQ6RU\",\"rig\":\"sail\",\"length\":9.5,\"insured\":true}",
            "If-Match",
            "\"1\"");
    browser.type("#f-name", "Ruff and Reeve");
    submit();
    browser.untilText(".summary h2", "This record has changed meanwhile");
    assertThat(browser.text(".summary")).contains("they saved Ruff II, you typed Ruff and Reeve");
    assertThat(browser.valueOf("#f-name")).isEqualTo("Ruff and Reeve");
    assertThat(browser.barriers()).isEmpty();
    submit();
    browser.untilText(".said", "Ruff and Reeve is saved.");
    signOut();
  }

  @Test
  void atAConflictTheirsIsKeptByAButtonAndWhatDoesNotClashIsMergedAtOnce() {
    String id = add("Knot", "MQ6KN");
    browser.signIn(RunningService.KEY);
    browser.openBound("/forms/vessel/" + id + "/edit");
    service.wire().patchVessel(id, 1, "{\"name\":\"Red Knot\",\"rig\":\"tug\"}");
    browser.type("#f-name", "Grey Knot");
    browser.type("#f-length", "10.5");
    submit();
    browser.untilText(".summary", "they saved Red Knot, you typed Grey Knot.");
    assertThat(browser.all(".summary li")).as("how it stands, and the one that clashes").hasSize(2);
    browser.press(".summary button");
    browser.until("theirs", () -> browser.valueOf("#f-name").equals("Red Knot"));
    submit();
    browser.untilText(".said", "Red Knot is saved.");
    assertThat(browser.text("main")).contains("10.5 m").contains("Tug or workboat");
    browser.openBound("/forms/vessel/" + id + "/edit");
    service.wire().patchVessel(id, 3, "{\"name\":\"Great Knot\"}");
    browser.type("#f-length", "11");
    submit();
    browser.untilText(".said", "Great Knot is saved.");
    assertThat(browser.text("main")).contains("11 m").contains("Version 5");
    signOut();
  }

  private static void signOut() {
    browser.find("header button").click();
    browser.until("signed out", () -> browser.text("header").contains("Sign in"));
  }

  @Test
  void hostileTextIsShownAndNeverRun() {
    String evil = "<img src=x onerror=alert(1)>";
    fill(evil, "mq9ev");
    submit();
    browser.untilText("h1", evil);
    browser.open("/forms/vessel?q=" + "%22%3E%3Cscript%3Ealert(1)%3C/script%3E");
    assertThat(browser.text(".empty")).contains("\"><script>alert(1)</script>");
    assertThat(service.stranger().get("/forms/vessel").header("Content-Security-Policy"))
        .contains("script-src 'self'")
        .doesNotContain("unsafe");
  }

  @Test
  void axeFindsNothing() {
    assertThat(browser.barriers()).isEmpty();
    submit();
    browser.untilText(".summary h2", "to mend");
    assertThat(browser.barriers()).isEmpty();
    for (String path :
        List.of("/forms", "/forms/vessel", "/forms/vessel?q=zzz", "/sign-in", "/forms/nothing")) {
      browser.open(path);
      assertThat(browser.barriers()).as(path).isEmpty();
    }
    browser.open("/forms/vessel");
    browser.find("tbody a").click();
    browser.find("dl");
    assertThat(browser.barriers()).as("a record").isEmpty();
  }
}
