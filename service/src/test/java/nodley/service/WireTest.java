package nodley.service;

import static nodley.service.Wire.FORM_TYPE;
import static nodley.service.Wire.JSON_TYPE;
import static nodley.service.Wire.vessel;
import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

class WireTest {

  private static RunningService service;
  private static Wire wire;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    stranger = service.stranger();
    wire.publishDemo();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply added(String sign) {
    Wire.Reply reply = wire.add("vessel", vessel("Boat " + sign, sign));
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply;
  }

  @Test
  void addingAnswersAsTheWireSays() {
    Wire.Reply reply = added("MA1");
    JsonNode record = reply.json();
    String id = record.path("id").asString();
    assertThat(reply.header("Location")).isEqualTo("/api/forms/vessel/records/" + id);
    assertThat(reply.header("ETag")).isEqualTo("\"1\"");
    assertThat(reply.header("X-Request-Id")).isNotEmpty();
    assertThat(record.path("form").asString()).isEqualTo("vessel");
    assertThat(record.path("revision").asInt()).isEqualTo(1);
    assertThat(record.path("version").asInt()).isEqualTo(1);
    assertThat(record.path("called").asString()).isEqualTo("Boat MA1 · MA1");
    assertThat(record.path("createdAt").asString()).isEqualTo(record.path("updatedAt").asString());
    assertThat(record.path("values").toString())
        .isEqualTo(
            "{\"name\":\"Boat"
                + " MA1\",\"callSign\":\"MA1\",\"rig\":\"sail\",\"length\":9.5,\"insured\":true}");
    assertThat(record.path("after").toString())
        .isEqualTo("{\"go\":\"/forms/vessel/" + id + "\",\"say\":\"Boat MA1 is registered.\"}");
    Wire.Reply got = wire.get("/api/forms/vessel/records/" + id);
    assertThat(got.status()).isEqualTo(200);
    assertThat(got.header("ETag")).isEqualTo("\"1\"");
    assertThat(got.json().path("values")).isEqualTo(record.path("values"));
  }

