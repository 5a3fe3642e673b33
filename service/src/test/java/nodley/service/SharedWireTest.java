package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.sql.DriverManager;
import java.sql.SQLException;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Lists, parts, nested values and what reaches through a record, over the wire. */
class SharedWireTest {

  private RunningService service;
  private Wire wire;
  private String vessel;
  private String shallow;
  private String deep;

  @BeforeEach
  void start() {
    service = RunningService.fresh();
    wire = service.wire();
    wire.publishWholeDemo();
    shallow = id("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":1.5}");
    deep = id("berth", "{\"code\":\"A2\",\"pontoon\":\"north\",\"length\":12,\"depth\":2.5}");
    vessel =
        id(
            "vessel",
            "{\"name\":\"Grey Heron\",\"callSign\":\"MQ7AB\",\"length\":11.4,\"draught\":1.9,"
                + "\"insured\":true}");
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private String id(String form, String values) {
    return wire.add(form, values).json().path("id").asString();
  }

  private String visit(String more) {
    String day =
        java.time.LocalDate.now(java.time.ZoneId.of("Europe/Lisbon")).plusDays(3).toString();
    String next = java.time.LocalDate.parse(day).plusDays(2).toString();
    return "{\"vessel\":\"%s\",\"arrives\":\"%s\",\"departs\":\"%s\",".formatted(vessel, day, next)
        + "\"contact\":{\"name\":\"Ann\",\"email\":\"Ann@a.example\"},"
        + "\"crew\":[{\"name\":\"Ann\"}]"
        + more
        + "}";
  }

  @Test
  void aNestedSubmissionIsKeptAndCalledByTheRecordBehindIt() {
    Wire.Reply added =
        wire.post("/api/forms/visit/records", Wire.JSON_TYPE, visit(",\"berth\":\"" + deep + "\""));
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    JsonNode record = added.json();
    assertThat(record.path("called").asString()).startsWith("Grey Heron, 20");
    assertThat(record.path("values").path("nights").asInt()).isEqualTo(2);
    assertThat(record.path("values").path("contact").path("email").asString())
        .isEqualTo("ann@a.example");
    assertThat(record.path("values").path("crew").path(0).path("role").asString())
        .isEqualTo("hand");
    Wire.Reply again = wire.get("/api/forms/visit/records/" + record.path("id").asString());
    assertThat(again.json().path("values")).isEqualTo(record.path("values"));
  }

  @Test
  void aConditionThatReachesThroughARecordIsDecidedByTheService() {
    String tall =
        id(
            "vessel",
            "{\"name\":\"Tall One\",\"callSign\":\"MQ9ZZ\",\"length\":24,\"insured\":true}");
    String query = "/api/forms/visit/checks?fields=pilot";
    JsonNode small = wire.post(query, Wire.JSON_TYPE, visit("")).json();
    assertThat(small.path("decided").toString()).isEqualTo("{\"#/pilot\":{\"shown\":false}}");
    JsonNode large = wire.post(query, Wire.JSON_TYPE, visit("").replace(vessel, tall)).json();
    assertThat(large.path("decided").toString()).isEqualTo("{\"#/pilot\":{\"shown\":true}}");
    JsonNode other =
        wire.post("/api/forms/visit/checks?fields=notes", Wire.JSON_TYPE, visit("")).json();
    assertThat(other.has("decided")).isFalse();
  }

  @Test
  void anOptionThatReachesThroughARecordIsDecidedByTheService() {
    Wire.Reply refused =
        wire.post(
            "/api/forms/visit/checks", Wire.JSON_TYPE, visit(",\"berth\":\"" + shallow + "\""));
    assertThat(refused.codeOf("berth")).isEqualTo("not-an-option");
    assertThat(
            wire.get("/api/forms/visit/options/berth?vessel=" + vessel)
                .json()
                .path("options")
                .toString())
        .contains(deep)
        .doesNotContain(shallow);
    assertThat(wire.get("/api/forms/visit/options/berth").json().path("options")).isEmpty();
    assertThat(wire.get("/api/forms/visit/options/berth?vesel=x").status()).isEqualTo(400);
  }

  @Test
  void aListInUseCannotBeTakenAwayAndSaysByWhom() {
    Wire.Reply refused = wire.delete("/api/lists/services");
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("type").asString()).isEqualTo("/problems/in-use");
    assertThat(refused.json().path("forms").path("visit").path(0).asString())
        .contains("There is no list `services`");
    assertThat(wire.get("/api/lists/services").status()).isEqualTo(200);
    assertThat(
            wire.put("/api/lists/spare", Wire.JSON_TYPE, "{\"list\":\"spare\",\"options\":[\"a\"]}")
                .status())
        .isEqualTo(201);
    assertThat(wire.delete("/api/lists/spare").status()).isEqualTo(204);
    assertThat(wire.delete("/api/lists/spare").status()).isEqualTo(404);
  }

