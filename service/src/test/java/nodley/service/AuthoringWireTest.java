package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** What an editor of forms asks for: what is wrong, what is published, and figures of attempts. */
class AuthoringWireTest {

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static String form(String name, String more) {
    return "form: %s\naccess: { add: anyone }\nfields: { depth: { type: decimal, range: ..3%s } }\n"
        .formatted(name, more);
  }

  private static Wire.Reply lint(String form, String text) {
    return wire.post("/api/forms/" + form + "/lint", "application/yaml", text);
  }

  @Test
  void lintTellsWhatTheReaderTellsAndPublishesNothing() {
    String wrong = "form: pier\nfields:\n  depth: { type: decimal, rnge: ..3 }\n";
    Wire.Reply told = lint("pier", wrong);
    assertThat(told.status()).isEqualTo(200);
    // The very same as publishing tells.
    assertThat(told.json().path("errors"))
        .isEqualTo(wire.publish("pier", wrong).json().path("errors"));
    JsonNode error = told.json().path("errors").get(0);
    assertThat(error.path("line").asInt()).isEqualTo(3);
    assertThat(error.path("suggestion").asString()).isEqualTo("range");
    assertThat(lint("pier", form("pier", "")).json().toString())
        .isEqualTo("{\"errors\":[],\"warnings\":[]}");
    assertThat(wire.get("/api/forms/pier").status()).isEqualTo(404);
    assertThat(lint("pier", form("quay", "")).json().path("errors")).hasSize(1);
    assertThat(lint("pier", "\u0000{").json().path("errors")).isNotEmpty();
    assertThat(lint("pier", "").json().path("errors")).isNotEmpty();
    String pattern = "form: pier\nfields: { code: { type: text, pattern: \"([a-z]+)*[0-9]\" } }\n";
    assertThat(lint("pier", pattern).json().at("/warnings/0/code").asString())
        .isEqualTo("unsafe-pattern");
  }

  @Test
  void whoHasNotSeenWhatIsPublishedDoesNotPublishOverIt() throws Exception {
    wire.publish("lock", form("lock", ""));
    String tag = wire.get("/api/forms/lock/file").header("ETag");
    // Of two authors who looked at the same text, at the same moment, one publishes.
    try (ExecutorService two = Executors.newFixedThreadPool(2)) {
      Callable<Integer> ann = () -> publish("lock", form("lock", ", label: Ann"), tag).status();
      Callable<Integer> bo = () -> publish("lock", form("lock", ", label: Bo"), tag).status();
      List<Integer> statuses = List.of(get(two.submit(ann)), get(two.submit(bo)));
      assertThat(statuses).containsExactlyInAnyOrder(200, 412);
    }
    Wire.Reply refused = publish("lock", form("lock", ", label: Cy"), tag);
    assertThat(refused.status()).isEqualTo(412);
    assertThat(refused.json().path("detail").asString()).contains("Its revision 2 was published");
    String now = wire.get("/api/forms/lock/file").header("ETag");
    assertThat(publish("lock", form("lock", ", label: Cy"), now).status()).isEqualTo(200);
    assertThat(publish("lock", form("lock", ", label: Dee"), "*").status()).isEqualTo(200);
    assertThat(wire.publish("lock", form("lock", ", label: Eve")).status()).isEqualTo(200);
  }

  private static int get(Future<Integer> status) throws Exception {
    return status.get();
  }

  private static Wire.Reply publish(String form, String text, String tag) {
    return wire.put("/api/forms/" + form, "application/yaml", text, "If-Match", tag);
  }

  private static Wire.Reply begin(String type, String body) {
    return wire.post("/api/forms/mole/begin", type, body);
  }

  @Test
  void aFileIsBegunFromDataASchemaOrAPage() {
    String data = "Mole number,Built\n12,1998-03-01\n13,2004-11-30\n";
    Wire.Reply begun = begin("text/csv", data);
    assertThat(begun.status()).isEqualTo(200);
    assertThat(begun.header("Content-Type")).startsWith("application/yaml");
    String file = begun.response().body();
    assertThat(file).contains("form: mole", "moleNumber:", "type: integer", "type: date");
    assertThat(lint("mole", file).json().path("errors")).isEmpty();
    String schema =
        "{\"properties\": {\"depth\": {\"type\": \"number\", \"maximum\": 9}}, \"required\":"
            + " [\"depth\"]}";
    assertThat(begin("application/schema+json", schema).response().body())
        .contains("depth: { type: decimal", "required: true", "..9");
    assertThat(begin("text/html", "<form><input name=sail required></form>").response().body())
        .contains("sail: { type: text, required: true");
    assertThat(wire.get("/api/forms/mole").status()).isEqualTo(404);
  }

