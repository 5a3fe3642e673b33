package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.JsonNode;

/**
 * A field that only clerks may see: its name and its value are asked for through every call and
 * page, by everybody else. And a field that only clerks may edit.
 */
class HiddenFieldTest {

  /** Stands in the hidden field of the record alone. */
  private static final String VALUE = "kestrel7531";

  /** The hidden field's name and label. */
  private static final String NAME = "whimbrelmark";

  private static RunningService service;
  private static String id;
  private static String berth;
  private static Wire clerk;
  private static Wire pilot;
  private static Wire author;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    publish(
        """
        form: mooring
        access: { add: anyone, see: anyone, edit: anyone, remove: clerk }
        sections:
          all: { title: All, fields: [name, fee, stamp, whimbrelmark, boats, tags] }
        fields:
          name: { type: text, required: true }
          fee: { type: decimal, decimals: 2, edit: clerk, default: 5 }
          stamp: { type: text, edit: clerk, required: true }
          whimbrelmark:
            type: text
            see: clerk
            required: true
            help: For whimbrelmark
            say: { value-missing: "No whimbrelmark." }
          boats:
            type: rows
            fields:
              boat: { type: text }
              price: { type: integer, see: [clerk, treasurer] }
          tags: { type: choice, options: { a: A, b: B } }
        rules:
          - must: whimbrelmark is blank or name is not blank
            say: "Mind the name."
            at: name
        """);
    publish(
        """
        form: berth
        access: { add: anyone, see: anyone, edit: anyone }
        called: "{mooring}"
        fields:
          mooring: { type: record, form: mooring }
          near: { type: text, compute: mooring.whimbrelmark }
        """);
    clerk = holder("clerk", "[\"clerk\"]");
    pilot = holder("pilot", "[\"pilot\"]");
    author = holder("author", "[\"author\"]");
    Wire.Reply added =
        clerk.post(
            "/api/forms/mooring/records",
            Wire.JSON_TYPE,
            """
            {"name": "Inner wall", "stamp": "S", "fee": 7, "whimbrelmark": "kestrel7531",
             "boats": [{"boat": "Tern", "price": 7531}]}
            """,
            "Idempotency-Key",
            "one");
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    id = added.json().path("id").asString();
    berth =
        pilot
            .post("/api/forms/berth/records", Wire.JSON_TYPE, "{\"mooring\": \"" + id + "\"}")
            .json()
            .path("id")
            .asString();
    clerk.patch(
        "/api/forms/mooring/records/" + id,
        "application/json",
        "{\"whimbrelmark\": \"kestrel7531 again\"}",
        "If-Match",
        "\"1\"");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    Wire.Reply reply = service.wire().publish(name, yaml);
    assertThat(reply.status()).as(reply.response().body()).isIn(200, 201);
  }

  private static Wire holder(String name, String roles) {
    Wire.Reply made =
        service
            .wire()
            .post(
                "/api/keys",
                Wire.JSON_TYPE,
                "{\"name\": \"%s\", \"roles\": %s}".formatted(name, roles));
    return new Wire(service.address(), Optional.of(made.json().path("key").asString()));
  }

  /** Everything that can be asked about the form and the record; ID and BERTH are the records'. */
  private static Stream<String> reads() {
    return Stream.of(
        "GET /api/forms",
        "GET /api/forms/mooring",
        "GET /api/forms/mooring/schema",
        "GET /api/forms/mooring/samples?seed=3",
        "GET /api/forms/mooring/options/tags",
        "GET /api/forms/mooring/records",
        "GET /api/forms/mooring/records?sort=-name",
        "GET /api/forms/mooring/records?q=kestrel7531",
        "GET /api/forms/mooring/records/ID",
        "GET /api/forms/mooring/records/ID/versions",
        "GET /api/forms/berth",
        "GET /api/forms/berth/records",
        "GET /api/forms/berth/records/BERTH",
        "GET /api/forms/berth/options/mooring",
        "GET /api/forms/berth/options/mooring?q=kestrel7531",
        "GET /forms",
        "GET /forms/mooring",
        "GET /forms/mooring/new",
        "GET /forms/mooring/new?whimbrelmark=x",
        "GET /forms/mooring/ID",
        "GET /forms/mooring/ID/edit",
        "GET /forms/berth/BERTH",
        "POST /api/forms/mooring/checks {\"name\": \"\"}",
        "POST /api/forms/mooring/checks?record=ID {\"name\": \"\"}",
        "POST /api/forms/mooring/records {}",
        "PUT /api/forms/mooring/records/ID {\"name\": \"Outer wall\"}",
        "PATCH /api/forms/mooring/records/ID {\"name\": \"Outer wall\"}");
  }

  @ParameterizedTest
  @MethodSource("reads")
  void whoMayNotSeeItIsToldOfItNowhere(String call) {
    String[] parts = call.split(" ", 3);
    String path = parts[1].replace("ID", id).replace("BERTH", berth);
    List<String> told = new ArrayList<>();
    for (Wire who : List.of(service.stranger(), pilot, author)) {
      String body =
          parts[0].equals("GET")
              ? who.get(path).response().body()
              : who.send(parts[0], path, Wire.JSON_TYPE, parts[2], "If-Match", "\"1\"")
                  .response()
                  .body();
      // A page says again what was looked for.
      told.add(body.replace(path.replaceFirst(".*[?]", ""), "").replace("“" + VALUE + "”", ""));
    }
    assertThat(told)
        .allSatisfy(
            it ->
                assertThat(it)
                    .doesNotContainIgnoringCase(VALUE)
                    .doesNotContainIgnoringCase(NAME)
                    .doesNotContain("price", "Price"));
    assertThat(told).allSatisfy(it -> assertThat(it).doesNotContain("\"status\":500"));
  }

  /** Found by nobody through its words: finding tells. */
  @Test
  void itIsFoundByNothing() {
    for (Wire who : List.of(service.stranger(), pilot, author)) {
      assertThat(who.get("/api/forms/mooring/records?q=kestrel7531").json().path("records"))
          .isEmpty();
      for (String query :
          List.of(
              "where=whimbrelmark%20%3D%20%22x%22",
              "sort=whimbrelmark", "where=count(boats.price)%20%3E%200")) {
        Wire.Reply asked = who.get("/api/forms/mooring/records?" + query);
        assertThat(asked.status()).as(query).isEqualTo(400);
        Wire.Reply other =
            who.get(
                "/api/forms/mooring/records?"
                    + query.replace("whimbrelmark", "nosuchthing").replace("price", "prism"));
        assertThat(asked.response().body().replaceAll("whimbrelmark|price", "X"))
            .as("as if there were none")
            .isEqualTo(other.response().body().replaceAll("nosuchthing|prism", "X"));
      }
      assertThat(
              who.get("/api/forms/berth/records?where=mooring.whimbrelmark%20%3D%20%22x%22")
                  .status())
          .isEqualTo(400);
    }
    assertThat(
            clerk
                .get("/api/forms/mooring/records?where=whimbrelmark%20is%20not%20blank")
                .json()
                .path("records"))
        .isNotEmpty();
  }

  /** Whoever sends it hears what they would hear of any name that there is not. */
  @Test
  void sendingItIsSendingNothingThatThereIs() {
    for (Wire who : List.of(service.stranger(), pilot)) {
      JsonNode error =
          who.post(
                  "/api/forms/mooring/checks",
                  Wire.JSON_TYPE,
                  "{\"name\": \"A\", \"whimbrelmark\": \"x\"}")
              .json()
              .path("errors")
              .path(0);
      JsonNode other =
          who.post(
                  "/api/forms/mooring/checks",
                  Wire.JSON_TYPE,
                  "{\"name\": \"A\", \"nosuchthing\": \"x\"}")
              .json()
              .path("errors")
              .path(0);
      assertThat(error.toString().replace("whimbrelmark", "X"))
          .isEqualTo(other.toString().replace("nosuchthing", "X"));
      assertThat(
              who.post(
                      "/api/forms/mooring/checks",
                      Wire.JSON_TYPE,
                      "{\"name\": \"A\", \"whimbrelmrk\": 1}")
                  .response()
                  .body())
          .as("no name is near")
          .doesNotContain(NAME);
    }
  }

  /** What is hidden from an editor stays as it is, in rows too. */
  @Test
  void anEditByOneWhoDoesNotSeeItLeavesIt() {
    Wire.Reply added =
        clerk.post(
            "/api/forms/mooring/records",
            Wire.JSON_TYPE,
            """
            {"name": "Kept", "stamp": "S", "whimbrelmark": "stays",
             "boats": [{"boat": "Tern", "price": 31}, {"boat": "Gull", "price": 32}]}
            """);
    String path = "/api/forms/mooring/records/" + added.json().path("id").asString();
    Wire.Reply edited =
        pilot.put(
            path,
            Wire.JSON_TYPE,
            "{\"name\": \"Kept so\", \"boats\": [{\"boat\": \"Tern\"}, {\"boat\": \"Gull\"}]}",
            "If-Match",
            "\"1\"");
    assertThat(edited.status()).as(edited.response().body()).isEqualTo(200);
    assertThat(edited.response().body()).doesNotContain("stays", "price");
    JsonNode values = clerk.get(path).json().path("values");
    assertThat(values.path("name").asString()).isEqualTo("Kept so");
    assertThat(values.path("whimbrelmark").asString()).isEqualTo("stays");
    assertThat(values.path("boats").path(0).path("price").asInt()).isEqualTo(31);
    assertThat(values.path("boats").path(1).path("price").asInt()).isEqualTo(32);
  }

  /** When the form has it no longer, its earlier values are in versions yet. */
  @Test
  void whatWasHiddenStaysHiddenWhenItsFieldIsGone() {
    String yaml =
        """
        form: dinghy
        access: { see: anyone, edit: anyone }
        fields:
          name: { type: text }
          secretmark: { type: text, see: clerk }
          kit: { type: group, fields: { oars: { type: text }, hull: { type: text, see: clerk } } }
        """;
    publish(yaml);
    Wire.Reply added =
        clerk.add(
            "dinghy",
            "{\"name\": \"A\", \"secretmark\": \"kestrel7531\", \"kit\": {\"hull\":"
                + " \"kestrel7531\"}}");
    String path = "/api/forms/dinghy/records/" + added.json().path("id").asString();
    clerk.patch(
        path,
        "application/json",
        "{\"secretmark\": null, \"kit\": {\"hull\": null, \"oars\": \"two\"}}",
        "If-Match",
        "\"1\"");
    publish(
        yaml.replace("  secretmark: { type: text, see: clerk }\n", "")
            .replace(", hull: { type: text, see: clerk }", ""));
    for (Wire who : List.of(service.stranger(), pilot, clerk)) {
      Wire.Reply versions = who.get(path + "/versions");
      assertThat(versions.status()).isEqualTo(200);
      assertThat(versions.response().body())
          .contains("two")
          .doesNotContain(VALUE)
          .doesNotContain("secretmark", "hull");
    }
    assertThat(service.wire().get(path + "/versions").response().body()).contains(VALUE);
  }

  /** What another form's texts name cannot be hidden behind their back. */
  @Test
  void aTextOfAnotherFormThatNamesItIsFoundWhenItIsHidden() {
    String pier =
        """
        form: pier
        access: { see: anyone }
        fields: { name: { type: text }, note: { type: text } }
        """;
    publish(pier);
    publish(
        """
        form: rope
        access: { see: anyone }
        called: "{pier.note}"
        fields: { pier: { type: record, form: pier } }
        """);
    Wire.Reply reply =
        service
            .wire()
            .publish("pier", pier.replace("note: { type: text", "note: { type: text, see: clerk"));
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(409);
    assertThat(reply.response().body()).contains("`pier.note` is not for everybody");
    assertThat(service.stranger().get("/api/forms/rope").status()).isEqualTo(200);
  }

  /** Required of those who see it, and of nobody else. */
  @Test
  void itIsAskedOfThoseWhoSeeIt() {
    String json = "{\"name\": \"New\"}";
    assertThat(pilot.add("mooring", json).status()).isEqualTo(201);
    Wire.Reply refused = clerk.add("mooring", json);
    assertThat(refused.codeOf(NAME)).isEqualTo("value-missing");
    // So is what others see, but cannot set.
    assertThat(refused.codeOf("stamp")).isEqualTo("value-missing");
    assertThat(clerk.get("/api/forms/mooring").response().body()).contains(NAME, "price");
  }

  /** Others see the fee, and cannot change it. */
  @Test
  void aFieldForEditorsIsSeenAndNotEditable() {
    Wire.Reply added = pilot.add("mooring", "{\"name\": \"Fee\"}");
    assertThat(added.json().path("values").path("fee").decimalValue()).isEqualByComparingTo("5");
    assertThat(pilot.add("mooring", "{\"name\": \"Free\", \"fee\": 0}").codeOf("fee"))
        .isEqualTo("not-editable");
    String path = "/api/forms/mooring/records/" + added.json().path("id").asString();
    assertThat(
            pilot
                .patch(path, "application/json", "{\"fee\": 1}", "If-Match", "\"1\"")
                .codeOf("fee"))
        .isEqualTo("not-editable");
    assertThat(
            clerk
                .patch(
                    path,
                    "application/json",
                    "{\"fee\": 1, \"stamp\": \"S\", \"whimbrelmark\": \"w\"}",
                    "If-Match",
                    "\"1\"")
                .status())
        .isEqualTo(200);
    JsonNode described = pilot.get("/api/forms/mooring").json();
    assertThat(field(described, "fee").path("editable").asBoolean(true)).isFalse();
    assertThat(
            field(clerk.get("/api/forms/mooring").json(), "fee").path("editable").asBoolean(true))
        .isTrue();
  }

  private static JsonNode field(JsonNode description, String name) {
    return description
        .path("fields")
        .valueStream()
        .filter(it -> it.path("name").asString().equals(name))
        .findFirst()
        .orElseThrow();
  }

  /** The log of attempts is the authors', and what they may not see is not in it either. */
  @Test
  void theLogOfAttemptsIsReadWithoutIt() {
    clerk.add("mooring", "{\"name\": \"\", \"whimbrelmark\": \"kestrel7531\"}");
    String whole =
        service
            .wire()
            .get("/api/attempts?form=mooring&limit=100")
            .json()
            .path("attempts")
            .toString();
    JsonNode attempts = author.get("/api/attempts?form=mooring&limit=100").json().path("attempts");
    assertThat(attempts.toString()).doesNotContain(VALUE).doesNotContain(NAME);
    assertThat(attempts.size()).isPositive();
    boolean found = false;
    for (JsonNode attempt : attempts) {
      String one = "/api/attempts/" + attempt.path("id").asString();
      assertThat(author.get(one).response().body()).doesNotContain(VALUE).doesNotContain(NAME);
      found = found || service.wire().get(one).response().body().contains(VALUE);
    }
    assertThat(found).as("an admin sees it").isTrue();
    assertThat(whole).isNotEmpty();
  }
}
