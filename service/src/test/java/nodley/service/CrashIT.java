package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import nodley.store.care.Doctor;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * The service is killed at random moments under load, and started again on the same data. {@code
 * -Dcrashes=50} for the whole of it.
 */
class CrashIT {

  private static final int CRASHES = Integer.getInteger("crashes", 3);
  private static final int SENDERS = 8;

  private final Receiver office = new Receiver();

  private final Map<String, String> settings =
      Map.of(
          "NODLEY_ADMIN_KEY",
          RunningService.KEY,
          "NODLEY_OUTLETS_OFFICE_URL",
          office.url("/"),
          "NODLEY_OUTLETS_OFFICE_PRIVATE",
          "true",
          "NODLEY_DELIVERIES_FIRSTWAIT",
          "50ms");

  private static final String CONVOY =
      """
      form: convoy
      draft:
      fields:
        name: { type: text, required: true, unique: true }
        manifest: { type: file, required: true }
        vessels: { type: rows, fields: { sign: { type: text, required: true, unique: true } } }
        note: { type: text }
      deliver: [{ to: office }]
      """;

  @TempDir private Path folder;

  /** What was acknowledged: by the name of the record, its id and the version that was told. */
  private final Map<String, String> kept = new ConcurrentHashMap<>();

  /** The ids of records whose edit was acknowledged. */
  private final Set<String> edited = ConcurrentHashMap.newKeySet();

  /** The open pages whose submission was not acknowledged, by the name that each is to send. */
  private final Map<String, String> open = new ConcurrentHashMap<>();

  /** The uploads of their manifests, by that name. */
  private final Map<String, String> manifests = new ConcurrentHashMap<>();

  /** The drafts of these pages: their ids, and the versions that were told. */
  private final Map<String, String> drafts = new ConcurrentHashMap<>();

  private final Map<String, Long> versions = new ConcurrentHashMap<>();

  /** The names that these pages were told to be held for them. */
  private final Set<String> held = ConcurrentHashMap.newKeySet();

  private final AtomicInteger number = new AtomicInteger();

  @AfterEach
  void closeTheOffice() {
    office.close();
  }

  @Test
  void nothingAcknowledgedIsLostAndNothingIsHalfThere() throws Exception {
    Random random = new Random(20_261_123);
    Set<String> asked = ConcurrentHashMap.newKeySet();
    office.answers(
        it -> Receiver.Answer.of(asked.add(it.id()) && it.id().hashCode() % 2 == 0 ? 500 : 204));
    for (int crash = 0; crash < CRASHES; crash++) {
      Program service = Program.service(settings, "serve", "--data", folder, "--port", 0);
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(wire.publish("convoy", CONVOY).status()).isIn(200, 201);
      allIsThere(wire);
      theDraftsAreThere(wire);
      thePagesGoOn(wire);
      List<Thread> senders = new ArrayList<>();
      for (int i = 0; i < SENDERS; i++) {
        senders.add(Thread.ofVirtual().start(() -> send(wire)));
      }
      // A random number of acknowledgements, and then a moment in the midst of the next ones.
      int enough = kept.size() + 20 + random.nextInt(300);
      long moment = random.nextLong(TimeUnit.MILLISECONDS.toNanos(5));
      await()
          .pollInterval(Duration.ofMillis(1))
          .atMost(Duration.ofMinutes(1))
          .until(() -> kept.size() >= enough || senders.stream().noneMatch(Thread::isAlive));
      LockSupport.parkNanos(moment);
      service.kill();
      for (Thread sender : senders) {
        sender.join();
      }
      theFileIsSound();
    }
    assertThat(kept).hasSizeGreaterThan(20 * CRASHES);
    try (Program service = Program.service(settings, "serve", "--data", folder, "--port", 0)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      allIsThere(wire);
      theDraftsAreThere(wire);
      thePagesGoOn(wire);
      allIsThere(wire);
      theOfficeWasTold(wire);
      // What a kill has left on disk without a row is swept soon after a start.
      await()
          .atMost(Duration.ofMinutes(1))
          .until(
              () ->
                  Doctor.look(folder, Clock.systemUTC()).stream().allMatch(Doctor.Finding::isWell));
    }
  }

