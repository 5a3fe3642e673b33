package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.http.HttpRequest;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;
import java.util.Base64;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import nodley.cli.ClientRun;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Files go up by the tus protocol, and records take them over. */
class UploadWireTest {

  private static final String LOG =
      """
      form: log
      access: { add: anyone, see: anyone, edit: signed-in }
      called: "{title}"
      fields:
        title: { type: text }
        photo: { type: file, size: ..64 KiB, accept: [image/*] }
        papers: { type: file, count: 0..3, size: ..1 MiB }
        crew:
          type: rows
          fields:
            name: { type: text }
            passport: { type: file, accept: [.pdf, .txt] }
        secretPlan: { type: file, see: harbour-master, edit: harbour-master }
      """;

  /** The smallest picture: one pixel, as GIF87a has it. */
  private static final byte[] GIF =
      Base64.getDecoder().decode("R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7");

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    assertThat(wire.publish("log", LOG).status()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static byte[] bytes(int length) {
    byte[] bytes = new byte[length];
    new Random(length).nextBytes(bytes);
    // No type has such a beginning.
    bytes[0] = 1;
    bytes[1] = 2;
    return bytes;
  }

  private static String digest(String algorithm, byte[] bytes) {
    try {
      return HexFormat.of().formatHex(MessageDigest.getInstance(algorithm).digest(bytes));
    } catch (NoSuchAlgorithmException e) {
      throw new AssertionError(e);
    }
  }

  private static String metadata(String field, String name) {
    return Stream.of("form", "log", "field", field, "filename", name)
        .reduce(
            "",
            (all, part) ->
                List.of("form", "field", "filename").contains(part) && !all.endsWith(" ")
                    ? all + (all.isEmpty() ? "" : ",") + part + " "
                    : all
                        + Base64.getEncoder()
                            .encodeToString(part.getBytes(StandardCharsets.UTF_8)));
  }

  private static Wire.Reply begin(Wire by, String field, String name, long length) {
    return by.send(
        by.request("/api/uploads")
            .header("Tus-Resumable", "1.0.0")
            .header("Upload-Length", Long.toString(length))
            .header("Upload-Metadata", metadata(field, name))
            .POST(HttpRequest.BodyPublishers.noBody()));
  }

  private static Wire.Reply append(
      Wire by, String location, long offset, byte[] bytes, String... headers) {
    HttpRequest.Builder request =
        by.request(location)
            .header("Tus-Resumable", "1.0.0")
            .header("Upload-Offset", Long.toString(offset))
            .header("Content-Type", "application/offset+octet-stream")
            .method("PATCH", HttpRequest.BodyPublishers.ofByteArray(bytes));
    for (int i = 0; i < headers.length; i += 2) {
      request.header(headers[i], headers[i + 1]);
    }
    return by.send(request);
  }

  private static Wire.Reply head(Wire by, String location) {
    return by.send(
        by.request(location)
            .header("Tus-Resumable", "1.0.0")
            .method("HEAD", HttpRequest.BodyPublishers.noBody()));
  }

  /** Sends a whole file; the value that stands for it. */
  private static String upload(Wire by, String field, String name, byte[] bytes) {
    Wire.Reply begun = begin(by, field, name, bytes.length);
    assertThat(begun.status()).as(begun.response().body()).isEqualTo(201);
    Wire.Reply sent = append(by, begun.header("Location"), 0, bytes);
    assertThat(sent.status()).as(sent.response().body()).isEqualTo(204);
    return "upload:" + begun.header("Location").replaceFirst(".*/", "");
  }

  private static Path content(byte[] bytes) {
    String sha256 = digest("SHA-256", bytes);
    return service.data().resolve("files").resolve(sha256.substring(0, 2)).resolve(sha256);
  }

  @Test
  void whatTheServiceCanDoIsToldByOptions() {
    Wire stranger = service.stranger();
    Wire.Reply options =
        stranger.send(
            stranger
                .request("/api/uploads")
                .method("OPTIONS", HttpRequest.BodyPublishers.noBody()));
    assertThat(options.status()).isEqualTo(204);
    assertThat(options.header("Tus-Resumable")).isEqualTo("1.0.0");
    assertThat(options.header("Tus-Version")).isEqualTo("1.0.0");
    assertThat(options.header("Tus-Extension").split(","))
        .contains("creation", "creation-with-upload", "expiration", "checksum", "termination")
        .doesNotContain("concatenation");
    assertThat(options.header("Tus-Checksum-Algorithm")).contains("sha1");
  }

  @Test
  void aFileInPiecesBecomesTheValueOfARecord() throws IOException {
    byte[] bytes = bytes(100_000);
    Wire.Reply begun = begin(wire, "papers", "Logbuch ⚓ 2027.bin", bytes.length);
    assertThat(begun.status()).isEqualTo(201);
    assertThat(begun.header("Upload-Expires")).endsWith("GMT");
    String location = begun.header("Location");
    Wire.Reply first = append(wire, location, 0, Arrays.copyOf(bytes, 30_000));
    assertThat(first.status()).isEqualTo(204);
    assertThat(first.header("Upload-Offset")).isEqualTo("30000");
    Wire.Reply half = head(wire, location);
    assertThat(half.header("Upload-Offset")).isEqualTo("30000");
    assertThat(half.header("Upload-Length")).isEqualTo("100000");
    assertThat(half.header("Cache-Control")).isEqualTo("no-store");
    String value = "upload:" + location.replaceFirst(".*/", "");
    String values = "{\"title\": \"A\", \"papers\": [\"%s\"]}".formatted(value);
    Wire.Reply early = wire.add("log", values);
    assertThat(early.status()).isEqualTo(422);
    assertThat(early.codeOf("papers")).isEqualTo("no-such-upload");
    assertThat(early.json().path("values").path("papers").get(0).asString()).isEqualTo(value);

    service.restart();
    wire = service.wire();
    assertThat(head(wire, location).header("Upload-Offset")).isEqualTo("30000");
    Wire.Reply rest =
        append(wire, location, 30_000, Arrays.copyOfRange(bytes, 30_000, bytes.length));
    assertThat(rest.header("Upload-Offset")).isEqualTo("100000");
    assertThat(wire.check("log", "", values).json().path("verdict").asString())
        .isEqualTo("accepted");
    Wire.Reply added = wire.add("log", values);
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    JsonNode file = added.json().path("values").path("papers").get(0);
    assertThat(file.path("name").asString()).isEqualTo("Logbuch ⚓ 2027.bin");
    assertThat(file.path("type").asString()).isEqualTo("application/octet-stream");
    assertThat(file.path("size").asInt()).isEqualTo(100_000);
    assertThat(file.path("sha256").asString()).isEqualTo(digest("SHA-256", bytes));
    assertThat(Files.readAllBytes(content(bytes))).isEqualTo(bytes);

    Wire.Reply whole = wire.get(file.path("href").asString());
    assertThat(whole.status()).isEqualTo(200);
    assertThat(whole.header("Content-Length")).isEqualTo("100000");
    assertThat(whole.header("ETag")).isEqualTo("\"" + digest("SHA-256", bytes) + "\"");
    assertThat(whole.header("X-Content-Type-Options")).isEqualTo("nosniff");
    assertThat(whole.header("Content-Security-Policy")).startsWith("sandbox;");
    assertThat(whole.header("Content-Disposition"))
        .startsWith("attachment;")
        .contains("filename*=UTF-8''Logbuch%20%E2%9A%93%202027.bin");
    Wire.Reply part = wire.get(file.path("href").asString(), "Range", "bytes=5-9");
    assertThat(part.status()).isEqualTo(206);
    assertThat(part.header("Content-Range")).isEqualTo("bytes 5-9/100000");
    assertThat(
            wire.get(file.path("href").asString(), "If-None-Match", whole.header("ETag")).status())
        .isEqualTo(304);

    Wire.Reply again = wire.add("log", values);
    assertThat(again.codeOf("papers")).as("taken over once").isEqualTo("no-such-upload");
    assertThat(head(wire, location).status()).isEqualTo(404);
  }

  @Test
  void anEditKeepsFilesThatItNamesAndRemovalTakesTheContentAway() {
    byte[] one = bytes(1_001);
    byte[] two = bytes(1_002);
    Wire.Reply added =
        wire.add(
            "log",
            "{\"papers\": [\"%s\", \"%s\"], \"crew\": [{\"name\": \"Ann\", \"passport\": \"%s\"}]}"
                .formatted(
                    upload(wire, "papers", "one.bin", one),
                    upload(wire, "papers", "two.bin", two),
                    upload(
                        wire, "crew.passport", "ann.txt", "Ann".getBytes(StandardCharsets.UTF_8))));
    assertThat(added.status()).as(added.response().body()).isEqualTo(201);
    String record = added.header("Location");
    JsonNode values = added.json().path("values");
    assertThat(values.path("crew").get(0).path("passport").path("href").asString())
        .isEqualTo(record + "/files/crew.0.passport/0");
    assertThat(wire.get(record + "/files/crew.0.passport/0").response().body()).isEqualTo("Ann");

    // What a record tells can be sent again as it is, and its digest alone stands for a file.
    Wire.Reply edited =
        wire.put(
            record,
            Wire.JSON_TYPE,
            "{\"title\": \"B\", \"papers\": [%s], \"crew\": %s}"
                .formatted(values.path("papers").get(1), values.path("crew")),
            "If-Match",
            "\"1\"");
    assertThat(edited.status()).as(edited.response().body()).isEqualTo(200);
    assertThat(edited.json().path("values").path("papers").get(0).path("name").asString())
        .isEqualTo("two.bin");
    assertThat(content(one)).as("an earlier version has it").exists();
    Wire.Reply restored =
        wire.post(record + "/versions/1/restore", Wire.JSON_TYPE, "", "If-Match", "\"2\"");
    assertThat(restored.status()).as(restored.response().body()).isEqualTo(200);
    assertThat(restored.json().path("values").path("papers").get(0).path("name").asString())
        .isEqualTo("one.bin");

    // A file of another record is none of this one's.
    Wire.Reply foreign =
        wire.add("log", "{\"papers\": [\"sha256:%s\"]}".formatted(digest("SHA-256", one)));
    assertThat(foreign.codeOf("papers")).isEqualTo("no-such-upload");

    assertThat(wire.delete(record, "If-Match", "\"3\"").status()).isEqualTo(204);
    Awaited.until(
        "the contents are gone", () -> !Files.exists(content(one)) && !Files.exists(content(two)));
  }

  @Test
  void theSameContentIsKeptOnce() {
    byte[] bytes = bytes(2_000);
    String first = upload(wire, "papers", "a.bin", bytes);
    String second = upload(wire, "papers", "b.bin", bytes);
    Wire.Reply added = wire.add("log", "{\"papers\": [\"%s\", \"%s\"]}".formatted(first, second));
    assertThat(added.json().path("values").path("papers")).hasSize(2);
    assertThat(content(bytes)).exists();
  }

  @ParameterizedTest
  @CsvSource({
    "photo, a.gif, 70000, 413, file-too-large, 'Photo: a.gif has 68.4 KiB; at most 64 KiB is"
        + " allowed.'",
    "nothing, a.gif, 10, 404, no-such-field, 'Form log has no field of files \"nothing\".'",
    "title, a.gif, 10, 404, no-such-field, 'Form log has no field of files \"title\".'",
    "secretPlan, a.gif, 10, 404, no-such-field, 'Form log has no field of files \"secretPlan\".'",
    "papers, a.gif, 999999999999, 413, file-too-large, 'Papers: a.gif has 931.3 GiB; at most 1 MiB"
        + " is allowed.'",
  })
  void whatCannotBecomeAValueIsRefusedBeforeItComes(
      String field, String name, long size, int status, String type, String detail) {
    Wire.Reply begun = begin(service.stranger(), field, name, size);
    assertThat(begun.status()).isEqualTo(status);
    assertThat(begun.json().path("type").asString()).isEqualTo("/problems/" + type);
    assertThat(begun.json().path("detail").asString()).isEqualTo(detail);
  }

  @Test
  void theTypeIsFoundFromTheContent() {
    byte[] script = "#!/bin/sh\necho gone\n".getBytes(StandardCharsets.UTF_8);
    Wire.Reply begun = begin(wire, "photo", "harbour.png", script.length);
    Wire.Reply sent = append(wire, begun.header("Location"), 0, script);
    assertThat(sent.status()).isEqualTo(415);
    assertThat(sent.json().path("type").asString()).isEqualTo("/problems/file-type");
    assertThat(sent.json().path("detail").asString())
        .startsWith("Photo: harbour.png is of the type ")
        .endsWith("; accepted: image/*.");
    assertThat(head(wire, begun.header("Location")).status()).isEqualTo(404);
    Wire.Reply added =
        wire.add("log", "{\"photo\": \"%s\"}".formatted(upload(wire, "photo", "x.exe", GIF)));
    JsonNode file = added.json().path("values").path("photo");
    assertThat(file.path("type").asString()).isEqualTo("image/gif");
    assertThat(wire.get(file.path("href").asString()).header("Content-Disposition"))
        .startsWith("inline;");
    Wire.Reply small = wire.get(file.path("href").asString() + "?thumbnail");
    assertThat(small.header("Content-Type")).as(small.response().body()).isEqualTo("image/png");
  }

  @Test
  void aWrongChecksumLeavesNothing() throws NoSuchAlgorithmException {
    byte[] bytes = bytes(5_000);
    String sha1 =
        "sha1 "
            + Base64.getEncoder().encodeToString(MessageDigest.getInstance("SHA-1").digest(bytes));
    String location = begin(wire, "papers", "c.bin", bytes.length).header("Location");
    byte[] damaged = bytes.clone();
    damaged[77]++;
    Wire.Reply wrong = append(wire, location, 0, damaged, "Upload-Checksum", sha1);
    assertThat(wrong.status()).isEqualTo(460);
    assertThat(head(wire, location).header("Upload-Offset")).isEqualTo("0");
    assertThat(append(wire, location, 0, bytes, "Upload-Checksum", "crc32 AAAA").status())
        .isEqualTo(400);
    assertThat(append(wire, location, 0, bytes, "Upload-Checksum", sha1).status()).isEqualTo(204);
  }

  @Test
  void bytesForAnotherPlaceAndBytesBeyondTheEndAreRefused() {
    String location = begin(wire, "papers", "d.bin", 100).header("Location");
    assertThat(append(wire, location, 0, bytes(60)).status()).isEqualTo(204);
    Wire.Reply again = append(wire, location, 0, bytes(60));
    assertThat(again.status()).isEqualTo(409);
    assertThat(again.json().path("detail").asString())
        .isEqualTo(
            "The bytes begin at 0, and the upload goes on at 60. Ask for the offset with HEAD, and"
                + " go on from there.");
    Wire.Reply more = append(wire, location, 60, bytes(41));
    assertThat(more.status()).isEqualTo(413);
    assertThat(head(wire, location).header("Upload-Offset")).isEqualTo("60");
  }

  @Test
  void whoSentItAloneMayUseIt() {
    String person = service.signIn("mara", "[]");
    String location = begin(wire, "papers", "e.bin", 4).header("Location");
    Wire.Reply other =
        service
            .stranger()
            .send(
                service
                    .stranger()
                    .request(location)
                    .header("Cookie", person)
                    .header("Tus-Resumable", "1.0.0")
                    .method("HEAD", HttpRequest.BodyPublishers.noBody()));
    assertThat(other.status()).isEqualTo(404);
    assertThat(append(wire, location, 0, bytes(4)).status()).isEqualTo(204);
    Wire.Reply taken =
        service
            .stranger()
            .add(
                "log", "{\"papers\": [\"upload:%s\"]}".formatted(location.replaceFirst(".*/", "")));
    assertThat(taken.codeOf("papers")).isEqualTo("no-such-upload");
  }

  @Test
  void anUploadThatIsEndedIsGone() {
    String location = begin(wire, "papers", "f.bin", 10).header("Location");
    assertThat(wire.delete(location).status()).as("without a version").isEqualTo(412);
    assertThat(wire.delete(location, "Tus-Resumable", "1.0.0").status()).isEqualTo(204);
    assertThat(head(wire, location).status()).isEqualTo(404);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "a/b\\..\\..\\etc/passwd      | passwd",
        "../../x.txt                  | x.txt",
        "'photo\u202Egnp.exe'         | photo_gnp.exe",
        "CON.txt                      | _CON.txt",
        "'a\u0000b'                   | a_b",
        "'   '                        | file",
        "'.htaccess'                  | _htaccess",
        "'a\"b<c>.txt. '              | a_b_c_.txt",
        "Ankunft 🚤.jpg               | Ankunft 🚤.jpg",
      })
  void namesAreSafeToShowAndToSave(String sent, String kept) {
    String location = begin(wire, "papers", sent, 10).header("Location");
    assertThat(wire.get(location).json().path("name").asString()).isEqualTo(kept);
  }

