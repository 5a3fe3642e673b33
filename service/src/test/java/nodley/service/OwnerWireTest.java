package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/**
 * Records that belong to the person who added them: what that person, and everybody else, may do.
 */
class OwnerWireTest {

  /** Stands in one record alone, which nobody but its owner and clerks may see. */
  private static final String MARK = "kestrel7531";

  private static RunningService service;
  private static String mara;
  private static String jonas;
  private static String clerk;
  private static String marasId;
  private static String maras;
  private static String jonass;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    publish(
        """
        form: mooring
        called: "{name}"
        access: { add: signed-in, see: [owner, clerk], edit: [owner, clerk], remove: owner }
        fields:
          name: { type: text, required: true, unique: true }
          note: { type: text }
        """);
    publish(
        """
        form: stay
        called: "{mooring}"
        access: { add: signed-in, see: signed-in, edit: signed-in }
        fields:
          mooring: { type: record, form: mooring }
        """);
    mara = service.signIn("mara", "[]");
    jonas = service.signIn("jonas", "[]");
    clerk = service.signIn("otto", "[\"clerk\"]");
    marasId =
        service.stranger().get("/api/session", "Cookie", mara).json().path("person").asString();
    maras = add(mara, "{\"name\": \"%s\", \"note\": \"%s\"}".formatted(MARK, MARK));
    jonass = add(jonas, "{\"name\": \"Petrel\"}");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String yaml) {
    String name = yaml.substring("form: ".length(), yaml.indexOf('\n'));
    assertThat(service.wire().publish(name, yaml).status()).isEqualTo(201);
  }

  private static String add(String cookie, String json) {
    Wire.Reply added =
        service
            .stranger()
            .post("/api/forms/mooring/records", Wire.JSON_TYPE, json, "Cookie", cookie);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    return added.json().path("id").asString();
  }

  private static Wire.Reply send(String who, String method, String path, String body) {
    List<String> headers = new ArrayList<>(List.of("If-Match", "\"999\""));
    Wire wire = service.stranger();
    switch (who) {
      case "mara" -> headers.addAll(List.of("Cookie", mara));
      case "jonas" -> headers.addAll(List.of("Cookie", jonas));
      case "clerk" -> headers.addAll(List.of("Cookie", clerk));
      case "admin" -> wire = service.wire();
      default -> assertThat(who).isEqualTo("nobody");
    }
    return method.equals("GET")
        ? wire.get(path, headers.toArray(String[]::new))
        : method.equals("DELETE")
            ? wire.delete(path, headers.toArray(String[]::new))
            : wire.send(method, path, Wire.JSON_TYPE, body, headers.toArray(String[]::new));
  }

  /**
   * Every call on Mara's record, by hand from docs/people.md. 412: it went as far as the version,
   * which is none that the record has.
   */
  @ParameterizedTest
  @CsvSource({
    "GET,    /api/forms/mooring/records/ID,                        200, 404, 200, 200, 401",
    "PUT,    /api/forms/mooring/records/ID,                        412, 404, 412, 412, 401",
    "PATCH,  /api/forms/mooring/records/ID,                        412, 404, 412, 412, 401",
    "DELETE, /api/forms/mooring/records/ID,                        412, 404, 403, 412, 401",
    "GET,    /api/forms/mooring/records/ID/versions,               200, 404, 200, 200, 401",
    "POST,   /api/forms/mooring/records/ID/versions/1/restore,     412, 404, 412, 412, 401",
    "POST,   /api/forms/mooring/checks?record=ID,                  200, 404, 200, 200, 401",
    "POST,   /api/forms/mooring/checks,                            200, 200, 200, 200, 401",
    "GET,    /forms/mooring/ID,                                    200, 404, 200, 200, 401",
    "GET,    /forms/mooring/ID/edit,                               200, 404, 200, 200, 401",
    "GET,    /forms/mooring,                                       200, 200, 200, 200, 401",
    "GET,    /api/forms/mooring/records,                           200, 200, 200, 200, 401",
    "GET,    /api/forms/mooring,                                   200, 200, 200, 200, 401",
    "PUT,    /api/forms/mooring/records/ID/owner,                  403, 403, 403, 422, 401",
  })
  void eachCallIsForWhomTheFormSays(
      String method, String path, int owner, int other, int ofRole, int admin, int nobody) {
    String here = path.replace("ID", maras);
    String body = "{\"name\": \"Storm Petrel\"}";
    assertThat(send("mara", method, here, body).status()).as("owner").isEqualTo(owner);
    assertThat(send("jonas", method, here, body).status()).as("other").isEqualTo(other);
    assertThat(send("clerk", method, here, body).status()).as("clerk").isEqualTo(ofRole);
    assertThat(send("admin", method, here, body).status()).as("admin").isEqualTo(admin);
    assertThat(send("nobody", method, here, body).status()).as("nobody").isEqualTo(nobody);
  }

  /** What Jonas may not see is told to him nowhere. */
  @ParameterizedTest
  @CsvSource({
    "/api/forms",
    "/api/forms/mooring",
    "/api/forms/mooring/records",
    "/api/forms/mooring/records?q=kestrel7531",
    "/api/forms/mooring/records?where=note%20%3D%20%22kestrel7531%22",
    "/api/forms/mooring/records?sort=-name",
    "/api/forms/mooring/samples",
    "/api/forms/stay/samples",
    "/api/forms/stay/options/mooring",
    "/api/forms/stay/options/mooring?q=kes",
    "/api/forms/stay/records",
    "/api/forms/stay/records?where=mooring.note%20%3D%20%22kestrel7531%22",
    "/forms",
    "/forms/mooring",
    "/forms/mooring?q=kestrel7531",
    "/forms/stay",
    "/forms/stay/new",
  })
  void anothersRecordIsToldNowhere(String path) {
    String added =
        send("mara", "POST", "/api/forms/stay/records", "{\"mooring\": \"" + maras + "\"}")
            .response()
            .body();
    assertThat(added).as("Mara is told").contains(MARK);
    String told = send("jonas", "GET", path, "").response().body().replace(path, "");
    if (path.startsWith("/forms/mooring?q=")) {
      // The page says again what was looked for.
      assertThat(told).contains("No record has “" + MARK + "” in it.");
    } else {
      assertThat(told).doesNotContain(MARK);
    }
    // That a stay is at some mooring is the stay's own value.
    if (!path.contains("/stay/records") && !path.equals("/forms/stay")) {
      assertThat(told).doesNotContain(maras);
    }
    assertThat(send("mara", "GET", "/api/forms/mooring/records?q=" + MARK, "").response().body())
        .contains(maras);
  }

  @Test
  void listsAndCountsAreOfOnesOwn() {
    assertThat(ids("mara", "")).contains(maras).doesNotContain(jonass);
    assertThat(ids("jonas", "")).contains(jonass).doesNotContain(maras);
    assertThat(ids("clerk", "")).contains(maras, jonass);
    int before = count("mara");
    assertThat(before).isEqualTo(ids("mara", "").size());
    assertThat(count("admin")).isEqualTo(ids("admin", "?limit=1000").size()).isGreaterThan(before);
    // By words alone the newest are looked for in the index, of which others may be newer.
    String mine = add(mara, "{\"name\": \"Curlew\", \"note\": \"common words\"}");
    for (int i = 0; i < 5; i++) {
      add(jonas, "{\"name\": \"Curlew %d\", \"note\": \"common words\"}".formatted(i));
    }
    assertThat(ids("mara", "?q=common&limit=1")).containsExactly(mine);
    service
        .stranger()
        .delete("/api/forms/mooring/records/" + mine, "Cookie", mara, "If-Match", "\"1\"");
    assertThat(count("mara")).isEqualTo(before);
  }

  private static List<String> ids(String who, String query) {
    return send(who, "GET", "/api/forms/mooring/records" + query, "")
        .json()
        .path("records")
        .valueStream()
        .map(it -> it.path("id").asString())
        .toList();
  }

  private static int count(String who) {
    return send(who, "GET", "/api/forms", "")
        .json()
        .path("forms")
        .valueStream()
        .filter(it -> it.path("form").asString().equals("mooring"))
        .findFirst()
        .orElseThrow()
        .path("records")
        .asInt();
  }

  /** A unique value is unique among all: that it is taken is told, whose it is not. */
  @Test
  void aTakenValueIsTakenWhoeversItIs() {
    Wire.Reply check =
        send("jonas", "POST", "/api/forms/mooring/checks", "{\"name\": \"" + MARK + "\"}");
    assertThat(check.codeOf("name")).isEqualTo("taken");
    assertThat(check.response().body()).doesNotContain(maras);
  }

  /** A reference to a record that one may not see is a reference to none. */
  @Test
  void anothersRecordCannotBeReferredTo() {
    Wire.Reply added =
        send("jonas", "POST", "/api/forms/stay/records", "{\"mooring\": \"" + maras + "\"}");
    assertThat(added.status()).isEqualTo(422);
    assertThat(added.response().body()).doesNotContain(MARK);
  }

  @Test
  void theOwnerIsSetByTheServiceAndHandedOverByAdmins() {
    JsonNode record = send("mara", "GET", "/api/forms/mooring/records/" + maras, "").json();
    assertThat(record.path("owner").asString()).isEqualTo(marasId);
    assertThat(record.path("createdBy").asString()).isEqualTo("mara");
    assertThat(record.path("updatedBy").asString()).isEqualTo("mara");
    // It is no value that a page sends.
    Wire.Reply claimed =
        send(
            "jonas",
            "POST",
            "/api/forms/mooring/records",
            "{\"name\": \"Claimed\", \"owner\": \"" + marasId + "\"}");
    assertThat(claimed.status()).isEqualTo(422);
    assertThat(claimed.codeOf("owner")).isEqualTo("unknown-field");

    String tern = add(jonas, "{\"name\": \"Tern\"}");
    String path = "/api/forms/mooring/records/" + tern;
    Wire.Reply handed = send("admin", "PUT", path + "/owner", "{\"owner\": \"Mara\"}");
    assertThat(handed.json().path("owner").asString()).isEqualTo(marasId);
    assertThat(handed.json().path("createdBy").asString()).isEqualTo("jonas");
    assertThat(handed.json().path("version").asInt()).isEqualTo(1);
    assertThat(send("jonas", "GET", path, "").status()).isEqualTo(404);
    assertThat(send("mara", "GET", path, "").status()).isEqualTo(200);
    Wire.Reply misspelt = send("admin", "PUT", path + "/owner", "{\"owner\": \"marra\"}");
    assertThat(misspelt.response().body()).contains("Did you mean \\\"mara\\\"?");
    Wire.Reply nobodys = send("admin", "PUT", path + "/owner", "{\"owner\": null}");
    assertThat(nobodys.json().path("owner").asString()).isEmpty();
    assertThat(send("mara", "GET", path, "").status()).isEqualTo(404);
    assertThat(send("clerk", "GET", path, "").status()).isEqualTo(200);

    // What is added with a key has no owner.
    Wire.Reply byKey =
        send("admin", "POST", "/api/forms/mooring/records", "{\"name\": \"By key\"}");
    assertThat(byKey.json().path("owner").asString()).isEmpty();
    assertThat(byKey.json().path("createdBy").asString()).isEqualTo("admin");
  }

  /** Whoever may not edit is not told who did what. */
  @Test
  void whoAddedItIsForThoseWhoMayEdit() {
    publish(
        """
        form: notice
        access: { add: signed-in, see: anyone, edit: owner }
        fields: { text: { type: text } }
        """);
    Wire.Reply added = send("mara", "POST", "/api/forms/notice/records", "{\"text\": \"Ebb\"}");
    assertThat(added.json().path("owner").asString()).isEqualTo(marasId);
    String path = "/api/forms/notice/records/" + added.json().path("id").asString();
    assertThat(send("jonas", "GET", path, "").json().has("createdBy")).isFalse();
    assertThat(send("nobody", "GET", path, "").json().has("owner")).isFalse();
    assertThat(send("jonas", "PATCH", path, "{\"text\": \"Flood\"}").status())
        .as("it is there for all to see")
        .isEqualTo(403);
    assertThat(send("mara", "GET", path, "").json().has("owner")).isTrue();
    String page = "/forms/notice/" + added.json().path("id").asString();
    assertThat(send("jonas", "GET", page, "").response().body()).doesNotContain("/edit\"");
    assertThat(send("mara", "GET", page, "").response().body()).contains("/edit\"");
  }

  /** A record that is referred to stays; by which others, is told as far as these may be seen. */
  @Test
  void whatRefersToItIsToldToThoseWhoMaySeeThat() {
    publish(
        """
        form: inspection
        access: { add: clerk, see: clerk, edit: clerk }
        fields: { mooring: { type: record, form: mooring } }
        """);
    String path = "/api/forms/mooring/records/" + add(mara, "{\"name\": \"Inspected\"}");
    Wire.Reply inspection =
        send(
            "clerk",
            "POST",
            "/api/forms/inspection/records",
            "{\"mooring\": \"" + path.replaceFirst(".*/", "") + "\"}");
    assertThat(inspection.status()).isEqualTo(201);
    String id = inspection.json().path("id").asString();
    Wire.Reply kept = service.stranger().delete(path, "Cookie", mara, "If-Match", "\"1\"");
    assertThat(kept.status()).isEqualTo(409);
    assertThat(kept.response().body()).doesNotContain(id).doesNotContain("inspection");
    Wire.Reply byAdmin = service.wire().delete(path, "If-Match", "\"1\"");
    assertThat(byAdmin.json().path("records").path(0).path("id").asString()).isEqualTo(id);
  }

  @Test
  void anEditLeavesTheOwner() {
    String path = "/api/forms/mooring/records/" + add(mara, "{\"name\": \"Owned\"}");
    Wire.Reply edited =
        service
            .stranger()
            .patch(
                path,
                "application/json",
                "{\"note\": \"seen\"}",
                "Cookie",
                clerk,
                "If-Match",
                "\"1\"");
    assertThat(edited.json().path("owner").asString()).isEqualTo(marasId);
    assertThat(edited.json().path("updatedBy").asString()).isEqualTo("otto");
    assertThat(send("mara", "GET", path, "").status()).isEqualTo(200);
  }

  @Test
  void aFormWithOneRecordHasNoOwner() {
    Wire.Reply reply =
        service
            .wire()
            .publish(
                "only",
                """
                form: only
                records: one
                access: { edit: owner }
                fields: { text: { type: text } }
                """);
    assertThat(reply.json().path("errors").path(0).path("detail").asString())
        .isEqualTo(
            "`edit` cannot be owner in a form with `records: one`: its record is everybody's. Name"
                + " a role.");
    assertThat(reply.json().path("errors").path(0).path("line").asInt()).isEqualTo(3);
  }

  @Test
  void aWordThatIsNearlyOwnerIsTold() {
    Wire.Reply reply =
        service
            .wire()
            .publish("near", "form: near\naccess: { see: onwer }\nfields: { a: { type: text } }\n");
    assertThat(reply.response().body()).contains("Did you mean `owner`?");
  }

  /** Changes of others' records are not heard of. */
  @Test
  void ownRecordsAreWatchedAlone() throws Exception {
    HttpURLConnection call =
        (HttpURLConnection)
            URI.create(service.address() + "/api/forms/mooring/changes").toURL().openConnection();
    call.setReadTimeout(20_000);
    call.setRequestProperty("Cookie", jonas);
    try (BufferedReader in =
        new BufferedReader(new InputStreamReader(call.getInputStream(), StandardCharsets.UTF_8))) {
      in.readLine();
      add(mara, "{\"name\": \"Unheard\"}");
      String heard = add(jonas, "{\"name\": \"Heard\"}");
      String line = in.readLine();
      while (!line.startsWith("data: ")) {
        line = in.readLine();
      }
      assertThat(line).contains(heard);
    } finally {
      call.disconnect();
    }
    assertThat(send("jonas", "GET", "/api/changes?record=mooring/" + maras, "").status())
        .isEqualTo(404);
  }
}
