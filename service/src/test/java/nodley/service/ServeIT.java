package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The packed service as its own process: how it starts, what it watches, how it stops. */
class ServeIT {

  private static final Map<String, String> KEY = Map.of("NODLEY_ADMIN_KEY", RunningService.KEY);

  @TempDir private Path folder;

  @Test
  void theFirstKeyIsPrintedOnceAndHoldsAfterARestart() {
    String key;
    try (Program service = Program.service(Map.of(), "serve", "--data", folder, "--port", 0)) {
      String at = service.ready();
      key = service.line("The first key").replaceFirst(".*: ", "");
      assertThat(new Wire(at, Optional.of(key)).publish("vessel", "form: vessel").status())
          .isEqualTo(422);
      assertThat(new Wire(at, Optional.of("guess")).publish("vessel", "").status()).isEqualTo(401);
    }
    try (Program service = Program.service(Map.of(), "serve", "--data", folder, "--port", 0)) {
      assertThat(new Wire(service.ready(), Optional.of(key)).publish("a", "form: a").status())
          .isEqualTo(422);
      assertThat(service.stop().out()).doesNotContain("first key");
    }
  }

  /** Looking for the beans would take a third of each start. */
  @Test
  void aPackedServiceTakesTheListOfItsBeans() {
    Map<String, String> environment = Map.of("JAVA_TOOL_OPTIONS", "-Xlog:class+load");
    try (Program service = Program.service(environment, "serve", "--data", folder, "--port", 0)) {
      service.ready();
      service.line(" nodley.service.start.Application__ApplicationContextInitializer ");
    }
  }

  @Test
  void theFirstAdminIsAddedToAFolderThatNoServiceUses() {
    Object[] ida = {"people", "add", "ida", "--role", "admin", "--data", folder};
    try (Program service = Program.service(KEY, "serve", "--data", folder, "--port", 0)) {
      service.ready();
      assertThat(run(ida)).satisfies(it -> assertThat(it.status()).isEqualTo(1));
      assertThat(run(ida).out()).contains("is in use by another Nodley");
    }
    Program.Ended added = run(ida);
    assertThat(added.status()).as(added.out()).isZero();
    assertThat(added.out())
        .contains(
            "ida, with the role admin, sets a password at the service's address, below:",
            "It is shown this once, and is good for 24 hours and for one use.");
    assertThat(run(ida).out()).contains("The name ida is another person's already");
    assertThat(run("people", "add", "bob", "--role", "Clerk", "--data", folder).out())
        .contains("Nobody was added.");
    assertThat(run("people", "remove", "ida", "--data", folder).out())
        .contains("With --data only `people add` works");
    assertThat(run("people", "add", "bob", "--data", folder.resolve("gone")).out())
        .contains("There is no data folder");
    String link = added.out().replaceFirst("(?s).*link=(\\S+).*", "$1");
    try (Program service = Program.service(KEY, "serve", "--data", folder, "--port", 0)) {
      Wire stranger = new Wire(service.ready(), Optional.empty());
      String session =
          stranger
              .put(
                  "/api/password",
                  Wire.JSON_TYPE,
                  "{\"link\": \"%s\", \"password\": \"%s\"}"
                      .formatted(link, RunningService.PASSWORD))
              .header("Set-Cookie");
      assertThat(stranger.get("/api/people", "Cookie", session).json().path("people").size())
          .isEqualTo(1);
    }
  }

  private static Program.Ended run(Object... arguments) {
    try (Program program = Program.service(Map.of(), arguments)) {
      return program.ended();
    }
  }

  @Test
  void aPortInUseIsToldInWords() {
    try (Program first =
        Program.service(KEY, "serve", "--data", folder.resolve("one"), "--port", 0)) {
      String port = first.ready().replaceFirst(".*:", "");
      try (Program second =
          Program.service(KEY, "serve", "--data", folder.resolve("two"), "--port", port)) {
        Program.Ended ended = second.ended();
        assertThat(ended.status()).isEqualTo(1);
        assertThat(ended.out())
            .contains("Port " + port + " of 127.0.0.1 cannot be used")
            .doesNotContain("Exception");
      }
      try (Program third =
          Program.service(KEY, "serve", "--data", folder.resolve("one"), "--port", 0)) {
        assertThat(third.ended().out()).contains("is in use by another Nodley");
      }
    }
  }

