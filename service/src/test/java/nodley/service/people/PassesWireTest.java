package nodley.service.people;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import nodley.service.RunningService;
import nodley.service.Wire;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Passes for people of another site: who makes them, what they are good for, and how they end. */
class PassesWireTest {

  private static RunningService service;
  private static Wire site;
  private static Wire shop;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    publish(
        """
        form: request
        called: "{about}"
        access: { add: signed-in, see: [owner, clerk], edit: owner }
        fields:
          about: { type: text, required: true }
          from: { type: text, default: caller.name }
          fee: { type: integer, see: clerk, edit: clerk }
        """);
    publish("form: other\naccess: { add: signed-in }\nfields: { name: { type: text } }\n");
    publish("form: open\naccess: { add: anyone }\nfields: { name: { type: text } }\n");
    site = key("website", "\"roles\": [\"vouch\"]");
    shop = key("shop", "\"roles\": [\"vouch\"], \"forms\": [\"request\"]");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    assertThat(service.wire().publish(name, yaml).status()).isEqualTo(201);
  }

  private static Wire key(String name, String more) {
    Wire.Reply made =
        service
            .wire()
            .post("/api/keys", Wire.JSON_TYPE, "{\"name\": \"%s\", %s}".formatted(name, more));
    assertThat(made.status()).as(made.response().body()).isEqualTo(201);
    return new Wire(service.address(), Optional.of(made.json().path("key").asString()));
  }

  private static Wire.Reply ask(Wire from, String json) {
    return from.post("/api/passes", Wire.JSON_TYPE, json);
  }

  private static String pass(Wire from, String person, String more) {
    Wire.Reply made =
        ask(from, "{\"person\": {%s}, \"forms\": [\"request\"]%s}".formatted(person, more));
    assertThat(made.status()).as(made.response().body()).isEqualTo(201);
    return made.json().path("pass").asString();
  }

  private static Wire with(String token) {
    return new Wire(service.address(), Optional.of(token));
  }

  @Test
  void itSaysWhoAndUntilWhen() {
    Instant before = Instant.now();
    Wire.Reply made =
        ask(
            site,
            """
            {"person": {"id": "17", "name": "Ann Penrose", "email": "ann@harbour.example",
             "roles": ["skipper"]}, "forms": ["request"], "seconds": 900}\
            """);
    assertThat(made.status()).isEqualTo(201);
    assertThat(made.header("Cache-Control")).contains("no-store");
    Instant until = Instant.parse(made.json().path("until").asString());
    assertThat(until).isBetween(before.plusSeconds(898), before.plusSeconds(930));
    assertThat(with(made.json().path("pass").asString()).get("/api/session").json())
        .isEqualTo(
            tools.jackson.databind.json.JsonMapper.shared()
                .readTree(
                    """
                    {"caller": "pass:website:17", "person": "pass:website:17",
                     "name": "Ann Penrose", "email": "ann@harbour.example",
                     "roles": ["skipper"], "forms": ["request"]}\
                    """));
  }

  @Test
  void itsPersonOwnsWhatTheyAdd() {
    Wire ann = with(pass(site, "\"id\": \"ann\", \"name\": \"Ann Penrose\"", ""));
    Wire bob = with(pass(site, "\"id\": \"bob\"", ""));
    Wire shopsAnn = with(pass(shop, "\"id\": \"ann\"", ""));
    Wire.Reply added = ann.add("request", "{\"about\": \"A buoy\"}");
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    assertThat(added.json().at("/values/from").asString()).isEqualTo("Ann Penrose");
    String path = "/api/forms/request/records/" + added.json().path("id").asString();
    JsonNode record = service.wire().get(path).json();
    assertThat(record.path("owner").asString()).isEqualTo("pass:website:ann");
    assertThat(record.path("createdBy").asString()).isEqualTo("pass:website:ann");
    assertThat(ann.get(path).status()).isEqualTo(200);
    // The same person, with another pass.
    Wire again = with(pass(site, "\"id\": \"ann\"", ""));
    assertThat(
            again
                .patch(
                    path,
                    "application/merge-patch+json",
                    "{\"about\": \"Two buoys\"}",
                    "If-Match",
                    "\"1\"")
                .status())
        .isEqualTo(200);
    for (Wire other : List.of(bob, shopsAnn)) {
      assertThat(other.get(path).status()).isEqualTo(404);
      assertThat(other.get("/api/forms/request/records").json().path("records")).isEmpty();
    }
  }

  /** Two people with the same name, and the same key of a submission, are two. */
  @Test
  void anotherPersonsAnswerIsNotRepeatedToThem() {
    Wire ann = with(pass(site, "\"id\": \"a1\", \"name\": \"Same\"", ""));
    Wire bob = with(pass(site, "\"id\": \"b1\", \"name\": \"Same\"", ""));
    String key = "\"8d3f1c9e-0000-4000-8000-000000000001\"";
    Wire.Reply first =
        ann.post(
            "/api/forms/request/records",
            Wire.JSON_TYPE,
            "{\"about\": \"One\"}",
            "Idempotency-Key",
            key);
    Wire.Reply second =
        bob.post(
            "/api/forms/request/records",
            Wire.JSON_TYPE,
            "{\"about\": \"One\"}",
            "Idempotency-Key",
            key);
    assertThat(List.of(first.status(), second.status())).containsOnly(201);
    assertThat(second.json().path("id")).isNotEqualTo(first.json().path("id"));
  }

  @Test
  void itIsForItsFormsAlone() {
    Wire ann = with(pass(site, "\"id\": \"ann\"", ""));
    Wire.Reply refused = ann.add("other", "{\"name\": \"x\"}");
    assertThat(refused.status()).isEqualTo(403);
    assertThat(refused.json().path("detail").asString())
        .startsWith("The pass is for other forms: request.");
    // What is open to strangers is open to them, too.
    assertThat(ann.add("open", "{\"name\": \"x\"}").status()).isEqualTo(201);
  }

  @Test
  void aRoleOfItCounts() {
    Wire ann = with(pass(site, "\"id\": \"ann\"", ""));
    Wire otto = with(pass(site, "\"id\": \"otto\", \"roles\": [\"clerk\"]", ""));
    assertThat(ann.get("/api/forms/request").response().body()).doesNotContain("fee");
    assertThat(otto.get("/api/forms/request").response().body()).contains("\"fee\"");
    assertThat(ann.add("request", "{\"about\": \"x\", \"fee\": 3}").status()).isEqualTo(422);
    assertThat(otto.add("request", "{\"about\": \"x\", \"fee\": 3}").status()).isEqualTo(201);
  }

  /** The calls that need more than a form gives, by hand. */
  @ParameterizedTest
  @CsvSource({
    "GET, /api/forms/request/file",
    "GET, /api/attempts",
    "GET, /api/log",
    "GET, /api/keys",
    "GET, /api/people",
    "GET, /api/backup",
    "POST, /api/keys",
    "POST, /api/passes",
    "POST, /api/people",
    "DELETE, /api/forms/request",
    "PUT, /api/password"
  })
  void itGivesNothingElse(String method, String path) {
    Wire ann = with(pass(site, "\"id\": \"ann\", \"roles\": [\"clerk\"]", ""));
    assertThat(ann.send(method, path, Wire.JSON_TYPE, "{}").status()).isIn(403, 405);
  }

  @Test
  void onlyProgramsThatMayVouchMakeThem() {
    String json = "{\"person\": {\"id\": \"x\"}, \"forms\": [\"request\"]}";
    assertThat(ask(service.wire(), json).status()).isEqualTo(201);
    assertThat(ask(shop, json).status()).isEqualTo(201);
    assertThat(ask(service.stranger(), json).status()).isEqualTo(401);
    assertThat(ask(with("no-key-at-all"), json).status()).isEqualTo(401);
    Wire.Reply plain = ask(key("plain", "\"roles\": [\"clerk\"]"), json);
    assertThat(plain.status()).isEqualTo(403);
    assertThat(plain.json().path("detail").asString())
        .isEqualTo("This needs the role vouch. Your roles: clerk.");
    Wire.Reply person =
        service
            .stranger()
            .post(
                "/api/passes",
                Wire.JSON_TYPE,
                json,
                "Cookie",
                service.signIn("root", "[\"admin\", \"vouch\"]"));
    assertThat(person.status()).isEqualTo(403);
    assertThat(person.json().path("detail").asString()).startsWith("Programs alone may do this");
    Wire.Reply beyond = ask(shop, "{\"person\": {\"id\": \"x\"}, \"forms\": [\"other\"]}");
    assertThat(beyond.status()).isEqualTo(422);
    assertThat(beyond.json().at("/errors/0/detail").asString())
        .isEqualTo("The key is not for the form \"other\".");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{}                                                    | #/person/id   | value-missing",
        "{\"person\": \"ann\", \"forms\": [\"request\"]}       | #/person      | bad-input",
        "{\"person\": [], \"forms\": [\"request\"]}            | #/person      | bad-input",
        "{\"person\": {\"id\": \"\"}}                          | #/person/id   | value-missing",
        "{\"person\": {\"id\": {}}}                            | #/person/id   | bad-input",
        "{\"person\": {\"id\": \"a\\u202eb\"}}                 | #/person/id   | pattern-mismatch",
        "{\"person\": {\"id\": \"a\\nb\"}}                     | #/person/id   | pattern-mismatch",
        "{\"person\": {\"id\": \"a\", \"name\": \"a\\u0007\"}} | #/person/name | pattern-mismatch",
        "{\"person\": {\"id\": \"a\", \"email\": \"ann\"}}     | #/person/email | type-mismatch",
        "{\"person\": {\"id\": \"a\", \"roles\": \"admin\"}}   | #/person/roles | not-an-option",
        "{\"person\": {\"id\": \"a\", \"roles\": \"author\"}}  | #/person/roles | not-an-option",
        "{\"person\": {\"id\": \"a\", \"roles\": \"vouch\"}}   | #/person/roles | not-an-option",
        "{\"person\": {\"id\": \"a\", \"roles\": \"owner\"}}   | #/person/roles | pattern-mismatch",
        "{\"person\": {\"id\": \"a\", \"role\": \"clerk\"}}    | #/person/role | unknown-field",
        "{\"person\": {\"id\": \"a\"}}                         | #/forms       | value-missing",
        "{\"person\": {\"id\": \"a\"}, \"forms\": [\"reqest\"]} | #/forms      | not-an-option",
        "{\"person\": {\"id\": \"a\"}, \"second\": 3}          | #/second      | unknown-field",
        "{\"person\": {\"id\": \"a\"}, \"seconds\": 0}         | #/seconds     | range-overflow",
        "{\"person\": {\"id\": \"a\"}, \"seconds\": 3601}      | #/seconds     | range-overflow",
        "{\"person\": {\"id\": \"a\"}, \"seconds\": -1}        | #/seconds     | range-overflow",
        "{\"person\": {\"id\": \"a\"}, \"seconds\": 1.5}       | #/seconds     | range-overflow",
        "{\"person\": {\"id\": \"a\"}, \"seconds\": []}        | #/seconds     | bad-input"
      })
  void whatIsWrongIsTold(String json, String pointer, String code) {
    Wire.Reply refused = ask(site, json);
    assertThat(refused.status()).as(refused.response().body()).isEqualTo(422);
    assertThat(
            refused
                .json()
                .path("errors")
                .valueStream()
                .filter(it -> it.path("pointer").asString().equals(pointer))
                .map(it -> it.path("code").asString()))
        .as(refused.response().body())
        .containsExactly(code);
  }

  @Test
  void whatIsTooLongIsRefused() {
    assertThat(
            ask(
                    site,
                    "{\"person\": {\"id\": \"%s\"}, \"forms\": [\"request\"]}"
                        .formatted("x".repeat(101)))
                .json()
                .at("/errors/0/code")
                .asString())
        .isEqualTo("too-long");
    String many = "\"request\",".repeat(60) + "\"request\"";
    assertThat(ask(site, "{\"person\": {\"id\": \"x\"}, \"forms\": [%s]}".formatted(many)).status())
        .as("each form once")
        .isEqualTo(201);
  }

  @Test
  void itEnds() {
    String pass = pass(site, "\"id\": \"ann\"", ", \"seconds\": 1");
    Wire ann = with(pass);
    Awaitility.await()
        .atMost(Duration.ofSeconds(20))
        .until(() -> ann.get("/api/forms/request").status() == 401);
    Wire.Reply ended = ann.add("request", "{\"about\": \"Late\"}");
    assertThat(ended.status()).isEqualTo(401);
    assertThat(ended.json().path("detail").asString()).matches("The pass ended at 20.*Z\\.");
    // It speaks for nobody, not for a stranger either.
    assertThat(ann.add("open", "{\"name\": \"x\"}").status()).isEqualTo(401);
    // Its end stands in it, signed.
    String longer = pass.replaceFirst("\\.[0-9]+\\.([0-9]+)\\.", ".3600.9999999999.");
    assertThat(longer).isNotEqualTo(pass);
    assertThat(with(longer).get("/api/forms/request").status()).isEqualTo(401);
  }

  @Test
  void itEndsWithTheKeyThatVouched() {
    Wire old = key("old-site", "\"roles\": [\"vouch\"]");
    Wire ann = with(pass(old, "\"id\": \"ann\"", ""));
    assertThat(ann.get("/api/forms/request").status()).isEqualTo(200);
    assertThat(service.wire().delete("/api/keys/old-site").status()).isEqualTo(204);
    Wire.Reply ended = ann.get("/api/forms/request");
    assertThat(ended.status()).isEqualTo(401);
    assertThat(ended.json().path("detail").asString())
        .isEqualTo("The pass was made with a key that has ended: old-site.");
    // A new key of the same name, which may not vouch, brings none of them back.
    key("old-site", "\"roles\": []");
    assertThat(ann.get("/api/forms/request").status()).isEqualTo(401);
  }

  @Test
  void whatIsNoPassIsNotKnown() {
    String pass = pass(site, "\"id\": \"ann\"", "");
    for (String token :
        List.of(
            "pass.",
            "pass.1.2.",
            "pass.x.y.z",
            "pass.900.9999999999.AAAA",
            "pass.900.9999999999." + "A".repeat(3_000),
            pass.substring(0, pass.length() - 1) + (pass.endsWith("A") ? "B" : "A"),
            pass + "A",
            pass.toUpperCase(java.util.Locale.ROOT))) {
      Wire.Reply refused = with(token).get("/api/forms/request");
      assertThat(refused.status()).as(token).isIn(401, 429);
    }
  }
}