  @Test
  void aListsNewTextIsOfferedAtOnceAndKeptRecordsStayRight() {
    Wire.Reply added =
        wire.post("/api/forms/visit/records", Wire.JSON_TYPE, visit(",\"services\":[\"water\"]"));
    String path = "/api/forms/visit/records/" + added.json().path("id").asString();
    String without =
        "{\"list\":\"services\",\"options\":[{\"value\":\"ice\",\"trade\":true},{\"value\":\"slip\",\"repair\":true}]}";
    assertThat(wire.put("/api/lists/services", Wire.JSON_TYPE, without).status()).isEqualTo(200);
    assertThat(
            wire.post("/api/forms/visit/checks", Wire.JSON_TYPE, visit(",\"services\":[\"water\"]"))
                .codeOf("services"))
        .isEqualTo("not-an-option");
    Wire.Reply edited =
        wire.put(
            path,
            Wire.JSON_TYPE,
            visit(",\"services\":[\"water\"],\"notes\":\"x\""),
            "If-Match",
            "\"1\"");
    assertThat(edited.status()).as(edited.response().body()).isEqualTo(200);
  }

  @Test
  void aPartThatWouldBreakAFormIsRefusedAndOneThatFitsMovesItsTable() {
    String broken =
        "{\"part\":\"contact\",\"fields\":{\"mail\":{\"type\":\"email\",\"shown\":\"elsewhere\"}}}";
    assertThat(wire.put("/api/parts/contact", Wire.JSON_TYPE, broken).status()).isEqualTo(422);
    String other = "{\"part\":\"in-order\",\"takes\":{\"a\":\"date\"},\"must\":\"a > today\"}";
    Wire.Reply refused = wire.put("/api/parts/in-order", Wire.JSON_TYPE, other);
    assertThat(refused.status()).isEqualTo(409);
    assertThat(refused.json().path("forms").propertyNames())
        .containsExactlyInAnyOrder("harbour", "visit");
    String more =
        "{\"part\":\"contact\",\"fields\":{\"name\":{\"type\":\"text\"},\"email\":{\"type\":\"email\",\"tidy\":[\"lower\"]},"
            + "\"town\":{\"type\":\"text\"}}}";
    assertThat(wire.put("/api/parts/contact", Wire.JSON_TYPE, more).status()).isEqualTo(200);
    Wire.Reply added =
        wire.post(
            "/api/forms/visit/records",
            Wire.JSON_TYPE,
            visit("").replace("\"name\":\"Ann\",", "\"name\":\"Ann\",\"town\":\"Marrow\","));
    assertThat(added.json().path("values").path("contact").path("town").asString())
        .isEqualTo("Marrow");
  }

