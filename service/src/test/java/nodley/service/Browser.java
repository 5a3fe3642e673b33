package nodley.service;

import com.deque.html.axecore.selenium.AxeBuilder;
import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.Deque;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.function.BooleanSupplier;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.ElementClickInterceptedException;
import org.openqa.selenium.Keys;
import org.openqa.selenium.TimeoutException;
import org.openqa.selenium.WebDriverException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.WindowType;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.logging.LogType;
import org.openqa.selenium.support.ui.WebDriverWait;

/**
 * Debian's Chromium, with script or without: its headless shell, which starts and draws faster; or
 * a window of the whole browser if NODLEY_TEST_WINDOW is set.
 */
public final class Browser implements AutoCloseable {

  private static final Duration PATIENCE = Duration.ofSeconds(20);

  /** A person takes longer than that; who sends sooner without script is a program (see traps). */
  private static final Duration HANDS = Duration.ofMillis(320);

  private static final String AXE = axe();

  /** Those that no test uses now. To start one costs more than most tests do in it. */
  private static final Deque<ChromeDriver> IDLE = new ConcurrentLinkedDeque<>();

  static {
    Runtime.getRuntime()
        .addShutdownHook(new Thread(() -> IDLE.forEach(ChromeDriver::quit), "idle-browsers"));
  }

  private final ChromeDriver driver;
  private final String address;
  private boolean scripts = true;
  private long openedAt;

  private Browser(String address) {
    this.address = address;
    ChromeDriver idle = IDLE.poll();
    this.driver = idle == null ? start() : idle;
  }

  private static ChromeDriver start() {
    ChromeOptions options = new ChromeOptions();
    options.setPageLoadTimeout(Duration.ofSeconds(20));
    options.setScriptTimeout(Duration.ofSeconds(30));
    if (System.getenv("NODLEY_TEST_WINDOW") == null) {
      // Not by the script of this name: the driver would end the script, and wait for the browser.
      options.setBinary("/usr/lib/chromium/chromium-headless-shell");
      options.addArguments("--headless");
    } else {
      options.setBinary("/usr/bin/chromium");
    }
    options.addArguments(
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--disable-dev-shm-usage",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--hide-scrollbars",
        "--force-prefers-reduced-motion",
        "--window-size=1280,800");
    return new ChromeDriver(
        new ChromeDriverService.Builder()
            .usingDriverExecutable(new File("/usr/bin/chromedriver"))
            .build(),
        options);
  }

