package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Drafts on the wire: begun, changed, found again, finished, and never anybody else's. */
class DraftWireTest {

  private static final String VOYAGE =
      """
      form: voyage
      access: { add: anyone, see: owner, edit: owner }
      draft:
      fields:
        vessel: { type: text, required: true }
        arrives: { type: date }
        crew: { type: integer, range: 0..20 }
        contact: { type: group, fields: { email: { type: email }, pin: { type: secret } } }
        hands: { type: rows, fields: { name: { type: text }, card: { type: text, masked: true } } }
        passport: { type: text, masked: true }
        paper: { type: file }
        note: { type: text, see: clerk, edit: clerk }
      """;

  private static RunningService service;
  private static int people;

  private Wire wire;
  private String name;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  @BeforeEach
  void publish() {
    wire = service.wire();
    assertThat(wire.publish("voyage", VOYAGE).status()).isLessThan(300);
    for (JsonNode draft : wire.get("/api/drafts").json().path("drafts")) {
      wire.delete("/api/drafts/" + draft.path("id").asString());
    }
  }

  /** Somebody new signs in. */
  private String signIn() {
    name = "ann" + ++people;
    return service.signIn(name, "[]");
  }

  private static Wire.Reply begin(Wire by, String values, String... headers) {
    return by.post("/api/drafts?form=voyage", Wire.JSON_TYPE, values, headers);
  }

  private static Wire.Reply change(Wire by, String id, long version, String patch, String... more) {
    String[] headers =
        Stream.concat(Stream.of("If-Match", "\"" + version + "\""), Stream.of(more))
            .toArray(String[]::new);
    return by.patch("/api/drafts/" + id, "application/merge-patch+json", patch, headers);
  }

  private static String id(Wire.Reply reply) {
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply.json().path("id").asString();
  }

  @Test
  void whatIsTypedIsKeptAsItIsTyped() {
    Instant before = Instant.now();
    Wire.Reply begun = begin(wire, "{\"vessel\": \"  grey heron \", \"crew\": \"many\"}");
    String id = id(begun);
    assertThat(begun.header("Location")).isEqualTo("/api/drafts/" + id);
    assertThat(begun.header("ETag")).isEqualTo("\"1\"");
    JsonNode draft = begun.json();
    assertThat(draft.path("form").asString()).isEqualTo("voyage");
    assertThat(draft.path("version").asLong()).isEqualTo(1);
    assertThat(draft.path("step").asString()).isEmpty();
    assertThat(draft.path("values").path("vessel").asString()).isEqualTo("  grey heron ");
    assertThat(draft.path("values").path("crew").asString()).isEqualTo("many");
    assertThat(Instant.parse(draft.path("updatedAt").asString()))
        .isBetween(before.minusSeconds(1), Instant.now().plusSeconds(1));
    assertThat(Instant.parse(draft.path("expiresAt").asString()))
        .isBetween(
            before.plus(Duration.ofDays(14)).minusSeconds(1),
            Instant.now().plus(Duration.ofDays(14)).plusSeconds(1));
    assertThat(draft.has("record")).isFalse();

    Wire.Reply changed =
        change(
            wire,
            id,
            1,
            "{\"crew\": null, \"contact\": {\"email\": \"a@\"}, \"hands\": [{\"name\": \"Ann\"}]}");
    assertThat(changed.status()).isEqualTo(200);
    assertThat(changed.header("ETag")).isEqualTo("\"2\"");
    assertThat(changed.json().path("values").toString())
        .isEqualTo(
            "{\"vessel\":\"  grey heron \",\"contact\":{\"email\":\"a@\"},"
                + "\"hands\":[{\"name\":\"Ann\"}]}");
    service.restart();
    wire = service.wire();
    Wire.Reply found = wire.get("/api/drafts/" + id);
    assertThat(found.header("ETag")).isEqualTo("\"2\"");
    assertThat(found.json().path("values")).isEqualTo(changed.json().path("values"));
    assertThat(wire.get("/api/drafts").json().path("drafts").get(0).path("id").asString())
        .isEqualTo(id);
    assertThat(wire.get("/api/drafts?form=other").json().path("drafts")).isEmpty();

    assertThat(wire.delete("/api/drafts/" + id).status()).isEqualTo(204);
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(404);
    assertThat(wire.get("/api/drafts").json().path("drafts")).isEmpty();
  }

