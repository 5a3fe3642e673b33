package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What docs/deliveries.md and docs/asks.md give to copy understands what the service sends. */
class OutsideExamplesTest {

  private static final String SECRET = "whsec_YWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWFhYWE=";

  private static final String LANDING =
      "form: landing\nfields: { vessel: { type: text } }\ndeliver: [{ to: office }]\n";

  private static Process start(String secret, String... command) throws IOException {
    var example = new ProcessBuilder(command).directory(Repository.file("docs/examples").toFile());
    example.environment().put("SECRET", secret);
    example.environment().put("PORT", "0");
    return example.redirectError(ProcessBuilder.Redirect.INHERIT).start();
  }

  private static void tells(String... command) throws IOException {
    Process example = start(SECRET, command);
    try (BufferedReader said = example.inputReader(StandardCharsets.UTF_8)) {
      String port = said.readLine().replace("ready at ", "");
      String at = "url: \"http://127.0.0.1:" + port + "/\", private: true";
      try (RunningService service =
          RunningService.with(
              "nodley.outlets.office: { %s, secret: \"%s\" }".formatted(at, SECRET),
              "nodley.outlets.stranger: { %s, secret: \"%s\" }"
                  .formatted(at, SECRET.replace("YWFh", "YWFi")))) {
        assertThat(service.wire().publish("landing", LANDING).status()).isEqualTo(201);
        String id =
            service.wire().add("landing", "{\"vessel\":\"Petrel\"}").json().path("id").asString();
        assertThat(said.readLine()).contains("nodley.record.added", id, "\"vessel\":\"Petrel\"");
        assertThat(
                service
                    .wire()
                    .post("/api/outlets/stranger/test", Wire.JSON_TYPE, "")
                    .json()
                    .path("answer")
                    .asString())
            .isEqualTo("answered 401");
      }
    } finally {
      example.destroy();
    }
  }

  @Test
  void inNode() throws IOException {
    tells("node", "receiver.mjs");
  }

  @Test
  void inJava() throws IOException {
    String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    tells(List.of(java, "Receiver.java").toArray(String[]::new));
  }

  @Test
  void aRegisterIsAsked() throws IOException {
    Process example = start(SECRET, "node", "register.mjs");
    String form = Files.readString(Repository.file("docs/asks.md"));
    form = form.substring(form.indexOf("form: mooring"));
    form = form.substring(0, form.indexOf("```"));
    try (BufferedReader said = example.inputReader(StandardCharsets.UTF_8)) {
      String port = said.readLine().replace("ready at ", "");
      try (RunningService service =
          RunningService.with(
              "nodley.asks.register: { url: \"http://127.0.0.1:%s/\", private: true, secret: \"%s\" }"
                  .formatted(port, SECRET))) {
        Wire wire = service.wire();
        assertThat(wire.publish("mooring", form).status()).isEqualTo(201);
        assertThat(
                wire.check("mooring", "", "{\"callSign\":\"mq7ab\"}")
                    .json()
                    .path("fill")
                    .toString())
            .isEqualTo(
                "[{\"pointer\":\"#/length\",\"value\":11.4,"
                    + "\"detail\":\"Filled in from the register.\"},"
                    + "{\"pointer\":\"#/rig\",\"value\":\"sail\","
                    + "\"detail\":\"Filled in from the register.\"}]");
        assertThat(
                wire.add("mooring", "{\"callSign\":\"MQ1ZZ\"}")
                    .json()
                    .at("/errors/0/detail")
                    .asString())
            .isEqualTo("MQ1ZZ was scrapped in 2019.");
      }
    } finally {
      example.destroy();
    }
  }
}
