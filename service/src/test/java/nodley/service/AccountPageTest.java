package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.By;
import org.openqa.selenium.Cookie;

/** What people find of their own: records, sessions, their password. */
class AccountPageTest {

  private static final String BOOKING =
      """
      form: booking
      title: { list: Bookings }
      called: "{name}"
      access: { add: signed-in, see: [owner, clerk], edit: owner }
      fields: { name: { type: text } }
      """;

  private static RunningService service;
  private static String mara;
  private static String jonas;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("booking", BOOKING).status()).isEqualTo(201);
    assertThat(
            service
                .wire()
                .publish("notice", "form: notice\nfields: { name: { type: text } }")
                .status())
        .isEqualTo(201);
    mara = service.signIn("mara", "[]");
    jonas = service.signIn("jonas", "[\"clerk\"]");
    for (int i = 1; i <= 21; i++) {
      add(mara, "Buoy " + i);
    }
    add(jonas, "Crane");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void add(String session, String name) {
    Wire.Reply added =
        service
            .stranger()
            .post(
                "/api/forms/booking/records",
                Wire.JSON_TYPE,
                "{\"name\": \"%s\"}".formatted(name),
                "Cookie",
                session);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
  }

  private static String again(String name) {
    return service
        .stranger()
        .post(
            "/api/session",
            Wire.JSON_TYPE,
            "{\"name\": \"%s\", \"password\": \"%s\"}".formatted(name, RunningService.PASSWORD))
        .header("Set-Cookie")
        .replaceFirst(";.*", "");
  }

  private static String caller(String session) {
    return service
        .stranger()
        .get("/api/session", "Cookie", session)
        .json()
        .path("caller")
        .asString("");
  }

  private static Browser signedIn(String session) {
    Browser browser = Browser.withoutScript(service.address()).open("/sign-in");
    String[] parts = session.split("=", 2);
    browser.driver().manage().addCookie(new Cookie(parts[0], parts[1]));
    return browser;
  }

  @Test
  void onesOwnRecordsAreListedAndNobodyElses() {
    try (Browser browser = signedIn(mara)) {
      browser.open("/forms");
      browser.go(By.linkText("Signed in as mara"));
      assertThat(browser.path()).isEqualTo("/account");
      assertThat(browser.driver().getTitle()).isEqualTo("Your account");
      assertThat(browser.text("main"))
          .contains("Bookings", "Buoy 21", "Buoy 2")
          .doesNotContain("Crane")
          .doesNotContain("notice");
      assertThat(browser.all(".own li")).hasSize(20);
      assertThat(browser.barriers()).isEmpty();
      browser.go(By.partialLinkText("All of them"));
      assertThat(browser.path()).isEqualTo("/forms/booking");
    }
    // A clerk may see everybody's, and has one that is theirs.
    String page = service.stranger().get("/account", "Cookie", jonas).response().body();
    assertThat(page).contains("Crane").contains("clerk").doesNotContain("Buoy");
  }

  @Test
  void aSessionElsewhereIsEnded() {
    String here = again("mara");
    String lost = again("mara");
    try (Browser browser = signedIn(here)) {
      browser.open("/account");
      int before = browser.all(".sessions li").size();
      assertThat(browser.text(".sessions li:has(strong)")).contains("This browser");
      assertThat(browser.all(".sessions li:has(strong) button")).isEmpty();
      // The one used last stands first, after this one.
      browser.go(By.cssSelector(".sessions li:not(:has(strong)) button"));
      assertThat(browser.text("[role=status]")).isEqualTo("You are signed out there.");
      assertThat(browser.all(".sessions li")).hasSize(before - 1);
      assertThat(browser.barriers()).isEmpty();
    }
    assertThat(caller(here)).isEqualTo("mara");
    assertThat(caller(lost)).isEmpty();
    assertThat(caller(jonas)).as("others").isEqualTo("jonas");
  }

  @Test
  void thePasswordIsChangedByThePresentOne() {
    String session = service.signIn("dora", "[]");
    String other = again("dora");
    try (Browser browser = signedIn(session)) {
      browser.open("/account");
      assertThat(browser.text("main")).contains("You have no records here yet.");
      browser.go(By.cssSelector("form:has(#current) button"));
      assertThat(browser.text("#current-error")).isEqualTo("Required.");
      assertThat(browser.text("#password-error")).isEqualTo("Required.");
      assertThat(browser.barriers()).isEmpty();
      browser.type("#current", "not the present one");
      browser.type("#password", "three herons at high water");
      browser.go(By.cssSelector("form:has(#current) button"));
      assertThat(browser.text("#current-error")).isEqualTo("This is not the present password.");
      assertThat(browser.valueOf("#password")).isEmpty();
      browser.type("#current", RunningService.PASSWORD);
      browser.type("#password", "password1234");
      browser.go(By.cssSelector("form:has(#current) button"));
      assertThat(browser.text("#password-error")).contains("tried first");
      browser.type("#current", RunningService.PASSWORD);
      browser.type("#password", "three herons at high water");
      browser.go(By.cssSelector("form:has(#current) button"));
      assertThat(browser.text("[role=status]")).startsWith("The password is changed.");
    }
    assertThat(caller(session)).as("the session before").isEmpty();
    assertThat(caller(other)).isEmpty();
  }

  @Test
  void itIsInTheLanguageOfItsReader() {
    for (String path : new String[] {"/account", "/sign-in", "/set-password"}) {
      String page =
          service
              .stranger()
              .get(path, "Cookie", mara, "Accept-Language", "de-AT, en;q=0.5")
              .response()
              .body();
      assertThat(page)
          .as(path)
          .contains("lang=\"de\"")
          .doesNotContain("Your", "Password<", "This link", "Sign in", "records");
    }
  }

  @Test
  void whoeverIsNotSignedInIsLedToSigningIn() {
    Wire.Reply stranger =
        service.stranger().get("/account", "Accept", "text/html", "Accept-Language", "de");
    assertThat(stranger.status()).isEqualTo(401);
    assertThat(stranger.response().body())
        .contains("%2Faccount\">Anmelden</a>")
        .contains("<title>Anmelden</title>")
        .contains("Das sehen nur Angemeldete.");
    // Whoever signed in with a key has sessions, and is nobody with records or a password.
    String key =
        service
            .stranger()
            .post("/api/session", Wire.JSON_TYPE, "{\"key\": \"%s\"}".formatted(RunningService.KEY))
            .header("Set-Cookie")
            .replaceFirst(";.*", "");
    String page = service.stranger().get("/account", "Cookie", key).response().body();
    assertThat(page)
        .contains("This browser")
        .doesNotContain("id=\"current\"")
        .doesNotContain("Buoy");
    // Another site has nothing ended, and no password changed.
    for (String path : new String[] {"/account/sessions/0/end", "/account/password"}) {
      assertThat(
              service
                  .stranger()
                  .post(path, Wire.FORM_TYPE, "", "Cookie", mara, "Sec-Fetch-Site", "cross-site")
                  .status())
          .as(path)
          .isEqualTo(403);
    }
  }

  /** What somebody has begun and not sent is found here, too, and nowhere by others. */
  @Test
  void draftsAreGoneOnWithFromHere() {
    service
        .wire()
        .publish(
            "claim",
            """
            form: claim
            title: { list: Claims of damage, add: Report damage }
            draft: { keep: 14 days }
            access: { add: signed-in, see: owner, edit: owner }
            fields: { what: { type: text }, where: { type: text, required: true } }
            """);
    Wire.Reply begun =
        service
            .stranger()
            .post(
                "/api/drafts?form=claim",
                Wire.JSON_TYPE,
                "{\"what\": \"a bent cleat\"}",
                "Cookie",
                mara);
    assertThat(begun.status()).as(begun.response().body()).isEqualTo(201);
    try (Browser browser = signedIn(mara)) {
      browser.open("/account");
      assertThat(browser.text("main")).contains("Not finished yet").contains("Claims of damage");
      assertThat(browser.barriers()).isEmpty();
      browser.go(By.partialLinkText("Go on with your draft"));
      assertThat(browser.valueOf("#f-what")).isEqualTo("a bent cleat");
    }
    try (Browser browser = signedIn(jonas)) {
      browser.open("/account");
      assertThat(browser.text("main")).doesNotContain("Not finished yet");
    }
  }
}
