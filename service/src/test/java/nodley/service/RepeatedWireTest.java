package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Submissions that arrive more than once under one {@code Idempotency-Key}. */
class RepeatedWireTest {

  private static final String RECORDS = "/api/forms/buoy/records";
  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    for (String form : new String[] {"buoy", "mark"}) {
      assertThat(
              service
                  .wire()
                  .publish(
                      form,
                      "form: "
                          + form
                          + "\naccess: { add: anyone }\nfields:\n"
                          + "  name: { type: text, required: true, unique: true }\n"
                          + "  depth: { type: decimal }")
                  .status())
          .isEqualTo(201);
    }
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Wire.Reply add(String body, String key) {
    return service.wire().post(RECORDS, Wire.JSON_TYPE, body, "Idempotency-Key", key);
  }

  private static String name(String name) {
    return "{\"name\":\"" + name + "\"}";
  }

  private static int records(String name) {
    return service.wire().get(RECORDS + "?q=" + name).json().path("records").size();
  }

  @Test
  void anAddThatArrivesAgainGetsTheFirstAnswerAlsoAfterARestart() {
    Wire.Reply first = add(name("Alder"), "alder-1");
    assertThat(first.status()).isEqualTo(201);
    Wire.Reply again = add(name("Alder"), "\"alder-1\"");
    assertThat(again.status()).isEqualTo(201);
    assertThat(again.response().body()).isEqualTo(first.response().body());
    assertThat(again.header("Location")).isEqualTo(first.header("Location"));
    assertThat(again.header("ETag")).isEqualTo("\"1\"");
    service.restart();
    assertThat(add(name("Alder"), "alder-1").response().body()).isEqualTo(first.response().body());
    assertThat(records("Alder")).isEqualTo(1);
    assertThat(add(name("Alder"), "alder-2").codeOf("name")).isEqualTo("taken");
  }

  @Test
  void theFirstAnswerStandsWhateverBecameOfTheRecord() {
    Wire.Reply first = add(name("Aspen"), "aspen");
    String path = first.header("Location");
    service.wire().put(path, Wire.JSON_TYPE, name("Poplar"), "If-Match", "\"1\"");
    assertThat(add(name("Aspen"), "aspen").response().body()).isEqualTo(first.response().body());
    service.wire().delete(path, "If-Match", "\"2\"");
    // Once the record is removed, its answer says that it was, and nothing of what it held.
    Wire.Reply after = add(name("Aspen"), "aspen");
    assertThat(after.status()).isEqualTo(201);
    assertThat(after.header("Location")).isEqualTo(path);
    assertThat(after.json().path("id")).isEqualTo(first.json().path("id"));
    assertThat(after.response().body()).doesNotContain("Aspen");
    assertThat(records("Aspen")).isZero();
  }

  @Test
  void anotherBodyUnderTheKeyIsRefused() {
    add(name("Briar"), "briar");
    Wire.Reply other = add(name("Broom"), "briar");
    assertThat(other.status()).isEqualTo(422);
    assertThat(other.json().path("type").asString()).isEqualTo("/problems/key-reused");
    assertThat(other.json().path("detail").asString()).contains("briar");
    assertThat(records("Broom")).isZero();
  }

  @Test
  void aRefusalBindsNothing() {
    assertThat(add("{}", "elder").codeOf("name")).isEqualTo("value-missing");
    assertThat(add(name("Elder"), "elder").status()).isEqualTo(201);
  }

  @Test
  void aKeyIsOfOneCallerAndForm() {
    assertThat(add(name("Furze"), "furze").status()).isEqualTo(201);
    Wire.Reply other =
        service
            .wire()
            .post(
                "/api/forms/mark/records",
                Wire.JSON_TYPE,
                name("Furze"),
                "Idempotency-Key",
                "furze");
    assertThat(other.status()).isEqualTo(201);
    assertThat(other.json().path("form").asString()).isEqualTo("mark");
    Wire.Reply stranger =
        service.stranger().post(RECORDS, Wire.JSON_TYPE, name("Furze"), "Idempotency-Key", "furze");
    assertThat(stranger.codeOf("name")).isEqualTo("taken");
  }

  @Test
  void anEditThatArrivesAgainIsDoneOnce() {
    String path = add(name("Gean"), "gean").header("Location");
    for (int i = 0; i < 3; i++) {
      Wire.Reply reply =
          service
              .wire()
              .patch(
                  path,
                  Wire.JSON_TYPE,
                  "{\"depth\":3}",
                  "If-Match",
                  "\"1\"",
                  "Idempotency-Key",
                  "gean-edit");
      assertThat(reply.status()).isEqualTo(200);
      assertThat(reply.header("ETag")).isEqualTo("\"2\"");
    }
    assertThat(service.wire().get(path).json().path("version").asInt()).isEqualTo(2);
  }

  @Test
  void twentyAtOnceAreOne() throws Exception {
    List<Future<Wire.Reply>> replies = new ArrayList<>();
    try (ExecutorService threads = Executors.newFixedThreadPool(20)) {
      for (int i = 0; i < 20; i++) {
        replies.add(threads.submit(() -> add(name("Hawthorn"), "hawthorn")));
      }
    }
    String first = replies.getFirst().get().response().body();
    for (Future<Wire.Reply> reply : replies) {
      assertThat(reply.get().status()).isEqualTo(201);
      assertThat(reply.get().response().body()).isEqualTo(first);
    }
    assertThat(records("Hawthorn")).isEqualTo(1);
  }

  @Test
  void anAnswerIsForgottenAfterItsTime() throws Exception {
    add(name("Ivy"), "ivy");
    try (Connection connection =
            DriverManager.getConnection("jdbc:sqlite:" + service.data().resolve("nodley.db"));
        Statement statement = connection.createStatement()) {
      statement.execute("PRAGMA busy_timeout = 5000");
      statement.execute("UPDATE nodley_answers SET expires_at = 1 WHERE key = 'ivy'");
    }
    assertThat(add(name("Ivy"), "ivy").codeOf("name")).isEqualTo("taken");
    assertThat(add(name("Juniper"), "ivy").status()).isEqualTo(201);
  }

  @ParameterizedTest
  @ValueSource(strings = {"\"\"", "two words", ""})
  void aKeyThatIsNoneIsTold(String key) {
    Wire.Reply reply = add(name("Larch"), key);
    assertThat(reply.status()).isEqualTo(400);
    assertThat(reply.json().path("detail").asString()).contains("such as a UUID");
    assertThat(add(name("Larch"), "x".repeat(201)).status()).isEqualTo(400);
  }
}