  @Test
  void aSecretIsKeptAsADigestAndNeverTold() throws SQLException {
    String body =
        "{\"name\":\"Ann\",\"email\":\"ann@a.example\",\"licence\":\"none\",\"rules\":true,"
            + "\"password\":\"grey-heron-110\",\"again\":\"grey-heron-110\"}";
    Wire.Reply added = wire.post("/api/forms/skipper/records", Wire.JSON_TYPE, body);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    assertThat(added.response().body()).doesNotContain("grey-heron-110").doesNotContain("password");
    Path file = service.data().resolve("nodley.db");
    try (var connection = DriverManager.getConnection("jdbc:sqlite:" + file);
        var rows = connection.createStatement().executeQuery("SELECT password FROM skipper")) {
      assertThat(rows.next()).isTrue();
      assertThat(rows.getString(1)).hasSizeGreaterThan(40).doesNotContain("heron");
    }
    Wire.Reply refused =
        wire.post(
            "/api/forms/skipper/checks",
            Wire.JSON_TYPE,
            body.replace("\"again\":\"grey", "\"again\":\"gray"));
    assertThat(refused.codeOf("again")).isEqualTo("not-repeated");
    assertThat(refused.response().body()).doesNotContain("heron");
  }

  @Test
  void aWayOutIsToldWithItsValueEncoded() {
    String body =
        "{\"name\":\"Ann\",\"email\":\"a+n&n@a.example\",\"licence\":\"none\",\"rules\":true}";
    wire.post("/api/forms/skipper/records", Wire.JSON_TYPE, body);
    JsonNode error =
        wire.post("/api/forms/skipper/checks", Wire.JSON_TYPE, body).json().path("errors").path(0);
    assertThat(error.path("code").asString()).isEqualTo("taken");
    assertThat(error.path("link").path("href").asString())
        .isEqualTo("/sign-in?_as=a%2Bn%26n%40a.example");
  }

  @Test
  void theSchemaOfAFormIsTold() {
    Wire.Reply reply = wire.get("/api/forms/visit/schema");
    assertThat(reply.header("Content-Type")).startsWith("application/schema+json");
    assertThat(reply.json().path("$schema").asString())
        .isEqualTo("https://json-schema.org/draft/2020-12/schema");
    assertThat(reply.json().path("required").toString())
        .isEqualTo("[\"vessel\",\"arrives\",\"departs\",\"contact\",\"crew\"]");
  }

  @Test
  void whatAStrangerMayNotDoWithListsIsToldApart() {
    assertThat(service.stranger().get("/api/lists/services").status()).isEqualTo(401);
    assertThat(service.stranger().put("/api/parts/contact", Wire.JSON_TYPE, "{}").status())
        .isEqualTo(401);
    assertThat(wire.get("/api/lists/servces").json().path("detail").asString())
        .contains("Did you mean \"services\"?");
  }

  @Test
  void nonsenseNeverMakesAFailure() {
    String[] bodies = {
      "{\"crew\":" + "[".repeat(30) + "]".repeat(30) + "}",
      "{\"crew\":[" + "{},".repeat(15_000) + "{}]}",
      "{\"arrives\":1e30,\"nights\":1e-30}",
      "{\"contact\":{\"contact\":{\"contact\":{}}},\"crew\":{\"0\":{}}}",
    };
    for (String body : bodies) {
      assertThat(wire.post("/api/forms/visit/checks", Wire.JSON_TYPE, body).status())
          .isEqualTo(200);
    }
    assertThat(
            wire.post("/api/forms/visit/checks", Wire.FORM_TYPE, "crew=x&crew%5B0%5D.name=y")
                .status())
        .isEqualTo(400);
    assertThat(
            wire.post("/api/forms/visit/checks", Wire.JSON_TYPE, "{\"fee\":1e1000000000}").status())
        .isEqualTo(400);
    assertThat(
            wire.post(
                    "/api/forms/visit/checks",
                    Wire.JSON_TYPE,
                    "{\"crew\":[" + "{\"name\":\"x\"},".repeat(100_000) + "{}]}")
                .status())
        .isEqualTo(413);
  }
}