  @Test
  void whatNoFileCanBeBegunFromIsToldInWords() {
    for (String[] bad :
        List.of(
            new String[] {"text/csv", "", "The file data is empty."},
            new String[] {"application/schema+json", "[", "cannot be read as JSON"},
            new String[] {"application/schema+json", "7", "is not one of an object"},
            new String[] {"text/html", "<p>none</p>", "There is no form in page."})) {
      Wire.Reply told = begin(bad[0], bad[1]);
      assertThat(told.status()).as(bad[2]).isEqualTo(422);
      assertThat(told.json().path("type").asString()).isEqualTo("/problems/no-beginning");
      assertThat(told.json().path("detail").asString()).contains(bad[2]);
    }
    assertThat(begin("text/plain", "a,b").status()).isEqualTo(415);
    assertThat(begin("text/csv", "a\u0000,b\n\u0001,2\n").status()).isIn(200, 422);
    assertThat(wire.post("/api/forms/Not%20One/begin", "text/csv", "a\n1\n").status())
        .isEqualTo(422);
    assertThat(service.stranger().post("/api/forms/mole/begin", "text/csv", "a\n1\n").status())
        .isEqualTo(401);
    String large = "a\n" + "1\n".repeat(10_000_000);
    assertThat(begin("text/csv", large).status()).isEqualTo(413);
  }

