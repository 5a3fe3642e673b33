package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import nodley.cli.ClientRun;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The packed client against a service, each command as its own process. */
class CommandLineIT {

  private static RunningService service;

  @TempDir private Path folder;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    service.wire().publishDemo();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static Program.Ended run(Object... arguments) {
    return at(service, arguments);
  }

  private static String added(String code) {
    Program.Ended ended =
        run("add", "berth", "code=" + code, "pontoon=north", "length=12.5", "depth=2", "power=yes");
    assertThat(ended.status()).as(ended.out()).isZero();
    return ended.out().lines().toList().getLast();
  }

  @Test
  void aRecordGoesThroughItsWholeLife() {
    Program.Ended checked =
        run("check", "berth", "code=b-1", "pontoon=north", "length=12.5", "depth=2");
    assertThat(checked).isEqualTo(new Program.Ended(0, "Accepted; nothing was kept."));
    String id = added("b-1");
    assertThat(run("check", "berth", "--fields", "code", "code=B1").out())
        .isEqualTo("Refused.\n  code  taken  Berth B1 is already on the plan.");
    assertThat(run("records", "berth", "--q", "B1").out())
        .contains(id)
        .contains("B1, North pontoon");
    assertThat(run("record", "berth", id).out())
        .contains("B1, North pontoon")
        .containsPattern("length +12.5")
        .containsPattern("power +true");
    Program.Ended edited = run("edit", "berth", id, "depth=2.5", "power=no");
    assertThat(edited)
        .isEqualTo(new Program.Ended(0, "Berth B1 saved.\nB1, North pontoon is at version 2"));
    assertThat(run("record", "berth", id).out())
        .containsPattern("length +12.5")
        .containsPattern("depth +2.5")
        .containsPattern("power +false");
    Program.Ended late = run("edit", "berth", id, "depth=3", "--if-version", "1");
    assertThat(late.status()).isEqualTo(1);
    assertThat(late.out()).contains("depth: theirs 2.5, yours 3");
    assertThat(run("drop", "berth", id))
        .isEqualTo(new Program.Ended(0, "B1, North pontoon is removed."));
    assertThat(run("record", "berth", id).status()).isEqualTo(1);
    assertThat(run("removed", "berth").out()).isEqualTo("Nothing was removed lately.");
  }

  @Test
  void aRecordThatWasRemovedForAWhileIsPutBack() {
    String id = added("b-7");
    assertThat(run("drop", "berth", id, "--restorable").out())
        .isEqualTo(
            "B7, North pontoon is removed.\nTo put it back: nodley removed berth "
                + id
                + " --restore");
    assertThat(run("removed", "berth").out()).contains(id).contains("B7, North pontoon");
    assertThat(run("removed", "berth", id, "--restore"))
        .isEqualTo(new Program.Ended(0, "B7, North pontoon is back."));
    assertThat(run("record", "berth", id).out()).containsPattern("code +B7");
    run("drop", "berth", id, "--restorable");
    assertThat(run("removed", "berth", id, "--forget"))
        .isEqualTo(new Program.Ended(0, "It is forgotten for good."));
    assertThat(run("removed", "berth", id, "--restore").status()).isEqualTo(1);
    assertThat(run("removed", "berth").out()).doesNotContain(id);
    assertThat(run("removed", "berth", "--restore").status()).isEqualTo(2);
  }

  @Test
  void aRefusalListsErrorsByFieldAndEndsInOne() {
    Program.Ended ended = run("add", "berth", "code=Z99", "pontoon=west", "lenght=3");
    assertThat(ended.status()).isEqualTo(1);
    assertThat(ended.out())
        .isEqualTo(
            """
            The submission was refused.
              code     pattern-mismatch  Z99 is not a berth: a letter from A to F and a number, such as A12.
              pontoon  not-an-option     west is not one of the options for Pontoon.
              length   value-missing     Longest vessel is required.
              depth    value-missing     Depth at low water is required.
              lenght   unknown-field     The form has no field "lenght". Did you mean "length"?\
            """);
  }

  @Test
  void jsonIsTheServicesReplyAsItIs() {
    JsonNode forms = JsonMapper.shared().readTree(run("forms", "--json").out());
    assertThat(forms.path("forms"))
        .extracting(it -> it.path("form").asString())
        .contains("berth", "skipper", "vessel");
    JsonNode refused = JsonMapper.shared().readTree(run("--json", "add", "berth").out());
    assertThat(refused.path("type").asString()).isEqualTo("/problems/refused");
    JsonNode verdict = JsonMapper.shared().readTree(run("check", "berth", "--json").out());
    assertThat(verdict.path("verdict").asString()).isEqualTo("refused");
  }

