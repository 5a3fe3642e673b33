package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest;
import java.nio.file.Path;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A scanner looks at what came before a record may have it. */
class ScanWireTest {

  private static final String SURVEY =
      "form: survey\naccess: { add: anyone }\nfields: { report: { type: file, label: Report } }";

  @TempDir private static Path folder;

  private static StandInScanner scanner;
  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    Path socket = folder.resolve("clamd");
    scanner = new StandInScanner(socket);
    service = RunningService.with("nodley.scan.clamd: " + socket, "nodley.scan.time: 5s");
    wire = service.wire();
    assertThat(wire.publish("survey", SURVEY).status()).isEqualTo(201);
  }

  @AfterAll
  static void stop() throws Exception {
    service.close();
    scanner.close();
  }

  private static HttpRequest.Builder tus(String path) {
    return wire.request(path).header("Tus-Resumable", "1.0.0");
  }

  private static String begin(int length) {
    // The form "survey", its field "report", the name "hull.txt", in Base64.
    return wire.send(
            tus("/api/uploads")
                .header("Upload-Length", Integer.toString(length))
                .header("Upload-Metadata", "form c3VydmV5,field cmVwb3J0,filename aHVsbC50eHQ=")
                .POST(HttpRequest.BodyPublishers.noBody()))
        .header("Location");
  }

  private static Wire.Reply append(String at, String content) {
    return wire.send(
        tus(at)
            .header("Upload-Offset", "0")
            .header("Content-Type", "application/offset+octet-stream")
            .method("PATCH", HttpRequest.BodyPublishers.ofString(content)));
  }

  private static Wire.Reply head(String at) {
    return wire.send(tus(at).method("HEAD", HttpRequest.BodyPublishers.noBody()));
  }

  private static Wire.Reply add(String at) {
    return wire.add("survey", "{\"report\": \"upload:%s\"}".formatted(at.replaceFirst(".*/", "")));
  }

  @Test
  void whatDoesNoHarmIsTakenOver() {
    String content = "No osmosis. ".repeat(20_000);
    String at = begin(content.length());
    assertThat(append(at, content).status()).isEqualTo(204);
    assertThat(add(at).status()).isEqualTo(201);
  }

  @Test
  void whatDoesHarmIsRefusedAndGone() {
    String at = begin(11);
    Wire.Reply refused = append(at, "It has HARM");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.json().path("type").asString()).isEqualTo("/problems/file-harmful");
    assertThat(refused.json().path("detail").asString())
        .isEqualTo("Report: hull.txt was not taken, for its content could do harm.");
    assertThat(head(at).status()).isEqualTo(404);
    assertThat(add(at).json().at("/errors/0/code").asString()).isEqualTo("no-such-upload");
  }

  @Test
  void withinASubmissionItIsAnErrorOfItsField() {
    Wire.Reply refused =
        service
            .stranger()
            .post(
                "/api/forms/survey/records",
                "multipart/form-data; boundary=edge",
                "--edge\r\nContent-Disposition: form-data; name=\"report\"; filename=\"a.txt\"\r\n"
                    + "Content-Type: text/plain\r\n\r\nHARM\r\n--edge--\r\n");
    assertThat(refused.status()).isEqualTo(422);
    assertThat(refused.json().at("/errors/0/code").asString()).isEqualTo("file-harmful");
    assertThat(refused.json().at("/errors/0/pointer").asString()).isEqualTo("#/report");
  }

  @Test
  void untilItHasAnsweredNothingIsTakenOver() {
    String at = begin(4);
    scanner.away(true);
    try {
      Wire.Reply waits = append(at, "fine");
      assertThat(waits.status()).isEqualTo(503);
      assertThat(waits.header("Retry-After")).isEqualTo("10");
      assertThat(waits.json().path("type").asString()).isEqualTo("/problems/unscanned");
      assertThat(head(at).status()).isEqualTo(503);
      assertThat(add(at).json().at("/errors/0/code").asString()).isEqualTo("no-such-upload");
    } finally {
      scanner.away(false);
    }
    assertThat(head(at).header("Upload-Offset")).isEqualTo("4");
    assertThat(add(at).status()).isEqualTo(201);
  }

  @Test
  void whatIsTooLongForTheScannerWaits() {
    String content = "x".repeat(3 << 20);
    String at = begin(content.length());
    assertThat(append(at, content).status()).isEqualTo(503);
  }
}