  @Test
  void aChangeSaysWhichVersionItIsOf() {
    String id = id(begin(wire, "{\"vessel\": \"A\"}"));
    assertThat(change(wire, id, 1, "{\"vessel\": \"B\"}").status()).isEqualTo(200);
    Wire.Reply late = change(wire, id, 1, "{\"crew\": \"3\"}");
    assertThat(late.status()).isEqualTo(412);
    assertThat(late.json().path("type").asString()).isEqualTo("/problems/outdated");
    assertThat(late.json().path("version").asLong()).isEqualTo(2);
    assertThat(late.json().path("values").path("vessel").asString()).isEqualTo("B");
    assertThat(late.header("ETag")).isEqualTo("\"2\"");
    assertThat(
            wire.patch("/api/drafts/" + id, "application/merge-patch+json", "{\"crew\": 1}")
                .status())
        .isEqualTo(428);
    assertThat(change(wire, id, 2, "{\"crew\": 3}").json().path("values").path("crew").asInt())
        .isEqualTo(3);
  }

  @Test
  void secretsAndMaskedValuesAreNowhereInTheDataFolder() throws IOException {
    String values =
        """
        {"vessel": "Tern", "passport": "PASSPORTNUMBER", "contact": {"pin": "SECRETPIN", "email": "x"},
         "hands": [{"name": "Ann", "card": "CARDOFANN"}]}
        """;
    Wire.Reply begun = begin(wire, values);
    String id = id(begun);
    assertThat(begun.json().path("values").path("contact").toString())
        .isEqualTo("{\"email\":\"x\"}");
    change(
        wire, id, 1, "{\"passport\": \"PASSPORTNUMBER2\", \"contact\": {\"pin\": \"SECRETPIN\"}}");
    JsonNode found = wire.get("/api/drafts/" + id).json().path("values");
    assertThat(found.path("passport").asString()).isEqualTo("PASSPORTNUMBER2");
    assertThat(found.path("hands").get(0).path("card").asString()).isEqualTo("CARDOFANN");
    assertThat(found.path("contact").has("pin")).isFalse();
    for (String hidden : List.of("PASSPORTNUMBER", "SECRETPIN", "CARDOFANN")) {
      assertThat(filesWith(hidden)).as(hidden).isEmpty();
    }
    assertThat(filesWith("Tern")).isNotEmpty();
  }

  private List<Path> filesWith(String text) throws IOException {
    try (Stream<Path> all = Files.walk(service.data())) {
      return all.filter(Files::isRegularFile).filter(it -> has(it, text)).toList();
    }
  }

  private static boolean has(Path file, String text) {
    try {
      return Files.readString(file, StandardCharsets.ISO_8859_1).contains(text);
    } catch (IOException e) {
      throw new AssertionError(e);
    }
  }

  @Test
  void aDraftIsItsOwners() {
    String id = id(begin(wire, "{\"vessel\": \"Mine\"}"));
    String ann = signIn();
    Wire stranger = service.stranger();
    assertThat(stranger.get("/api/drafts/" + id).status()).isEqualTo(404);
    assertThat(stranger.get("/api/drafts/" + id, "Cookie", ann).status()).isEqualTo(404);
    assertThat(change(stranger, id, 1, "{}", "Cookie", ann).status()).isEqualTo(404);
    assertThat(stranger.delete("/api/drafts/" + id, "Cookie", ann).status()).isEqualTo(404);
    assertThat(stranger.get("/api/drafts", "Cookie", ann).json().path("drafts")).isEmpty();
    assertThat(stranger.get("/api/drafts").json().path("drafts")).isEmpty();
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(200);
    // Nor does somebody else's submission finish it.
    assertThat(
            stranger
                .post(
                    "/api/forms/voyage/records?draft=" + id,
                    Wire.JSON_TYPE,
                    "{\"vessel\": \"Theirs\"}")
                .status())
        .isEqualTo(201);
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(200);
  }