  @Test
  void aDataFolderThatCannotBeWrittenIsToldInWords() throws IOException {
    Path file = Files.writeString(folder.resolve("file"), "");
    try (Program service =
        Program.service(KEY, "serve", "--data", file.resolve("data"), "--port", 0)) {
      Program.Ended ended = service.ended();
      assertThat(ended.status()).isEqualTo(1);
      assertThat(ended.out()).contains("cannot be written").doesNotContain("Exception");
    }
  }

  @Test
  void settingsComeFromAFileAndFromTheEnvironment() throws IOException {
    Path config =
        Files.writeString(
            folder.resolve("settings.yaml"),
            "nodley:\n  limits:\n    request:\n      body: 2KB\n      address: 300B\n");
    Map<String, String> environment =
        Map.of("NODLEY_ADMIN_KEY", RunningService.KEY, "NODLEY_LIMITS_REQUEST_ADDRESS", "400B");
    Object[] arguments = {
      "serve", "--data", folder.resolve("data"), "--config", config, "--port", 0
    };
    try (Program service = Program.service(environment, arguments)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(wire.publish("raft", "form: raft\n" + "#".repeat(3_000)).status()).isEqualTo(422);
      assertThat(wire.add("raft", "{\"a\": \"" + "x".repeat(3_000) + "\"}").status())
          .isEqualTo(404);
      assertThat(wire.post("/api/session", Wire.JSON_TYPE, " ".repeat(3_000)).status())
          .isEqualTo(413);
      // A variable counts more than a file.
      assertThat(wire.get("/forms?lang=" + "e".repeat(330)).status()).isEqualTo(200);
      assertThat(wire.get("/forms?lang=" + "e".repeat(430)).status()).isEqualTo(414);
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "NODLEY_LIMITS_REQUEST_BODI | 1MB | There is no setting NODLEY_LIMITS_REQUEST_BODI (the"
            + " environment). Did you mean NODLEY_LIMITS_REQUEST_BODY?",
        "NODLEY_LIMITS_REQUEST_BODY | huge | nodley.limits.request.body is \"huge\"; it must be a"
            + " size such as 512KB or 1MB.",
      })
  void aVariableThatIsNoSettingStopsTheStart(String name, String value, String said) {
    try (Program service =
        Program.service(Map.of(name, value), "serve", "--data", folder, "--port", 0)) {
      assertThat(service.ended())
          .isEqualTo(new Program.Ended(1, "The service cannot start: " + said));
    }
  }

  @Test
  void aFileOfSettingsThatIsNotThereIsTold() {
    try (Program service =
        Program.service(KEY, "serve", "--data", folder, "--config", folder.resolve("none.yaml"))) {
      assertThat(service.ended().status()).isEqualTo(1);
      assertThat(service.ended().out()).contains("There is no file of settings");
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"-1", "70000", "x"})
  void aPortThatIsNoneIsWrongUsage(String port) {
    try (Program service = Program.service(KEY, "serve", "--data", folder, "--port", port)) {
      assertThat(service.ended().status()).isEqualTo(2);
    }
  }

  @Test
  void aFormsFolderIsPublishedNowAndWheneverAFileChanges() throws IOException {
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Path data = folder.resolve("data");
    Files.writeString(
        forms.resolve("a-boat.form.yaml"),
        "form: boat\nfields: { at: { type: record, form: berth } }\n");
    Files.writeString(
        forms.resolve("b-berth.form.yaml"), "form: berth\nfields: { code: { type: text } }\n");
    String edited = "form: berth\nfields: { code: { type: text, required: true } }\n";
    Object[] arguments = {"serve", "--data", data, "--forms", forms, "--port", 0};
    try (Program service = Program.service(KEY, arguments)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(revision(wire, "boat")).isEqualTo(1);
      assertThat(revision(wire, "berth")).isEqualTo(1);
      Files.writeString(forms.resolve("c.form.yaml"), "form: c\nfeilds: {}\n");
      service.line("c.form.yaml is not published:");
      service.line("2:1 unknown-key A form has no key `feilds`. Did you mean `fields`?");
      Files.writeString(forms.resolve("b-berth.form.yaml"), edited);
      service.line("b-berth.form.yaml: revision 2");
      assertThat(wire.publish("berth", edited.replace("text", "email")).status()).isEqualTo(200);
    }
    try (Program service = Program.service(KEY, arguments)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(revision(wire, "berth")).as("what was put over the wire stands").isEqualTo(3);
    }
  }

