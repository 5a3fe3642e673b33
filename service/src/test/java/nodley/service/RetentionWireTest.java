package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.TreeMap;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Records that go by age, and people whose data is handed out or forgotten. */
class RetentionWireTest {

  private static final String MARK = "kestrel4821";

  private final MovableClock clock = new MovableClock(Instant.now());

  private RunningService service;
  private Wire wire;
  private String ann;
  private String bob;

  @BeforeEach
  void start() {
    service = RunningService.at(clock);
    wire = service.wire();
  }

  @AfterEach
  void stop() {
    service.close();
  }

  private Wire.Reply publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    return wire.publish(name, yaml);
  }

  private String add(String session, String form, String json) {
    Wire.Reply added =
        service
            .stranger()
            .post("/api/forms/" + form + "/records", Wire.JSON_TYPE, json, "Cookie", session);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json().path("id").asString();
  }

  private void patch(String form, String id, int version, String json) {
    assertThat(
            wire.patch(
                    "/api/forms/" + form + "/records/" + id,
                    "application/merge-patch+json",
                    json,
                    "If-Match",
                    "\"" + version + "\"")
                .status())
        .isEqualTo(200);
  }

  private JsonNode records(String form) {
    return wire.get("/api/forms/" + form + "/records?limit=500").json().path("records");
  }

  @Test
  void recordsGoByAge() {
    String visit = "form: visit\nkeep-for: 2 years\nfields: { name: { type: text } }\n";
    assertThat(publish(visit).status()).isEqualTo(201);
    assertThat(publish("form: stay\nfields: { visit: { type: record, form: visit } }\n").status())
        .isEqualTo(201);
    String held = wire.add("visit", "{\"name\": \"held\"}").json().path("id").asString();
    String stay =
        wire.add("stay", "{\"visit\": \"%s\"}".formatted(held)).json().path("id").asString();
    for (int i = 0; i < 120; i++) {
      wire.add("visit", "{\"name\": \"%s %d\"}".formatted(MARK, i));
    }
    clock.advance(Duration.ofDays(729));
    // A sweep of a form that keeps its records for less shows that there was one.
    publish("form: short\nkeep-for: 1 day\nfields: { name: { type: text } }\n");
    wire.add("short", "{\"name\": \"x\"}");
    Awaitility.await().atMost(Duration.ofSeconds(30)).until(() -> records("short").isEmpty());
    assertThat(records("visit")).hasSize(121);

    clock.advance(Duration.ofDays(3));
    Awaitility.await().atMost(Duration.ofSeconds(60)).until(() -> records("visit").size() == 1);
    assertThat(records("visit").path(0).path("id").asString())
        .as("another refers to it")
        .isEqualTo(held);
    assertThat(wire.get("/api/attempts?form=visit&limit=200").response().body())
        .doesNotContain(MARK);
    assertThat(wire.get("/api/forms/visit/records?q=" + MARK).json().path("records")).isEmpty();
    Awaitility.await()
        .untilAsserted(
            () ->
                assertThat(wire.get("/api/log?what=remove-by-age").response().body())
                    .contains("forms/visit"));
    assertThat(wire.delete("/api/forms/stay/records/" + stay, "If-Match", "\"1\"").status())
        .isEqualTo(204);
    Awaitility.await().atMost(Duration.ofSeconds(30)).until(() -> records("visit").isEmpty());
  }

  /** A time that began before 1970, before which no id can be made. */
  @Test
  void whatIsKeptForCenturiesIsKept() {
    for (String time : new String[] {"57 years", "100 years", "9999 years"}) {
      String form = "form: old\nkeep-for: " + time + "\nfields: { name: { type: text } }\n";
      assertThat(publish(form).status()).as(time).isIn(200, 201);
      wire.add("old", "{\"name\": \"%s\"}".formatted(time));
      // That of another form is swept after it: they go by name.
      publish("form: short\nkeep-for: 1 day\nfields: { name: { type: text } }\n");
      wire.add("short", "{\"name\": \"x\"}");
      clock.advance(Duration.ofDays(2));
      Awaitility.await().atMost(Duration.ofSeconds(30)).until(() -> records("short").isEmpty());
    }
    assertThat(records("old")).hasSize(3);
  }

  @Test
  void thatRecordsGoByAgeIsSaidBeforeItIsPublished() {
    String visit = "form: visit\n%sfields: { name: { type: text } }\n";
    publish(visit.formatted(""));
    wire.add("visit", "{\"name\": \"x\"}");
    JsonNode told =
        wire.post(
                "/api/forms/visit/preview",
                "application/yaml",
                visit.formatted("keep-for: 3 months\n"))
            .json();
    assertThat(told.path("changes").path(0).path("change").asString()).isEqualTo("removed-by-age");
    assertThat(told.path("changes").path(0).path("detail").asString())
        .isEqualTo("Records are removed 3 months after they were added; none is so old yet.");
  }

  private void publishForms() {
    assertThat(
            publish(
                    """
                    form: letter
                    forget: remove
                    access: { add: signed-in, see: [owner, clerk], edit: owner }
                    fields: { text: { type: text } }
                    """)
                .status())
        .isEqualTo(201);
    assertThat(
            publish(
                    """
                    form: booking
                    forget: { blank: [name, contact, guests] }
                    access: { add: signed-in, see: [owner, clerk], edit: owner }
                    fields:
                      name: { type: text, required: true, unique: true }
                      nights: { type: integer }
                      contact: { type: group, fields: { phone: { type: text } } }
                      guests: { type: rows, fields: { called: { type: text } } }
                    """)
                .status())
        .isEqualTo(201);
    assertThat(
            publish(
                    """
                    form: report
                    access: { add: signed-in, see: signed-in, edit: signed-in }
                    fields: { text: { type: text }, letter: { type: record, form: letter } }
                    """)
                .status())
        .isEqualTo(201);
    ann = service.signIn("ann", "[]");
    bob = service.signIn("bob", "[]");
  }

  @Test
  void aPersonIsForgottenAsEachFormSays() throws Exception {
    publishForms();
    String letter = add(ann, "letter", "{\"text\": \"%s\"}".formatted(MARK));
    patch("letter", letter, 1, "{\"text\": \"%s again\"}".formatted(MARK));
    String referred = add(ann, "letter", "{\"text\": \"referred\"}");
    assertThat(
            wire.add(
                    "report",
                    "{\"text\": \"the office's\", \"letter\": \"%s\"}".formatted(referred))
                .status())
        .isEqualTo(201);
    String booking =
        add(
            ann,
            "booking",
            """
            {"name": "%s", "nights": 3, "contact": {"phone": "%s"}, "guests": [{"called": "%s"}]}
            """
                .formatted(MARK, MARK, MARK));
    Wire.Reply twice =
        service
            .stranger()
            .post(
                "/api/forms/booking/records",
                Wire.JSON_TYPE,
                "{\"name\": \"%s\"}".formatted(MARK),
                "Cookie",
                ann);
    assertThat(twice.response().body()).as("a sentence with a value").contains(MARK + " is");
    patch("booking", booking, 1, "{\"nights\": 4, \"name\": \"%s two\"}".formatted(MARK));
    String report = add(ann, "report", "{\"text\": \"stays\"}");
    String bobs = add(bob, "letter", "{\"text\": \"bob's own\"}");

    Wire.Reply forgotten = wire.post("/api/people/ann/forget", Wire.JSON_TYPE, "");
    assertThat(forgotten.status()).as(forgotten.response().body()).isEqualTo(200);
    assertThat(forgotten.json().path("removed").asInt()).isEqualTo(1);
    assertThat(forgotten.json().path("blanked").asInt()).isEqualTo(1);
    assertThat(forgotten.json().path("kept").asInt()).isEqualTo(1);
    assertThat(forgotten.json().path("referred").asInt()).isEqualTo(1);

    assertThat(wire.get("/api/people/ann").status()).isEqualTo(404);
    assertThat(service.stranger().get("/api/forms/report/records", "Cookie", ann).status())
        .isEqualTo(401);
    assertThat(wire.get("/api/forms/letter/records/" + letter).status()).isEqualTo(404);
    assertThat(wire.get("/api/forms/letter/records/" + bobs).status()).isEqualTo(200);
    JsonNode left = wire.get("/api/forms/booking/records/" + booking).json();
    assertThat(left.path("values").path("nights").asInt()).isEqualTo(4);
    assertThat(left.path("values").path("name").asString("")).isEmpty();
    assertThat(left.path("values").path("guests")).isEmpty();
    assertThat(left.path("owner").asString("")).isEmpty();
    assertThat(left.path("createdBy").asString("")).isEmpty();
    assertThat(wire.get("/api/forms/report/records/" + report).json().at("/values/text").asString())
        .isEqualTo("stays");
    // The value is free for somebody else, and nothing anywhere tells it or who it was.
    for (String path :
        new String[] {
          "/api/forms/letter/records",
          "/api/forms/booking/records",
          "/api/forms/report/records",
          "/api/forms/booking/records/" + booking + "/versions",
          "/api/forms/booking/records?q=" + MARK,
          "/api/attempts?limit=500",
          "/api/sessions",
          "/api/people"
        }) {
      Wire.Reply reply = wire.get(path);
      assertThat(reply.status()).as(path).isEqualTo(200);
      assertThat(reply.response().body()).as(path).doesNotContain(MARK).doesNotContain("\"ann\"");
    }
    for (JsonNode attempt : wire.get("/api/attempts?limit=500").json().path("attempts")) {
      assertThat(wire.get("/api/attempts/" + attempt.path("id").asString()).response().body())
          .doesNotContain(MARK)
          .doesNotContain("\"ann\"");
    }
    add(bob, "booking", "{\"name\": \"%s two\"}".formatted(MARK));
    JsonNode entry = wire.get("/api/log?what=forget-person").json().path("entries").path(0);
    assertThat(entry.path("subject").asString()).startsWith("people/own:");
  }

  @Test
  void allThatIsKeptOfAPersonIsHandedOut() throws Exception {
    publishForms();
    String letter = add(ann, "letter", "{\"text\": \"first\"}");
    patch("letter", letter, 1, "{\"text\": \"second\"}");
    add(bob, "letter", "{\"text\": \"%s\"}".formatted(MARK));
    add(ann, "report", "{\"text\": \"of ann\"}");
    Map<String, String> files = export("ann");
    assertThat(files.keySet())
        .containsExactly(
            "attempts.json",
            "drafts.json",
            "person.json",
            "records/letter.json",
            "records/report.json",
            "sessions.json",
            "uploads.json");
    JsonNode person = JsonMapper.shared().readTree(files.get("person.json"));
    assertThat(person.path("name").asString()).isEqualTo("ann");
    assertThat(files.get("person.json")).doesNotContain("argon2");
    JsonNode letters = JsonMapper.shared().readTree(files.get("records/letter.json"));
    assertThat(letters).hasSize(1);
    assertThat(letters.at("/0/values/text").asString()).isEqualTo("second");
    assertThat(letters.at("/0/versions/1/values/text").asString()).isEqualTo("first");
    assertThat(JsonMapper.shared().readTree(files.get("sessions.json"))).hasSize(1);
    assertThat(JsonMapper.shared().readTree(files.get("attempts.json"))).hasSize(2);
    assertThat(String.join("", files.values())).doesNotContain(MARK);
    assertThat(wire.get("/api/log?what=export-person").response().body()).contains("people/ann");

    for (String call : new String[] {"GET export", "POST forget"}) {
      String[] parts = call.split(" ");
      String path = "/api/people/ann/" + parts[1];
      assertThat(service.stranger().send(parts[0], path, Wire.JSON_TYPE, "").status())
          .isEqualTo(401);
      assertThat(
              service.stranger().send(parts[0], path, Wire.JSON_TYPE, "", "Cookie", ann).status())
          .isEqualTo(403);
      Wire.Reply nobody = wire.send(parts[0], "/api/people/anne/" + parts[1], Wire.JSON_TYPE, "");
      assertThat(nobody.status()).isEqualTo(404);
      assertThat(nobody.json().path("detail").asString()).contains("Did you mean \"ann\"?");
    }
  }

  private Map<String, String> export(String person) throws IOException, InterruptedException {
    HttpResponse<byte[]> reply =
        HttpClient.newHttpClient()
            .send(
                HttpRequest.newBuilder(
                        URI.create(service.address() + "/api/people/" + person + "/export"))
                    .header("Authorization", "Bearer " + RunningService.KEY)
                    .build(),
                HttpResponse.BodyHandlers.ofByteArray());
    assertThat(reply.statusCode()).isEqualTo(200);
    assertThat(reply.headers().firstValue("Content-Type")).contains("application/zip");
    Map<String, String> files = new TreeMap<>();
    try (ZipInputStream zip = new ZipInputStream(new ByteArrayInputStream(reply.body()))) {
      for (ZipEntry entry = zip.getNextEntry(); entry != null; entry = zip.getNextEntry()) {
        files.put(entry.getName(), new String(zip.readAllBytes(), StandardCharsets.UTF_8));
      }
    }
    return files;
  }
}
