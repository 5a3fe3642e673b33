package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.util.Base64;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Submissions whose files come with them, as browsers send them without script. */
class MultipartTest {

  private static final String LOG =
      """
      form: log
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        title: { type: text, required: true, length: ..20 }
        photo: { type: file, size: ..64 KiB, accept: [.txt] }
        papers: { type: file, count: 0..3 }
        crew: { type: rows, fields: { who: { type: text }, note: { type: file } } }
      """;

  private static final String EDGE = "edge-of-a-part";

  private static RunningService service;
  private static Wire stranger;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    assertThat(service.wire().publish("log", LOG).status()).isEqualTo(201);
    stranger = service.stranger();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  /** Parts, each {@code name=value}, or {@code name@file.txt=content}. */
  private static String body(String... parts) {
    StringBuilder body = new StringBuilder();
    for (String part : parts) {
      String name = part.substring(0, part.indexOf('='));
      int at = name.indexOf('@');
      body.append("--" + EDGE + "\r\nContent-Disposition: form-data; name=\"")
          .append(at < 0 ? name : name.substring(0, at))
          .append('"');
      if (at >= 0) {
        body.append("; filename=\"").append(name.substring(at + 1));
        body.append("\"\r\nContent-Type: application/octet-stream");
      }
      body.append("\r\n\r\n").append(part.substring(part.indexOf('=') + 1)).append("\r\n");
    }
    return body.append("--" + EDGE + "--\r\n").toString();
  }

  private static Wire.Reply send(String path, String[] headers, String... parts) {
    return stranger.post(path, "multipart/form-data; boundary=" + EDGE, body(parts), headers);
  }

  private static Wire.Reply send(String path, String... parts) {
    return send(path, new String[0], parts);
  }

  @Test
  void itMeansTheSameAsFormEncoding() {
    Wire.Reply added =
        send(
            "/api/forms/log/records",
            "title=Überfahrt",
            "photo@=",
            "papers@a.txt=one",
            "papers@b.txt=two",
            "crew[0].who=Ann",
            "crew[0].note@n.txt=three");
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    JsonNode values = added.json().path("values");
    assertThat(values.path("title").asString()).isEqualTo("Überfahrt");
    assertThat(values.has("photo")).isFalse();
    assertThat(values.path("papers").get(1).path("name").asString()).isEqualTo("b.txt");
    JsonNode note = values.path("crew").get(0).path("note");
    assertThat(stranger.get(note.path("href").asString()).response().body()).isEqualTo("three");
  }

  @Test
  void aRefusalKeepsTheFilesOnThePage() {
    String[] browser = {"Sec-Fetch-Site", "same-origin"};
    Wire.Reply refused =
        send(
            "/forms/log/new",
            browser,
            "_key=first-try",
            "title=much longer than may be",
            "photo@harbour.txt=grey water");
    assertThat(refused.status()).isEqualTo(422);
    Matcher kept =
        Pattern.compile(
                "name=\"photo\" value=\"(upload:[^\"]+)\" checked> <a"
                    + " href=\"([^\"]+)\">harbour.txt")
            .matcher(refused.response().body());
    assertThat(kept.find()).as(refused.response().body()).isTrue();
    String cookie = refused.header("Set-Cookie").replaceFirst(";.*", "");
    assertThat(refused.header("Set-Cookie")).contains("HttpOnly").contains("SameSite=Lax");
    assertThat(stranger.get(kept.group(2), "Cookie", cookie).response().body())
        .isEqualTo("grey water");
    assertThat(stranger.get(kept.group(2)).status()).as("another browser").isEqualTo(404);

    Wire.Reply mended =
        send(
            "/forms/log/new",
            new String[] {"Cookie", cookie, "Sec-Fetch-Site", "same-origin"},
            "_key=first-try",
            "title=short",
            "photo=" + kept.group(1),
            "photo@=");
    assertThat(mended.status()).isEqualTo(303);
    String page = stranger.get(mended.header("Location")).response().body();
    assertThat(page).contains("/files/photo/0\">harbour.txt</a>");
  }

  @Test
  void aNewFileTakesThePlaceOfTheOneThatIsThere() {
    String record =
        send("/api/forms/log/records", "title=A", "photo@one.txt=1").json().path("id").asString();
    String edit = stranger.get("/forms/log/" + record + "/edit").response().body();
    Matcher kept = Pattern.compile("value=\"(sha256:[0-9a-f]{64})\" checked").matcher(edit);
    assertThat(kept.find()).isTrue();
    Wire.Reply same =
        send(
            "/forms/log/" + record + "/edit",
            "_version=1",
            "_key=second",
            "title=B",
            "photo=" + kept.group(1),
            "photo@=");
    assertThat(same.status()).as(same.response().body()).isEqualTo(303);
    Wire.Reply other =
        send(
            "/forms/log/" + record + "/edit",
            "_version=2",
            "_key=third",
            "title=B",
            "photo=" + kept.group(1),
            "photo@two.txt=2");
    assertThat(other.status()).isEqualTo(303);
    Wire.Reply now = stranger.get("/api/forms/log/records/" + record);
    assertThat(now.json().path("values").path("photo").path("name").asString())
        .isEqualTo("two.txt");
    Wire.Reply none =
        send("/forms/log/" + record + "/edit", "_version=3", "_key=fourth", "title=B", "photo@=");
    assertThat(none.status()).isEqualTo(303);
    assertThat(stranger.get("/api/forms/log/records/" + record).json().path("values").has("photo"))
        .as("unticked")
        .isFalse();
  }