  @Test
  void aRefusalIsAProblemWithAllErrorsAndTheTidiedValues() {
    added("MA2");
    Wire.Reply reply = wire.add("vessel", vessel(" Twice  over ", "ma-2"));
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.header("Content-Type")).isEqualTo("application/problem+json");
    JsonNode problem = reply.json();
    assertThat(problem.path("type").asString()).isEqualTo("/problems/refused");
    assertThat(problem.path("status").asInt()).isEqualTo(422);
    assertThat(problem.path("verdict").asString()).isEqualTo("refused");
    assertThat(problem.path("errors").toString())
        .isEqualTo(
            "[{\"pointer\":\"#/callSign\",\"code\":\"taken\",\"detail\":"
                + "\"Call sign MA2 is already registered.\",\"params\":{\"value\":\"MA2\"}}]");
    assertThat(problem.path("values").path("name").asString()).isEqualTo("Twice over");
  }

  @Test
  void jsonAndFormEncodingMeanTheSame() {
    Wire.Reply reply =
        stranger.post(
            "/api/forms/vessel/records",
            FORM_TYPE,
            "name=+Caf%C3%A9+Boat&callSign=ma3&rig=motor&length=7.50&insured=on&draught=");
    assertThat(reply.status()).isEqualTo(201);
    assertThat(reply.json().path("values").toString())
        .isEqualTo(
            "{\"name\":\"Café"
                + " Boat\",\"callSign\":\"MA3\",\"rig\":\"motor\",\"length\":7.5,\"insured\":true}");
  }

  @Test
  void aCheckIsTheSameJudgementAndKeepsNothing() {
    added("MA4");
    long before = count();
    Wire.Reply whole = stranger.check("vessel", "", vessel("Other", "ma4"));
    assertThat(whole.status()).isEqualTo(200);
    assertThat(whole.json().path("verdict").asString()).isEqualTo("refused");
    assertThat(whole.codeOf("callSign")).isEqualTo("taken");
    assertThat(stranger.check("vessel", "", vessel("Other", "ma5")).json().toString())
        .isEqualTo(
            "{\"verdict\":\"accepted\",\"values\":{\"name\":\"Other\",\"callSign\":\"MA5\",\"rig\":"
                + "\"sail\",\"length\":9.5,\"insured\":true},\"errors\":[],\"unasked\":[]}");
    Wire.Reply one = stranger.check("vessel", "?fields=callSign", "{\"callSign\":\"ma4\"}");
    assertThat(one.json().path("errors")).hasSize(1);
    assertThat(one.json().path("values").toString()).isEqualTo("{\"callSign\":\"MA4\"}");
    assertThat(count()).isEqualTo(before);
  }

  private static long count() {
    for (JsonNode form : wire.get("/api/forms").json().path("forms")) {
      if (form.path("form").asString().equals("vessel")) {
        return form.path("records").asLong();
      }
    }
    throw new AssertionError("vessel is not listed");
  }

  @Test
  void anEditsOwnValueIsNotTaken() {
    String id = added("MA6").json().path("id").asString();
    Wire.Reply check =
        wire.check("vessel", "?record=" + id + "&fields=callSign", "{\"callSign\":\"ma6\"}");
    assertThat(check.json().path("verdict").asString()).isEqualTo("accepted");
    assertThat(stranger.check("vessel", "?record=" + id, "{}").status()).isEqualTo(401);
    assertThat(wire.check("vessel", "?record=gone", "{}").status()).isEqualTo(404);
  }

  @Test
  void anEditNeedsTheVersionAndPutsTheWholeAnew() {
    String id = added("MA7").json().path("id").asString();
    String path = "/api/forms/vessel/records/" + id;
    String body = vessel("Renamed", "MA7");
    assertThat(wire.put(path, JSON_TYPE, body).status()).isEqualTo(428);
    assertThat(wire.put(path, JSON_TYPE, body, "If-Match", "*").status()).isEqualTo(428);
    assertThat(wire.put(path, JSON_TYPE, body, "If-Match", "1").status()).isEqualTo(400);
    assertThat(wire.put(path, JSON_TYPE, body, "If-Match", "\"9\"").status()).isEqualTo(412);
    Wire.Reply edited = wire.put(path, JSON_TYPE, body, "If-Match", "W/\"1\"");
    assertThat(edited.status()).isEqualTo(200);
    assertThat(edited.header("ETag")).isEqualTo("\"2\"");
    assertThat(edited.json().path("version").asInt()).isEqualTo(2);
    assertThat(edited.json().path("after").path("say").asString()).isEqualTo("Renamed is saved.");
    Wire.Reply late = wire.put(path, JSON_TYPE, vessel("Late", "MA7"), "If-Match", "\"1\"");
    assertThat(late.status()).isEqualTo(412);
    assertThat(late.header("ETag")).isEqualTo("\"2\"");
    assertThat(late.json().path("fields").toString())
        .isEqualTo(
            "[{\"pointer\":\"#/name\",\"base\":\"Boat"
                + " MA7\",\"theirs\":\"Renamed\",\"yours\":\"Late\"}]");
    assertThat(wire.get(path).json().path("values").path("name").asString()).isEqualTo("Renamed");
  }

  @Test
  void anEditIsJudgedLikeAnAdd() {
    added("MA8");
    String id = added("MA9").json().path("id").asString();
    Wire.Reply reply =
        wire.put(
            "/api/forms/vessel/records/" + id, JSON_TYPE, vessel("X", "MA8"), "If-Match", "\"1\"");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.codeOf("name")).isEqualTo("too-short");
    assertThat(reply.codeOf("callSign")).isEqualTo("taken");
  }

  @Test
  void removingNeedsTheVersionToo() {
    String id = added("MB1").json().path("id").asString();
    String path = "/api/forms/vessel/records/" + id;
    assertThat(wire.delete(path).status()).isEqualTo(428);
    assertThat(wire.delete(path, "If-Match", "\"2\"").status()).isEqualTo(412);
    assertThat(wire.delete(path, "If-Match", "\"1\"").status()).isEqualTo(204);
    assertThat(wire.get(path).status()).isEqualTo(404);
    assertThat(wire.delete(path, "If-Match", "\"1\"").status()).isEqualTo(404);
    assertThat(wire.put(path, JSON_TYPE, vessel("Gone", "MB1"), "If-Match", "\"1\"").status())
        .isEqualTo(404);
  }

  @Test
  void aRecordThatOthersReferToStays() {
    String berth =
        wire.add("berth", "{\"code\":\"F1\",\"pontoon\":\"north\",\"length\":9,\"depth\":2}")
            .json()
            .path("id")
            .asString();
    String boat =
        wire.add("vessel", vessel("Moored", "MB2").replace("}", ",\"berth\":\"" + berth + "\"}"))
            .json()
            .path("id")
            .asString();
    Wire.Reply reply = wire.delete("/api/forms/berth/records/" + berth, "If-Match", "\"1\"");
    assertThat(reply.status()).isEqualTo(409);
    assertThat(reply.json().path("records").toString())
        .isEqualTo("[{\"form\":\"vessel\",\"field\":\"berth\",\"id\":\"" + boat + "\"}]");
    Wire.Reply nowhere =
        wire.add("vessel", vessel("Lost", "MB3").replace("}", ",\"berth\":\"nowhere\"}"));
    assertThat(nowhere.codeOf("berth")).isEqualTo("no-such-record");
  }

  @Test
  void pagesOfRecordsFollowLinks() {
    for (int i = 1; i <= 5; i++) {
      String berth =
          "{\"code\":\"E%d\",\"pontoon\":\"inner\",\"length\":9,\"depth\":2}".formatted(i);
      assertThat(wire.add("berth", berth).status()).isEqualTo(201);
    }
    List<String> seen = new ArrayList<>();
    String path = "/api/forms/berth/records?limit=2&q=E";
    while (!path.isEmpty()) {
      Wire.Reply page = stranger.get(path);
      page.json().path("records").forEach(it -> seen.add(it.path("called").asString()));
      path = page.header("Link").replaceFirst("^<(.*)>; rel=\"next\"$", "$1");
    }
    assertThat(seen)
        .containsSubsequence(
            "E5, Inner pontoon",
            "E4, Inner pontoon",
            "E3, Inner pontoon",
            "E2, Inner pontoon",
            "E1, Inner pontoon");
    assertThat(stranger.get("/api/forms/berth/records?cursor=Zm9yZ2Vk").status()).isEqualTo(400);
    assertThat(stranger.get("/api/forms/berth/records?limit=0").status()).isEqualTo(400);
    assertThat(stranger.get("/api/forms/berth/records?limit=1001").status()).isEqualTo(400);
  }

  @Test
  void twoHundredAddsOfOneValueAtOnceSeeOneAccepted() throws Exception {
    int many = 200;
    CountDownLatch start = new CountDownLatch(1);
    int accepted = 0;
    int taken = 0;
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Future<Wire.Reply>> replies = new ArrayList<>();
      for (int i = 0; i < many; i++) {
        replies.add(
            threads.submit(
                () -> {
                  start.await();
                  return stranger.add("vessel", vessel("Racer", "MR1"));
                }));
      }
      start.countDown();
      for (Future<Wire.Reply> reply : replies) {
        accepted += reply.get().status() == 201 ? 1 : 0;
        taken += reply.get().codeOf("callSign").equals("taken") ? 1 : 0;
      }
    }
    assertThat(accepted).isEqualTo(1);
    assertThat(taken).isEqualTo(many - 1);
  }

  @Test
  void publishingIsNewThenUnchangedThenARevision() {
    String file = "form: buoy\nfields: { n: { type: integer } }\n";
    Wire.Reply first = wire.publish("buoy", file);
    assertThat(first.status()).isEqualTo(201);
    assertThat(first.header("Location")).isEqualTo("/api/forms/buoy");
    assertThat(wire.publish("buoy", file).json().path("revision").asInt()).isEqualTo(1);
    Wire.Reply revised = wire.publish("buoy", file.replace("integer", "integer, required: true"));
    assertThat(revised.status()).isEqualTo(200);
    assertThat(revised.json().path("revision").asInt()).isEqualTo(2);
    Wire.Reply got = wire.get("/api/forms/buoy/file");
    assertThat(got.header("Content-Type")).startsWith("application/yaml");
    assertThat(got.response().body()).contains("required: true");
    String json = "{\"form\":\"buoy\",\"fields\":{\"n\":{\"type\":\"integer\"}}}";
    assertThat(wire.put("/api/forms/buoy", JSON_TYPE, json).json().path("revision").asInt())
        .isEqualTo(3);
    assertThat(wire.get("/api/forms/buoy/file").header("Content-Type")).startsWith(JSON_TYPE);
  }

  @Test
  void aFormFileWithErrorsPublishesNothingAndTellsThemAll() {
    Wire.Reply reply =
        wire.publish("wreck", "form: wreck\nfields:\n  a: { type: text, lenght: 3 }\n  b: {}\n");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("errors").toString())
        .isEqualTo(
            "[{\"line\":3,\"column\":20,\"pointer\":\"#/fields/a/lenght\",\"code\":\"unknown-key\",\"detail\":\"A"
                + " field of type text has no key `lenght`. Did you mean `length`?\","
                + "\"suggestion\":\"length\"},{\"line\":4,\"column\":6,\"pointer\":\"#/fields/b\",\"code\":\"missing-key\",\"detail\":\"`b`"
                + " needs a `type`: text, email, url, phone, secret, integer, decimal, boolean,"
                + " date, time, datetime, choice, choices, file, record, group, rows.\"}]");
    assertThat(wire.get("/api/forms/wreck").status()).isEqualTo(404);
    assertThat(wire.publish("wreck", "form: other\nfields: { a: { type: text } }").status())
        .isEqualTo(422);
    assertThat(
            wire.publish("wreck", "form: wreck\nfields: { a: { type: record, form: vesel } }")
                .json()
                .path("errors")
                .path(0)
                .path("suggestion")
                .asString())
        .isEqualTo("vessel");
  }

  @Test
  void keptRecordsStandAgainstAPublishByName() {
    wire.publish("mark", "form: mark\nfields: { n: { type: text } }");
    String one = wire.add("mark", "{\"n\":\"x\"}").json().path("id").asString();
    String two = wire.add("mark", "{\"n\":\"x\"}").json().path("id").asString();
    Wire.Reply reply =
        wire.publish("mark", "form: mark\nfields: { n: { type: text, unique: true } }");
    assertThat(reply.status()).isEqualTo(409);
    assertThat(reply.json().path("objections").path(0).path("records").toString())
        .contains(one, two);
    assertThat(wire.get("/api/forms/mark").json().path("revision").asInt()).isEqualTo(1);
  }

  @Test
  void aDescriptionIsTaggedAndAnsweredNotModified() {
    Wire.Reply first = stranger.get("/api/forms/vessel");
    assertThat(
            String.join(",", first.response().headers().allValues("Vary")).toLowerCase(Locale.ROOT))
        .contains("accept-language", "origin", "accept-encoding");
    // A weak tag: compressed, it is other bytes.
    assertThat(first.header("ETag")).startsWith("W/");
    String tag = first.header("ETag").substring(2);
    // RFC 9110, section 13.1.2: compared weakly, one of a list is enough, empty elements do not
    // count, and any stands for all.
    for (String same :
        List.of(tag, "W/" + tag, "\"x\", " + tag, ", ," + tag + ",,", "\"a,b\"," + tag, "*")) {
      assertThat(asked("/api/forms/vessel", same)).as(same).isEqualTo(304);
    }
    for (String other : List.of("\"x\"", "\"x\", W/\"y\"", ",", "x")) {
      assertThat(asked("/api/forms/vessel", other)).as(other).isEqualTo(200);
    }
  }

  private int asked(String path, String tags) {
    return stranger.send(stranger.request(path).header("If-None-Match", tags).GET()).status();
  }

  @Test
  void accessIsAsTheFormSays() {
    assertThat(stranger.get("/api/forms/vessel/records").status()).isEqualTo(200);
    assertThat(stranger.get("/api/forms/skipper/records").status()).isEqualTo(401);
    assertThat(stranger.get("/api/forms/skipper").status()).isEqualTo(200);
    assertThat(stranger.add("berth", "{}").status()).isEqualTo(401);
    assertThat(stranger.publish("vessel", Wire.demo("vessel")).status()).isEqualTo(401);
    assertThat(stranger.get("/api/forms/vessel/file").status()).isEqualTo(401);
    assertThat(stranger.get("/api/forms/skipper/records").header("WWW-Authenticate"))
        .isEqualTo("Bearer");
    Wire wrong = new Wire(service.address(), Optional.of("wrong"));
    assertThat(wrong.get("/api/forms/vessel").status()).isEqualTo(401);
    assertThat(wrong.get("/api/forms").status()).isEqualTo(401);
    wire.publish("private", "form: private\nfields: { n: { type: text } }");
    assertThat(stranger.get("/api/forms").response().body()).doesNotContain("private");
    assertThat(stranger.get("/api/forms/privat").response().body()).doesNotContain("private");
    assertThat(wire.get("/api/forms/privat").response().body()).contains("private");
  }

  @Test
  void aReferenceToWhatTheCallerMayNotSeeIsAsGoodAsNone() {
    wire.publish("secret-place", "form: secret-place\nfields: { n: { type: text } }");
    wire.publish(
        "letter",
        "form: letter\n"
            + "access: { add: anyone }\n"
            + "fields: { at: { type: record, form: secret-place } }");
    String id = wire.add("secret-place", "{\"n\":\"x\"}").json().path("id").asString();
    String body = "{\"at\":\"" + id + "\"}";
    assertThat(stranger.check("letter", "", body).codeOf("at")).isEqualTo("no-such-record");
    assertThat(wire.check("letter", "", body).codeOf("at")).isEmpty();
    assertThat(stranger.get("/api/forms/letter/options/at").json().path("options")).isEmpty();
    assertThat(wire.get("/api/forms/letter/options/at").json().path("options")).hasSize(1);
  }

  @Test
  void aSessionSpeaksForThePersonButNotOnPagesOfOtherSites() {
    Wire.Reply signedIn =
        stranger.post("/api/session", JSON_TYPE, "{\"key\":\"" + RunningService.KEY + "\"}");
    String cookie = signedIn.header("Set-Cookie");
    assertThat(cookie).contains("HttpOnly").contains("SameSite=Lax");
    String pair = cookie.split(";")[0];
    assertThat(session("GET", "/api/session", pair).json().path("caller").asString())
        .isEqualTo("admin");
    String path = "/api/forms/berth/checks";
    assertThat(session("POST", path, pair).status()).isEqualTo(200);
    assertThat(session("POST", path, pair, "Sec-Fetch-Site", "same-origin").status())
        .isEqualTo(200);
    assertThat(session("POST", path, pair, "Sec-Fetch-Site", "cross-site").status()).isEqualTo(403);
    assertThat(session("POST", path, pair, "Sec-Fetch-Site", "same-site").status()).isEqualTo(403);
    assertThat(session("POST", path, pair, "Origin", service.address()).status()).isEqualTo(200);
    assertThat(session("POST", path, pair, "Origin", "http://evil.example").status())
        .isEqualTo(403);
    assertThat(session("POST", path, pair, "Origin", "null").status()).isEqualTo(403);
    assertThat(session("DELETE", "/api/session", pair).status()).isEqualTo(204);
    assertThat(session("POST", path, pair).status()).isEqualTo(401);
    assertThat(stranger.post("/api/session", JSON_TYPE, "{\"key\":\"no\"}").status())
        .isEqualTo(401);
    assertThat(session("POST", "/sign-in", "a=b", "Origin", "http://evil.example").status())
        .isEqualTo(403);
    assertThat(session("POST", "/api/session", "a=b", "Origin", "http://evil.example").status())
        .isEqualTo(403);
  }

  private static Wire.Reply session(String method, String path, String cookie, String... headers) {
    var request =
        stranger
            .request(path)
            .header("Cookie", cookie)
            .header("Content-Type", JSON_TYPE)
            .method(method, HttpRequest.BodyPublishers.ofString("{}"));
    for (int i = 0; i < headers.length; i += 2) {
      request.header(headers[i], headers[i + 1]);
    }
    return stranger.send(request);
  }

  @Test
  void whatWasAcceptedIsThereAfterARestart() {
    String id = added("MZ9").json().path("id").asString();
    service.restart();
    wire = service.wire();
    stranger = service.stranger();
    assertThat(wire.get("/api/forms/vessel/records/" + id).json().path("called").asString())
        .isEqualTo("Boat MZ9 · MZ9");
    assertThat(wire.add("vessel", vessel("Twin", "MZ9")).codeOf("callSign")).isEqualTo("taken");
  }

  /** A record looks different after its form is published anew, though its version is the same. */
  @Test
  void aRecordIsNeverNotModified() {
    wire.publish("tagged", "form: tagged\ncalled: \"{name}\"\nfields: { name: { type: text } }");
    String path = wire.add("tagged", "{\"name\": \"a\"}").header("Location");
    assertThat(wire.send(wire.request(path).header("If-None-Match", "\"1\"")).status())
        .isEqualTo(200);
    wire.publish(
        "tagged", "form: tagged\ncalled: \"Boat {name}\"\nfields: { name: { type: text } }");
    Wire.Reply again = wire.send(wire.request(path).header("If-None-Match", "\"1\""));
    assertThat(again.json().path("called").asString()).isEqualTo("Boat a");
    assertThat(again.header("ETag")).isEqualTo("\"1\"");
  }

  /** What a record tells of its rows comes back in an edit, and each row keeps its secret. */
  @Test
  void rowsAreKnownAgain() {
    wire.publish(
        "host",
        """
        form: host
        fields:
          users:
            type: rows
            fields:
              user: { type: text }
              pw: { type: secret, required: true }
        """);
    Wire.Reply added =
        wire.add(
            "host",
            "{\"users\": [{\"user\": \"ann\", \"pw\": \"one\"}, {\"user\": \"bob\", \"pw\":"
                + " \"two\"}]}");
    String path = added.header("Location");
    int bob = wire.get(path).json().path("rows").path("#/users/1").asInt();
    assertThat(bob).isPositive();
    String renamed =
        "{\"users\": [{\"_row\": %d, \"user\": \"robert\"}, {\"user\": \"ann\"}]}".formatted(bob);
    Wire.Reply edited =
        wire.patch(path, "application/merge-patch+json", renamed, "If-Match", "\"1\"");
    assertThat(edited.status()).isEqualTo(200);
    assertThat(edited.json().path("values").path("users").toString())
        .isEqualTo("[{\"user\":\"robert\"},{\"user\":\"ann\"}]");
    Wire.Reply form =
        wire.put(
            path,
            Wire.FORM_TYPE,
            "users[0].user=ann&users[1]._row=" + bob + "&users[1].user=rob&users[2].user=",
            "If-Match",
            "\"2\"");
    assertThat(form.status()).as(form.response().body()).isEqualTo(200);
    Wire.Reply stranger =
        wire.patch(
            path,
            "application/merge-patch+json",
            "{\"users\": [{}, {\"user\": \"cy\"}]}",
            "If-Match",
            "\"3\"");
    assertThat(stranger.json().path("errors").path(0).path("pointer").asString())
        .isEqualTo("#/users/1/pw");
    assertThat(stranger.json().path("values").path("users").toString())
        .isEqualTo("[{},{\"user\":\"cy\"}]");
    // Nobody is told by the history which rows they are.
    assertThat(wire.get(path + "/versions").response().body()).doesNotContain("_row");
  }
}
