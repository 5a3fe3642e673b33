package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Keys of programs: made, listed, used, limited and ended over the wire. */
class KeysWireTest {

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishDemo();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply make(String json) {
    return service.wire().post("/api/keys", Wire.JSON_TYPE, json);
  }

  private static Wire holderOf(Wire.Reply made) {
    assertThat(made.status()).as(made.response().body()).isEqualTo(201);
    return new Wire(service.address(), Optional.of(made.json().path("key").asString()));
  }

  private static JsonNode listed(String name) {
    for (JsonNode key : service.wire().get("/api/keys").json().path("keys")) {
      if (key.path("name").asString().equals(name)) {
        return key;
      }
    }
    throw new AssertionError("no key " + name);
  }

  @Test
  void aKeyIsMadeListedUsedAndEnded() {
    Wire.Reply made =
        make(
            """
            {"name": "night-export", "roles": ["author"], "forms": ["vessel", "berth"],
             "until": "2099-06-30"}\
            """);
    Wire holder = holderOf(made);
    assertThat(made.json().path("key").asString()).hasSize(32);
    assertThat(made.json().path("warnings")).isEmpty();
    JsonNode key = listed("night-export");
    assertThat(key.path("roles").toString()).isEqualTo("[\"author\"]");
    assertThat(key.path("forms").toString()).isEqualTo("[\"berth\",\"vessel\"]");
    assertThat(key.path("until").asString()).isEqualTo("2099-06-30");
    assertThat(key.has("key")).as("the secret is told once").isFalse();
    assertThat(key.has("lastUse")).isFalse();

    assertThat(holder.get("/api/forms/vessel/file").status()).isEqualTo(200);
    assertThat(holder.get("/api/session").response().body())
        .isEqualTo(
            "{\"caller\":\"night-export\",\"roles\":[\"author\"],"
                + "\"forms\":[\"berth\",\"vessel\"]}");
    assertThat(listed("night-export").at("/lastUse/address").asString()).isEqualTo("127.0.0.1");
    Wire.Reply other = holder.get("/api/forms/skipper/file");
    assertThat(other.status()).isEqualTo(403);
    assertThat(other.json().path("detail").asString())
        .isEqualTo(
            "The key night-export is for some forms only: berth, vessel. Your roles: author.");

    assertThat(service.wire().delete("/api/keys/night-export").status()).isEqualTo(204);
    assertThat(holder.get("/api/forms/vessel/file").status()).isEqualTo(401);
    assertThat(service.wire().delete("/api/keys/night-export").status()).isEqualTo(404);
    JsonNode log = service.wire().get("/api/log?limit=3").json().path("entries");
    assertThat(log.valueStream().map(it -> it.path("what") + " " + it.path("subject")))
        .contains("\"make-key\" \"keys/night-export\"", "\"end-key\" \"keys/night-export\"");
  }