  private static String axe() {
    try (InputStream in = AxeBuilder.class.getResourceAsStream("/axe.min.js")) {
      return new String(in.readAllBytes(), StandardCharsets.UTF_8);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  public static Browser withScript(String address) {
    return new Browser(address);
  }

  /** A browser that runs no page's script; {@link #barriers} runs axe in it all the same. */
  public static Browser withoutScript(String address) {
    Browser browser = new Browser(address);
    browser.scripts(false);
    return browser;
  }

  public ChromeDriver driver() {
    return driver;
  }

  /**
   * Opens a page. Of a load that begins while another is under way the driver now and then misses
   * the end, and would wait for minutes, or does not begin it; the page itself knows better.
   */
  public Browser open(String path) {
    openedAt = System.nanoTime();
    try {
      driver.get(address + path);
    } catch (TimeoutException e) {
      if (!"complete".equals(driver.executeScript("return document.readyState"))) {
        throw e;
      }
      if (!driver.getCurrentUrl().startsWith(address + path)) {
        driver.get(address + path);
      }
    }
    return this;
  }

  /** Opens a page with a form and waits until the script has bound it. */
  public Browser openBound(String path) {
    open(path);
    find("form[data-bound=true]");
    return this;
  }

  /** Signs in on the page for it, as a person would. */
  public Browser signIn(String key) {
    open("/sign-in");
    find("#key").sendKeys(key);
    find("form:has(#key) button[type=submit]").click();
    until("signed in", () -> find("header").getText().contains("Sign out"));
    return this;
  }

  /** The element, as soon as it is there. */
  public WebElement find(String css) {
    return wait(css).until(it -> it.findElement(By.cssSelector(css)));
  }

  /** While a page goes, the driver may fail in more than one way; all of them mean that it goes. */
  private static boolean isGone(WebElement element) {
    try {
      element.isEnabled();
      return false;
    } catch (WebDriverException e) {
      return true;
    }
  }

  public List<WebElement> all(String css) {
    return driver.findElements(By.cssSelector(css));
  }

  /** Replaces what stands in a text field. */
  public void type(String css, String text) {
    WebElement element = find(css);
    element.sendKeys(Keys.chord(Keys.CONTROL, "a"), Keys.DELETE);
    element.sendKeys(text);
  }

  /** Chooses what a search box finds first for some words, by keyboard. */
  public void choose(String css, String words) {
    find(css + "[role=combobox]");
    type(css, words);
    untilText(css + "-list", words);
    find(css).sendKeys(Keys.ARROW_DOWN, Keys.ENTER);
  }

  /** Leaves the field that has the focus, by keyboard. */
  public void leave() {
    driver.switchTo().activeElement().sendKeys(Keys.TAB);
  }

  /**
   * The text of an element, even if the page is drawn anew just then: as the browser itself has it,
   * since the driver's way of finding out takes the page much longer.
   */
  public String text(String css) {
    return (String)
        wait(css)
            .until(
                _ ->
                    driver.executeScript(
                        "return document.querySelector(arguments[0])?.innerText.trim()"
                            + ".replace(/[\\t\\u00a0]/g, ' ')",
                        css));
  }

  /** Presses something that leads to another page, and waits until that is there. */
  public void go(By what) {
    WebElement before = find("html");
    takeTime();
    driver.findElement(what).click();
    until("another page", () -> isGone(before));
    find("main");
  }

  private void takeTime() {
    if (!scripts) {
      until("a person's hands", () -> System.nanoTime() - openedAt > HANDS.toNanos());
    }
  }

  /** Presses something once nothing is in its way, such as what still moves while a page loads. */
  public void press(String css) {
    press(By.cssSelector(css));
  }

  /** The same for what is found otherwise. */
  public void press(By what) {
    takeTime();
    until(
        what + " to be pressed",
        () -> {
          try {
            List<WebElement> found = driver.findElements(what);
            found.stream().findFirst().ifPresent(WebElement::click);
            return !found.isEmpty();
          } catch (ElementClickInterceptedException e) {
            return false;
          }
        });
  }

  /** The text of a field's error. */
  public String errorOf(String field) {
    return text("#f-" + field + "-error");
  }

  /** What is said of a field's early check. */
  public String stateOf(String field) {
    return text("#f-" + field + "-state");
  }

  /** The value of a control, as the person sees it. */
  public String valueOf(String css) {
    return wait(css).until(it -> it.findElement(By.cssSelector(css)).getDomProperty("value"));
  }

  public String path() {
    return driver.getCurrentUrl().replaceFirst("^https?://[^/]+", "");
  }

  /** The id of what has the focus. */
  public String focused() {
    return driver.switchTo().activeElement().getDomAttribute("id");
  }

  public void untilText(String css, String text) {
    wait(css + " has: " + text).until(_ -> text(css).contains(text));
  }

  /** Waits until a control has a value. */
  public void untilValue(String css, String value) {
    until(css + " has: " + value, () -> value.equals(valueOf(css)));
  }

  public void until(String what, BooleanSupplier condition) {
    wait(what).until(_ -> condition.getAsBoolean());
  }

  private WebDriverWait wait(String what) {
    WebDriverWait wait = new WebDriverWait(driver, PATIENCE, Duration.ofMillis(50));
    wait.withMessage(
        () ->
            "waited for "
                + what
                + " on "
                + driver.getCurrentUrl()
                + "\n"
                + driver.findElement(By.tagName("body")).getText());
    wait.ignoring(WebDriverException.class);
    return wait;
  }

  /** What axe-core finds wrong with the page; nothing, if all is well. */
  public List<String> barriers() {
    return barriers("{\"resultTypes\": [\"violations\"], \"preload\": false}");
  }

  /** The same of colours alone: nothing else is otherwise in the dark. */
  public List<String> paleness() {
    return barriers("{\"runOnly\": [\"color-contrast\"]}");
  }

  /**
   * In the page's own window: beside a second one, a hidden page draws nothing, and axe waits.
   * Where there are no frames, the library's script is handed to the browser as it is: the driver's
   * way takes the page twice as long as all that axe does then.
   */
  @SuppressWarnings("deprecation")
  private List<String> barriers(String options) {
    boolean without = !scripts;
    scripts(true);
    try {
      if (!all("iframe").isEmpty()) {
        AxeBuilder axe = new AxeBuilder();
        axe.setOptions(options);
        return axe.setLegacyMode().analyze(driver).getViolations().stream()
            .map(it -> it.getId() + ": " + it.getNodes())
            .toList();
      }
      driver.executeCdpCommand("Runtime.evaluate", Map.of("expression", AXE));
      @SuppressWarnings("unchecked")
      var found =
          (List<String>)
              driver.executeAsyncScript(
                  "const done = arguments[0]; axe.run("
                      + options
                      + ").then((it) => done(it.violations.map("
                      + "({ id, nodes }) => id + ': ' + JSON.stringify(nodes))),"
                      + " (it) => done([String(it)]))");
      return found;
    } finally {
      scripts(!without);
    }
  }

  /**
   * Has scripts run from now on, or none; those of a page that is open already are not run then.
   */
  private void scripts(boolean on) {
    if (scripts != on) {
      driver.executeCdpCommand("Emulation.setScriptExecutionDisabled", Map.of("value", !on));
      scripts = on;
    }
  }

  /** Leaves the browser to the next test as if it had just been started; ends it if it cannot. */
  @Override
  public void close() {
    try {
      Set<String> used = driver.getWindowHandles();
      driver.switchTo().newWindow(WindowType.TAB);
      String next = driver.getWindowHandle();
      // What a test has set for a window ends with it.
      for (String each : used) {
        driver.switchTo().window(each).close();
      }
      driver.switchTo().window(next);
      driver.manage().window().setSize(new Dimension(1280, 800));
      // The next service may have the port that this one had.
      driver.executeCdpCommand("Network.clearBrowserCookies", Map.of());
      driver.executeCdpCommand("Network.clearBrowserCache", Map.of());
      driver.executeCdpCommand(
          "Storage.clearDataForOrigin", Map.of("origin", address, "storageTypes", "all"));
      driver.manage().logs().get(LogType.BROWSER);
      IDLE.push(driver);
    } catch (WebDriverException e) {
      driver.quit();
    }
  }
}