  /**
   * Opens a page, lets it hold the name of a convoy, and adds this, one after the other, until the
   * service is gone.
   */
  private void send(Wire wire) {
    try {
      while (true) {
        String name = "C" + number.incrementAndGet();
        String page =
            wire.post("/api/holds?form=convoy", Wire.JSON_TYPE, "").json().path("page").asString();
        Optional<String> manifest = upload(wire, name);
        if (manifest.isEmpty()) {
          return;
        }
        manifests.put(name, manifest.get());
        if (!draft(wire, name)) {
          return;
        }
        open.put(name, page);
        Wire.Reply check = wire.check("convoy", "?fields=name&hold=true&page=" + page, body(name));
        if (check.json().path("held").size() != 1) {
          return;
        }
        held.add(name);
        if (!add(wire, name, page)) {
          return;
        }
        String id = kept.get(name);
        if (wire.patch(
                    "/api/forms/convoy/records/" + id,
                    Wire.JSON_TYPE,
                    "{\"note\":\"sailed\"}",
                    "If-Match",
                    "\"1\"")
                .status()
            == 200) {
          edited.add(id);
        }
      }
    } catch (AssertionError e) {
      // Killed while this was under way: what becomes of it is not told, and may be either.
    }
  }

  /**
   * The office was told of each change that is there, in order, at least once and under one id, and
   * of nothing else. Half of them were answered by 500 at first.
   */
  private void theOfficeWasTold(Wire wire) {
    await()
        .atMost(Duration.ofMinutes(2))
        .until(
            () ->
                wire.get("/api/deliveries?state=waiting&limit=1")
                    .json()
                    .at("/deliveries")
                    .isEmpty());
    Map<String, List<String>> versions = new HashMap<>();
    Map<String, Set<String>> ids = new HashMap<>();
    for (Receiver.Came came : office.came()) {
      JsonNode data = came.json().path("data");
      String record = data.path("id").asString();
      String version = data.path("version").asString();
      List<String> told = versions.computeIfAbsent(record, _ -> new ArrayList<>());
      if (told.isEmpty() || !told.getLast().equals(version)) {
        told.add(version);
      }
      ids.computeIfAbsent(record + " " + version, _ -> new HashSet<>()).add(came.id());
    }
    assertThat(ids.values()).allSatisfy(it -> assertThat(it).hasSize(1));
    assertThat(versions.keySet()).containsExactlyInAnyOrderElementsOf(kept.values());
    versions.forEach(
        (record, told) -> {
          assertThat(told).as(record).isSubsetOf("1", "2").isSorted();
          assertThat(told).as(record).startsWith("1");
          if (edited.contains(record)) {
            assertThat(told).as(record).containsExactly("1", "2");
          }
        });
  }

  /** Keeps what is to be sent as a draft, in two changes. */
  private boolean draft(Wire wire, String name) {
    Wire.Reply begun =
        wire.post("/api/drafts?form=convoy", Wire.JSON_TYPE, "{\"name\":\"%s\"}".formatted(name));
    if (begun.status() != 201) {
      return false;
    }
    String id = begun.json().path("id").asString();
    drafts.put(name, id);
    versions.put(name, 1L);
    Wire.Reply changed =
        wire.patch("/api/drafts/" + id, Wire.JSON_TYPE, body(name), "If-Match", "\"1\"");
    if (changed.status() != 200) {
      return false;
    }
    versions.put(name, 2L);
    return true;
  }