  @Test
  void aJointDraftIsForAllWhoMayAddAndHaveItsAddress() {
    wire.publish("voyage", VOYAGE.replace("draft:\n", "draft: { keep: 2 days, who: joint }\n"));
    String id = id(begin(wire, "{\"vessel\": \"Ours\"}"));
    String ann = signIn();
    Wire stranger = service.stranger();
    assertThat(stranger.get("/api/drafts/" + id, "Cookie", ann).json().path("values").toString())
        .isEqualTo("{\"vessel\":\"Ours\"}");
    assertThat(change(stranger, id, 1, "{\"crew\": \"2\"}", "Cookie", ann).status()).isEqualTo(200);
    assertThat(stranger.get("/api/drafts", "Cookie", ann).json().path("drafts")).isEmpty();
    wire.publish(
        "voyage",
        VOYAGE.replace("draft:\n", "draft: { who: joint }\n").replace("add: anyone", "add: clerk"));
    assertThat(stranger.get("/api/drafts/" + id, "Cookie", ann).status()).isEqualTo(404);
  }

  @Test
  void whatACallerMayNotSeeIsNeitherToldNorLost() {
    wire.publish("voyage", VOYAGE.replace("draft:\n", "draft: { who: joint }\n"));
    String id = id(begin(wire, "{\"vessel\": \"Tern\", \"note\": \"watch them\"}"));
    String ann = signIn();
    Wire stranger = service.stranger();
    assertThat(stranger.get("/api/drafts/" + id, "Cookie", ann).response().body())
        .contains("Tern")
        .doesNotContain("watch them");
    change(stranger, id, 1, "{\"note\": \"overwritten\", \"crew\": 1}", "Cookie", ann);
    assertThat(wire.get("/api/drafts/" + id).json().path("values").path("note").asString())
        .isEqualTo("watch them");
  }

  @Test
  void anAcceptedSubmissionTakesItsDraftAndARefusedOneDoesNot() {
    String id = id(begin(wire, "{\"vessel\": \"Tern\"}"));
    String path = "/api/forms/voyage/records?draft=" + id;
    assertThat(wire.post(path, Wire.JSON_TYPE, "{}").status()).isEqualTo(422);
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(200);
    Wire.Reply added =
        wire.post(path, Wire.JSON_TYPE, "{\"vessel\": \"Tern\"}", "Idempotency-Key", "k1");
    assertThat(added.status()).isEqualTo(201);
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(404);
    Wire.Reply again =
        wire.post(path, Wire.JSON_TYPE, "{\"vessel\": \"Tern\"}", "Idempotency-Key", "k1");
    assertThat(again.json().path("id")).isEqualTo(added.json().path("id"));
    // The name of its open page does the same.
    JsonNode second = begin(wire, "{\"vessel\": \"Gull\"}").json();
    wire.post(
        "/api/forms/voyage/records?page=" + second.path("page").asString(),
        Wire.JSON_TYPE,
        "{\"vessel\": \"Gull\"}");
    assertThat(wire.get("/api/drafts").json().path("drafts")).isEmpty();
  }

