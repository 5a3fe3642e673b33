package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assumptions.assumeThat;

import java.io.IOException;
import java.net.http.HttpRequest;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * A disk that is really full: a small file system of its own, where mounting one is permitted;
 * where not, {@code WriterTest} does the same by SQLite's limit of pages.
 */
class FullDiskIT {

  private static final String BUOY =
      "form: buoy\nfields:\n  name: { type: text, required: true, unique: true }\n"
          + "  notes: { type: text, multiline: true }\n";

  @TempDir private Path disk;

  private static int run(Object... command) throws Exception {
    String[] words = List.of(command).stream().map(Object::toString).toArray(String[]::new);
    try {
      return new ProcessBuilder(words).inheritIO().start().waitFor();
    } catch (IOException e) {
      return -1;
    }
  }

  @BeforeEach
  void mount() throws Exception {
    int status = run("mount", "-t", "tmpfs", "-o", "size=24m", "nodley-small-disk", disk);
    assumeThat(status).as("mounting a file system is permitted").isZero();
  }

  @AfterEach
  void unmount() throws Exception {
    run("umount", disk);
  }

  private static Wire.Reply add(Wire wire, int number) {
    String notes = "The light is out. ".repeat(2_000);
    return wire.add("buoy", "{\"name\":\"B" + number + "\",\"notes\":\"" + notes + "\"}");
  }

  @Test
  void uploadsGet507NothingIsHalfTakenAndTheyGoOnWhenThereIsRoom() throws Exception {
    Path data = disk.resolve("data");
    byte[] bytes = new byte[8 << 20];
    new Random(3).nextBytes(bytes);
    Map<String, String> settings =
        Map.of("NODLEY_ADMIN_KEY", RunningService.KEY, "NODLEY_LIMITS_UPLOAD_FREEDISK", "0B");
    try (Program service = Program.service(settings, "serve", "--data", data, "--port", 0)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      wire.publish("survey", "form: survey\nfields: { report: { type: file } }");
      Wire.Reply begun = begin(wire, bytes.length);
      String at = begun.header("Location");
      Path ballast = disk.resolve("ballast");
      Files.write(ballast, new byte[16 << 20]);
      assertThat(begin(wire, bytes.length).status()).isEqualTo(507);
      Wire.Reply full = append(wire, at, 0, bytes);
      assertThat(full.status()).isEqualTo(507);
      assertThat(full.json().path("type").asString()).isEqualTo("/problems/no-room");
      String value = "upload:" + at.replaceFirst(".*/", "");
      Wire.Reply early = wire.add("survey", "{\"report\": \"%s\"}".formatted(value));
      assertThat(early.json().at("/errors/0/code").asString()).isEqualTo("no-such-upload");
      Files.delete(ballast);
      int there = Integer.parseInt(offset(wire, at));
      assertThat(there).isBetween(1, bytes.length - 1);
      byte[] rest = Arrays.copyOfRange(bytes, there, bytes.length);
      assertThat(append(wire, at, there, rest).status()).isEqualTo(204);
      JsonNode kept = wire.add("survey", "{\"report\": \"%s\"}".formatted(value)).json();
      assertThat(kept.at("/values/report/sha256").asString())
          .isEqualTo(HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(bytes)));
    }
  }

  private static HttpRequest.Builder tus(Wire wire, String path) {
    return wire.request(path).header("Tus-Resumable", "1.0.0");
  }

  private static Wire.Reply begin(Wire wire, long length) {
    // The form "survey", its field "report", in Base64.
    return wire.send(
        tus(wire, "/api/uploads")
            .header("Upload-Length", Long.toString(length))
            .header("Upload-Metadata", "form c3VydmV5,field cmVwb3J0")
            .POST(HttpRequest.BodyPublishers.noBody()));
  }

  private static Wire.Reply append(Wire wire, String at, long offset, byte[] bytes) {
    return wire.send(
        tus(wire, at)
            .header("Upload-Offset", Long.toString(offset))
            .header("Content-Type", "application/offset+octet-stream")
            .method("PATCH", HttpRequest.BodyPublishers.ofByteArray(bytes)));
  }

  private static String offset(Wire wire, String at) {
    return wire.send(tus(wire, at).method("HEAD", HttpRequest.BodyPublishers.noBody()))
        .header("Upload-Offset");
  }

  @Test
  void submissionsGet503NothingIsHalfWrittenAndItGoesOnByItselfWhenThereIsRoom() throws Exception {
    Path data = disk.resolve("data");
    List<String> kept = new ArrayList<>();
    try (Program service =
        Program.service(
            Map.of("NODLEY_ADMIN_KEY", RunningService.KEY), "serve", "--data", data, "--port", 0)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(wire.publish("buoy", BUOY).status()).isEqualTo(201);
      Path ballast = disk.resolve("ballast");
      Files.write(ballast, new byte[6 << 20]);
      Wire.Reply reply = add(wire, 0);
      for (int i = 1; reply.status() == 201 && i < 1_000; i++) {
        kept.add(reply.json().path("id").asString());
        reply = add(wire, i);
      }
      assertThat(kept).isNotEmpty();
      assertThat(reply.status()).isEqualTo(503);
      assertThat(reply.header("Retry-After")).isNotEmpty();
      assertThat(reply.json().path("type").asString()).isEqualTo("/problems/unavailable");
      assertThat(wire.get("/api/forms/buoy/records?limit=1").status())
          .as("what is there can be read")
          .isEqualTo(200);
      assertThat(add(wire, 2_000).status()).isEqualTo(503);
      Files.delete(ballast);
      Wire.Reply again = add(wire, 3_000);
      assertThat(again.status()).isEqualTo(201);
      kept.add(again.json().path("id").asString());
      List<String> found = new ArrayList<>();
      wire.get("/api/forms/buoy/records?sort=createdAt&limit=1000")
          .json()
          .path("records")
          .forEach(record -> found.add(record.path("id").asString()));
      assertThat(found).isEqualTo(kept);
    }
    try (Program doctor = Program.service(Map.of(), "doctor", "--data", data)) {
      Program.Ended ended = doctor.ended();
      assertThat(ended.out().lines().filter(it -> it.startsWith("wrong") && !it.contains("disk")))
          .isEmpty();
      assertThat(ended.out()).contains("integrity").contains("every page and index is sound");
    }
  }
}
