package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Backup, restore and doctor, with the packed programs. */
class SafeKeepingIT {

  private static final Map<String, String> KEY = Map.of("NODLEY_ADMIN_KEY", RunningService.KEY);

  private static final String BUOY =
      "form: buoy\nfields:\n  name: { type: text, required: true, unique: true }\n"
          + "  next: { type: record, form: buoy }\n";

  @TempDir private Path folder;

  private static Program.Ended run(Object... arguments) {
    try (Program program = Program.service(Map.of(), arguments)) {
      return program.ended();
    }
  }

  private static Program.Ended backUp(String at, Path file) {
    return Program.client(
        Map.of("NODLEY_AT", at, "NODLEY_KEY", RunningService.KEY), "backup", file);
  }

  private Program serve(Path data) {
    return Program.service(KEY, "serve", "--data", data, "--port", 0);
  }

  private static Wire wire(Program service) {
    return new Wire(service.ready(), Optional.of(RunningService.KEY));
  }

  private static void sql(Path data, String... statements) throws SQLException {
    try (Connection connection =
            DriverManager.getConnection("jdbc:sqlite:" + data.resolve("nodley.db"));
        Statement statement = connection.createStatement()) {
      for (String sql : statements) {
        statement.execute(sql);
      }
    }
  }

  @Test
  void aBackupMadeWhileRecordsComeIsWholeAndCanBeRestored() throws Exception {
    Path data = folder.resolve("data");
    Path backup = folder.resolve("monday.tar");
    int before;
    try (Program service = serve(data)) {
      Wire wire = wire(service);
      assertThat(wire.publish("buoy", BUOY).status()).isEqualTo(201);
      AtomicInteger added = new AtomicInteger();
      AtomicBoolean enough = new AtomicBoolean();
      Thread adding =
          Thread.ofVirtual()
              .start(
                  () -> {
                    while (!enough.get()) {
                      wire.add("buoy", "{\"name\":\"B" + added.get() + "\"}");
                      added.incrementAndGet();
                    }
                  });
      await().until(() -> added.get() >= 20);
      before = added.get();
      Program.Ended ended = backUp(service.ready(), backup);
      assertThat(ended.status()).as(ended.out()).isZero();
      assertThat(ended.out()).startsWith("Saved to ");
      enough.set(true);
      adding.join();
      assertThat(backUp(service.ready(), backup).out()).contains("is there already");
      assertThat(wire.get("/api/forms/buoy/records?limit=1").status()).isEqualTo(200);
      assertThat(new Wire(service.ready(), Optional.empty()).get("/api/backup").status())
          .isEqualTo(401);
      Program.Ended used = run("restore", backup, "--data", data, "--replace");
      assertThat(used.status()).isEqualTo(1);
      assertThat(used.out()).contains("is in use by another Nodley");
    }
    Path fresh = folder.resolve("fresh");
    assertThat(run("restore", backup, "--data", fresh).status()).isZero();
    Program.Ended doctor = run("doctor", "--data", fresh);
    assertThat(doctor.status()).as(doctor.out()).isZero();
    assertThat(doctor.out().lines()).hasSize(9).allMatch(line -> line.startsWith("ok "));
    try (Program service = serve(fresh)) {
      int records =
          wire(service).get("/api/forms/buoy/records?limit=1000").json().path("records").size();
      assertThat(records).isGreaterThanOrEqualTo(before);
    }
    Program.Ended there = run("restore", backup, "--data", fresh);
    assertThat(there.status()).isEqualTo(1);
    assertThat(there.out()).contains("has data already").contains("--replace");
    assertThat(run("restore", backup, "--data", fresh, "--replace").status()).isZero();
    assertThat(fresh.resolve("nodley.db.before")).exists();
  }

  @Test
  void whatIsNoBackupIsNotRestored() throws IOException {
    Path text = Files.writeString(folder.resolve("notes.txt"), "no backup at all");
    Path data = folder.resolve("data");
    assertThat(run("restore", text, "--data", data).out()).contains("is no backup of Nodley's");
    assertThat(run("restore", folder.resolve("none.db"), "--data", data).out())
        .contains("There is no backup");
    assertThat(data.resolve("nodley.db")).doesNotExist();
    assertThat(run("doctor", "--data", data).out()).contains("There is no data in");
  }

  @Test
  void theDoctorFindsWhatIsWrong() throws Exception {
    Path data = folder.resolve("data");
    try (Program service = serve(data)) {
      Wire wire = wire(service);
      wire.publish("buoy", BUOY);
      wire.add("buoy", "{\"name\":\"Alder\"}");
      wire.add("buoy", "{\"name\":\"Birch\"}");
    }
    sql(
        data,
        "PRAGMA foreign_keys = OFF",
        "UPDATE buoy SET next = 'nowhere' WHERE name = 'Alder'",
        "DROP INDEX \"buoy__name\"",
        "UPDATE buoy SET name = 'Alder', updated_at = '2999-01-01T00:00:00.000Z'");
    Program.Ended ended = run("doctor", "--data", data);
    assertThat(ended.status()).isEqualTo(1);
    assertThat(ended.out())
        .contains("WRONG  references        buoy refers to no buoy in 1")
        .contains("the index buoy__name is not there as the form has it")
        .contains("1 values of buoy__name stand more than once")
        .contains("WRONG  clock             2 records of buoy were saved later than now")
        .contains("ok     integrity");
  }

  @Test
  void aDamagedFileIsFoundByTheDoctorAndNotRestored() throws Exception {
    Path data = folder.resolve("data");
    Path backup = folder.resolve("b.tar");
    try (Program service = serve(data)) {
      Wire wire = wire(service);
      wire.publish("buoy", BUOY);
      for (int i = 0; i < 200; i++) {
        wire.add("buoy", "{\"name\":\"Buoy number " + i + " in the outer channel\"}");
      }
      backUp(service.ready(), backup);
    }
    Path damaged = folder.resolve("damaged");
    Files.createDirectories(damaged);
    new ProcessBuilder("tar", "-xf", backup.toString(), "-C", damaged.toString(), "nodley.db")
        .start()
        .waitFor();
    long pages = Files.size(damaged.resolve("nodley.db")) / 4_096;
    try (RandomAccessFile file =
        new RandomAccessFile(damaged.resolve("nodley.db").toFile(), "rw")) {
      for (long page = pages / 2; page < pages; page++) {
        file.seek(page * 4_096);
        file.write(new byte[64]);
      }
    }
    assertThat(run("doctor", "--data", damaged).out()).contains("WRONG  integrity");
    Program.Ended restored =
        run("restore", damaged.resolve("nodley.db"), "--data", folder.resolve("new"));
    assertThat(restored.status()).isEqualTo(1);
    assertThat(restored.out()).contains("is damaged");
    assertThat(folder.resolve("new").resolve("nodley.db")).doesNotExist();
  }
}