  @Test
  void aFileThatTheFieldDoesNotTakeIsAnErrorOfTheField() {
    Wire.Reply large =
        send("/api/forms/log/records", "title=A", "photo@large.txt=" + "x".repeat(65_537));
    assertThat(large.status()).isEqualTo(422);
    assertThat(large.codeOf("photo")).isEqualTo("file-too-large");
    assertThat(large.json().path("errors").get(0).path("detail").asString())
        .isEqualTo("Photo: large.txt has 64 KiB; at most 64 KiB is allowed.");
    Wire.Reply page =
        send("/api/forms/log/records", "title=A", "photo@page.txt=<!DOCTYPE html><html><p>");
    assertThat(page.codeOf("photo")).isEqualTo("file-type");
    String reference = page.json().path("values").path("photo").asString();
    Wire.Reply forged =
        stranger.add("log", "{\"title\": \"A\", \"photo\": \"%s\"}".formatted(reference));
    assertThat(forged.codeOf("photo")).isEqualTo("file-type");
    // The same made up for a file that the field would take: 4 bytes of text/plain.
    String madeUp =
        "refused:"
            + Base64.getUrlEncoder()
                .encodeToString("4 text/plain a.txt".getBytes(StandardCharsets.UTF_8));
    assertThat(
            stranger
                .add("log", "{\"title\": \"A\", \"photo\": \"%s\"}".formatted(madeUp))
                .codeOf("photo"))
        .isEqualTo("no-such-upload");
  }

  @Test
  void whatIsSentAgainUnderOneKeyIsTheSameSubmission() {
    String[] key = {"Idempotency-Key", "once-with-a-file"};
    Wire.Reply first = send("/api/forms/log/records", key, "title=A", "papers@a.txt=same");
    assertThat(first.status()).isEqualTo(201);
    Wire.Reply again = send("/api/forms/log/records", key, "title=A", "papers@a.txt=same");
    assertThat(again.status()).isEqualTo(201);
    assertThat(again.json().path("id")).isEqualTo(first.json().path("id"));
    assertThat(send("/api/forms/log/records", key, "title=A", "papers@a.txt=other").status())
        .isEqualTo(422);
  }

  @Test
  void whatIsNoMultipartBodyIsToldSo() {
    Wire.Reply none = stranger.post("/api/forms/log/records", "multipart/form-data", "title=A");
    assertThat(none.status()).isEqualTo(400);
    Wire.Reply cut =
        stranger.post(
            "/api/forms/log/records",
            "multipart/form-data; boundary=" + EDGE,
            body("title=A").substring(0, 30));
    assertThat(cut.status()).isEqualTo(400);
    assertThat(cut.json().path("type").asString()).isEqualTo("/problems/unreadable");
    assertThat(stranger.post("/api/forms/log/records", "text/plain", "A").header("Accept-Post"))
        .isEqualTo("application/json, application/x-www-form-urlencoded, multipart/form-data");
  }

  @Test
  void aBodyBeyondWhatItsFormTakesIsRefusedBeforeItIsTakenIn() throws Exception {
    assertThat(
            service
                .wire()
                .publish(
                    "note", "form: note\naccess: { add: anyone }\nfields: { text: { type: text } }")
                .status())
        .isEqualTo(201);
    // Three times a body's 1 MiB; its answer comes though no more than the header was sent.
    try (Socket socket = new Socket("127.0.0.1", URI.create(service.address()).getPort())) {
      socket
          .getOutputStream()
          .write(
              ("POST /api/forms/note/records HTTP/1.1\r\nHost: 127.0.0.1\r\n"
                      + "Content-Type: multipart/form-data; boundary=x\r\n"
                      + "Content-Length: 3145729\r\n\r\n")
                  .getBytes(StandardCharsets.US_ASCII));
      byte[] answer = socket.getInputStream().readNBytes(12);
      assertThat(new String(answer, StandardCharsets.US_ASCII)).isEqualTo("HTTP/1.1 413");
    }
    assertThat(
            stranger
                .send(
                    stranger
                        .request("/api/forms/note/records")
                        .header("Content-Type", "multipart/form-data; boundary=" + EDGE)
                        .POST(
                            HttpRequest.BodyPublishers.ofInputStream(
                                () ->
                                    new ByteArrayInputStream(
                                        body("text=a").getBytes(StandardCharsets.UTF_8)))))
                .status())
        .isEqualTo(411);
  }
}
