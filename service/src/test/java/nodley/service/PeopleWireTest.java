package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** People over the wire: added, given a link, signed in, changed, and removed. */
class PeopleWireTest {

  private static final String PASSWORD = "a grey heron at low tide";

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service
        .wire()
        .publish(
            "fee",
            """
            form: fee
            access: { add: signed-in, see: clerk, edit: clerk, remove: admin }
            fields: { amount: { type: integer }, by: { type: text, compute: caller.email } }
            """);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply add(String json) {
    return service.wire().post("/api/people", Wire.JSON_TYPE, json);
  }

  private static JsonNode added(String json) {
    Wire.Reply reply = add(json);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply.json();
  }

  private static String secretOf(JsonNode added) {
    String link = added.path("link").asString();
    assertThat(link).startsWith(service.address() + "/set-password?link=");
    return link.substring(link.indexOf('=') + 1);
  }

  private static Wire.Reply setPassword(String link, String password) {
    return service
        .stranger()
        .send(
            "PUT",
            "/api/password",
            Wire.JSON_TYPE,
            "{\"link\": \"%s\", \"password\": \"%s\"}".formatted(link, password));
  }

  private static Wire.Reply signIn(String name, String password) {
    return signIn(service, name, password);
  }

  private static Wire.Reply signIn(RunningService service, String name, String password) {
    return service
        .stranger()
        .post(
            "/api/session",
            Wire.JSON_TYPE,
            "{\"name\": \"%s\", \"password\": \"%s\"}".formatted(name, password));
  }

  private static String cookie(Wire.Reply reply) {
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    assertThat(reply.header("Set-Cookie")).contains("HttpOnly", "SameSite=Lax");
    return reply.header("Set-Cookie").replaceFirst(";.*", "");
  }

  /** Somebody with a password, signed in: the session's cookie. */
  private static String signedIn(String name, String roles) {
    JsonNode person = added("{\"name\": \"%s\", \"roles\": %s}".formatted(name, roles));
    return cookie(setPassword(secretOf(person), PASSWORD));
  }

  private static Wire.Reply as(String cookie, String method, String path, String json) {
    return service.stranger().send(method, path, Wire.JSON_TYPE, json, "Cookie", cookie);
  }

  private static int status(String cookie, String path) {
    return service.stranger().get(path, "Cookie", cookie).status();
  }

  @Test
  void somebodyIsAddedSetsAPasswordSignsInAndWorks() {
    JsonNode ann =
        added(
            "{\"name\": \" Ann  Müller \", \"email\": \"ann@harbour.example\", \"roles\":"
                + " [\"clerk\"]}");
    assertThat(ann.path("name").asString()).isEqualTo("Ann Müller");
    assertThat(ann.path("hasPassword").asBoolean()).isFalse();
    assertThat(ann.path("warnings")).isEmpty();
    assertThat(signIn("Ann Müller", PASSWORD).status()).isEqualTo(401);

    Wire.Reply set = setPassword(secretOf(ann), PASSWORD);
    String first = cookie(set);
    assertThat(setPassword(secretOf(ann), PASSWORD).status()).as("used").isEqualTo(410);
    String second = cookie(signIn("ANN@HARBOUR.EXAMPLE", PASSWORD));
    assertThat(second).as("a session of its own").isNotEqualTo(first);
    JsonNode who = service.stranger().get("/api/session", "Cookie", second).json();
    assertThat(who.path("caller").asString()).isEqualTo("Ann Müller");
    assertThat(who.path("email").asString()).isEqualTo("ann@harbour.example");
    assertThat(who.path("person").asString()).isEqualTo(ann.path("id").asString());
    assertThat(who.path("roles").toString()).isEqualTo("[\"clerk\"]");

    Wire.Reply added = as(second, "POST", "/api/forms/fee/records", "{\"amount\": 5}");
    assertThat(added.status()).isEqualTo(201);
    assertThat(added.json().path("values").path("by").asString()).isEqualTo("ann@harbour.example");
    String record = "/api/forms/fee/records/" + added.json().path("id").asString();
    assertThat(status(second, record)).isEqualTo(200);
    JsonNode versions = service.wire().get(record + "/versions").json();
    assertThat(versions.path("versions").path(0).path("by").asString()).isEqualTo("Ann Müller");

    // Another role counts at once.
    String path = "/api/people/" + ann.path("id").asString();
    Wire.Reply changed =
        service.wire().send("PUT", path, Wire.JSON_TYPE, "{\"roles\": [\"clrek\"]}");
    assertThat(changed.json().path("warnings").path(0).asString())
        .isEqualTo("No form gives anything to the role \"clrek\". Did you mean \"clerk\"?");
    assertThat(changed.json().path("email").asString()).as("left out").isEmpty();
    assertThat(status(second, record)).isEqualTo(403);

    assertThat(service.wire().delete(path).status()).isEqualTo(204);
    assertThat(status(second, "/api/sessions")).isEqualTo(401);
    assertThat(signIn("Ann Müller", PASSWORD).status()).isEqualTo(401);
    assertThat(service.wire().delete(path).json().path("type").asString())
        .isEqualTo("/problems/no-such-person");
  }

