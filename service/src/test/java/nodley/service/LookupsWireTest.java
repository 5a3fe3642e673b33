package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import nodley.cli.ClientRun;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Forms look things up in databases that are there already, and write nothing there. */
class LookupsWireTest {

  private static final String TABLES =
      """
      CREATE TABLE customers (number %1$s, email varchar(80), code integer);
      INSERT INTO customers VALUES ('C-17', 'Ann@Quay.example', 17);
      CREATE TABLE "order lines" ("no.of" integer, "it's" varchar(20));
      INSERT INTO "order lines" VALUES (5, 'five');
      CREATE TABLE genres (id integer PRIMARY KEY, name varchar(40), hidden boolean, shelf integer);
      INSERT INTO genres VALUES (1, 'Sea stories', false, 3), (2, 'Seamanship', false, 1),
        (3, 'Charts', true, 2), (4, 'Under the sea', false, 2), (5, '100%% rum_songs', false, 9);
      """;

  private static final String ORDER =
      """
      form: %1$s
      called: "{title}"
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        title: { type: text }
        customer: { type: text, exists: %1$s.customers.number }
        code: { type: integer, exists: [%1$s, customers, code] }
        email: { type: email, unique: { in: %1$s.customers.email, ignore-case: true } }
        lines: { type: integer, unique: { in: [%1$s, "order lines", "no.of"] } }
        shelf: { type: integer }
        only: { type: text }
        genre:
          type: choice
          options:
            from: %1$s.genres
            value: id
            label: name
            where: not hidden and (form.shelf is blank or shelf = form.shelf) and (only is blank or only = name)
        any: { type: choice, options: { from: %1$s.genres, value: id, label: name, sort: id } }
      """;

  @TempDir private static Path folder;

  private static TestPostgres postgres;
  private static TestMariaDb maria;
  private static Path file;
  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() throws IOException, SQLException, InterruptedException {
    postgres = new TestPostgres();
    postgres.sql(TABLES.formatted("text PRIMARY KEY").replace("%%", "%"));
    postgres.sql(
        """
        CREATE SCHEMA archive; CREATE TABLE archive.boats (name text, id uuid);
        INSERT INTO archive.boats VALUES ('Heron', '0199a2b4-0000-7000-8000-000000000001');
        CREATE TABLE private (secret text);
        CREATE ROLE reader LOGIN;
        GRANT USAGE ON SCHEMA archive TO reader;
        GRANT SELECT ON customers, "order lines", genres, archive.boats TO reader;
        """);
    maria = new TestMariaDb();
    maria.sql(
        "",
        "CREATE DATABASE shop",
        "CREATE USER reader@127.0.0.1",
        "GRANT SELECT ON shop.* TO reader@127.0.0.1");
    maria.sql("shop", statements("varchar(40) PRIMARY KEY"));
    file = folder.resolve("shop.db");
    try (Connection made = DriverManager.getConnection("jdbc:sqlite:" + file);
        Statement statement = made.createStatement()) {
      for (String each : statements("text")) {
        statement.execute(each);
      }
    }
    service =
        RunningService.with(
            "nodley.sources.shop: { url: \"%s\", user: reader }".formatted(postgres.url()),
            "nodley.sources.lenient: { url: \"%s\", user: reader, unanswered: accept }"
                .formatted(postgres.url()),
            "nodley.sources.hasty: { url: \"%s\", user: reader, wait: 300ms }"
                .formatted(postgres.url()),
            "nodley.sources.patient: { url: \"%s\", user: reader, wait: 10s }"
                .formatted(postgres.url()),
            // Of no database in particular.
            "nodley.sources.server: { url: \"%s\", user: reader }".formatted(maria.url("")),
            "nodley.sources.maria: { url: \"%s\", user: reader }".formatted(maria.url("shop")),
            "nodley.sources.file: { url: \"jdbc:sqlite:%s\" }".formatted(file));
    wire = service.wire();
    for (String form : List.of("shop", "maria", "file", "lenient")) {
      Wire.Reply published = wire.publish(form, ORDER.formatted(form));
      assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    }
  }

