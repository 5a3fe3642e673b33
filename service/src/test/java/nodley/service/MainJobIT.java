package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.openqa.selenium.By;

/** The whole job, for real, through every door: packed jars, real browser, real sqlite3. */
class MainJobIT {

  private static final Map<String, String> KEY = Map.of("NODLEY_ADMIN_KEY", RunningService.KEY);
  private static final Map<String, String> CALLER = Map.of("NODLEY_KEY", RunningService.KEY);

  @TempDir private Path data;

  @Test
  void aFormIsDeclaredPublishedCheckedSubmittedKeptEditedAndFoundAgain() throws Exception {
    String id;
    try (Program service = Program.service(KEY, "serve", "--data", data, "--port", 0)) {
      String at = service.ready();
      publish(at);
      Wire stranger = new Wire(at, Optional.empty());
      overHttp(stranger);
      inTheBrowser(at);
      withoutScript(at);
      id =
          stranger
              .get("/api/forms/vessel/records?q=sandpiper")
              .json()
              .path("records")
              .path(0)
              .path("id")
              .asString();
      assertThat(service.stop().out()).contains("Nodley has stopped.");
    }
    try (Program service = Program.service(KEY, "serve", "--data", data, "--port", 0)) {
      Program.Ended record =
          Program.client(Map.of(), "record", "vessel", id, "--at", service.ready());
      assertThat(record.status()).isZero();
      assertThat(record.out()).contains("Sandpiper · MQ2SP").contains("crew").contains("Version 2");
    }
    assertThat(sqlite("SELECT name, callSign, length, crew, version FROM vessel ORDER BY callSign"))
        .isEqualTo("Turnstone|MQ1TS|8.0||1\nSandpiper|MQ2SP|9.5|4|2\nDunlin|MQ3DU|7.25||1\n");
    assertThat(sqlite("PRAGMA integrity_check")).isEqualTo("ok\n");
    assertThat(
            sqlite(
                "INSERT INTO vessel SELECT NULL, 'x', 1, 1, '', '', '', '', '', '', name, callSign,"
                    + " rig, length, draught, crew, built, berth, insured, notes FROM vessel LIMIT"
                    + " 1"))
        .contains("UNIQUE constraint failed: vessel.callSign");
  }

  private static void publish(String at) {
    Program.Ended published =
        Program.client(
            CALLER,
            "publish",
            Repository.file("demo/forms/vessel.form.yaml"),
            Repository.file("demo/forms/berth.form.yaml"),
            "--at",
            at);
    assertThat(published.status()).as(published.out()).isZero();
    assertThat(published.out()).isEqualTo("vessel: revision 1, new\nberth: revision 1, new");
  }

  private static void overHttp(Wire stranger) {
    String body =
        "{\"name\":\"Turnstone\",\"callSign\":\"mq1-ts\",\"rig\":\"sail\",\"length\":8,\"insured\":true}";
    assertThat(stranger.check("vessel", "", body).json().path("verdict").asString())
        .isEqualTo("accepted");
    assertThat(stranger.add("vessel", body).status()).isEqualTo(201);
    assertThat(stranger.add("vessel", body).codeOf("callSign")).isEqualTo("taken");
  }

  private static void inTheBrowser(String at) {
    try (Browser browser = Browser.withScript(at)) {
      browser.openBound("/forms/vessel/new");
      browser.type("#f-name", "Sandpiper");
      browser.type("#f-callSign", "mq-1ts");
      browser.leave();
      browser.untilText("#f-callSign-error", "Call sign MQ1TS is already registered.");
      browser.type("#f-callSign", "mq-2sp");
      browser.leave();
      browser.untilText("#f-callSign-state", "MQ2SP is free.");
      browser.type("#f-length", "9.50");
      browser.find("#f-insured").click();
      browser.find("form.nodley button[type=submit]").click();
      browser.untilText(".said", "Sandpiper is registered.");
      String record = browser.path();
      browser.signIn(RunningService.KEY);
      browser.openBound(record + "/edit");
      browser.type("#f-crew", "4");
      browser.find("form.nodley button[type=submit]").click();
      browser.untilText(".said", "Sandpiper is saved.");
    }
  }

  private static void withoutScript(String at) {
    try (Browser browser = Browser.withoutScript(at)) {
      browser.open("/forms/vessel/new");
      browser.type("#f-name", "Dunlin");
      browser.type("#f-callSign", "MQ2SP");
      browser.type("#f-length", "7.25");
      browser.find("#f-insured").click();
      browser.go(By.cssSelector("form.nodley button[type=submit]"));
      assertThat(browser.errorOf("callSign")).isEqualTo("Call sign MQ2SP is already registered.");
      assertThat(browser.valueOf("#f-name")).isEqualTo("Dunlin");
      browser.type("#f-callSign", "MQ3DU");
      browser.go(By.cssSelector("form.nodley button[type=submit]"));
      assertThat(browser.text(".said")).isEqualTo("Dunlin is registered.");
    }
  }

  private String sqlite(String sql) throws IOException, InterruptedException {
    Process process =
        new ProcessBuilder("sqlite3", data.resolve("nodley.db").toString(), sql)
            .redirectErrorStream(true)
            .start();
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    process.waitFor();
    return out;
  }
}