  @Test
  void aDraftOfAnEditKnowsTheVersionThatItBeganFrom() {
    String record = wire.add("voyage", "{\"vessel\": \"Tern\"}").json().path("id").asString();
    String at = "/api/forms/voyage/records/" + record;
    String query = "/api/drafts?form=voyage&record=" + record;
    wire.patch(at, Wire.JSON_TYPE, "{\"crew\": 1}", "If-Match", "\"1\"");
    Wire.Reply begun = wire.post(query + "&version=1", Wire.JSON_TYPE, "{\"vessel\": \"Gull\"}");
    assertThat(begun.json().path("record").asString()).isEqualTo(record);
    assertThat(begun.json().path("recordVersion").asLong()).isEqualTo(1);
    assertThat(wire.post(query, Wire.JSON_TYPE, "{}").json().path("recordVersion").asLong())
        .isEqualTo(2);
    for (String version : List.of("3", "0", "-1", "x")) {
      assertThat(wire.post(query + "&version=" + version, Wire.JSON_TYPE, "{}").status())
          .as(version)
          .isEqualTo(400);
    }
    Wire.Reply late =
        wire.patch(
            at + "?draft=" + id(begun),
            Wire.JSON_TYPE,
            "{\"vessel\": \"Gull\"}",
            "If-Match",
            "\"1\"");
    assertThat(late.status()).isEqualTo(412);
    assertThat(wire.get("/api/drafts").json().path("drafts")).hasSize(2);
    wire.patch(
        at + "?draft=" + id(begun), Wire.JSON_TYPE, "{\"vessel\": \"Gull\"}", "If-Match", "\"2\"");
    assertThat(wire.get("/api/drafts").json().path("drafts")).hasSize(1);
    // Whoever may not edit the record has no draft of that.
    String ann = signIn();
    assertThat(service.stranger().post(query, Wire.JSON_TYPE, "{}", "Cookie", ann).status())
        .isEqualTo(404);
  }

  @Test
  void aFileIsKeptAsLongAsTheDraftThatNamesIt() throws SQLException {
    String upload = upload("paper.txt", "three");
    JsonNode before = wire.get("/api/uploads/" + upload).json();
    String id = id(begin(wire, "{\"paper\": \"upload:" + upload + "\"}"));
    assertThat(
            Instant.parse(wire.get("/api/uploads/" + upload).json().path("expiresAt").asString()))
        .isAfter(Instant.parse(before.path("expiresAt").asString()).plus(Duration.ofDays(12)));
    // Its time is over: both go.
    sql("UPDATE nodley_drafts SET ends_at = 1");
    assertThat(wire.get("/api/drafts/" + id).status()).isEqualTo(404);
    Awaited.until("the upload is swept", () -> wire.get("/api/uploads/" + upload).status() == 404);
    String second = upload("other.txt", "four");
    String discarded = id(begin(wire, "{\"paper\": \"upload:" + second + "\"}"));
    wire.delete("/api/drafts/" + discarded);
    assertThat(wire.get("/api/uploads/" + second).status()).isEqualTo(404);
    // A record takes the file over, whatever becomes of the draft.
    String third = upload("third.txt", "five");
    String values = "{\"vessel\": \"Tern\", \"paper\": \"upload:" + third + "\"}";
    String finished = id(begin(wire, values));
    Wire.Reply added =
        wire.post("/api/forms/voyage/records?draft=" + finished, Wire.JSON_TYPE, values);
    assertThat(added.status()).isEqualTo(201);
    assertThat(wire.get(added.json().path("values").path("paper").path("href").asString()).status())
        .isEqualTo(200);
  }

  private String upload(String name, String content) {
    byte[] bytes = content.getBytes(StandardCharsets.UTF_8);
    String metadata =
        "form " + base64("voyage") + ",field " + base64("paper") + ",filename " + base64(name);
    Wire.Reply reply =
        wire.send(
            wire.request("/api/uploads")
                .header("Tus-Resumable", "1.0.0")
                .header("Upload-Length", Integer.toString(bytes.length))
                .header("Upload-Metadata", metadata)
                .header("Content-Type", "application/offset+octet-stream")
                .POST(HttpRequest.BodyPublishers.ofByteArray(bytes)));
    assertThat(reply.status()).isEqualTo(201);
    return reply.header("Location").replaceFirst(".*/", "");
  }

  private static String base64(String text) {
    return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
  }

  private void sql(String statement) throws SQLException {
    try (Connection on =
            DriverManager.getConnection("jdbc:sqlite:" + service.data().resolve("nodley.db"));
        Statement run = on.createStatement()) {
      run.executeUpdate(statement);
    }
  }