  @Test
  void aRestartSignsNobodyOut() {
    String cookie = signedIn("restarted", "[]");
    service.restart();
    assertThat(status(cookie, "/api/sessions")).isEqualTo(200);
    assertThat(cookie(signIn("restarted", PASSWORD))).isNotEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "short sea | too-short | A password has 12 characters or more; this one has 9.",
        "PASSWORD1234 | too-common | This is among the passwords that are tried first. Take several"
            + " words together.",
        "abababababababab | too-common | This is among the passwords that are tried first. Take"
            + " several words together.",
        "'' | value-missing | Password is required."
      })
  void aPasswordThatIsEasilyGuessedIsRefused(String password, String code, String detail) {
    JsonNode person = added("{\"name\": \"weak " + password.hashCode() + "\"}");
    Wire.Reply refused = setPassword(secretOf(person), password);
    assertThat(refused.status()).isEqualTo(422);
    JsonNode error = refused.json().path("errors").path(0);
    assertThat(error.path("pointer").asString()).isEqualTo("#/password");
    assertThat(error.path("code").asString()).isEqualTo(code);
    assertThat(error.path("detail").asString()).isEqualTo(detail);
    // The link is not used up by that.
    cookie(setPassword(secretOf(person), PASSWORD));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{} | #/name value-missing",
        "{\"name\": \"a\\u0007nn\"} | #/name pattern-mismatch",
        "{\"name\": \"ann@harbour.example\"} | #/name pattern-mismatch",
        "{\"name\": [\"ann\"]} | #/name bad-input",
        "{\"name\": \"zoe\", \"email\": \"nowhere\"} | #/email type-mismatch",
        "{\"name\": \"zoe\", \"roles\": [\"Clerk\", \"owner\"]} | #/roles pattern-mismatch",
        "{\"name\": \"zoe\", \"rolls\": []} | #/rolls unknown-field",
        "{\"name\": \"ADMIN\"} | none",
        "{\"name\": \"admin\"} | #/name taken",
      })
  void whatIsWrongIsTold(String json, String expected) {
    Wire.Reply reply = add(json);
    JsonNode error = reply.json().path("errors").path(0);
    assertThat(
            reply.status() == 201
                ? "none"
                : error.path("pointer").asString() + " " + error.path("code").asString())
        .isEqualTo(expected);
  }

  @Test
  void theAnswerNeverTellsWhichHalfWasWrong() {
    signedIn("halves", "[]");
    JsonNode wrongPassword = signIn("halves", "another grey heron").json();
    JsonNode wrongName = signIn("nobody here", PASSWORD).json();
    assertThat(wrongPassword).isEqualTo(wrongName);
    assertThat(wrongName.path("detail").asString())
        .isEqualTo("This name or this password is wrong.");
  }

  /** However many come at once, all but a few have to wait. */
  @Test
  void guessesAreSlowedDownAlsoAtOnce() throws Exception {
    // However long it takes here, no time goes by for the guesser.
    try (RunningService still = RunningService.at(new MovableClock(Instant.now()))) {
      still.signIn("guessed", "[]");
      guessAtOnce(still);
    }
  }

  /** Back a day, and forth again: who was wrong once waits for nothing. */
  @Test
  void aClockThatJumpsShutsNobodyOut() {
    MovableClock clock = new MovableClock(Instant.now());
    try (RunningService jumping = RunningService.at(clock)) {
      jumping.signIn("mara", "[]");
      for (int days : new int[] {-1, 1, 400, -400}) {
        assertThat(signIn(jumping, "mara", "not the password").status()).isEqualTo(401);
        clock.advance(Duration.ofDays(days));
        assertThat(signIn(jumping, "mara", RunningService.PASSWORD).status())
            .as("after %d days", days)
            .isEqualTo(200);
      }
    }
  }

  private static void guessAtOnce(RunningService still) throws Exception {
    List<Callable<Wire.Reply>> guesses = new ArrayList<>();
    for (int i = 0; i < 30; i++) {
      String password = "a wrong password " + i;
      guesses.add(() -> signIn(still, "guessed", password));
    }
    List<Integer> statuses = new ArrayList<>();
    try (ExecutorService guessers = Executors.newVirtualThreadPerTaskExecutor()) {
      for (Future<Wire.Reply> each : guessers.invokeAll(guesses)) {
        statuses.add(each.get().status());
        if (each.get().status() == 429) {
          assertThat(each.get().json().path("type").asString())
              .isEqualTo("/problems/too-many-guesses");
          assertThat(Integer.parseInt(each.get().header("Retry-After"))).isBetween(1, 901);
        }
      }
    }
    assertThat(
            still
                .wire()
                .get("/api/log?what=wrong-passwords")
                .json()
                .path("entries")
                .valueStream()
                .map(it -> it.path("subject").asString()))
        .as("the operator learns of it once")
        .containsOnlyOnce("people/guessed");
    assertThat(statuses).containsOnly(401, 429);
    assertThat(statuses.stream().filter(it -> it == 401)).as("five are free").hasSize(5);
  }

  @Test
  void aPersonChangesThePasswordAndSeesOwnSessions() {
    String desk = signedIn("changing", "[]");
    String home = cookie(signIn("changing", PASSWORD));
    JsonNode sessions = service.stranger().get("/api/sessions", "Cookie", desk).json();
    assertThat(sessions.path("sessions").valueStream().map(it -> it.path("caller").asString()))
        .containsExactly("changing", "changing");
    assertThat(sessions.path("sessions").valueStream().filter(it -> it.path("current").asBoolean()))
        .hasSize(1);

    Wire.Reply wrong =
        as(
            desk,
            "PUT",
            "/api/password",
            "{\"current\": \"not this one\", \"password\": \"quite another heron\"}");
    assertThat(wrong.json().path("errors").path(0).path("code").asString())
        .isEqualTo("wrong-password");
    String now =
        cookie(
            as(
                desk,
                "PUT",
                "/api/password",
                "{\"current\": \"%s\", \"password\": \"quite another heron\"}"
                    .formatted(PASSWORD)));
    assertThat(status(home, "/api/sessions")).isEqualTo(401);
    assertThat(status(desk, "/api/sessions")).isEqualTo(401);
    assertThat(status(now, "/api/sessions")).isEqualTo(200);
    assertThat(signIn("changing", PASSWORD).status()).isEqualTo(401);

    // Another's session is not theirs to end; an admin ends any.
    String other = signedIn("bystander", "[]");
    String id =
        service
            .stranger()
            .get("/api/sessions", "Cookie", other)
            .json()
            .path("sessions")
            .path(0)
            .path("id")
            .asString();
    assertThat(as(now, "DELETE", "/api/sessions/" + id, "").status()).isEqualTo(404);
    assertThat(status(other, "/api/sessions")).isEqualTo(200);
    assertThat(service.wire().delete("/api/sessions/" + id).status()).isEqualTo(204);
    assertThat(status(other, "/api/sessions")).isEqualTo(401);
  }

  @Test
  void theOperatorsLogSaysWhoDidIt() {
    JsonNode dora = added("{\"name\": \"dora\"}");
    cookie(setPassword(secretOf(dora), PASSWORD));
    cookie(signIn("dora", PASSWORD));
    List<String> entries =
        service
            .wire()
            .get("/api/log?limit=1000")
            .json()
            .path("entries")
            .valueStream()
            .map(
                it ->
                    it.path("who").asString()
                        + " "
                        + it.path("what").asString()
                        + " "
                        + it.path("subject").asString())
            .toList();
    assertThat(entries)
        .contains("admin add-person people/dora", "dora set-password people/dora")
        .contains("dora sign-in session");
    assertThat(entries.toString()).doesNotContain(secretOf(dora), PASSWORD);
  }
}
