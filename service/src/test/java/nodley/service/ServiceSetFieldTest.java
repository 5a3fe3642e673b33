package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** A field with {@code control: none}: the service sets and keeps it, and no page is sent it. */
class ServiceSetFieldTest {

  private static RunningService service;
  private static Wire program;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    program = service.wire();
    stranger = new Wire(service.address(), Optional.empty());
    Wire.Reply published =
        program.publish(
            "letter",
            """
            form: letter
            access: { add: anyone, see: anyone, edit: anyone }
            after: { add: { go: stay, say: "Thank you." }, edit: { go: stay, say: "Saved." } }
            fields:
              title: { type: text, required: true }
              origin: { type: text, control: none, default: "zzmark" }
              taken_by: { type: text, control: none, compute: 'if caller.name is blank then "zznobody" else caller.name' }
              lines:
                type: rows
                fields:
                  line: { type: text }
                  length_of: { type: integer, control: none, compute: length(line) + 98765400 }
              reply: { type: text, shown: 'origin = "zzmark"', label: "Reply to" }
            rules:
              - must: not (origin = "zzmark" and title = "no")
                say: "Not from there."
            unique:
              - { fields: [title, origin] }
            """);
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void isUntold(Wire.Reply reply) {
    assertThat(reply.response().body())
        .doesNotContain("zz", "987654", "origin", "taken_by", "length_of", "Taken by", "Length of");
  }

  private static String added(String title) {
    Wire.Reply added =
        stranger.add("letter", "{\"title\": \"" + title + "\", \"lines\": [{\"line\": \"abc\"}]}");
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    isUntold(added);
    return added.json().path("id").asString();
  }

  @Test
  void itIsKeptAndAProgramReadsIt() {
    String id = added("Kept");
    var values = program.get("/api/forms/letter/records/" + id).json().path("values");
    assertThat(values.path("origin").asString()).isEqualTo("zzmark");
    assertThat(values.path("taken_by").asString()).isEqualTo("zznobody");
    assertThat(values.path("lines").path(0).path("length_of").asInt()).isEqualTo(98765403);
    assertThat(
            program
                .get("/api/forms/letter/records?where=origin+%3D+%22zzmark%22&sort=origin")
                .json()
                .path("records"))
        .isNotEmpty();
  }

  @Test
  void noPageIsSentItNorAnyCallOfAStranger() {
    String id = added("Untold");
    stranger.patch(
        "/api/forms/letter/records/" + id,
        "application/merge-patch+json",
        "{\"lines\": [{\"line\": \"abcd\"}]}",
        "If-Match",
        "\"1\"");
    for (String path :
        List.of(
            "/api/forms/letter",
            "/api/forms/letter/schema",
            "/api/forms/letter/records",
            "/api/forms/letter/records/" + id,
            "/api/forms/letter/records/" + id + "/versions",
            "/forms/letter",
            "/forms/letter/new",
            "/forms/letter/" + id,
            "/forms/letter/" + id + "/edit")) {
      Wire.Reply reply = stranger.get(path);
      assertThat(reply.status()).as(path).isEqualTo(200);
      isUntold(reply);
    }
    isUntold(
        stranger.post("/api/forms/letter/checks", Wire.JSON_TYPE, "{\"lines\": [{\"line\": 1}]}"));
    isUntold(stranger.add("letter", "{\"lines\": [{\"line\": \"abc\"}]}"));
    isUntold(
        stranger.put(
            "/api/forms/letter/records/" + id,
            Wire.JSON_TYPE,
            "{\"title\": \"Other\", \"lines\": [{\"line\": \"q\"}, {\"line\": \"r\"}]}",
            "If-Match",
            "\"1\""));
    program.publish(
        "answer",
        """
        form: answer
        access: { add: anyone, see: anyone }
        fields: { to: { type: record, form: letter } }
        """);
    for (String query :
        List.of(
            "letter/records?where=origin+%3D+%22x%22",
            "letter/records?sort=taken_by",
            "letter/records?where=orign+%3D+%22x%22",
            "answer/records?where=to.origin+%3D+%22zzmark%22")) {
      Wire.Reply reply = stranger.get("/api/forms/" + query);
      assertThat(reply.status()).as(query).isEqualTo(400);
      // Nor is it suggested to who has nearly guessed its name.
      assertThat(reply.response().body()).doesNotContain("Did you mean");
    }
    assertThat(program.get("/api/forms/answer/records?where=to.origin+%3D+%22zzmark%22").status())
        .isEqualTo(200);
  }

  @Test
  void whatIsSentInItsPlaceIsRefusedAndWhatIsKeptMayComeBack() {
    assertThat(stranger.add("letter", "{\"title\": \"A\", \"origin\": \"mine\"}").codeOf("origin"))
        .isEqualTo("not-editable");
    String id = added("Back");
    String whole =
        "{\"title\": \"Back again\", \"origin\": \"zzmark\", \"taken_by\": \"zznobody\"}";
    Wire.Reply put =
        program.put("/api/forms/letter/records/" + id, Wire.JSON_TYPE, whole, "If-Match", "\"1\"");
    assertThat(put.status()).as(put.response().body()).isEqualTo(200);
  }

  @Test
  void whatDependsOnItIsDecidedByTheService() {
    assertThat(stranger.add("letter", "{\"title\": \"no\"}").response().body())
        .contains("Not from there.");
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/letter/new");
      browser.type("#f-title", "By page");
      browser.type("#f-reply", "Ann");
      browser.find("form.nodley .actions button[type=submit]").click();
      browser.untilText("body", "Thank you.");
      browser.type("#f-title", "By page");
      browser.leave();
      browser.until("taken is told early", () -> browser.errorOf("title").contains("already"));
      browser.type("#f-title", "no");
      browser.leave();
      // Without its error the field is lower, and the button below it moves.
      browser.until("the new title is free", () -> browser.errorOf("title").isEmpty());
      browser.find("form.nodley .actions button[type=submit]").click();
      browser.untilText(".summary", "Not from there.");
    }
  }
}