  /** Whoever signed in with it is signed out with it, and a key for some forms shows only these. */
  @Test
  void aSessionIsAsGoodAsItsKeyAndEndsWithIt() {
    holderOf(make("{\"name\": \"desk\", \"forms\": [\"berth\"]}"));
    Wire.Reply made = make("{\"name\": \"counter\", \"forms\": [\"berth\"]}");
    String secret = made.json().path("key").asString();
    String session =
        service
            .stranger()
            .post("/api/session", Wire.JSON_TYPE, "{\"key\": \"" + secret + "\"}")
            .header("Set-Cookie")
            .replaceFirst(";.*", "");
    JsonNode forms = service.stranger().get("/api/forms", "Cookie", session).json().path("forms");
    assertThat(forms.valueStream().map(it -> it.path("form").asString())).contains("berth");
    assertThat(service.stranger().get("/api/forms/berth/records", "Cookie", session).status())
        .isEqualTo(200);
    assertThat(service.stranger().get("/api/attempts", "Cookie", session).status()).isEqualTo(403);
    service.wire().delete("/api/keys/counter");
    assertThat(
            service
                .stranger()
                .get("/api/session", "Cookie", session)
                .json()
                .path("caller")
                .isNull())
        .isTrue();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          {}                                              | #/name  | value-missing
          {"name": " "}                                   | #/name  | value-missing
          {"name": "näme"}                                | #/name  | pattern-mismatch
          {"name": "a\\u0000b"}                           | #/name  | pattern-mismatch
          {"name": "admin"}                               | #/name  | taken
          {"name": "a", "roles": ["Clerk"]}               | #/roles | pattern-mismatch
          {"name": "a", "roles": ["anyone"]}              | #/roles | pattern-mismatch
          {"name": "a", "roles": "signed-in"}             | #/roles | pattern-mismatch
          {"name": "a", "forms": ["vesel"]}               | #/forms | not-an-option
          {"name": "a", "until": "30.6.2099"}             | #/until | bad-input
          {"name": "a", "until": "2027-02-30"}            | #/until | bad-input
          {"name": "a", "until": "+12345-01-01"}          | #/until | bad-input
          {"name": "a", "until": "2000-01-01"}            | #/until | range-underflow
          {"name": ["a"]}                                 | #/name  | bad-input
          {"name": "a", "roles": [{}]}                    | #/roles | bad-input
          {"name": "a", "forms": {"a": 1}}                | #/forms | bad-input
          {"name": "a", "roles": ["a,b"]}                 | #/roles | pattern-mismatch
          {"name": "a", "rolls": ["author"]}              | #/rolls | unknown-field
          """)
  void aKeyThatCannotBeIsRefusedWithItsErrors(String json, String pointer, String code) {
    Wire.Reply reply = make(json);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(422);
    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/refused");
    assertThat(reply.json().at("/errors/0/pointer").asString()).isEqualTo(pointer);
    assertThat(reply.json().at("/errors/0/code").asString()).isEqualTo(code);
    assertThat(reply.json().at("/errors/0/detail").asString()).matches(".*[.?]");
  }

  @Test
  void aMisspeltFormAndRoleNameTheOneThatWasMeant() {
    assertThat(make("{\"name\": \"a\", \"forms\": [\"vesel\"]}").response().body())
        .contains("There is no form \\\"vesel\\\". Did you mean \\\"vessel\\\"?");
    Wire.Reply made = make("{\"name\": \"typist\", \"roles\": [\"autor\"]}");
    assertThat(made.json().at("/warnings/0").asString())
        .isEqualTo("No form gives anything to the role \"autor\". Did you mean \"author\"?");
  }

  /** The service would have nobody left who could make keys. */
  @Test
  void theLastAdminStays() {
    assertThat(service.wire().delete("/api/keys/admin").json().path("type").asString())
        .isEqualTo("/problems/last-admin");
    Wire second = holderOf(make("{\"name\": \"second-admin\", \"roles\": [\"admin\"]}"));
    holderOf(make("{\"name\": \"half\", \"roles\": [\"admin\"], \"forms\": [\"berth\"]}"));
    assertThat(second.delete("/api/keys/second-admin").status()).isEqualTo(204);
    assertThat(service.wire().delete("/api/keys/admin").status()).isEqualTo(409);
  }

  @Test
  void ofManyWhoMakeOneNameAtOnceOneDoes() {
    List<Integer> statuses =
        IntStream.range(0, 20)
            .parallel()
            .mapToObj(_ -> make("{\"name\": \"at-once\"}").status())
            .sorted()
            .toList();
    assertThat(statuses.getFirst()).isEqualTo(201);
    assertThat(statuses.subList(1, 20)).containsOnly(422);
  }

  /** A role opens what a form gives to it, and no more. */
  @Test
  void aFormsAccessNamesRoles() {
    service
        .wire()
        .publish(
            "fee",
            """
            form: fee
            access: { add: [clerk, pilot], see: clerk, edit: clerk }
            fields: { amount: { type: decimal, decimals: 2, required: true } }
            """);
    Wire pilot = holderOf(make("{\"name\": \"pilot\", \"roles\": [\"pilot\"]}"));
    Wire clerk = holderOf(make("{\"name\": \"clerk\", \"roles\": [\"clerk\"]}"));
    assertThat(pilot.add("fee", "{\"amount\": 4}").status()).isEqualTo(201);
    assertThat(pilot.get("/api/forms/fee/records").status()).isEqualTo(403);
    assertThat(clerk.get("/api/forms/fee/records").json().path("records")).hasSize(1);
    Wire.Reply refused = service.stranger().add("fee", "{\"amount\": 4}");
    assertThat(refused.status()).isEqualTo(401);
    assertThat(
            service
                .wire()
                .get("/api/attempts?form=fee")
                .json()
                .path("attempts")
                .valueStream()
                .map(it -> it.path("verdict").asString()))
        .containsExactly("failed", "accepted");
    assertThat(clerk.get("/api/forms/fee").json().path("access").toString())
        .contains("\"add\":[\"clerk\",\"pilot\"]", "\"see\":\"clerk\"");
  }

  /** An expression reads the roles of who sends. */
  @Test
  void aFieldMayDependOnTheRolesOfTheCaller() {
    service
        .wire()
        .publish(
            "passage",
            """
            form: passage
            fields:
              ship: { type: text, required: true }
              fee: { type: integer, editable: 'caller.roles has "purser"' }
            """);
    Wire purser = holderOf(make("{\"name\": \"purser\", \"roles\": [\"mate\", \"purser\"]}"));
    Wire mate = holderOf(make("{\"name\": \"mate\", \"roles\": [\"mate\"]}"));
    assertThat(purser.add("passage", "{\"ship\": \"Tern\", \"fee\": 4}").status()).isEqualTo(201);
    assertThat(mate.add("passage", "{\"ship\": \"Tern\", \"fee\": 4}").codeOf("fee"))
        .isEqualTo("not-editable");
    assertThat(mate.add("passage", "{\"ship\": \"Tern\"}").status()).isEqualTo(201);
  }
}