  /** A draft is there with all that was acknowledged, or its record is, never both. */
  private void theDraftsAreThere(Wire wire) {
    drafts.forEach(
        (name, id) -> {
          Wire.Reply draft = wire.get("/api/drafts/" + id);
          boolean isKept =
              !wire.get("/api/forms/convoy/records?where=" + encoded("name = \"" + name + "\""))
                  .json()
                  .path("records")
                  .isEmpty();
          assertThat(draft.status()).as(name).isEqualTo(isKept ? 404 : 200);
          if (!isKept) {
            assertThat(draft.json().path("version").asLong())
                .as(name)
                .isGreaterThanOrEqualTo(versions.get(name));
            assertThat(draft.json().path("values").path("name").asString()).isEqualTo(name);
          }
        });
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  /** Sends a file that holds the name, with one request (tus, creation-with-upload). */
  private static Optional<String> upload(Wire wire, String name) {
    Wire.Reply reply =
        wire.post(
            "/api/uploads",
            "application/offset+octet-stream",
            name,
            "Tus-Resumable",
            "1.0.0",
            "Upload-Length",
            Integer.toString(name.length()),
            "Upload-Metadata",
            "form %s,field %s".formatted(base64("convoy"), base64("manifest")));
    return reply.status() == 201
        ? Optional.of("upload:" + reply.header("Location").replaceFirst(".*/", ""))
        : Optional.empty();
  }

  private static String base64(String text) {
    return Base64.getEncoder().encodeToString(text.getBytes(StandardCharsets.UTF_8));
  }

  private boolean add(Wire wire, String name, String page) {
    Wire.Reply reply =
        wire.post(
            "/api/forms/convoy/records?page=" + page + "&draft=" + drafts.get(name),
            Wire.JSON_TYPE,
            body(name),
            "Idempotency-Key",
            "key-" + name);
    if (reply.status() != 201) {
      return false;
    }
    kept.put(name, reply.json().path("id").asString());
    open.remove(name);
    held.remove(name);
    drafts.remove(name);
    return true;
  }

  /** What the kill left open is sent again by the same pages, and nothing is held any more. */
  private void thePagesGoOn(Wire wire) {
    open.forEach((name, page) -> assertThat(add(wire, name, page)).as(name).isTrue());
    assertThat(wire.get("/api/holds").json().path("holds")).isEmpty();
  }

  private String body(String name) {
    return "{\"name\":\"%1$s\",\"manifest\":\"%2$s\",\"vessels\":[{\"sign\":\"%1$s-1\"},{\"sign\":\"%1$s-2\"},{\"sign\":\"%1$s-3\"}]}"
        .formatted(name, manifests.get(name));
  }

  private void allIsThere(Wire wire) {
    Set<String> seen = new HashSet<>();
    Map<String, String> ids = new ConcurrentHashMap<>();
    String path = "/api/forms/convoy/records?limit=1000";
    for (String next = path; !next.isEmpty(); ) {
      JsonNode page = wire.get(next).json();
      for (JsonNode record : page.path("records")) {
        String name = record.path("values").path("name").asString();
        assertThat(seen.add(name)).as("once: " + name).isTrue();
        assertThat(record.path("values").path("vessels")).as(name).hasSize(3);
        ids.put(name, record.path("id").asString());
      }
      next = page.has("next") ? path + "&cursor=" + page.path("next").asString() : "";
    }
    assertThat(ids).containsAllEntriesOf(kept);
    // A key whose answer was given, or was on its way: the same record, and only one.
    kept.keySet().stream()
        .limit(20)
        .forEach(
            name -> {
              Wire.Reply again =
                  wire.post(
                      "/api/forms/convoy/records",
                      Wire.JSON_TYPE,
                      body(name),
                      "Idempotency-Key",
                      "key-" + name);
              assertThat(again.status()).isEqualTo(201);
              assertThat(again.json().path("id").asString()).isEqualTo(kept.get(name));
            });
  }

  private void theFileIsSound() throws Exception {
    try (Connection connection =
            DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("nodley.db"));
        Statement statement = connection.createStatement()) {
      assertThat(all(statement, "PRAGMA integrity_check")).containsExactly("ok");
      assertThat(all(statement, "PRAGMA foreign_key_check")).isEmpty();
      assertThat(
              all(
                  statement,
                  "SELECT name FROM convoy WHERE (SELECT count(*) FROM \"convoy.vessels\""
                      + " WHERE record_id = id) <> 3"))
          .isEmpty();
      // Neither a key without its record, nor a record without its key, nor one without an attempt.
      assertThat(
              all(
                  statement,
                  "SELECT key FROM nodley_answers WHERE answer ->> 'id' NOT IN"
                      + " (SELECT id FROM convoy)"))
          .isEmpty();
      assertThat(
              all(
                  statement,
                  "SELECT name FROM convoy WHERE 'key-' || name NOT IN"
                      + " (SELECT key FROM nodley_answers)"))
          .isEmpty();
      assertThat(
              all(
                  statement,
                  "SELECT name FROM convoy WHERE id NOT IN"
                      + " (SELECT record FROM nodley_attempts)"))
          .isEmpty();
      // No record without its file, whole; and no upload was taken over twice.
      assertThat(
              all(
                  statement,
                  "SELECT name FROM convoy WHERE (SELECT count(*) FROM \"convoy.manifest\""
                      + " WHERE record_id = id) <> 1"))
          .isEmpty();
      for (String file :
          all(
              statement,
              "SELECT c.name || ' ' || m.sha256 FROM convoy c"
                  + " JOIN \"convoy.manifest\" m ON m.record_id = c.id")) {
        String sha256 = file.substring(file.indexOf(' ') + 1);
        assertThat(folder.resolve("files").resolve(sha256.substring(0, 2)).resolve(sha256))
            .hasContent(file.substring(0, file.indexOf(' ')));
      }
      assertThat(
              all(
                  statement,
                  "SELECT entered ->> 'name' FROM nodley_drafts"
                      + " WHERE entered ->> 'name' IN (SELECT name FROM convoy)"))
          .isEmpty();
      // Nothing is held that is kept, and what a page was told to be held is one or the other.
      String names = "SELECT name FROM convoy";
      assertThat(
              all(statement, "SELECT value FROM nodley_holds WHERE value ->> 0 IN (" + names + ")"))
          .isEmpty();
      assertThat(all(statement, "SELECT value ->> 0 FROM nodley_holds UNION " + names))
          .containsAll(held);
    }
  }

  private static List<String> all(Statement statement, String sql) throws Exception {
    List<String> all = new ArrayList<>();
    try (ResultSet rows = statement.executeQuery(sql)) {
      while (rows.next()) {
        all.add(rows.getString(1));
      }
    }
    return all;
  }
}