  private static int revision(Wire wire, String form) {
    return wire.get("/api/forms/" + form).json().path("revision").asInt();
  }

  @Test
  void whatWasFoundIsSaidAndWhatIsPassedOver() throws IOException {
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Path below = Files.createDirectories(forms.resolve("harbour"));
    Files.writeString(
        forms.resolve("boat.form.yaml"), "form: boat\nfields: { a: { type: text } }\n");
    Files.writeString(
        below.resolve("pier.form.yaml"), "form: pier\nfields: { a: { type: text } }\n");
    Files.writeString(forms.resolve("notes.yaml"), "a: b\n");
    Object[] arguments = {"serve", "--data", folder.resolve("data"), "--forms", forms, "--port", 0};
    try (Program service = Program.service(KEY, arguments)) {
      service.ready();
      service.line("1 form");
      service.line("pier.form.yaml is passed over: folders in the forms folder are not read");
      service.line("notes.yaml is passed over: its name does not say what it is");
    }
  }

  @Test
  void listsAndPartsNearTheFormsFolderArePublishedBeforeTheForms() throws IOException {
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Path lists = Files.createDirectories(folder.resolve("lists"));
    Path list = lists.resolve("rigs.list.yaml");
    Files.writeString(list, "list: rigs\noptions: [sail, motor]\n");
    Files.writeString(
        forms.resolve("who.part.yaml"), "part: who\nfields: { name: { type: text } }\n");
    Files.writeString(
        forms.resolve("boat.form.yaml"),
        "form: boat\n"
            + "fields:\n"
            + "  rig: { type: choice, options: { list: rigs } }\n"
            + "  owner: { use: who }\n");
    Object[] arguments = {"serve", "--data", folder.resolve("data"), "--forms", forms, "--port", 0};
    try (Program service = Program.service(KEY, arguments)) {
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(wire.get("/api/forms/boat").json().path("fields").toString())
          .contains("\"motor\"")
          .contains("\"name\"");
      // A list that the form could not do without is not taken over; the log says why.
      Files.writeString(list, "list: rigs\noptions: []\n");
      service.line("rigs.list.yaml is not published:");
      assertThat(wire.get("/api/lists/rigs").response().body()).contains("motor");
      Files.writeString(list, "list: rigs\noptions: [sail, motor, oars]\n");
      service.line("rigs.list.yaml: revised");
      assertThat(wire.get("/api/forms/boat").response().body()).contains("oars");
      // Texts near the folder follow the form; a wrong name in them is told with its place.
      Path texts = Files.createDirectories(folder.resolve("texts")).resolve("boat.de.yaml");
      Files.writeString(texts, "fields: { rgi: { label: Takelung } }\n");
      service.line("boat.de.yaml is not published:");
      service.line("1:11 unknown-key");
      Files.writeString(texts, "fields: { rig: { label: Takelung } }\n");
      service.line("boat.de.yaml: new");
      assertThat(wire.get("/api/forms/boat?lang=de").response().body()).contains("Takelung");
    }
  }