  @Test
  void aLongNameKeepsItsEnding() {
    String location = begin(wire, "papers", "é".repeat(300) + ".jpeg", 10).header("Location");
    assertThat(wire.get(location).json().path("name").asString())
        .isEqualTo("é".repeat(195) + ".jpeg");
  }

  @Test
  void theClientUploadsFilesThatValuesName() throws IOException {
    byte[] bytes = bytes(9 << 20);
    assertThat(
            wire.publish(
                    "crate",
                    "form: crate\n"
                        + "fields: { photo: { type: file, size: ..20 MiB }, label: { type: text }"
                        + " }")
                .status())
        .isEqualTo(201);
    Map<String, String> environment =
        Map.of("NODLEY_AT", service.address(), "NODLEY_KEY", RunningService.KEY);
    Path file = Files.write(service.data().resolveSibling("crate-photo.bin"), bytes);
    ClientRun added = ClientRun.of(environment, "add", "crate", "photo=@" + file);
    assertThat(added.status()).as(added.out()).isZero();
    JsonNode photo =
        wire.get("/api/forms/crate/records")
            .json()
            .path("records")
            .get(0)
            .path("values")
            .path("photo");
    assertThat(photo.path("sha256").asString()).isEqualTo(digest("SHA-256", bytes));
    ClientRun shown =
        ClientRun.of(
            environment,
            "record",
            "crate",
            added.out().lines().reduce((_, last) -> last).orElseThrow());
    assertThat(shown.out()).contains("crate-photo.bin (9 MiB)");
    ClientRun none = ClientRun.of(environment, "add", "crate", "photo=@no-such-file.png");
    assertThat(none.status()).isEqualTo(2);
    assertThat(none.out().lines())
        .containsExactly("There is no file no-such-file.png.", "See nodley add --help.");
    assertThat(ClientRun.of(environment, "add", "crate", "photo=quay.jpg").out())
        .contains("\"photo\" takes files: name one as photo=@quay.jpg.");
  }

  @Test
  void whoIsForgottenTakesWaitingFilesAlong() {
    String session = service.signIn("petra", "[]");
    byte[] bytes = bytes(3_333);
    Wire.Reply sent =
        service
            .stranger()
            .send(
                service
                    .stranger()
                    .request("/api/uploads")
                    .header("Cookie", session)
                    .header("Tus-Resumable", "1.0.0")
                    .header("Upload-Length", "3333")
                    .header("Upload-Metadata", metadata("papers", "petra.bin"))
                    .header("Content-Type", "application/offset+octet-stream")
                    .POST(HttpRequest.BodyPublishers.ofByteArray(bytes)));
    assertThat(sent.status()).as(sent.response().body()).isEqualTo(201);
    assertThat(content(bytes)).exists();
    assertThat(wire.post("/api/people/petra/forget", Wire.JSON_TYPE, "").status()).isEqualTo(200);
    assertThat(content(bytes)).doesNotExist();
  }
}
