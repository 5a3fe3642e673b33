package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

class OperatorLogTest {

  private static List<String> lines(Wire wire, String query) {
    return StreamSupport.stream(
            wire.get("/api/log" + query).json().path("entries").spliterator(), false)
        .map(OperatorLogTest::line)
        .toList();
  }

  private static String line(JsonNode entry) {
    assertThat(entry.path("at").asString()).endsWith("Z");
    return String.join(
        "|",
        List.of("who", "what", "subject", "from").stream()
            .map(member -> entry.path(member).asString())
            .toList());
  }

  @Test
  void whoeverDoesSomethingStandsInTheLog() {
    try (RunningService service = RunningService.fresh()) {
      Wire wire = service.wire();
      String form = "form: berth\naccess: { add: anyone }\nfields: { name: { type: text } }";
      String own = service.address();
      wire.publish("berth", form);
      wire.publish("berth", form.replace("berth", "Berth"));
      wire.put("/api/lists/quays", "application/yaml", "list: quays\noptions: [north, south]");
      String cookie =
          service
              .stranger()
              .post(
                  "/api/session",
                  Wire.JSON_TYPE,
                  "{\"key\": \"" + RunningService.KEY + "\"}",
                  "Origin",
                  own)
              .header("Set-Cookie")
              .replaceFirst(";.*", "");
      service.stranger().delete("/api/session", "Cookie", cookie, "Origin", own);
      service.stranger().add("berth", "{\"name\": \"zz-value\"}");
      wire.get("/api/backup");
      wire.delete("/api/forms/berth?records=drop");
      for (int i = 0; i < 30; i++) {
        service.stranger().get("/api/session", "Authorization", "Bearer guess" + i);
      }
      // A refused file, an add and reading leave nothing.
      assertThat(lines(wire, ""))
          .containsExactly(
              "|wrong-keys||127.0.0.1",
              "admin|drop|forms/berth|127.0.0.1",
              "admin|backup|backup|127.0.0.1",
              "admin|sign-out|session|127.0.0.1",
              "admin|sign-in|session|127.0.0.1",
              "admin|publish|lists/quays|127.0.0.1",
              "admin|publish|forms/berth|127.0.0.1",
              "|start||");
      assertThat(lines(wire, "?who=admin&limit=2")).hasSize(2);
      assertThat(wire.get("/api/log?who=admin&limit=2").json().path("before").asString())
          .isNotEmpty();
      assertThat(lines(wire, "?since=2126-01-01T00:00:00Z")).isEmpty();
      assertThat(service.stranger().get("/api/log").status()).isEqualTo(401);
      assertThat(wire.get("/api/log?whom=admin").response().body()).contains("who");
    }
  }

  /** Not even by a program with the file in its hands, as long as it leaves the table as it is. */
  @Test
  void whatIsWrittenStays() throws SQLException {
    try (RunningService service = RunningService.fresh()) {
      assertThat(lines(service.wire(), "")).isNotEmpty();
      try (Connection on =
              DriverManager.getConnection("jdbc:sqlite:" + service.data().resolve("nodley.db"));
          Statement statement = on.createStatement()) {
        assertThatThrownBy(() -> statement.execute("DELETE FROM nodley_log"))
            .hasMessageContaining("entries of the log are not removed");
        assertThatThrownBy(() -> statement.execute("UPDATE nodley_log SET who = 'nobody'"))
            .hasMessageContaining("entries of the log are not changed");
      }
    }
  }

  /** A folder as data version 9 left it: a record with digests of an earlier kind. */
  @Test
  void aFolderOfTheVersionBeforeIsBroughtUp() throws Exception {
    Path data = Files.createTempDirectory("nodley-test-");
    for (String file : List.of("nodley.db", "nodley.key")) {
      Files.copy(
          Repository.file("service/src/test/resources/data-9").resolve(file), data.resolve(file));
    }
    try (RunningService service = RunningService.on(data)) {
      Wire wire = service.wire();
      String id =
          wire.get("/api/forms/trip/records").json().path("records").path(0).path("id").asString();
      assertThat(wire.get("/api/attempts").json().path("attempts")).hasSize(2);
      assertThat(wire.add("trip", "{\"name\": \"north\"}").codeOf("name")).isEqualTo("taken");
      // The old digest counts, is made anew at once, and the record is at the version it was.
      String verify = "/api/forms/trip/records/" + id + "/secrets/pw/verify";
      for (int i = 0; i < 2; i++) {
        assertThat(matches(wire, verify, "correct horse")).isTrue();
        assertThat(matches(wire, verify, "battery staple")).isFalse();
      }
      assertThat(wire.get("/api/forms/trip/records/" + id).header("ETag")).isEqualTo("\"1\"");
      try (Connection on = DriverManager.getConnection("jdbc:sqlite:" + data.resolve("nodley.db"));
          Statement statement = on.createStatement()) {
        assertThat(statement.executeQuery("SELECT pw FROM trip").getString(1))
            .startsWith("{argon2id}$argon2id$v=19$m=16384,t=2,p=1$");
      }
    }
  }

  private static boolean matches(Wire wire, String verify, String secret) {
    Wire.Reply reply = wire.post(verify, Wire.JSON_TYPE, "{\"secret\": \"" + secret + "\"}");
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    return reply.json().path("matches").asBoolean();
  }
}