  /** As of forms: what somebody else has published of a shared file is not put over unseen. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "/api/lists/knots   | list: knots;options: [%s]",
        "/api/parts/anchor  | part: anchor;fields: { %s: { type: text } }",
        "/api/themes/dawn   | theme: dawn;font: serif # %s",
        "/api/texts/knot/de | title: { add: %s }",
      })
  void twoAuthorsOfOneSharedFile(String path, String lines) {
    String text = lines.replace(';', '\n');
    wire.publish("knot", "form: knot\nfields: { name: { type: text } }");
    String yaml = "application/yaml";
    assertThat(wire.put(path, yaml, text.formatted("one")).status()).isEqualTo(201);
    String seen = wire.get(path).header("ETag");
    assertThat(wire.put(path, yaml, text.formatted("two"), "If-Match", seen).status())
        .isEqualTo(200);
    Wire.Reply late = wire.put(path, yaml, text.formatted("three"), "If-Match", seen);
    assertThat(late.status()).isEqualTo(412);
    assertThat(late.json().path("type").asString()).isEqualTo("/problems/outdated");
    assertThat(late.json().path("detail").asString())
        .isEqualTo(
            "Its text was published meanwhile. Look at what differs, then publish again over"
                + " that.");
    Wire.Reply now = wire.get(path);
    assertThat(now.response().body()).isEqualTo(text.formatted("two"));
    assertThat(
            wire.put(path, yaml, text.formatted("three"), "If-Match", now.header("ETag")).status())
        .isEqualTo(200);
    assertThat(wire.put(path, yaml, text.formatted("four")).status()).isEqualTo(200);
  }

  private static Wire.Reply page(String query, String text) {
    return wire.post("/rehearsal/pages/ramp" + query, "application/yaml", text);
  }

  private static final String RAMP =
      """
      form: ramp
      title: { add: Add a ramp, edit: "Ramp {code}", list: Ramps }
      called: "{code}"
      fields:
        code: { type: text, label: Code of the ramp, required: true, unique: true, default: R1 }
        berth: { type: record, form: hawser }
        slope: { type: integer, range: 1..9, required: true }
      """;

  @Test
  void thePageOfAFileThatIsNotPublishedIsDrawnAndNothingIsKept() {
    wire.publish("hawser", form("hawser", ""));
    Wire.Reply add = page("", RAMP);
    assertThat(add.status()).as(add.response().body()).isEqualTo(200);
    assertThat(add.header("Content-Type")).startsWith("text/html");
    assertThat(add.response().body())
        .contains("<h1>Add a ramp</h1>", "Code of the ramp", "value=\"R1\"");
    Wire.Reply edit = page("?mode=edit&lang=de", RAMP);
    assertThat(edit.response().body())
        .contains("<html lang=\"de\"", "<h1>Ramp ", "Speichern")
        .containsPattern("name=\"slope\"[^>]*value=\"[1-9]\"");
    assertThat(wire.get("/api/forms/ramp").status()).isEqualTo(404);
    String theme = "theme: night\n";
    Wire.Reply themed = wire.put("/api/themes/night", "application/yaml", theme);
    assertThat(themed.status()).as(themed.response().body()).isEqualTo(201);
    assertThat(page("?theme=night", RAMP).response().body()).contains("/page/themes/night.css");
    // What is published is another text, with another table.
    wire.publish("ramp", "form: ramp\nfields: { code: { type: integer } }\n");
    assertThat(page("?mode=edit", RAMP).response().body()).contains("Code of the ramp");
    assertThat(page("?theme=nigth", RAMP).status()).isEqualTo(400);
    assertThat(page("?mode=remove", RAMP).status()).isEqualTo(400);
    Wire.Reply wrong = page("", RAMP.replace("range", "rnge"));
    assertThat(wrong.status()).isEqualTo(422);
    assertThat(wrong.json().at("/errors/0/suggestion").asString()).isEqualTo("range");
    assertThat(service.stranger().post("/rehearsal/pages/ramp", "application/yaml", RAMP).status())
        .isEqualTo(401);
  }

  @Test
  void whatIsSharedIsListedWithTheFormsThatUseIt() {
    String list = "list: tides\noptions:\n  - { value: high }\n";
    assertThat(wire.put("/api/lists/tides", "application/yaml", list).status()).isEqualTo(201);
    for (String name : List.of("sluice", "gate")) {
      String using = "form: %s\nfields: { tide: { type: choice, options: { list: tides } } }\n";
      wire.publish(name, using.formatted(name));
    }
    JsonNode all = wire.get("/api/lists").json();
    assertThat(all.path("lists").toString()).isEqualTo("[\"tides\"]");
    assertThat(all.path("uses").path("tides").toString()).isEqualTo("[\"gate\",\"sluice\"]");
  }

  @Test
  void earlierRevisionsAreRead() {
    wire.publish("buoy", form("buoy", ""));
    wire.publish("buoy", form("buoy", ", label: Depth"));
    Wire.Reply first = wire.get("/api/forms/buoy/revisions/1");
    assertThat(first.response().body()).isEqualTo(form("buoy", ""));
    assertThat(first.header("Content-Type")).startsWith("application/yaml");
    for (String none : List.of("0", "3", "-1", "x", "99999999999999999999")) {
      assertThat(wire.get("/api/forms/buoy/revisions/" + none).status()).as(none).isEqualTo(404);
    }
  }

  @Test
  void figuresAreOfAttemptsAndForAuthors() {
    wire.publish(
        "dock",
        """
        form: dock
        access: { add: anyone }
        fields:
          depth: { type: decimal, range: ..3 }
          pin: { type: text, length: 4.., see: clerk }
        """);
    wire.add("dock", "{\"depth\": 5, \"pin\": \"1\"}");
    String id = wire.add("dock", "{\"depth\": 2}").json().path("id").asString();
    wire.check("dock", "", "{\"depth\": 9}");
    JsonNode told = wire.get("/api/attempts/struggles?form=dock").json();
    assertThat(told.path("accepted").asInt()).isEqualTo(1);
    assertThat(told.path("refused").asInt()).isEqualTo(1);
    assertThat(told.path("left").asInt()).isZero();
    assertThat(told.at("/fields/0/field").asString()).isEqualTo("depth");
    assertThat(told.at("/fields/0/mended").asInt()).isEqualTo(1);
    assertThat(told.at("/fields/0/codes/0/code").asString()).isEqualTo("range-overflow");
    assertThat(told.path("fields")).hasSize(2);
    assertThat(wire.get("/api/attempts/hours?form=dock").json().path("counts")).hasSize(2);
    assertThat(wire.get("/api/attempts?record=" + id).json().path("attempts")).hasSize(1);
    assertThat(wire.get("/api/attempts?record=none").json().path("attempts")).isEmpty();

    // An author who is no clerk is told nothing of what clerks alone see.
    String author = key("writer", "[\"author\"]", "[]");
    assertThat(by(author).get("/api/attempts/struggles?form=dock").json().path("fields"))
        .hasSize(1);
    // A key for another form is told nothing of this one.
    wire.publish("ramp", form("ramp", ""));
    String other = key("other", "[\"author\"]", "[\"ramp\"]");
    assertThat(by(other).get("/api/attempts/struggles?form=dock").status()).isEqualTo(403);
    assertThat(by(other).get("/api/attempts/hours?form=dock").status()).isEqualTo(403);
    assertThat(by(other).get("/api/attempts/hours").status()).isEqualTo(403);
    assertThat(service.stranger().get("/api/attempts/hours").status()).isEqualTo(401);
    assertThat(wire.get("/api/attempts/struggles").status()).isEqualTo(400);
    assertThat(wire.get("/api/attempts/struggles?form=nosuch").status()).isEqualTo(404);
    assertThat(wire.get("/api/attempts/hours?since=yesterday").status()).isEqualTo(400);
  }

  private static String key(String name, String roles, String forms) {
    return wire.post(
            "/api/keys",
            Wire.JSON_TYPE,
            "{\"name\": \"%s\", \"roles\": %s, \"forms\": %s}".formatted(name, roles, forms))
        .json()
        .path("key")
        .asString();
  }

  private static Wire by(String key) {
    return new Wire(service.address(), java.util.Optional.of(key));
  }

  @Test
  void operatorsAreToldHowTheDiskStands() {
    JsonNode told = wire.get("/api/service").json();
    assertThat(told.path("version").asString()).matches("[0-9]+\\.[0-9]+\\.[0-9]+.*");
    JsonNode disk = told.path("disk");
    assertThat(disk.path("free").asLong()).isPositive();
    assertThat(disk.path("total").asLong()).isGreaterThanOrEqualTo(disk.path("free").asLong());
    assertThat(disk.path("database").asLong()).isGreaterThan(10_000);
    assertThat(by(key("reader", "[\"author\"]", "[]")).get("/api/service").status()).isEqualTo(403);
  }

  @Test
  void operatorsAreToldWhatWaitsAndNothingOfWhatIsInIt() {
    wire.publish(
        "skiff",
        "form: skiff\n"
            + "access: { add: anyone }\n"
            + "fields: { a: { type: text }, f: { type: file } }\n"
            + "draft: { keep: 2 days, who: own }\n");
    for (String name : List.of("one", "two")) {
      Wire.Reply draft =
          service
              .stranger()
              .post("/api/drafts?form=skiff", Wire.JSON_TYPE, "{\"a\": \"%s\"}".formatted(name));
      assertThat(draft.status()).isEqualTo(201);
    }
    String metadata = "form c2tpZmY=,field Zg==,filename YS50eHQ=";
    Wire.Reply upload =
        service
            .stranger()
            .send(
                "POST",
                "/api/uploads",
                "application/offset+octet-stream",
                "",
                "Tus-Resumable",
                "1.0.0",
                "Upload-Length",
                "7",
                "Upload-Metadata",
                metadata);
    assertThat(upload.status()).as(upload.response().body()).isEqualTo(201);
    JsonNode told = wire.get("/api/service").json();
    JsonNode drafts = told.path("drafts").get(0);
    assertThat(drafts.path("form").asString()).isEqualTo("skiff");
    assertThat(drafts.path("count").asInt()).isEqualTo(2);
    assertThat(drafts.path("nextEnd").asLong() - drafts.path("oldest").asLong())
        .isBetween(Duration.ofDays(2).toMillis() - 1_000, Duration.ofDays(2).toMillis() + 1_000);
    JsonNode uploads = told.path("uploads").get(0);
    assertThat(uploads.path("count").asInt()).isOne();
    assertThat(uploads.path("bytes").asInt()).isEqualTo(7);
    assertThat(told.toString()).doesNotContain("two", "a.txt");
  }

  @Test
  void operatorsAreToldHowLongSubmissionsTookAndWhetherTheDataAreSound() {
    wire.publish("barge", form("barge", ""));
    assertThat(wire.add("barge", "{\"depth\": 1}").status()).isEqualTo(201);
    Awaitility.await()
        .until(() -> !wire.get("/api/service/latency").json().path("latencies").isEmpty());
    JsonNode hour = wire.get("/api/service/latency").json().path("latencies").get(0);
    assertThat(hour.path("medianMicros").asLong())
        .isPositive()
        .isLessThanOrEqualTo(hour.path("p99Micros").asLong());
    JsonNode findings = wire.get("/api/service/findings").json().path("findings");
    assertThat(findings.toString()).contains("integrity", "every page and index is sound");
    assertThat(findings.valueStream().map(it -> it.path("ok").asBoolean())).containsOnly(true);
    for (String path : List.of("latency", "findings")) {
      assertThat(
              by(key("clerk-" + path, "[\"author\"]", "[]")).get("/api/service/" + path).status())
          .isEqualTo(403);
    }
    assertThat(wire.get("/api/service/latency?since=yesterday").status()).isEqualTo(400);
  }
}