  @AfterAll
  static void stop() {
    service.close();
    postgres.close();
    maria.close();
  }

  private static String[] statements(String type) {
    return TABLES.formatted(type).replace("%%", "%").split(";\\n");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '\'',
      value = {
        "{\"customer\":\"C-17\"} |",
        "{\"customer\":\"C-18\"} | #/customer no-such-record",
        "{\"customer\":\"Ć-17\"} | #/customer no-such-record",
        "{\"customer\":\"C-17\\\\\"} | #/customer no-such-record",
        "{\"customer\":\"x'' OR 1=1 --\"} | #/customer no-such-record",
        "{\"code\":17} |",
        "{\"code\":18} | #/code no-such-record",
        "{\"email\":\"bo@quay.example\"} |",
        "{\"email\":\"ANN@quay.example\"} | #/email taken",
        "{\"lines\":5} | #/lines taken",
        "{\"lines\":6} |",
        "{\"genre\":\"1\"} |",
        "{\"genre\":\"3\"} | #/genre not-an-option",
        "{\"genre\":\"77\"} | #/genre not-an-option",
        "{\"genre\":\"1abc\"} | #/genre not-an-option",
        "{\"genre\":\"1\",\"shelf\":3} |",
        "{\"genre\":\"1\",\"shelf\":1} | #/genre not-an-option",
        "{\"genre\":\"1\",\"only\":\"Sea stories\"} |",
        "{\"genre\":\"1\",\"only\":\"Charts\"} | #/genre not-an-option",
        "{\"any\":\"3\"} |",
      })
  void aValueIsLookedUpInEachDatabaseAlike(String values, String expected) {
    for (String form : List.of("shop", "maria", "file")) {
      Wire.Reply verdict = wire.check(form, "", values);
      assertThat(verdict.codes())
          .as(form + ": " + verdict.json())
          .isEqualTo(expected == null ? List.of() : List.of(expected));
      assertThat(verdict.json().path("unasked")).isEmpty();
    }
  }

  /** Without users and passwords, for operators alone. */
  @Test
  void howDatabasesStandIsTold() {
    wire.post("/api/forms/file/checks", Wire.JSON_TYPE, "{\"customer\": \"C-1\"}");
    JsonNode sources = wire.get("/api/sources").json().path("sources");
    assertThat(sources)
        .extracting(it -> it.path("name").asString())
        .containsExactly("file", "hasty", "lenient", "maria", "patient", "server", "shop");
    JsonNode first = sources.path(0);
    assertThat(first.path("where").asString()).isEqualTo("jdbc:sqlite:" + file);
    assertThat(first.path("resting").asBoolean()).isFalse();
    assertThat(first.path("said").asString()).isEqualTo("answered");
    assertThat(Instant.parse(first.path("asked").asString())).isBeforeOrEqualTo(Instant.now());
    assertThat(sources.toString()).doesNotContain("reader").doesNotContain("?");
    assertThat(service.stranger().get("/api/sources").status()).isEqualTo(401);
  }

  @Test
  void whatIsAcceptedIsShownByItsLabel() {
    String id =
        wire.add("shop", "{\"title\":\"Gulls\",\"any\":\"2\",\"email\":\"cy@quay.example\"}")
            .json()
            .path("id")
            .asString();
    assertThat(wire.get("/api/forms/shop/records/" + id).json().at("/values/any").asString())
        .isEqualTo("2");
    assertThat(service.stranger().get("/forms/shop/" + id).response().body())
        .contains("Seamanship");
    assertThat(service.stranger().get("/forms/shop/" + id + "/edit").response().body())
        .contains("Seamanship");
    // Unique here, too.
    assertThat(wire.add("shop", "{\"email\":\"CY@quay.example\"}").codes())
        .containsExactly("#/email taken");
  }