  /** Each in turn would be published for ever, and the service never be ready. */
  @Test
  void ofTwoFilesOfOneNameTheFirstIsRead() throws IOException {
    Path forms = Files.createDirectories(folder.resolve("forms"));
    Path lists = Files.createDirectories(forms.resolve("lists"));
    Files.writeString(forms.resolve("rigs.list.yaml"), "list: rigs\noptions: [sail]\n");
    Files.writeString(lists.resolve("rigs.list.yaml"), "list: rigs\noptions: [motor]\n");
    Files.writeString(
        forms.resolve("boat.form.yaml"), "form: boat\nfields: { rig: { type: text } }\n");
    Files.writeString(forms.resolve("boat.de.yaml"), "fields: { rig: { label: Takelung } }\n");
    Object[] arguments = {"serve", "--data", folder.resolve("data"), "--forms", forms, "--port", 0};
    try (Program service = Program.service(KEY, arguments)) {
      service.line("lists/rigs.list.yaml is not read, for there is");
      Wire wire = new Wire(service.ready(), Optional.of(RunningService.KEY));
      assertThat(wire.get("/api/lists/rigs").response().body()).contains("sail");
      // Texts beside the form are read as those in a folder of their own.
      assertThat(wire.get("/api/forms/boat?lang=de").response().body()).contains("Takelung");
    }
  }

  @Test
  void aKeyStoreThatCannotBeReadIsNoMatterOfThePort() throws IOException {
    Path store = Files.writeString(folder.resolve("keys.p12"), "no key store");
    Map<String, String> environment =
        Map.of("SERVER_SSL_KEY_STORE", store.toString(), "SERVER_SSL_KEY_STORE_PASSWORD", "x");
    try (Program service =
        Program.service(environment, "serve", "--data", folder.resolve("data"), "--port", 0)) {
      Program.Ended ended = service.ended();
      assertThat(ended.status()).isEqualTo(1);
      assertThat(ended.out())
          .contains("The service cannot start: ")
          .doesNotContain("Port 0")
          .doesNotContain("\tat ");
    }
  }

  @Test
  void theDemoComesWithItsHarbourAndStopsCleanly() {
    try (Program demo = Program.service(Map.of(), "demo", "--port", 0)) {
      String at = demo.ready();
      String key = demo.line("  Key  ").replaceFirst(" *Key *", "");
      demo.line("The harbour of Marrow Quay: 8 forms and 50 made-up records.");
      demo.line("Try first");
      Wire wire = new Wire(at, Optional.of(key));
      assertThat(
              wire.check("vessel", "?fields=callSign", "{\"callSign\":\"mq-7ab\"}")
                  .codeOf("callSign"))
          .isEqualTo("taken");
      assertThat(wire.get("/api/forms/skipper/records").json().path("records")).hasSize(10);
      Program.Ended ended = demo.stop();
      assertThat(ended.out()).endsWith("Nodley has stopped.");
    }
  }

  @Test
  void aDemoThatCannotStartLeavesNothingBehind() throws IOException {
    Path temporary = Files.createDirectory(folder.resolve("temporary"));
    Map<String, String> there = Map.of("JAVA_TOOL_OPTIONS", "-Djava.io.tmpdir=" + temporary);
    try (ServerSocket taken = new ServerSocket(0, 1, InetAddress.getLoopbackAddress());
        Program demo = Program.service(there, "demo", "--port", taken.getLocalPort())) {
      Program.Ended ended = demo.ended();
      assertThat(ended.status()).isEqualTo(1);
      assertThat(ended.out()).contains("another program has it");
    }
    try (Stream<Path> left = Files.list(temporary)) {
      assertThat(left.map(it -> it.getFileName().toString()))
          .noneMatch(it -> it.startsWith("nodley-demo-"));
    }
  }

  @Test
  void aDemoWithAFolderKeepsWhatWasChanged() {
    Object[] arguments = {"demo", "--data", folder.resolve("quay"), "--port", 0};
    try (Program demo = Program.service(KEY, arguments)) {
      Wire wire = new Wire(demo.ready(), Optional.of(RunningService.KEY));
      assertThat(
              wire.add("berth", "{\"code\":\"F9\",\"pontoon\":\"north\",\"length\":9,\"depth\":2}")
                  .status())
          .isEqualTo(201);
    }
    try (Program demo = Program.service(KEY, arguments)) {
      Wire wire = new Wire(demo.ready(), Optional.of(RunningService.KEY));
      demo.line("as you left it");
      assertThat(wire.get("/api/forms/berth/records?q=F9").json().path("records")).hasSize(1);
    }
  }
}
