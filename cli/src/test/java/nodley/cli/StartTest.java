package nodley.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import nodley.core.file.FormFile;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import picocli.CommandLine;

/** {@code nodley start}: form files begun from tables, schemas, data and pages. */
class StartTest {

  @TempDir private Path folder;

  private final StringWriter out = new StringWriter();
  private final StringWriter err = new StringWriter();

  @BeforeEach
  void copy() throws Exception {
    for (String name : List.of("member.json", "boat.html")) {
      Files.write(
          folder.resolve(name),
          StartTest.class.getResourceAsStream("/start/" + name).readAllBytes());
    }
    String sql =
        new String(
            StartTest.class.getResourceAsStream("/start/app.sql").readAllBytes(),
            StandardCharsets.UTF_8);
    try (Connection connection =
            DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("app.db"));
        Statement statement = connection.createStatement()) {
      for (String each : sql.split(";\n")) {
        statement.execute(each);
      }
    }
  }

  private int run(String... arguments) {
    CommandLine commands = Cli.commandLine(Map.of());
    commands.setOut(new PrintWriter(out, true)).setErr(new PrintWriter(err, true));
    return commands.execute(
        Arrays.stream(arguments)
            .map(it -> it.replace("@", folder.toString()))
            .toArray(String[]::new));
  }

  /** The lines of a form file that was begun; it has no errors. */
  private List<String> started(String... arguments) throws Exception {
    assertThat(run(arguments)).as(err.toString()).isZero();
    FormFile.read(out.toString());
    return out.toString().lines().toList();
  }

  @Test
  void aTableGivesTypesRequirementsUniquenessOptionsAndReferences() throws Exception {
    assertThat(started("start", "vessel", "--from-table", "@/app.db:vessels"))
        .containsSubsequence(
            "form: vessel",
            "called: \"{name}\"",
            "  name: { type: text, length: ..60, required: true }",
            "  call_sign: { type: text, required: true, unique: { ignore-case: true } }",
            "  rig: { type: choice, required: true, default: sail, options: [sail, motor,"
                + " \"it's other\"] }",
            "  length: { type: decimal, decimals: 2, range: 2..60 }",
            "  crew: { type: integer, default: 1 }",
            "  insured: { type: boolean, default: false }",
            "  launched: { type: date }",
            "  # Its default there is CURRENT_TIMESTAMP.",
            "  seen_at: { type: datetime }",
            "  # Its type is guessed from its name.",
            "  owner_email: { type: email }",
            "  # It refers to the table berths: form berths has to be there.",
            "  berth_id: { type: record, form: berths }",
            "  # There it is called `Größe (m)`.",
            "  grosseM: { type: decimal }",
            "  # There it is called `revision`.",
            "  revisionValue: { type: integer }")
        .contains(
            "# The key column id is left out: a record has an id of its own.",
            "# The column photo is left out: it holds bytes (see `type: file`).",
            "# The column tons is left out: the database generates it.",
            "  - { fields: [name, launched] }",
            "  - { fields: [call_sign, launched], ignore-case: true }",
            "# Unique together there, among some rows: name, crew.",
            "# Unique together there: name, an expression.");
  }

  @Test
  void aSchemaGivesWhatAFormFileCanSayAndSaysWhatItCannot() throws Exception {
    assertThat(started("start", "member", "--from-schema", "@/member.json"))
        .containsSubsequence(
            "  name: { type: text, label: Full name, length: 2..60, required: true }",
            "  mail: { type: email }",
            "  sign: { type: text, pattern: \"[A-Z]{2}[0-9]+\" }",
            "  loose: { type: text, pattern: \".*[a-z].*\" }",
            "  bad: { type: text }",
            "  age: { type: integer, range: 1..120 }",
            "  # Steps there are counted from 0, here from 1.",
            "  price: { type: decimal, range: 1.., step: 0.05 }",
            "  rig: { type: choice, options: [sail, motor] }",
            "  kind: { type: choice, options: { a: First, b: Second }, default: a }",
            "  agree: { type: boolean, required: true }",
            "  tags: { type: choices, options: [x, \"y\"], count: ..2 }",
            "  words:",
            "      value: { type: text }",
            "  # There, where it is there at all, it has `1..` items.",
            "  crew:",
            "    type: rows",
            "      name: { type: text, required: true }",
            "      born: { type: date }",
            "  home:",
            "    type: group",
            "  # Its type is not known; text is a guess.",
            "  loop: { type: text }",
            "  # Not carried over: contentEncoding.",
            "  formValue: { type: text }")
        .anyMatch(line -> line.startsWith("  # Left out: `pattern: .*(?<x>a)"));
  }

  @Test
  void dataGivesTypesThatAllValuesHaveAndWhatWasObserved() throws Exception {
    StringBuilder csv = new StringBuilder("\uFEFFCode;Name of berth;Length;Since;Mail;Rig;Plz;\n");
    for (int i = 1; i <= 12; i++) {
      csv.append(
          "A%d;\"Berth; no %d\";%d.50;2020-01-%02d;a%d@b.example;%s;0%d;\n"
              .formatted(i, i, i, i % 9 + 1, i, i % 2 == 0 ? "sail" : "motor", i));
    }
    Files.writeString(folder.resolve("b.csv"), csv);
    assertThat(started("start", "berth", "--from-csv", "@/b.csv"))
        .containsSubsequence(
            "  # All values differ: `unique: true`, if that is so by rule.",
            "  code: { type: text, required: true }",
            "  # The longest value has 12 characters.",
            "  nameOfBerth: { type: text, required: true }",
            "  # All 12 values can be read as decimal.",
            "  length: { type: decimal, required: true }",
            "  since: { type: date, required: true }",
            "  mail: { type: email, required: true }",
            "  # A choice, for only these 2 values are in the data.",
            "  rig: { type: choice, options: [motor, sail], required: true }",
            "  plz: { type: text, required: true }",
            "  # It has no values; its type is not known.",
            "  column8: { type: text }");
  }

  @Test
  void aPageGivesItsControlsLabelsAndConstraints() throws Exception {
    assertThat(started("start", "boat", "--from-html", "@/boat.html"))
        .containsSubsequence(
            "# 2 forms are there; this is the one with the most controls, number 2. --form-number"
                + " takes another.",
            "# The hidden input token is left out.",
            "  name: { type: text, label: Your name, help: \"As in the passport.\", required: true,"
                + " length: 2..60 }",
            "  contactEmail: { type: email, label: E-mail }",
            "  rig: { type: choice, options: { sail: Sail, motor: Motor }, label: Kind of vessel,"
                + " default: sail }",
            "  agree: { type: boolean, label: I agree, required: true }",
            "  berthNo: { type: choice, options: { A1: A1, B2: Berth B2 }, default: B2 }",
            "  length: { type: decimal, step: 0.1, range: 2..60, default: 9.5 }",
            "  crew: { type: integer, range: 1.. }",
            "  day: { type: date, range: 2027-01-01.. }",
            "  phone: { type: phone, pattern: \"[0-9 ]{7,}\", placeholder: \"210 000 001\" }",
            "  notes: { type: text, multiline: true, length: ..600 }",
            "  photo: { type: file, accept: [\"image/*\", \".pdf\"] }",
            "  town: { type: text, options: [Marrow Quay, Ferrow] }",
            "  svc: { type: choices, options: { water: Water, power: Power }, default: [power] }",
            "  pw: { type: secret }");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "--from-table|@/app.db:vesels|did you mean vessels?",
        "--from-table|@/none.db:vessels|is not there",
        "--from-table|@/boat.html:vessels|cannot be read as an SQLite database",
        "--from-csv|@/app.db|is not UTF-8 text",
        "--from-csv|@/empty.csv|is empty",
        "--from-csv|@/torn.csv|cannot be read as CSV",
        "--from-schema|@/boat.html|cannot be read as JSON",
        "--from-schema|@/list.json|is not one of an object",
        "--from-html|@/empty.csv|There is no form",
        "--from-html|@/none.html|is not there"
      })
  void whatCannotBeUsedIsSaidInWords(String option, String source, String said) throws Exception {
    Files.writeString(folder.resolve("empty.csv"), "");
    Files.writeString(folder.resolve("torn.csv"), "a,b\n\"1,2\n");
    Files.writeString(folder.resolve("list.json"), "[1]");
    assertThat(run("start", "x", option, source)).isEqualTo(Cli.REFUSED);
    assertThat(err.toString()).contains(said).doesNotContain("Exception");
    assertThat(out.toString()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "x --from-table @/app.db|a file and a table",
        "X --from-csv @/b.csv|small letter",
        "x|--from-table",
        "x --from-csv @/a --from-html @/b|mutually exclusive"
      })
  void wrongUsageIsToldApart(String arguments, String said) {
    assertThat(run(("start " + arguments).split(" "))).isEqualTo(Cli.USAGE);
    assertThat(err.toString()).contains(said);
  }

  private void page(String html) throws Exception {
    Files.writeString(folder.resolve("page.html"), html);
  }

  private void table(String sql) throws Exception {
    try (Connection connection =
            DriverManager.getConnection("jdbc:sqlite:" + folder.resolve("other.db"));
        Statement statement = connection.createStatement()) {
      for (String each : sql.split(";\n")) {
        statement.execute(each);
      }
    }
  }

  @Test
  void controlsWithoutANameGoByTheirIdAndDoNotDecideWhichFormIsTaken() throws Exception {
    page(
        """
        <form id="search"><input name="q"><input name="in"></form>
        <form id="filters"><input><input><input><input></form>
        <form id="order">
          <label for="mail">Mail</label><input id="mail" type="email">
          <input name="town"><input name="zip"><input placeholder="nothing">
        </form>
        """);
    assertThat(started("start", "order", "--from-html", "@/page.html"))
        .containsSubsequence(
            "# 3 forms are there; this is the one with the most controls, number 3. --form-number"
                + " takes another.",
            "# 1 control without a name and without an id: left out.",
            "  # There it has no name; this is its id.",
            "  mail: { type: email, label: Mail }",
            "  town: { type: text }");
    out.getBuffer().setLength(0);
    assertThat(started("start", "find", "--from-html", "@/page.html", "--form-id", "search"))
        .contains("  q: { type: text }", "  in: { type: text }");
    out.getBuffer().setLength(0);
    assertThat(started("start", "find", "--from-html", "@/page.html", "--form-number", "1"))
        .contains("  q: { type: text }");
    assertThat(run("start", "find", "--from-html", "@/page.html", "--form-number", "2"))
        .isEqualTo(1);
    assertThat(err.toString())
        .contains("has 4 controls, but none with a name or an id", "Others have");
    assertThat(run("start", "find", "--from-html", "@/page.html", "--form-id", "x")).isEqualTo(1);
    assertThat(err.toString())
        .contains("There is no form x in", "it has 1 (search), 2 (filters), 3 (order).");
  }

  @Test
  void aPageWithoutAFormElementIsTakenAsAWhole() throws Exception {
    page("<div><input name='a'></div><textarea name='b'>{{ order.note }}</textarea>");
    assertThat(started("start", "all", "--from-html", "@/page.html"))
        .contains(
            "# The page has no form element; these are all its controls.",
            "  a: { type: text }",
            "  # Its first value there is filled in by a template.",
            "  b: { type: text, multiline: true }");
  }

  @Test
  void radioButtonsWithoutValuesAreToldApartByTheirLabels() throws Exception {
    page(
        """
        <form><fieldset><legend>Rig</legend>
          <label><input type="radio" name="rig"> Sail</label>
          <label><input type="radio" name="rig"> Motor</label>
        </fieldset><input name="who" value="<%= user %>"></form>
        """);
    assertThat(started("start", "boat", "--from-html", "@/page.html"))
        .containsSubsequence(
            "  # There they have no values of their own; these are their labels.",
            "  rig: { type: choice, options: { Sail: Sail, Motor: Motor }, label: Rig }",
            "  # Its first value there is filled in by a template.",
            "  who: { type: text }");
  }

  @Test
  void aTableIsReadAsItsRowsAre() throws Exception {
    table(
        """
        CREATE TABLE "odd:name" (
          note TEXT NOT NULL DEFAULT '',
          db_host TEXT,
          contact_email VARCHAR(80),
          work_mail TEXT,
          code TEXT CHECK (length(code) <= 12)
        );
        INSERT INTO "odd:name" (contact_email, work_mail) VALUES ('a@b.example', 'none'), ('c@d.example', 'e@f.example');
        CREATE TABLE berths (pier INTEGER, number INTEGER, PRIMARY KEY (pier, number));
        CREATE TABLE stays (
          pier INTEGER, number INTEGER, day DATE,
          FOREIGN KEY (pier, number) REFERENCES berths (pier, number)
        )
        """);
    assertThat(started("start", "odd", "--from-table", "@/other.db:odd:name"))
        .containsSubsequence(
            "  note: { type: text }",
            "  db_host: { type: text }",
            "  # Its type is guessed from its name.",
            "  contact_email: { type: email, length: ..80 }",
            "  # Left out: `type: email`, which refuses 1 of 2 rows there.",
            "  work_mail: { type: text }",
            "  code: { type: text, length: ..12 }");
    out.getBuffer().setLength(0);
    assertThat(started("start", "berth", "--from-table", "@/other.db:berths"))
        .containsSubsequence(
            "  pier: { type: integer, required: true }",
            "  number: { type: integer, required: true }",
            "unique:",
            "  - { fields: [pier, number] }");
    out.getBuffer().setLength(0);
    assertThat(started("start", "stay", "--from-table", "@/other.db:stays"))
        .containsSubsequence(
            "# There the columns pier, number together refer to the table berths; a reference here"
                + " is one field.",
            "  pier: { type: integer }",
            "  number: { type: integer }");
  }

  @Test
  void whatRefusesRowsThatAreThereIsLeftOut() throws Exception {
    table(
        """
        CREATE TABLE trips (
          id INTEGER PRIMARY KEY,
          name TEXT NOT NULL,
          code VARCHAR(4),
          fare DECIMAL(6, 2),
          drift REAL,
          crew INTEGER,
          day DATE,
          seen DATETIME,
          sure BOOLEAN,
          depth INTEGER CHECK (depth BETWEEN 1 AND 9),
          rig TEXT NOT NULL CHECK (rig IN ('sail', 'motor'))
        );
        PRAGMA ignore_check_constraints = 1;
        INSERT INTO trips (name, code, fare, drift, crew, day, seen, sure, depth, rig) VALUES
          ('a', 'MQ7', 1.25, 0.1, 3, '2027-03-01', '2027-03-01 10:00:00', 1, 4, 'sail'),
          ('', 'MQ7AB', 1.255, 0.30000000000000004, 'some', '1/3/2027', '2027-03-02 10:00:00', 0, 12, 'oars'),
          ('c', NULL, NULL, NULL, NULL, NULL, NULL, NULL, NULL, 'motor')
        """);
    assertThat(started("start", "trip", "--from-table", "@/other.db:trips"))
        .containsSubsequence(
            "# It was held against 3 rows that are there.",
            "  # Left out: `required: true`, which refuses 1 of 3 rows there.",
            "  name: { type: text }",
            "  # Left out: `length: ..4`, which refuses 1 of 3 rows there.",
            "  code: { type: text }",
            "  # Left out: `decimals: 2`, which refuses 1 of 3 rows there.",
            "  fare: { type: decimal }",
            "  # 1 of 3 rows there have more than the 15 digits that a number has here.",
            "  drift: { type: decimal }",
            "  # Left out: `type: integer`, which refuses 1 of 3 rows there.",
            "  crew: { type: text }",
            "  # Left out: `type: date`, which refuses 1 of 3 rows there.",
            "  day: { type: text }",
            "  # There a space stands between date and time; here a T does.",
            "  seen: { type: datetime }",
            "  sure: { type: boolean }",
            "  # Left out: `range: 1..9`, which refuses 1 of 3 rows there.",
            "  depth: { type: integer }",
            "  # Left out: `type: choice`, which refuses 1 of 3 rows there.",
            "  rig: { type: text, required: true }");
  }

  @Test
  void labelsReadLikeWords() throws Exception {
    Files.writeString(
        folder.resolve("games.csv"), "home_team,awayTeam,IMO,Goals scored\nA,B,7,1\nC,D,8,2\n");
    assertThat(started("start", "game", "--from-csv", "@/games.csv"))
        .noneMatch(line -> line.contains("home_team") && line.contains("label"))
        .anyMatch(line -> line.startsWith("  home_team: {") && !line.contains("label"))
        .anyMatch(line -> line.startsWith("  awayTeam: {") && !line.contains("label"))
        .anyMatch(line -> line.startsWith("  imo: {") && line.contains("label: IMO"));
  }

  @Test
  void aSchemaAsksForNoMoreThanItsInstancesHave() throws Exception {
    StringBuilder many = new StringBuilder();
    for (int i = 0; i < 300; i++) {
      many.append(", \"odd%d\": {\"type\": \"string\", \"pattern\": \"^(?<x>a)$\"}".formatted(i));
    }
    Files.writeString(
        folder.resolve("s.json"),
        """
        {"allOf": [{"$ref": "#/$defs/named"}, {"properties": {"kind": {"const": "boat"}}}],
         "$defs": {"named": {"properties": {"name": {"type": "string"}}, "required": ["name"]}},
         "properties": {
           "home": {"type": "object", "required": ["street"],
             "properties": {"street": {"type": "string"}, "town": {"type": "string"}}},
           "crew": {"type": "array", "minItems": 1, "maxItems": 4,
             "items": {"type": "object", "properties": {"who": {"type": "string"}}, "required": ["who"]}},
           "age": {"anyOf": [{"type": "integer", "minimum": 1}, {"type": "null"}]},
           "size": {"enum": [1, 2.5]}%s
         }}
        """
            .formatted(many));
    assertThat(started("start", "boat", "--from-schema", "@/s.json"))
        .containsSubsequence(
            "  name: { type: text, required: true }",
            "  kind: { type: choice, options: [boat] }",
            "  home:",
            "      street: { type: text, required: home is not blank }",
            "      town: { type: text }",
            "  # There, where it is there at all, it has `1..4` items.",
            "  crew:",
            "    count: ..4",
            "      who: { type: text, required: true }",
            "  age: { type: integer, range: 1.. }",
            "  size: { type: choice, options: [1, 2.5] }")
        .anyMatch(line -> line.startsWith("  odd299: { type: text }"));
  }

  @Test
  void dataIsReadInItsEncodingAndAsItsCountryWritesIt() throws Exception {
    String data =
        """
        name;preis;tag;day;both;aktiv
        Möwe, groß;3,50;13.02.2024;2/13/2024;01/02/2024;0
        Fähre über Sund;1.200,75;01.03.2024;3/1/2024;02/03/2024;1
        Küste der Vögel;12;28.02.2024;12/31/2024;05/06/2024;1
        Ärger auf See;-0,5;30.11.2024;1/1/2024;07/08/2024;0
        """;
    Path file = folder.resolve("d.csv");
    String[] expected = {
      "  # There numbers have a decimal comma, such as 3,50.",
      "  # There dates are written with the day first, such as 13.02.2024.",
      "  # There dates are written with the month first, such as 2/13/2024.",
      "  # There dates are written in an order that these values do not tell, such as 01/02/2024.",
      "  # There 0 is no, and 1 is yes.",
      "  aktiv: { type: boolean }"
    };
    Files.write(file, data.getBytes(StandardCharsets.ISO_8859_1));
    assertThat(started("start", "boat", "--from-csv", "@/d.csv"))
        .contains(expected)
        .anyMatch(line -> line.startsWith("  preis: { type: decimal"))
        .anyMatch(line -> line.startsWith("  tag: { type: date"))
        .anyMatch(
            line -> line.matches("# It is not UTF-8; (ISO-8859-1|windows-1252) is a guess, .*"));
    for (String encoding : List.of("ISO-8859-1", "UTF-16")) {
      out.getBuffer().setLength(0);
      Files.write(file, data.getBytes(java.nio.charset.Charset.forName(encoding)));
      assertThat(started("start", "boat", "--from-csv", "@/d.csv", "--encoding", encoding))
          .contains(expected)
          .noneMatch(line -> line.contains("guess,"));
    }
    out.getBuffer().setLength(0);
    assertThat(started("start", "boat", "--from-csv", "@/d.csv"))
        .contains("# It was read as UTF-16.");
    assertThat(run("start", "boat", "--from-csv", "@/d.csv", "--encoding", "latin")).isEqualTo(1);
    assertThat(err.toString()).contains("There is no encoding latin; ISO-8859-1 is one");
    assertThat(run("start", "boat", "--from-csv", "@/d.csv", "--encoding", "UTF-8")).isEqualTo(1);
    assertThat(err.toString()).contains("is not UTF-8 text; --encoding says what it is.");
  }
}