  @ParameterizedTest
  @CsvSource({
    "q=sea, 1 2 4",
    "q=SEAM, 2",
    "q=100%25, 5",
    "q=rum_, 5",
    "q=m_s, 5",
    "q=nothing, ''",
    "q=%C4%86, ''",
    "'', 5 1 2 4",
    "shelf=2, 4",
    "q=sea&shelf=3, 1",
  })
  void optionsAreSearched(String query, String expected) {
    for (String form : List.of("shop", "maria", "file")) {
      JsonNode options = wire.get("/api/forms/" + form + "/options/genre?" + query).json();
      assertThat(
              String.join(
                  " ",
                  options
                      .path("options")
                      .valueStream()
                      .map(it -> it.path("value").asString())
                      .toList()))
          .as(form + " " + options)
          .isEqualTo(expected);
    }
  }

  @Test
  void amongAMillionRowsOptionsAreFound() {
    postgres.sql(
        "CREATE TABLE boats AS SELECT n AS id, 'Boat ' || n AS name FROM"
            + " generate_series(1, 1000000) n; GRANT SELECT ON boats TO reader;");
    assertThat(
            wire.publish(
                    "mooring",
                    "form: mooring\nfields: { boat: { type: choice, options: { from: patient.boats,"
                        + " value: id, label: name } } }")
                .status())
        .isEqualTo(201);
    JsonNode found = wire.get("/api/forms/mooring/options/boat?q=boat%2099999").json();
    assertThat(found.path("options").get(0).path("label").asString()).isEqualTo("Boat 99999");
    assertThat(found.path("options")).hasSize(11);
  }

