package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.openqa.selenium.Cookie;
import tools.jackson.databind.JsonNode;

/** Forms of which each person has one record: a profile, say. */
class OneEachTest {

  private static final String PATH = "/api/forms/profile/record";
  private static final String PATCH = "application/merge-patch+json";
  private static final String PROFILE =
      """
      form: profile
      records: one-each
      called: "{name}"
      access: { see: [owner, clerk], edit: [owner, clerk] }
      fields:
        name: { type: text, required: true }
        phone: { type: text }
      """;

  private static RunningService service;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    stranger = service.stranger();
    assertThat(service.wire().publish("profile", PROFILE).status()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply first(String by, String name) {
    return stranger.put(
        PATH,
        Wire.JSON_TYPE,
        "{\"name\": \"%s\"}".formatted(name),
        "If-None-Match",
        "*",
        "Cookie",
        by);
  }

  private static String nameAt(Wire.Reply reply) {
    return reply.json().at("/values/name").asString();
  }

  @Test
  void eachHasTheirOwn() {
    String ann = service.signIn("ann", "[]");
    String bob = service.signIn("bob", "[]");
    assertThat(stranger.get(PATH, "Cookie", ann).status()).isEqualTo(404);
    Wire.Reply annsFirst = first(ann, "Ann");
    assertThat(annsFirst.status()).as(annsFirst.response().body()).isEqualTo(201);
    assertThat(first(bob, "Bob").status()).isEqualTo(201);
    assertThat(nameAt(stranger.get(PATH, "Cookie", ann))).isEqualTo("Ann");
    assertThat(nameAt(stranger.get(PATH, "Cookie", bob))).isEqualTo("Bob");
    Wire.Reply edited =
        stranger.patch(PATH, PATCH, "{\"name\": \"Ann P\"}", "If-Match", "\"1\"", "Cookie", ann);
    assertThat(edited.status()).isEqualTo(200);
    assertThat(nameAt(stranger.get(PATH, "Cookie", ann))).isEqualTo("Ann P");
    assertThat(nameAt(stranger.get(PATH, "Cookie", bob))).isEqualTo("Bob");
    assertThat(first(ann, "Again").status()).isEqualTo(412);
    Wire.Reply second =
        stranger.post(
            "/api/forms/profile/records", Wire.JSON_TYPE, "{\"name\": \"Two\"}", "Cookie", ann);
    assertThat(second.status()).isEqualTo(409);
    assertThat(second.json().path("type").asString()).isEqualTo("/problems/only-one");
    // Another's is not there.
    String bobs = stranger.get(PATH, "Cookie", bob).json().path("id").asString();
    assertThat(stranger.get("/api/forms/profile/records/" + bobs, "Cookie", ann).status())
        .isEqualTo(404);
    assertThat(
            stranger
                .get("/api/forms/profile/records", "Cookie", ann)
                .json()
                .path("records")
                .valueStream()
                .map(it -> it.at("/values/name").asString()))
        .containsExactly("Ann P");
  }

  @Test
  void whoIsNoPersonHasNone() {
    assertThat(stranger.get(PATH).status()).isEqualTo(401);
    assertThat(
            stranger.put(PATH, Wire.JSON_TYPE, "{\"name\": \"x\"}", "If-None-Match", "*").status())
        .isEqualTo(401);
    Wire.Reply key = service.wire().get(PATH);
    assertThat(key.status()).isEqualTo(403);
    assertThat(key.json().path("detail").asString())
        .isEqualTo("Each person has one record of profile, and a key is no person: name a record.");
    // A program may add some for people to come, and hand them over.
    String added =
        service.wire().add("profile", "{\"name\": \"Made\"}").json().path("id").asString();
    String cy = service.signIn("cy", "[]");
    Wire.Reply handed =
        service
            .wire()
            .put(
                "/api/forms/profile/records/" + added + "/owner",
                Wire.JSON_TYPE,
                "{\"owner\": \"cy\"}");
    assertThat(handed.status()).isEqualTo(200);
    assertThat(nameAt(stranger.get(PATH, "Cookie", cy))).isEqualTo("Made");
    String other =
        service.wire().add("profile", "{\"name\": \"Other\"}").json().path("id").asString();
    Wire.Reply twice =
        service
            .wire()
            .put(
                "/api/forms/profile/records/" + other + "/owner",
                Wire.JSON_TYPE,
                "{\"owner\": \"cy\"}");
    assertThat(twice.status()).isEqualTo(422);
    assertThat(twice.json().at("/errors/0/detail").asString())
        .isEqualTo("cy has a record of profile already, as each person may.");
  }

  @Test
  void manyAtOnceMakeOne() throws Exception {
    String dot = service.signIn("dot", "[]");
    List<Callable<Integer>> sends = new ArrayList<>();
    for (int i = 0; i < 16; i++) {
      String name = "Dot " + i;
      boolean put = i % 2 == 0;
      sends.add(
          () ->
              put
                  ? first(dot, name).status()
                  : stranger
                      .post(
                          "/api/forms/profile/records",
                          Wire.JSON_TYPE,
                          "{\"name\": \"%s\"}".formatted(name),
                          "Cookie",
                          dot)
                      .status());
    }
    List<Integer> statuses = new ArrayList<>();
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      for (Future<Integer> each : threads.invokeAll(sends)) {
        statuses.add(each.get());
      }
    }
    assertThat(statuses).containsOnlyOnce(201).containsOnly(201, 409, 412);
  }