  @Test
  void aNameThatNoFieldHasIsRefusedWithTheOneThatWasMeant() {
    Wire.Reply reply = begin(wire, "{\"vesel\": \"Tern\"}");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("detail").asString())
        .isEqualTo("The form has no field \"vesel\". Did you mean \"vessel\"?");
    assertThat(reply.json().path("errors").get(0).path("pointer").asString()).isEqualTo("#/vesel");
    assertThat(reply.codeOf("vesel")).isEqualTo("unknown-field");
    assertThat(begin(wire, "{\"hands\": [{\"nam\": \"Ann\"}]}").codeOf("hands/0/nam"))
        .isEqualTo("unknown-field");
    assertThat(begin(wire, "[1]").status()).isEqualTo(400);
    assertThat(begin(wire, "").status()).isEqualTo(400);
    assertThat(wire.post("/api/drafts?form=none", Wire.JSON_TYPE, "{}").status()).isEqualTo(404);
    assertThat(wire.post("/api/drafts", Wire.JSON_TYPE, "{}").status()).isEqualTo(400);
    assertThat(
            wire.post("/api/drafts?form=voyage&step=none", Wire.JSON_TYPE, "{}")
                .json()
                .path("detail")
                .asString())
        .isEqualTo("\"step\" is a step of the form, and \"none\" is none.");
  }

  @Test
  void aFormWithoutDraftsSaysSo() {
    wire.publish("pier", "form: pier\nfields: { name: { type: text } }");
    Wire.Reply reply = wire.post("/api/drafts?form=pier", Wire.JSON_TYPE, "{}");
    assertThat(reply.status()).isEqualTo(404);
    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/no-drafts");
    assertThat(wire.get("/api/forms/pier").json().has("draft")).isFalse();
    assertThat(wire.get("/api/forms/voyage").json().path("draft").asString()).isEqualTo("own");
  }

  @Test
  void aDraftOutlivesARevisionThatDropsRenamesAndRetypesFields() {
    String id =
        id(begin(wire, "{\"vessel\": \"Tern\", \"arrives\": \"2026-08-01\", \"crew\": \"seven\"}"));
    wire.publish(
        "voyage",
        VOYAGE
            .replace(
                "  vessel: { type: text, required: true }", "  ship: { type: text, was: vessel }")
            .replace("  arrives: { type: date }\n", "")
            .replace("crew: { type: integer, range: 0..20 }", "crew: { type: text }"));
    JsonNode values = wire.get("/api/drafts/" + id).json().path("values");
    assertThat(values.path("ship").asString()).isEqualTo("Tern");
    assertThat(values.has("vessel")).isFalse();
    assertThat(values.path("crew").asString()).isEqualTo("seven");
    // What has no field any more is there to be looked at, until it is taken out.
    assertThat(values.path("arrives").asString()).isEqualTo("2026-08-01");
    // A page of the revision before still says the old names.
    JsonNode changed =
        change(wire, id, 1, "{\"vessel\": \"Gull\", \"arrives\": \"2026-08-02\"}").json();
    assertThat(changed.path("values").path("ship").asString()).isEqualTo("Gull");
    assertThat(changed.path("values").path("arrives").asString()).isEqualTo("2026-08-02");
  }

  @Test
  void aSecretThatItsFormHasNoLongerIsRefused() throws IOException {
    String id = id(begin(wire, "{\"vessel\": \"Tern\"}"));
    wire.publish("voyage", VOYAGE.replace(", pin: { type: secret }", ""));
    assertThat(change(wire, id, 1, "{\"contact\": {\"pin\": \"SECRETPIN\"}}").status())
        .isEqualTo(422);
    assertThat(filesWith("SECRETPIN")).isEmpty();
  }

  @Test
  void aStrangersDraftIsOfTheirBrowserAndComesAlongWhenTheySignIn() {
    Wire stranger = service.stranger();
    Wire.Reply begun = begin(stranger, "{\"vessel\": \"Tern\"}", "Sec-Fetch-Site", "same-origin");
    String browser = begun.header("Set-Cookie").replaceFirst(";.*", "");
    String at = "/api/drafts/" + id(begun);
    assertThat(stranger.get(at).status()).isEqualTo(404);
    assertThat(stranger.get(at, "Cookie", browser).status()).isEqualTo(200);
    assertThat(stranger.get("/api/drafts", "Cookie", browser).json().path("drafts")).hasSize(1);
    String session = signIn();
    assertThat(stranger.get(at, "Cookie", session).status()).isEqualTo(404);
    assertThat(stranger.get(at, "Cookie", session + "; " + browser).status()).isEqualTo(200);
    assertThat(stranger.get(at, "Cookie", session).status()).isEqualTo(200);
    assertThat(stranger.get(at, "Cookie", browser).status()).isEqualTo(404);
  }

  @Test
  void thereAreOnlySoMany() {
    try (RunningService small =
        RunningService.with("nodley.limits.draft.count: 3", "nodley.limits.draft.bytes: 1MB")) {
      Wire key = small.wire();
      key.publish("voyage", VOYAGE);
      String first = id(begin(key, "{}"));
      id(begin(key, "{}"));
      id(begin(key, "{}"));
      Wire.Reply over = begin(key, "{}");
      assertThat(over.status()).isEqualTo(429);
      assertThat(over.json().path("type").asString()).isEqualTo("/problems/too-many-drafts");
      assertThat(over.header("Retry-After")).isNotEmpty();
      key.delete("/api/drafts/" + first);
      String large = "{\"vessel\": \"" + "x".repeat(600_000) + "\"}";
      String third = id(begin(key, large));
      assertThat(change(key, third, 1, "{\"passport\": \"" + "y".repeat(600_000) + "\"}").status())
          .isEqualTo(429);
      assertThat(change(key, third, 1, "{\"vessel\": \"z\"}").status()).isEqualTo(200);
      // Strangers are told apart by their address alone, if at all.
      Wire stranger = small.stranger();
      for (int i = 0; i < 30; i++) {
        id(begin(stranger, "{}"));
      }
      assertThat(begin(stranger, "{}").status()).isEqualTo(429);
    }
  }

  private Map<String, String> export(String person) throws IOException, InterruptedException {
    HttpRequest request = wire.request("/api/people/" + person + "/export").GET().build();
    byte[] bytes;
    try (HttpClient http = HttpClient.newHttpClient()) {
      bytes = http.send(request, HttpResponse.BodyHandlers.ofByteArray()).body();
    }
    Map<String, String> parts = new HashMap<>();
    try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(bytes))) {
      for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
        parts.put(entry.getName(), new String(zip.readAllBytes(), StandardCharsets.UTF_8));
      }
    }
    return parts;
  }

  @Test
  void whatIsKeptOfAPersonHasTheirDraftsAndWhoeverIsForgottenHasNone()
      throws IOException, InterruptedException {
    String ann = signIn();
    Wire stranger = service.stranger();
    String upload = upload("paper.txt", "three");
    String values = "{\"vessel\": \"Tern\", \"paper\": \"upload:" + upload + "\"}";
    wire.post("/api/forms/voyage/records", Wire.JSON_TYPE, values);
    String record =
        wire.get("/api/forms/voyage/records").json().path("records").get(0).path("id").asString();
    wire.put(
        "/api/forms/voyage/records/" + record + "/owner",
        Wire.JSON_TYPE,
        "{\"owner\": \"" + name + "\"}");
    String id = id(begin(stranger, "{\"passport\": \"P1\"}", "Cookie", ann));
    Map<String, String> parts = export(name);
    assertThat(parts.get("drafts.json")).contains("\"passport\":\"P1\"");
    assertThat(parts.get("uploads.json")).isEqualTo("[]");
    String sha256 = "8b5b9db0c13db24256c829aa364aa90c6d2eba318b9232a4ab9313b954d3555f";
    assertThat(parts.get("files/" + sha256 + "/paper.txt")).isEqualTo("three");
    assertThat(wire.post("/api/people/" + name + "/forget", Wire.JSON_TYPE, "").status())
        .isEqualTo(200);
    assertThat(stranger.get("/api/drafts/" + id, "Cookie", ann).status()).isEqualTo(404);
  }
}
