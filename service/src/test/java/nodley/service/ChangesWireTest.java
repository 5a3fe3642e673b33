package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.HttpURLConnection;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Server-sent events of changes, for one who is cut off and comes again. */
class ChangesWireTest {

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service
        .wire()
        .publish("note", "form: note\naccess: { see: anyone }\nfields: { t: { type: text } }");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  /** Listens until so many lines of events have come; comments and blank lines are left out. */
  private static List<String> listen(String after, int lines, Runnable meanwhile)
      throws IOException {
    return listen("/api/forms/note/changes", after, lines, meanwhile);
  }

  private static List<String> listen(String path, String after, int lines, Runnable meanwhile)
      throws IOException {
    HttpURLConnection call =
        (HttpURLConnection) URI.create(service.address() + path).toURL().openConnection();
    call.setReadTimeout(20_000);
    if (!after.isEmpty()) {
      call.setRequestProperty("Last-Event-ID", after);
    }
    List<String> heard = new ArrayList<>();
    try (BufferedReader in =
        new BufferedReader(new InputStreamReader(call.getInputStream(), StandardCharsets.UTF_8))) {
      String first = in.readLine();
      if (!first.startsWith(":")) {
        heard.add(first);
      }
      meanwhile.run();
      while (heard.size() < lines) {
        String line = in.readLine();
        if (!line.isEmpty() && !line.startsWith(":")) {
          heard.add(line);
        }
      }
    } finally {
      call.disconnect();
    }
    return heard;
  }

  private static String add(String text) {
    return service.wire().add("note", "{\"t\": \"" + text + "\"}").json().path("id").asString();
  }

  @Test
  void whatCameWhileSomebodyWasAwayIsToldFirst() throws IOException {
    List<String> first = listen("", 2, () -> add("one"));
    assertThat(first.getFirst()).startsWith("id: ");
    String id = first.getFirst().substring("id: ".length());
    String two = add("two");
    String three = add("three");
    List<String> missed = listen(id, 4, () -> {});
    assertThat(missed.get(1)).contains(two);
    assertThat(missed.get(3)).contains(three);
    // Who has heard all hears only what is new.
    List<String> next = listen(missed.get(2).substring("id: ".length()), 2, () -> add("four"));
    assertThat(next.get(1)).doesNotContain(two).doesNotContain(three);
  }

  @Test
  void whatIsNotRememberedIsToBeLookedForAnew() throws IOException {
    assertThat(listen("of-another-process-7", 2, () -> {}))
        .containsExactly("event: reset", "data: {}");
  }

  @Test
  void someRecordsOfSeveralFormsAreToldFirstAsTheyAre() throws IOException {
    Wire wire = service.wire();
    wire.publish("memo", "form: memo\naccess: { see: anyone }\nfields: { t: { type: text } }");
    wire.publish("closed", "form: closed\nfields: { t: { type: text } }");
    String note = add("one");
    String memo = wire.add("memo", "{\"t\": \"a\"}").json().path("id").asString();
    String hidden = wire.add("closed", "{\"t\": \"a\"}").json().path("id").asString();
    String records =
        "/api/changes?record=note/%s&record=memo/%s&record=closed/%s&record=memo/gone"
            .formatted(note, memo, hidden);
    assertThat(
            listen(
                records,
                "",
                4,
                () -> {
                  add("two");
                  patch("closed", hidden);
                  patch("memo", memo);
                }))
        .containsExactly(
            event("note", note, 1),
            event("memo", memo, 1),
            event("memo", "gone", 0),
            event("memo", memo, 2));
  }

  private static void patch(String form, String id) {
    Wire.Reply reply =
        service
            .wire()
            .patch(
                "/api/forms/" + form + "/records/" + id,
                "application/merge-patch+json",
                "{\"t\": \"b\"}",
                "If-Match",
                "\"1\"");
    assertThat(reply.status()).isEqualTo(200);
  }

  private static String event(String form, String record, int version) {
    return "data: {\"form\":\"%s\",\"record\":\"%s\",\"version\":%d}"
        .formatted(form, record, version);
  }

  @Test
  void whoNamesNoRecordThatMayBeSeenIsTold() {
    service.wire().publish("shut", "form: shut\nfields: { t: { type: text } }");
    Wire stranger = service.stranger();
    assertThat(stranger.get("/api/changes").status()).isEqualTo(400);
    assertThat(stranger.get("/api/changes?record=" + "&record=a/b".repeat(100)).status())
        .isEqualTo(400);
    assertThat(stranger.get("/api/changes?record=shut/x").status()).isEqualTo(401);
    assertThat(stranger.get("/api/changes?record=nope/x").status()).isEqualTo(404);
    assertThat(stranger.get("/api/changes?record=/&record=").status()).isEqualTo(404);
    assertThat(stranger.get("/api/changes?recrod=note/x").response().body())
        .contains("Did you mean");
  }
}