  @Test
  void formsAndOneFormAreTables() {
    assertThat(run("forms").out())
        .containsPattern("FORM +TITLE +REVISION +FIELDS +RECORDS")
        .containsPattern("vessel +Vessels +1 +10 +0");
    assertThat(run("form", "vessel").out())
        .contains("vessel, revision 1")
        .containsPattern("callSign +text +Call sign +required, unique, length 3..8, pattern");
  }

  @Test
  void errorsInAFormFileHaveTheirLineAndAMark() throws IOException {
    Path file = folder.resolve("boat.form.yaml");
    Files.writeString(file, "form: boat\nfields:\n  name: { type: text, lenght: 2.. }\n");
    for (String command : List.of("lint", "publish")) {
      Program.Ended ended = run(command, file);
      assertThat(ended.status()).isEqualTo(1);
      assertThat(ended.out())
          .contains(
              file
                  + ":3:23  unknown-key  A field of type text has no key `lenght`."
                  + " Did you mean `length`?")
          .contains(
              "     3 |   name: { type: text, lenght: 2.. }\n       |                       ^");
    }
    Files.writeString(file, "form: boat\nfields:\n  at: { type: record, form: harbur }\n");
    assertThat(run("lint", file).out())
        .isEqualTo(file + ": no errors (it refers to harbur, which is not among these files)");
    Program.Ended published = run("publish", file);
    assertThat(published.status()).isEqualTo(1);
    assertThat(published.out()).contains("unknown-name");
  }

  @Test
  void lintNeedsNoService() {
    Program.Ended ended =
        Program.client(
            Map.of("NODLEY_AT", "http://127.0.0.1:1"),
            "lint",
            Repository.file("demo/forms/berth.form.yaml"));
    assertThat(ended)
        .isEqualTo(
            new Program.Ended(0, Repository.file("demo/forms/berth.form.yaml") + ": no errors"));
  }

  @Test
  void wrongUsageEndsInTwoAndSaysWhatWouldBeRight() {
    assertThat(run().status()).isEqualTo(2);
    assertThat(run("recrods").status()).isEqualTo(2);
    assertThat(run("recrods").out()).contains("records");
    assertThat(run("add").status()).isEqualTo(2);
    assertThat(run("add", "berth", "code").out()).contains("\"code\" is not field=value");
    assertThat(run("add", "berth", "code=1", "code=2").out()).contains("\"code\" is given twice");
    assertThat(run("edit", "berth", "x").status()).isEqualTo(2);
    assertThat(run("lint", folder.resolve("nothing.yaml")).out()).contains("is not there");
    assertThat(run("forms", "--at", "harbour").out()).contains("--at is an address such as");
    assertThat(run("forms", "--config", folder.resolve("none")).status()).isEqualTo(2);
  }

  @Test
  void aServiceThatIsNotThereEndsInThree() {
    Program.Ended ended = run("forms", "--at", "http://127.0.0.1:1");
    assertThat(ended.status()).isEqualTo(3);
    assertThat(ended.out()).contains("Cannot reach Nodley at http://127.0.0.1:1");
  }