  @Test
  void aFormOfWhichSomebodyHasMoreCannotBecomeOne() {
    String diary = "form: diary\n%saccess: { see: owner }\nfields: { name: { type: text } }\n";
    assertThat(service.wire().publish("diary", diary.formatted("")).status()).isEqualTo(201);
    String eve = service.signIn("eve", "[]");
    List<String> ids = new ArrayList<>();
    for (String name : List.of("one", "two")) {
      ids.add(
          stranger
              .post(
                  "/api/forms/diary/records",
                  Wire.JSON_TYPE,
                  "{\"name\": \"%s\"}".formatted(name),
                  "Cookie",
                  eve)
              .json()
              .path("id")
              .asString());
    }
    Wire.Reply refused = service.wire().publish("diary", diary.formatted("records: one-each\n"));
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.response().body()).contains(ids.get(1)).doesNotContain(ids.get(0));
    assertThat(
            service
                .wire()
                .delete("/api/forms/diary/records/" + ids.get(1), "If-Match", "\"1\"")
                .status())
        .isEqualTo(204);
    assertThat(service.wire().publish("diary", diary.formatted("records: one-each\n")).status())
        .isEqualTo(200);
    Wire.Reply third =
        stranger.post(
            "/api/forms/diary/records", Wire.JSON_TYPE, "{\"name\": \"three\"}", "Cookie", eve);
    assertThat(third.status()).isEqualTo(409);
    // And back: each may have many again.
    assertThat(service.wire().publish("diary", diary.formatted("")).status()).isEqualTo(200);
    assertThat(
            stranger
                .post(
                    "/api/forms/diary/records",
                    Wire.JSON_TYPE,
                    "{\"name\": \"four\"}",
                    "Cookie",
                    eve)
                .status())
        .isEqualTo(201);
  }

  /** In a browser with script: a person's page is theirs, and a clerk's change is of the other. */
  @Test
  void itsPagesAreThePersonsOwn() {
    String fay = service.signIn("fay", "[]");
    String otto = service.signIn("otto", "[\"clerk\"]");
    try (Browser browser = Browser.withScript(service.address())) {
      browser.open("/sign-in");
      as(browser, fay);
      browser.open("/forms/profile");
      assertThat(browser.path()).isEqualTo("/forms/profile/edit");
      browser.find("form[data-bound=true]");
      browser.type("#f-name", "Fay");
      browser.press("form.nodley button[type=submit]");
      browser.until("it is saved", () -> "Fay".equals(nameAt(stranger.get(PATH, "Cookie", fay))));
      browser.openBound("/forms/profile/new");
      assertThat(browser.path()).isEqualTo("/forms/profile/edit");
      assertThat(browser.valueOf("#f-name")).isEqualTo("Fay");
      browser.type("#f-phone", "123");
      browser.press("form.nodley button[type=submit]");
      browser.until(
          "it is edited",
          () ->
              stranger
                  .get(PATH, "Cookie", fay)
                  .json()
                  .at("/values/phone")
                  .asString("")
                  .equals("123"));
      assertThat(browser.barriers()).isEmpty();

      assertThat(first(otto, "Otto").status()).isEqualTo(201);
      as(browser, otto);
      browser.open("/forms/profile");
      browser.untilText("main", "Fay");
      browser.untilText("main", "Otto");
      String fays = stranger.get(PATH, "Cookie", fay).json().path("id").asString();
      browser.openBound("/forms/profile/" + fays + "/edit");
      browser.type("#f-name", "Fay M");
      browser.press("form.nodley button[type=submit]");
      browser.until("hers", () -> "Fay M".equals(nameAt(stranger.get(PATH, "Cookie", fay))));
      JsonNode ottos = stranger.get(PATH, "Cookie", otto).json();
      assertThat(ottos.at("/values/name").asString()).isEqualTo("Otto");
      assertThat(ottos.path("version").asInt()).isEqualTo(1);
    }
  }

  private static void as(Browser browser, String session) {
    browser.driver().manage().deleteAllCookies();
    String[] parts = session.split("=", 2);
    browser.driver().manage().addCookie(new Cookie(parts[0], parts[1]));
  }
}