  @Test
  void aTableInASchemaAndAValueThatIsNotOfTheColumnsType() {
    assertThat(
            wire.publish(
                    "boat",
                    "form: boat\naccess: { add: anyone }\nfields: { id: { type: text } }"
                        .replace("id:", "boat:")
                        .replace("text }", "text, exists: shop.archive.boats.id }"))
                .status())
        .isEqualTo(201);
    assertThat(
            wire.check("boat", "", "{\"boat\":\"0199a2b4-0000-7000-8000-000000000001\"}").codes())
        .isEmpty();
    assertThat(wire.check("boat", "", "{\"boat\":\"not a uuid\"}").codes())
        .containsExactly("#/boat no-such-record");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "text, exists: shoop.customers.number | unknown-name | Did you mean `shop`?",
        "text, exists: shop.customer.number | unknown-name | no table `shop.customer`",
        "text, exists: shop.private.secret | unknown-name | may not read it",
        "text, exists: shop.customers.nummer | unknown-name | Did you mean `number`?",
        "text, exists: file.customers.nummer | unknown-name | Did you mean `number`?",
        "text, exists: shop.customers | bad-value | a source of the settings",
        "text, unique: { in: shop.customers.mail } | unknown-name | Did you mean `email`?",
        "choice, options: { from: shop.genres, value: id } | missing-key | two columns",
        "choice, options: { from: shop.genres, value: id, label: nam } | unknown-name |"
            + " Did you mean `name`?",
        "choice, options: { from: shop.genres, value: id, label: name, where: hiden }"
            + " | unknown-name | Did you mean `hidden`?",
        "choices, options: { from: shop.genres, value: id, label: name } | bad-value | choice",
      })
  void whatIsNotThereIsToldAtPublishingWithItsLine(String field, String code, String words) {
    Wire.Reply reply =
        wire.publish("wrong", "form: wrong\nfields:\n  one: { type: " + field + " }\n");
    assertThat(reply.status()).isEqualTo(422);
    assertThat(reply.json().path("errors").valueStream().toList())
        .anySatisfy(
            error -> {
              assertThat(error.path("code").asString()).isEqualTo(code);
              assertThat(error.path("detail").asString()).contains(words);
              assertThat(error.path("line").asInt()).isEqualTo(3);
            });
  }

  @Test
  void aQueryThatTakesTooLongIsNoAnswer() {
    postgres.sql(
        "CREATE VIEW sluggish AS SELECT 'x' AS code FROM pg_sleep(20);"
            + " GRANT SELECT ON sluggish TO reader;");
    assertThat(
            wire.publish(
                    "slow",
                    "form: slow\naccess: { add: anyone }\n"
                        + "fields: { code: { type: text, exists: hasty.sluggish.code } }")
                .status())
        .isEqualTo(201);
    assertThat(wire.check("slow", "", "{\"code\":\"x\"}").json().path("unasked").toString())
        .isEqualTo("[\"#/code\"]");
    assertThat(wire.add("slow", "{\"code\":\"x\"}").status()).isEqualTo(503);
  }

  @Test
  void nothingIsEverWritten() throws IOException, SQLException {
    wire.check("shop", "", "{\"customer\":\"C-17\",\"genre\":\"1\"}");
    List<String> statements =
        postgres
            .logged()
            .lines()
            .filter(it -> it.contains("nodley") || it.contains("execute"))
            .toList();
    assertThat(statements).isNotEmpty();
    assertThat(statements)
        .noneMatch(it -> it.matches("(?i).*\\b(insert|update|delete|create|drop|alter|lock)\\b.*"));
    // The connections could not, either.
    assertThat(postgres.logged()).contains("READ ONLY");
    wire.check("maria", "", "{\"customer\":\"C-17\",\"genre\":\"1\"}");
    assertThat(maria.logged().lines().filter(it -> it.contains("customers")).skip(2))
        .isNotEmpty()
        .noneMatch(it -> it.matches("(?i).*\\b(insert|update|delete|create|drop|alter|lock)\\b.*"));
    assertThat(Files.list(folder).map(it -> it.getFileName().toString()))
        .containsExactly("shop.db");
  }

  @Test
  void aDatabaseThatIsAwayIsToldAndComesBack() {
    String id =
        wire.add("shop", "{\"title\":\"Terns\",\"any\":\"1\"}").json().path("id").asString();
    postgres.stop();
    try {
      JsonNode open =
          wire.check(
                  "shop",
                  "",
                  "{\"customer\":\"C-17\",\"email\":\"di@quay.example\",\"genre\":\"1\"}")
              .json();
      assertThat(open.path("errors")).isEmpty();
      assertThat(open.path("unasked").toString())
          .isEqualTo("[\"#/customer\",\"#/genre\",\"#/email\"]");
      Wire.Reply refused = wire.add("shop", "{\"customer\":\"C-17\"}");
      assertThat(refused.status()).isEqualTo(503);
      assertThat(refused.header("Retry-After")).isEqualTo("5");
      assertThat(refused.json().path("type").asString()).isEqualTo("/problems/source-away");
      // What is wrong anyway is told, though it cannot all be looked up.
      assertThat(wire.add("shop", "{\"customer\":\"C-17\",\"shelf\":\"top\"}").codes())
          .containsExactly("#/shelf bad-input");
      assertThat(wire.add("lenient", "{\"customer\":\"C-17\"}").status()).isEqualTo(201);
      // What does not ask for it goes on, and so does what did not change.
      assertThat(wire.add("shop", "{\"title\":\"Gannets\"}").status()).isEqualTo(201);
      assertThat(
              wire.patch(
                      "/api/forms/shop/records/" + id,
                      "application/merge-patch+json",
                      "{\"title\":\"Two terns\"}",
                      "If-Match",
                      "\"1\"")
                  .status())
          .isEqualTo(200);
      assertThat(service.stranger().get("/forms/shop/new").status()).isEqualTo(200);
      Wire.Reply published =
          wire.publish("late", "form: late\nfields: { a: { type: text, exists: shop.x.y } }");
      assertThat(published.status()).isEqualTo(422);
      assertThat(published.response().body()).contains("cannot be asked now");
    } finally {
      postgres.start();
    }
    Awaited.until(
        "it answers again",
        () -> wire.check("shop", "", "{\"customer\":\"C-17\"}").json().path("unasked").isEmpty());
    assertThat(wire.add("shop", "{\"customer\":\"C-17\"}").status()).isEqualTo(201);
  }

  @Test
  void theFormsAreThereAfterAStartWithoutTheDatabase() {
    postgres.stop();
    try {
      service.restart();
      assertThat(wireAgain().add("shop", "{\"title\":\"Skuas\"}").status()).isEqualTo(201);
      assertThat(wireAgain().add("shop", "{\"genre\":\"1\"}").status()).isEqualTo(503);
    } finally {
      postgres.start();
    }
    wire = wireAgain();
    Awaited.until(
        "it answers again",
        () -> wire.check("shop", "", "{\"genre\":\"3\"}").json().path("unasked").isEmpty());
    assertThat(wire.check("shop", "", "{\"genre\":\"3\"}").codes())
        .containsExactly("#/genre not-an-option");
  }

  /** The same table in three databases, each in its own words. */
  private static final List<String> FLEET =
      List.of(
          "id",
          "call_sign varchar(8) NOT NULL UNIQUE",
          "\"Home port\" varchar(40) NOT NULL DEFAULT 'Marrow Quay'",
          "depth decimal(5,2) CHECK (depth BETWEEN 0.5 AND 30)",
          "berths integer NOT NULL CHECK (berths >= 1)",
          "insured boolean DEFAULT false",
          "launched date",
          "seen timestamp",
          "owner_email varchar(80)",
          "genre integer REFERENCES genres (id)",
          "note text CHECK (note <> depth)",
          "photo blob");

  private static String fleet(String table, String id, String rig, String... replaced) {
    String columns = String.join(", ", FLEET).replaceFirst("^id", id) + ", rig " + rig;
    for (int i = 0; i < replaced.length; i += 2) {
      columns = columns.replace(replaced[i], replaced[i + 1]);
    }
    return "CREATE TABLE " + table + " (" + columns + ")";
  }

  private static final String ROWS =
      " (call_sign, depth, berths, insured, launched, seen, owner_email, genre, rig) VALUES"
          + " ('MQ7AB', 2.5, 4, true, '1998-03-01', '2026-11-30 10:00:00', 'ann@quay.example', 1,"
          + " 'sloop'), ('MQ7AC', NULL, 2, false, NULL, NULL, 'none', NULL, 'it''s new')";

  @Test
  void aFormIsBegunFromATableOfEach() throws SQLException {
    String rigs = "varchar(20) NOT NULL CHECK (rig IN ('sloop', 'it''s new'))";
    postgres.sql(
        "CREATE SCHEMA yard; CREATE TYPE yard.rig AS ENUM ('sloop', 'it''s new'); "
            + fleet(
                "yard.fleet",
                "id bigserial PRIMARY KEY",
                "yard.rig NOT NULL",
                "photo blob",
                "photo bytea",
                "note <> depth",
                "note <> 'x'")
            + "; CREATE UNIQUE INDEX ON yard.fleet (lower(owner_email));"
            + " CREATE UNIQUE INDEX ON yard.fleet (launched, genre);"
            + "INSERT INTO yard.fleet"
            + ROWS
            + "; GRANT USAGE ON SCHEMA yard TO reader; GRANT SELECT ON yard.fleet TO reader;");
    maria.sql(
        "shop",
        fleet(
            "fleet",
            "id integer AUTO_INCREMENT PRIMARY KEY",
            "enum('sloop', 'it''s new') NOT NULL",
            "note <> depth",
            "note <> 'x'"),
        "CREATE UNIQUE INDEX together ON fleet (launched, genre)",
        "INSERT INTO fleet" + ROWS);
    try (Connection made = DriverManager.getConnection("jdbc:sqlite:" + file);
        Statement statement = made.createStatement()) {
      statement.execute(fleet("fleet", "id INTEGER PRIMARY KEY", rigs));
      statement.execute("CREATE UNIQUE INDEX together ON fleet (launched, genre)");
      statement.execute("INSERT INTO fleet" + ROWS);
    }
    for (String each :
        List.of("shop yard.fleet", "maria fleet", "server shop.fleet", "file fleet")) {
      String[] of = each.split(" ");
      Wire.Reply begun =
          wire.post(
              "/api/forms/boat/begin?source=%s&table=%s".formatted(of[0], of[1]),
              Wire.JSON_TYPE,
              "");
      String text = begun.response().body();
      assertThat(begun.status()).as(text).isEqualTo(200);
      assertThat(text.lines())
          .as(each)
          .contains(
              "# Begun from the table %s of %s; what is guessed is said. Read it through before use."
                  .formatted(of[1], of[0]),
              "# The key column id is left out: a record has an id of its own.",
              "# The column photo is left out: it holds bytes (see `type: file`).",
              "# It was held against 2 rows that are there.",
              "  # There it is called `Home port`.",
              "  homePort: { type: text, length: ..40, required: true, default: Marrow Quay }",
              "  depth: { type: decimal, decimals: 2, range: 0.5..30 }",
              "  berths: { type: integer, required: true, range: 1.. }",
              "  insured: { type: boolean, default: false }",
              "  launched: { type: date }",
              "  seen: { type: datetime }",
              "  # It refers to the table genres: form genres has to be there.",
              "  genre: { type: record, form: genres }",
              "  # Left out: `type: email`, which refuses 1 of 2 rows there.",
              "  rig: { type: choice, %s }"
                  .formatted(
                      of[0].equals("file")
                          ? "required: true, options: [sloop, \"it's new\"]"
                          : "options: [sloop, \"it's new\"], required: true"),
              "  - { fields: [launched, genre] }");
      assertThat(text)
          .contains(
              "call_sign: { type: text, length: ..8, required: true, unique: "
                  + (of[0].matches("maria|server") ? "{ ignore-case: true } }" : "true }"),
              "# Rows are checked there by: ");
      assertThat(
              text.contains(
                  "owner_email: { type: text, length: ..80, unique: { ignore-case: true } }"))
          .as(text)
          .isEqualTo(of[0].equals("shop"));
      // The form that the comment asks for is not there.
      assertThat(wire.post("/api/forms/boat/lint", "application/yaml", text).json().path("errors"))
          .extracting(it -> it.path("pointer").asString())
          .containsExactly("#/fields/genre/form");
    }
    assertThat(wire.get("/api/sources/tables").json().toString())
        .contains(
            "{\"source\":\"file\",\"table\":\"order lines\"}",
            "{\"source\":\"maria\",\"table\":\"fleet\"}",
            "{\"source\":\"server\",\"table\":\"shop.fleet\"}",
            "{\"source\":\"shop\",\"table\":\"yard.fleet\"}",
            "{\"source\":\"shop\",\"table\":\"genres\"}",
            "\"away\":[]")
        .doesNotContain("pg_", "information_schema");
    assertThat(service.stranger().get("/api/sources/tables").status()).isEqualTo(401);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "source=shoop&table=genres | 422 | There is no database shoop in the settings; did you mean"
            + " shop?",
        "source=shop&table=genre | 422 | There is no table genre in shop; did you mean genres?",
        "source=shop | 422 | There is no table  in shop; it has",
        "source=file&table=x%27%3B%20DROP%20TABLE%20genres | 422 | There is no table x'; DROP",
        "source=shop&table=private | 503 | cannot be read just now: it answered with SQLSTATE"
            + " 42501",
      })
  void aTableThatFormsCannotBeBegunFromIsTold(String query, int status, String words) {
    Wire.Reply told = wire.post("/api/forms/boat/begin?" + query, Wire.JSON_TYPE, "");
    assertThat(told.status()).isEqualTo(status);
    assertThat(told.json().path("detail").asString()).contains(words);
  }

  @Test
  void theCommandLineBeginsOneToo() {
    Map<String, String> at =
        Map.of("NODLEY_AT", service.address(), "NODLEY_KEY", RunningService.KEY);
    ClientRun begun = ClientRun.of(at, "start", "genre", "--from-source", "maria.genres");
    assertThat(begun.status()).as(begun.out()).isZero();
    assertThat(begun.out()).contains("  name: { type: text, length: ..40 }", "form: genre");
    assertThat(ClientRun.of(at, "start", "genre", "--from-source", "maria").out())
        .contains("--from-source is a database and a table: shop.customers.");
    assertThat(ClientRun.of(at, "start", "genre", "--from-source", "maria.genre").out())
        .contains("There is no table genre in maria; did you mean genres?");
  }

  private static Wire wireAgain() {
    return service.wire();
  }
}