  @Test
  void addressAndKeyComeFromOptionEnvironmentOrFile() throws IOException {
    Path file = folder.resolve("client.properties");
    Files.writeString(file, "at = " + service.address() + "\nkey = " + RunningService.KEY + "\n");
    String command = "records";
    assertThat(Program.client(Map.of(), command, "skipper", "--config", file).status()).isZero();
    assertThat(
            Program.client(Map.of("NODLEY_KEY", "wrong"), command, "skipper", "--config", file)
                .status())
        .isEqualTo(1);
    assertThat(
            Program.client(
                    Map.of("NODLEY_KEY", "wrong"),
                    command,
                    "skipper",
                    "--config",
                    file,
                    "--key",
                    RunningService.KEY)
                .status())
        .isZero();
    Path home = Files.createDirectories(folder.resolve("nodley"));
    Files.copy(file, home.resolve("client.properties"));
    assertThat(
            Program.client(Map.of("XDG_CONFIG_HOME", folder.toString()), command, "skipper")
                .status())
        .isZero();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "start",
        "lint",
        "try",
        "preview",
        "publish",
        "forms",
        "form",
        "types",
        "texts",
        "sample",
        "check",
        "add",
        "edit",
        "records",
        "record",
        "versions",
        "attempts",
        "attempt",
        "watch",
        "log",
        "backup",
        "drop",
        "removed"
      })
  void everyCommandHelpsWithExamples(String command) {
    List<Object> arguments = new ArrayList<>(Arrays.asList(command, "--help"));
    Program.Ended ended = run(arguments.toArray());
    assertThat(ended.status()).isZero();
    assertThat(ended.out()).contains("Examples:").contains("nodley " + command);
  }

  @Test
  void recordsArePickedAndOrdered() {
    List<String> ids = List.of(added("E51"), added("E52"), added("E53"));
    run("edit", "berth", ids.get(1), "depth=9.5");
    run("edit", "berth", ids.get(2), "depth=9.6");
    Program.Ended found = run("records", "berth", "--where", "depth > 9", "--sort=-depth");
    assertThat(found.out().lines().skip(1).map(it -> it.substring(0, 36)))
        .containsExactly(ids.get(2), ids.get(1));
    Program.Ended wrong = run("records", "berth", "--where", "dept > 9");
    assertThat(wrong.status()).isEqualTo(1);
    assertThat(wrong.out()).contains("Did you mean `depth`?");
    ids.forEach(id -> run("drop", "berth", id));
  }

  @Test
  void versionsAreToldAndPutBack() {
    String id = added("E61");
    run("edit", "berth", id, "depth=3", "power=no");
    assertThat(
            run("versions", "berth", id).out().lines().map(it -> it.strip().replaceAll(" +", " ")))
        .anyMatch(it -> it.matches("2 .*Z admin depth 2 3"))
        .anyMatch(it -> it.equals("power true false"))
        .anyMatch(it -> it.matches("1 .*Z admin code E61"));
    assertThat(run("versions", "berth", id, "--restore", "1"))
        .isEqualTo(
            new Program.Ended(
                0, "E61, North pontoon is as it was in version 1; that is now version 3."));
    assertThat(run("record", "berth", id).out()).containsPattern("depth +2\n");
    Program.Ended none = run("versions", "berth", id, "--restore", "9");
    assertThat(none.status()).isEqualTo(1);
    assertThat(none.out()).contains("The record has no version 9");
    run("drop", "berth", id);
  }

  @Test
  void attemptsAreListedToldAndWatched() {
    String id = added("E71");
    run("add", "berth", "code=E71");
    Program.Ended list = run("attempts", "berth", "--code", "taken", "--limit", "1");
    assertThat(list.out().lines().skip(1).findFirst().orElse(""))
        .containsPattern("Z +berth +add +refused +code: taken, .* ms +[0-9a-f-]{36}$");
    String attempt = list.out().strip().replaceAll("(?s).* ", "");
    assertThat(run("attempt", attempt).out())
        .startsWith("An add to berth (revision 1), 20")
        .containsPattern("  code +E71\n")
        .containsPattern("  question +[0-9.]+ ms +code: taken\\?")
        .contains("Refused:\n  code");
    assertThat(run("attempts", "berth", "--verdict", "odd").status()).isEqualTo(1);
    assertThat(run("attempt", "E71").out()).contains("There is no such attempt.");
    assertThat(run("watch", "--checks").status()).isEqualTo(2);
    run("drop", "berth", id);
  }

  @Test
  void peopleAreAddedChangedAndRemoved() {
    Program.Ended added = run("people", "add", "ann", "--email", "ann@harbour.example");
    assertThat(added.out()).startsWith("ann, without a role, sets a password here:");
    String link = added.out().lines().filter(it -> it.contains("link=")).findFirst().orElseThrow();
    Wire.Reply set =
        service
            .stranger()
            .put(
                "/api/password",
                Wire.JSON_TYPE,
                "{\"link\": \"%s\", \"password\": \"a grey heron at low tide\"}"
                    .formatted(link.replaceFirst(".*link=", "")));
    assertThat(set.status()).isEqualTo(200);
    assertThat(run("people", "change", "ann", "--role", "author").out())
        .isEqualTo("ann has the role author, and the address ann@harbour.example.");
    assertThat(run("people", "change", "ann", "--no-roles", "--email", "").out())
        .isEqualTo("ann has no role.");
    assertThat(run("people").out())
        .matches("(?s)NAME +E-MAIL +ROLES +PASSWORD +SIGNED IN\\n.*ann +none +set +20.*Z.*");
    JsonNode people =
        JsonMapper.shared().readTree(run("people", "list", "--json").out()).path("people");
    assertThat(people.path(0).path("hasPassword").asBoolean()).isTrue();

    String sessions = run("sessions").out();
    assertThat(sessions).startsWith("SESSION").contains(" ann ", "password", "127.0.0.1");
    String id = sessions.lines().filter(it -> it.contains(" ann ")).findFirst().orElseThrow();
    assertThat(run("sessions", "end", id.replaceFirst(" .*", "")).out())
        .isEqualTo("The session has ended.");
    assertThat(run("sessions", "list").out()).doesNotContain(" ann ");
    assertThat(run("sessions", "end", "0000").status()).isEqualTo(1);

    Program.Ended twice = run("people", "add", "ANN", "--role", "Clerk");
    assertThat(twice.status()).isEqualTo(1);
    assertThat(twice.out()).contains("\"Clerk\" is no role");
    assertThat(run("people", "add", "ANN").out()).contains("is another person's already");
    assertThat(run("people", "link", "anne").out()).contains("Did you mean \"ann\"?");
    assertThat(run("people", "link", "ann").out()).contains("/set-password?link=");
    assertThat(run("people", "remove", "ann").out()).isEqualTo("ann can sign in no longer.");
    assertThat(run("people").out()).startsWith("Nobody signs in with a password yet.");
    assertThat(run("people", "add").status()).isEqualTo(2);
    assertThat(run("people", "add", "cy").status()).isZero();
    Program.Ended unasked = run("people", "forget", "cy");
    assertThat(unasked.status()).isEqualTo(2);
    assertThat(unasked.out()).contains("say --yes").doesNotContain("Exception");
    assertThat(run("people", "list").out()).contains("cy");
    assertThat(run("people", "forget", "cy", "--yes").out()).startsWith("cy is forgotten.");
    assertThat(run("people", "forget", "cy", "--yes").out()).contains("no person \"cy\"");
  }

  @Test
  void keysAreMadeListedAndEnded() {
    Program.Ended made = run("keys", "make", "export", "--forms", "berth,vessel");
    assertThat(made.status()).isZero();
    assertThat(made.out())
        .startsWith("Key export, without a role, for berth, vessel:\n\n  ")
        .endsWith("It is shown this once. A program sends it as Authorization: Bearer KEY.");
    String key = made.out().lines().skip(2).findFirst().orElseThrow().strip();
    Program.Ended listed =
        Program.client(
            Map.of("NODLEY_AT", service.address(), "NODLEY_KEY", key), "records", "berth");
    assertThat(listed.status()).as(listed.out()).isZero();
    Program.Ended refused =
        Program.client(Map.of("NODLEY_AT", service.address(), "NODLEY_KEY", key), "keys");
    assertThat(refused.status()).isEqualTo(1);
    assertThat(refused.out())
        .isEqualTo("You may not do this.\nThis needs the role admin. You have no role.");
    assertThat(run("keys", "list").out())
        .containsPattern("NAME +ROLES +FORMS +UNTIL +LAST USED")
        .containsPattern("admin +admin +all")
        .containsPattern("export +none +berth, vessel");
    JsonNode json =
        JsonMapper.shared()
            .readTree(
                run("keys", "make", "web", "--role", "author", "--role", "clerk", "--json").out());
    assertThat(json.path("roles").toString()).isEqualTo("[\"author\",\"clerk\"]");
    Program.Ended twice = run("keys", "make", "web", "--until", "soon");
    assertThat(twice.status()).isEqualTo(1);
    assertThat(twice.out())
        .isEqualTo(
            """
            The submission was refused.
            No key was made.
              until  bad-input  Until is a date such as 2027-06-30.\
            """);
    assertThat(run("keys", "end", "exprot").out()).contains("Did you mean \"export\"?");
    assertThat(run("keys", "end", "export"))
        .isEqualTo(new Program.Ended(0, "Key export has ended."));
    assertThat(run("keys", "end", "admin").out()).startsWith("This is the last key of an admin.");
    assertThat(run("keys", "make").status()).isEqualTo(2);
  }

  @Test
  void theOperatorsLogIsListed() throws IOException {
    Path file = folder.resolve("jetty.form.yaml");
    Files.writeString(file, "form: jetty\nfields:\n  name: { type: text }\n");
    run("publish", file);
    assertThat(run("log", "--what", "publish", "--limit", "1").out().lines().toList())
        .satisfiesExactly(
            head -> assertThat(head).containsPattern("^AT +WHO +WHAT +TO +FROM$"),
            line ->
                assertThat(line)
                    .containsPattern("Z +admin +publish +jetty.form.yaml +127\\.0\\.0\\.1$"));
    assertThat(run("log", "--who", "nobody").out()).isEqualTo("The log has no such entry.");
  }

  @Test
  void aPreviewTellsWhatPublishingDoesAndARetiredFieldIsForgotten() throws IOException {
    Path file = folder.resolve("raft.form.yaml");
    Files.writeString(
        file, "form: raft\nfields:\n  name: { type: text }\n  seats: { type: text }\n");
    assertThat(run("preview", file)).isEqualTo(new Program.Ended(0, "raft: would be new"));
    assertThat(run("publish", file).out()).isEqualTo("raft: revision 1, new");
    String id = run("add", "raft", "name=Heron", "seats=six").out().lines().toList().getLast();
    Files.writeString(
        file,
        "form: raft\n"
            + "fields:\n"
            + "  title: { type: text, was: name, length: ..3 }\n"
            + "  seats: { type: integer }\n");
    assertThat(run("preview", file))
        .isEqualTo(
            new Program.Ended(
                1,
                """
                raft: would become revision 2
                  renamed  title  `name` is `title` now.
                Publishing would be refused, because stored records conflict with the form file:
                  raft.seats: Kept values cannot become integer.
                    %s\
                """
                    .formatted(id)));
    Files.writeString(
        file, "form: raft\nfields:\n  title: { type: text, was: name, length: ..3 }\n");
    assertThat(run("preview", file).out())
        .contains("Publishing needs --force rules, because stored records violate the new rules:")
        .contains("raft.title: Stored records violate the new rules; first error:")
        .contains(id);
    assertThat(run("publish", file).status()).isEqualTo(1);
    assertThat(run("publish", "--force", "rules", file).out())
        .contains("raft: revision 2, revised")
        .contains("retired  seats  Its column stays, with 1 kept value,")
        .contains("these stored records violate them, until they are edited:");
    assertThat(run("form", "raft").out()).containsPattern("seats +text +revision 2 +1");
    assertThat(run("form", "raft", "--forget", "title").out()).contains("has a field `title`");
    assertThat(run("form", "raft", "--forget", "seats"))
        .isEqualTo(new Program.Ended(0, "seats is forgotten (kept values: 1)."));
    assertThat(run("form", "raft").out()).doesNotContain("RETIRED");
  }

  @Test
  void caseFilesAreTriedHereAndThere() throws IOException {
    Path report = folder.resolve("cases.xml");
    Program.Ended here =
        run(
            "try",
            Repository.file("demo/cases/visit.cases.yaml"),
            Repository.file("demo/cases/vessel.cases.yaml"),
            "--report",
            report);
    assertThat(here.status()).as(here.out()).isZero();
    assertThat(here.out()).contains("  ok    visit: a weekend").endsWith("all as expected");
    assertThat(report).content().contains("<testcase classname=\"visit\" name=\"a weekend\"");
    Program.Ended there =
        run("try", Repository.file("demo/cases/vessel.cases.yaml"), "--at", service.address());
    assertThat(there.out()).endsWith("3 cases, all as expected");
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Files.writeString(forms.resolve("a.form.yaml"), "form: a\nfields: { n: { type: integer } }\n");
    Path cases = folder.resolve("a.cases.yaml");
    Files.writeString(
        cases,
        "cases:\n  - { name: three, in: { n: 3.5 }, verdict: accepted, values: { n: 3 } }\n");
    Program.Ended wrong = run("try", cases);
    assertThat(wrong.status()).isEqualTo(1);
    assertThat(wrong.out())
        .contains("  NOT   a: three")
        .contains("expected accepted, came refused")
        .contains("n: came bad-input: N must be a whole number, such as 12.")
        .contains("n: expected 3, came 3.5");
    Files.writeString(cases, "cases:\n  - { name: x, in: {}, erors: {} }\n");
    assertThat(run("try", cases).out()).contains("Did you mean `errors`?");
  }

  /** What depends on records is left out, so that the cases hold without the service too. */
  @Test
  void samplesMakeACaseFileThatHoldsHereAndThere() throws IOException {
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Files.copy(Repository.file("demo/forms/skipper.form.yaml"), forms.resolve("skipper.form.yaml"));
    Path cases = folder.resolve("skipper.cases.yaml");
    for (String kind : List.of("--wrong", "--seed=4")) {
      Files.writeString(cases, run("sample", "skipper", kind, "--cases").out());
      assertThat(run("try", cases).out()).as(kind).endsWith("all as expected");
      Program.Ended there = run("try", cases, "--at", service.address());
      assertThat(there.out()).as(kind).endsWith("all as expected");
    }
    assertThat(run("sample", "vessel", "--count", 3).out().lines()).hasSize(3);
    assertThat(run("sample", "vessel", "--count", 3, "--wrong").status()).isEqualTo(2);
  }

  @Test
  void textsAreListedByWhereTheyComeFrom() throws IOException {
    assertThat(run("texts", "vessel").out()).isEqualTo("vessel has texts in its form file only.");
    Path texts = folder.resolve("vessel.de.yaml");
    Files.writeString(texts, "fields: { nmae: { label: Name } }\n");
    Program.Ended refused = run("publish", texts);
    assertThat(refused.status()).isEqualTo(1);
    assertThat(refused.out()).contains("vessel.de.yaml:1:11  unknown-key").contains("         ^");
    assertThat(run("lint", Repository.file("demo/forms/vessel.form.yaml"), texts).out())
        .contains(":1:11");
    assertThat(run("publish", Repository.file("demo/texts/vessel.de.yaml")).out())
        .isEqualTo("texts of vessel in de: new");
    assertThat(run("texts", "vessel").out()).isEqualTo("vessel has texts in de.");
    assertThat(run("texts", "vessel", "--lang", "de").out())
        .containsPattern("fields.rig.options.sail +used +vessel.de +Segelschiff")
        .contains("vessel in German: 26 used, 0 missing, 0 unused;");
    assertThat(run("texts", "vessel", "--lang", "fr", "--missing").out())
        .containsPattern("fields.name.label +missing +form file +Name of the vessel")
        .containsPattern("say.value-missing +missing +Nodley +\\{label} is required.");
    assertThat(run("texts", "vessel", "--lang", "f_r").out()).contains("is no language tag");
  }

  /** The bundled database driver is there, and keeps quiet. */
  @Test
  void aFormFileIsBegunFromThePackedClient() throws Exception {
    Path page = folder.resolve("page.html");
    Files.writeString(page, "<form><input type=email name=mail required></form>");
    assertThat(run("start", "boat", "--from-html", page).out().lines().toList())
        .endsWith("fields:", "  mail: { type: email, required: true }");
    Path database = folder.resolve("app.db");
    try (var connection = java.sql.DriverManager.getConnection("jdbc:sqlite:" + database);
        var statement = connection.createStatement()) {
      statement.execute("CREATE TABLE boats (name TEXT NOT NULL)");
    }
    assertThat(run("start", "boat", "--from-table", database + ":boats").out().lines().toList())
        .first()
        .asString()
        .startsWith("# Begun from the table boats");
  }

  @Test
  void aPageIsHeldAgainstItsForm() throws Exception {
    Path page = folder.resolve("register.html");
    Files.writeString(
        page,
        """
        <!doctype html>
        <title>Register</title>
        <form data-nodley="vessel">
          <input name="nmae">
          <input name="callSign" maxlength="8">
          <select name="rig"><option value="">Choose</option><option value="saill">Sail</option></select>
          <input type="checkbox" name="insured" value="true">
          <input type="hidden" name="_mine"><button name="go">Send</button>
        </form>
        """);
    Program.Ended held = run("page", page, "--form", "vessel");
    assertThat(held.status()).isEqualTo(1);
    assertThat(held.out().lines().map(it -> it.replace(page.toString(), "")).toList())
        .containsExactlyInAnyOrder(
            ":2: The script is not there: <script type=\"module\" src=\"…/page/nodley.js\"> binds"
                + " the form to its rules.",
            ":3: Without script it is sent by GET, with all values in the address: say"
                + " method=\"post\".",
            ":3: \"name\" must be filled in, and the page has no control for it: add one named"
                + " \"name\".",
            ":3: \"length\" must be filled in, and the page has no control for it: add one named"
                + " \"length\".",
            ":4: The form has no field \"nmae\". Did you mean \"name\"?",
            ":5: maxlength on \"callSign\" cuts silently, and counts otherwise than the form does:"
                + " leave it out.",
            ":6: \"saill\" is no option of \"rig\". Did you mean \"sail\"?");
    Program.Ended own =
        run("page", Repository.file("docs/examples/own-form.html"), "--form", "vessel");
    assertThat(own.out()).contains("fits the form vessel");
    assertThat(own.status()).isZero();
    // The service's own page, by its address.
    assertThat(run("page", service.address() + "/forms/vessel/new", "--form", "vessel").status())
        .isZero();
    assertThat(run("page", folder.resolve("none.html"), "--form", "vessel").status()).isEqualTo(2);
    assertThat(run("page", page, "--form", "vesel").out()).contains("Did you mean \"vessel\"?");
    assertThat(run("page", page, "--form", "vessel", "--json").out()).contains("\"line\":4");
  }

  @Test
  void aPageIsMendedAndAllElseStaysByteForByte() throws IOException {
    Path page = folder.resolve("own.html");
    String text =
        """
        <!doctype html>\r
        <meta charset=utf-8><TITLE>Größe</TITLE>
        <form   class='a "b"'>
          <label>Name <input name=name></label><!-- é -->
          <input name="callSign"><input type=number name="length">
          <label><input type="checkbox" name="insured" value="true"> ok</label>
          <span data-error="length"></span><button>Send</button>
        </form>
        """;
    Files.writeString(page, text);
    Program.Ended mended = run("page", page, "--form", "vessel", "--mend");
    assertThat(mended.out()).contains("5 things put in").contains("fits the form vessel");
    assertThat(mended.status()).isZero();
    String at = service.address();
    String expected =
        text.replace(
                "class='a \"b\"'>",
                "class='a \"b\"' data-nodley=\"vessel\" method=\"post\" action=\""
                    + at
                    + "/forms/vessel/new\">")
            .replace("name=name></label>", "name=name></label><span data-error=\"name\"></span>")
            .replace("\"callSign\">", "\"callSign\"><span data-error=\"callSign\"></span>")
            .replace("ok</label>", "ok</label><span data-error=\"insured\"></span>")
            .replace(
                "</form>",
                "</form>\n<script type=\"module\" src=\"" + at + "/page/nodley.js\"></script>");
    assertThat(Files.readString(page)).isEqualTo(expected);
    assertThat(run("page", page, "--form", "vessel", "--mend").out()).contains("0 things put in");
    assertThat(Files.readString(page)).isEqualTo(expected);
  }

  @Test
  void typesArePrintedForTypeScript() {
    Program.Ended types = run("types", "vessel");
    assertThat(types.out())
        .contains("export interface Vessel {")
        .contains("  callSign: string;")
        .contains("  rig: \"sail\" | \"motor\" | \"fishing\" | \"tug\";")
        .contains("  crew?: number;")
        .contains("  insured: true;");
  }

  /** Groups, rows, choices and boxes, on the demo's own forms. */
  @Test
  void recordsOfEveryShapeAreShownAndEdited() {
    try (RunningService own = RunningService.fresh()) {
      own.wire().publishWholeDemo();
      shownAndEdited(own);
    }
  }

  private static Program.Ended at(RunningService own, Object... arguments) {
    ClientRun run =
        ClientRun.of(
            Map.of("NODLEY_AT", own.address(), "NODLEY_KEY", RunningService.KEY), arguments);
    return new Program.Ended(run.status(), run.out());
  }

  private static void shownAndEdited(RunningService own) {
    String vessel =
        last(
            at(
                own,
                "add",
                "vessel",
                "name=Wide",
                "callSign=MQ1ZZ",
                "rig=sail",
                "length=11.4",
                "crew=3",
                "insured=yes"));
    String visit =
        last(
            at(
                own,
                "add",
                "visit",
                "vessel=" + vessel,
                "arrives=" + LocalDate.now().plusDays(30),
                "departs=" + LocalDate.now().plusDays(33),
                "services=water,power",
                "contact.name=Ann Ferrow",
                "contact.email=ann@harbour.example",
                "crew[0].name=Ann Ferrow",
                "crew[0].role=skipper",
                "crew[1].name=Bo Hale",
                "crew[1].role=mate"));
    assertThat(at(own, "record", "visit", visit).out())
        .containsPattern("services +water, power")
        .containsPattern("contact.email +ann@harbour.example")
        .containsPattern("crew\\[1].name +Bo Hale");
    Program.Ended edited =
        at(
            own,
            "edit",
            "visit",
            visit,
            "services=power",
            "services=water",
            "crew[0].name=Ann Holt");
    assertThat(edited.status()).as(edited.out()).isZero();
    assertThat(at(own, "edit", "visit", visit, "crew[1].name=B").out())
        .containsPattern("crew\\[1].name +too-short");
    assertThat(at(own, "edit", "visit", visit, "crew[1]=").status()).isZero();
    assertThat(at(own, "record", "visit", visit).out())
        .containsPattern("services +power, water")
        .containsPattern("crew\\[0].name +Ann Holt")
        .doesNotContain("Bo Hale");
    assertThat(at(own, "versions", "visit", visit).out())
        .contains("name Ann Ferrow, role skipper; name Bo Hale, role mate")
        .doesNotContain("Exception");
  }

  private static String last(Program.Ended ended) {
    assertThat(ended.status()).as(ended.out()).isZero();
    return ended.out().lines().toList().getLast();
  }

  @Test
  void aFormGoesBackAndGoesAway() throws IOException {
    Path file = folder.resolve("skiff.form.yaml");
    Files.writeString(file, "form: skiff\nfields: { name: { type: text } }\n");
    assertThat(run("publish", file).status()).isZero();
    Files.writeString(
        file, "form: skiff\nfields: { name: { type: text }, more: { type: text } }\n");
    assertThat(run("publish", file).status()).isZero();
    assertThat(run("form", "skiff", "--revisions").out())
        .containsPattern("2 +\\S+ +current")
        .containsPattern("1 +\\S+");
    assertThat(run("form", "skiff", "--go-back", "1").out())
        .contains("skiff: revision 3, with the text of revision 1")
        .contains("more");
    assertThat(run("add", "skiff", "name=x").status()).isZero();
    Program.Ended kept = run("form", "skiff", "--remove");
    assertThat(kept.status()).isEqualTo(1);
    assertThat(kept.out()).contains("has 1 record");
    assertThat(run("form", "skiff", "--remove", "--records").out())
        .isEqualTo("skiff is removed, with its records.");
    assertThat(run("form", "skiff").status()).isEqualTo(1);
  }

  @Test
  void aListThatIsPublishedNeedNotBeAmongTheFiles() throws IOException {
    Path list = folder.resolve("colours.list.yaml");
    Files.writeString(list, "list: colours\noptions: [red, blue]\n");
    assertThat(run("publish", list).status()).isZero();
    Path elsewhere = Files.createDirectories(folder.resolve("elsewhere"));
    Path form = elsewhere.resolve("paint.form.yaml");
    Files.writeString(
        form, "form: paint\nfields: { c: { type: choice, options: { list: colours } } }\n");
    assertThat(run("preview", form).out()).contains("paint: would be new");
    assertThat(run("publish", form)).isEqualTo(new Program.Ended(0, "paint: revision 1, new"));
    Files.writeString(
        form, "form: paint\nfields: { c: { type: choice, options: { list: colurs } } }\n");
    Program.Ended wrong = run("publish", form, "--json");
    assertThat(wrong.status()).isEqualTo(1);
    assertThat(wrong.out()).contains("unknown-name").contains("colours");
  }

  @Test
  void ofSeveralFilesAllArePublishedOrNone() throws IOException {
    Path list = folder.resolve("knots.list.yaml");
    Path rope = folder.resolve("rope.form.yaml");
    Path german = folder.resolve("rope.de.yaml");
    Files.writeString(list, "list: knots\noptions: [bowline, reef]\n");
    Files.writeString(
        rope, "form: rope\nfields: { knot: { type: choice, options: { list: knots } } }\n");
    Files.writeString(german, "fields: { knot: { lable: Knoten } }\n");
    Program.Ended refused = run("publish", german, rope, list);
    assertThat(refused.status()).isEqualTo(1);
    assertThat(refused.out())
        .contains(
            "rope.de.yaml:1:19  unknown-key", "Did you mean `label`?", "Nothing was published.");
    assertThat(run("form", "rope").status()).isEqualTo(1);
    Files.writeString(german, "fields: { knot: { label: Knoten } }\n");
    assertThat(run("publish", german, rope, list))
        .isEqualTo(
            new Program.Ended(
                0,
                String.join(
                    System.lineSeparator(),
                    "texts of rope in de: new",
                    "rope: revision 1, new",
                    "list knots: new")));
    Files.writeString(list, "list: knots\noptions: [reef]\n");
    assertThat(run("publish", rope, list).out())
        .isEqualTo(
            String.join(
                System.lineSeparator(), "rope: revision 1, unchanged", "list knots: revised"));
    assertThat(run("form", "rope", "--remove").status()).isZero();
  }

  @Test
  void whatIsAskedOfAFormThatIsNotThereIsToldSo() {
    assertThat(run("attempts", "nope").status()).isEqualTo(1);
    assertThat(run("watch", "nope").status()).isEqualTo(1);
    Program.Ended stranger = Program.client(Map.of("NODLEY_AT", service.address()), "attempts");
    assertThat(stranger.out()).contains("NODLEY_KEY").contains("client.properties");
  }
}
