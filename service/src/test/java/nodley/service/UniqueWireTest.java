package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Every kind of uniqueness, over the wire: of one value, of several, while something holds. */
class UniqueWireTest {

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    publish(
        "stay",
        """
        form: stay
        unique:
          - { fields: [vessel, contact.mail, arrives], ignore-case: true }
        fields:
          vessel: { type: text, required: true, label: Vessel }
          contact: { type: group, fields: { mail: { type: email, label: E-mail } } }
          arrives: { type: date, label: Arrives on }
        """);
    publish(
        "berth",
        """
        form: berth
        fields:
          pontoon: { type: choice, options: [north, south] }
          number: { type: integer, unique: { within: [pontoon] } }
        """);
    publish(
        "tag",
        """
        form: tag
        fields:
          retired: { type: boolean }
          code: { type: text, unique: { when: not retired, ignore-case: true } }
        """);
    publish(
        "crew",
        """
        form: crew
        fields:
          ship: { type: text }
          hands:
            type: rows
            fields:
              papers:
                type: rows
                fields: { number: { type: text, unique: true } }
              name: { type: text }
              badge: { type: text, unique: { ignore-case: true } }
        """);
    publish(
        "person",
        """
        form: person
        access: { add: anyone }
        fields:
          name: { type: text, unique: true }
          mail: { type: email, unique: { ignore-case: true, early: false } }
        """);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String yaml) {
    Wire.Reply reply = wire.publish(form, yaml);
    assertThat(reply.status()).as(reply.response().body()).isLessThan(300);
  }

  private static JsonNode added(String form, String json) {
    Wire.Reply reply = wire.add(form, json);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply.json();
  }

  private static String stay(String vessel, String mail, String arrives) {
    return "{\"vessel\":\"%s\",\"contact\":{\"mail\":\"%s\"},\"arrives\":\"%s\"}"
        .formatted(vessel, mail, arrives);
  }

  @Test
  void severalTogetherAreToldAtTheLastOfThem() {
    added("stay", stay("Heron", "ann@a.example", "2027-03-01"));
    added("stay", stay("Heron", "ann@a.example", "2027-03-02"));
    added("stay", stay("Tern", "ann@a.example", "2027-03-01"));
    Wire.Reply taken = wire.add("stay", stay("HERON", "Ann@A.example", "2027-03-01"));
    assertThat(taken.status()).isEqualTo(422);
    assertThat(taken.json().path("errors").toString())
        .isEqualTo(
            "[{\"pointer\":\"#/arrives\",\"code\":\"taken\",\"detail\":\"A record with the same"
                + " Vessel, E-mail, Arrives on is already registered.\","
                + "\"params\":{\"value\":\"2027-03-01\"}}]");
  }

  @Test
  void whatIsBlankNeverCollides() {
    added("stay", "{\"vessel\":\"Gull\",\"arrives\":\"2027-03-01\"}");
    added("stay", "{\"vessel\":\"Gull\",\"arrives\":\"2027-03-01\"}");
    added("berth", "{\"number\":7}");
    added("berth", "{\"number\":7}");
    added("crew", "{\"hands\":[{\"name\":\"Ann\"},{\"name\":\"Bea\"}]}");
  }

  @Test
  void aValueIsUniqueWithinAnother() {
    added("berth", "{\"pontoon\":\"north\",\"number\":1}");
    added("berth", "{\"pontoon\":\"south\",\"number\":1}");
    Wire.Reply taken = wire.add("berth", "{\"pontoon\":\"south\",\"number\":1}");
    assertThat(taken.codeOf("number")).isEqualTo("taken");
    assertThat(taken.json().path("errors").path(0).path("detail").asString())
        .isEqualTo("Number 1 is already registered with the same Pontoon.");
  }

  @Test
  void itCountsOnlyWhileItsConditionHolds() {
    added("tag", "{\"code\":\"A1\",\"retired\":true}");
    added("tag", "{\"code\":\"A1\",\"retired\":true}");
    String id = added("tag", "{\"code\":\"a1\",\"retired\":false}").path("id").asString();
    assertThat(wire.add("tag", "{\"code\":\"A1\",\"retired\":false}").codeOf("code"))
        .isEqualTo("taken");
    String path = "/api/forms/tag/records/";
    assertThat(
            wire.patch(path + id, Wire.JSON_TYPE, "{\"retired\":true}", "If-Match", "\"1\"")
                .status())
        .isEqualTo(200);
    added("tag", "{\"code\":\"A1\",\"retired\":false}");
    assertThat(
            wire.patch(path + id, Wire.JSON_TYPE, "{\"retired\":false}", "If-Match", "\"2\"")
                .codeOf("code"))
        .isEqualTo("taken");
  }

  @Test
  void inRowsItHoldsWithinOneSubmissionAndAcrossRecords() {
    JsonNode kept =
        added(
            "crew",
            "{\"ship\":\"A\",\"hands\":[{\"badge\":\"X1\",\"papers\":[{\"number\":\"p1\"},{\"number\":\"p2\"}]}]}");
    Wire.Reply twice =
        wire.add(
            "crew",
            "{\"hands\":[{\"badge\":\"X2\"},{\"badge\":\"x2\"},{\"papers\":[{\"number\":\"p3\"}]},"
                + "{\"papers\":[{\"number\":\"p3\"}]}]}");
    assertThat(twice.json().path("errors").findValuesAsString("pointer"))
        .containsExactly("#/hands/1/badge", "#/hands/3/papers/0/number");
    Wire.Reply across =
        wire.add(
            "crew",
            "{\"hands\":[{\"badge\":\"X3\"},{\"badge\":\"x1\",\"papers\":[{\"number\":\"p2\"}]}]}");
    assertThat(across.json().path("errors").findValuesAsString("pointer"))
        .containsExactly("#/hands/1/papers/0/number", "#/hands/1/badge");
    String path = "/api/forms/crew/records/" + kept.path("id").asString();
    Wire.Reply own =
        wire.put(
            path,
            Wire.JSON_TYPE,
            "{\"hands\":[{\"name\":\"New\"},{\"badge\":\"x1\",\"papers\":[{\"number\":\"p1\"}]}]}",
            "If-Match",
            "\"1\"");
    assertThat(own.status()).as(own.response().body()).isEqualTo(200);
  }

  @Test
  void whatIsNotAskedEarlyIsAnsweredAtSubmissionOnly() {
    added("person", "{\"name\":\"Ann\",\"mail\":\"ann@a.example\"}");
    Wire.Reply check =
        service.stranger().check("person", "", "{\"name\":\"Bea\",\"mail\":\"ANN@a.example\"}");
    assertThat(check.json().path("errors")).isEmpty();
    assertThat(check.json().path("unasked").toString()).isEqualTo("[\"#/mail\"]");
    Wire.Reply one =
        service.stranger().check("person", "?fields=mail", "{\"mail\":\"x@y.example\"}");
    assertThat(one.json().path("unasked").toString()).isEqualTo("[\"#/mail\"]");
    assertThat(
            service
                .stranger()
                .add("person", "{\"name\":\"Bea\",\"mail\":\"ANN@a.example\"}")
                .codeOf("mail"))
        .isEqualTo("taken");
  }

  @Test
  void keptRecordsStandAgainstANewUniqueAndAreNamed() {
    publish(
        "mooring",
        "form: mooring\n"
            + "fields: { bay: { type: text }, n: { type: integer }, off: { type: boolean } }");
    List<String> ids = new ArrayList<>();
    for (String json :
        new String[] {
          "{\"bay\":\"a\",\"n\":1}",
          "{\"bay\":\"A\",\"n\":1,\"off\":true}",
          "{\"bay\":\"a\",\"n\":2}",
          "{\"n\":1}",
          "{\"n\":1}"
        }) {
      ids.add(added("mooring", json).path("id").asString());
    }
    String fields =
        "fields: { bay: { type: text }, n: { type: integer }, off: { type: boolean } }\n";
    Wire.Reply refused =
        wire.publish(
            "mooring",
            "form: mooring\n" + fields + "unique: [ { fields: [bay, n], ignore-case: true } ]");
    assertThat(refused.status()).isEqualTo(409);
    JsonNode objection = refused.json().path("objections").get(0);
    assertThat(objection.path("detail").asString())
        .isEqualTo("Kept values of Bay and N together are not unique.");
    assertThat(objection.path("count").asInt()).isEqualTo(2);
    assertThat(objection.path("records").toString()).contains(ids.get(0)).contains(ids.get(1));
    publish(
        "mooring",
        "form: mooring\n"
            + fields
            + "unique: [ { fields: [bay, n], ignore-case: true, when: off is blank or not off } ]");
    assertThat(wire.add("mooring", "{\"bay\":\"A\",\"n\":1}").codeOf("n")).isEqualTo("taken");
    added("mooring", "{\"bay\":\"A\",\"n\":1,\"off\":true}");
    publish("mooring", "form: mooring\n" + fields);
    added("mooring", "{\"bay\":\"A\",\"n\":1}");
  }

  @Test
  void aRecordCountsByWhatItKeepsNotByWhatTheFormBeginsWithNow() {
    publish("lamp", "form: lamp\nfields: { code: { type: text }, lit: { type: boolean } }");
    added("lamp", "{\"code\":\"L1\"}");
    added("lamp", "{\"code\":\"L1\"}");
    publish(
        "lamp",
        "form: lamp\nfields:\n  lit: { type: boolean, default: true }\n"
            + "  code: { type: text, unique: { when: lit } }");
    added("lamp", "{\"code\":\"L1\"}");
    assertThat(wire.add("lamp", "{\"code\":\"L1\"}").codeOf("code")).isEqualTo("taken");
  }

  /** Adds of one value at once, mixed with edits of other records onto it. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      value = {
        "person | {\"name\":\"Race\"}                          | {\"name\":\"Racer %d\"}",
        "stay   |"
            + " {\"vessel\":\"Race\",\"contact\":{\"mail\":\"r@r.example\"},\"arrives\":\"2027-05-01\"}"
            + " | {\"vessel\":\"Race\",\"contact\":{\"mail\":\"r@r.example\"},\"arrives\":\"2028-%02d-01\"}",
        "berth  | {\"pontoon\":\"north\",\"number\":500}         |"
            + " {\"pontoon\":\"north\",\"number\":6%02d}",
        "tag    | {\"code\":\"race\",\"retired\":false}          |"
            + " {\"code\":\"race\",\"retired\":true}",
        "crew   | {\"hands\":[{\"badge\":\"race\"}]}              |"
            + " {\"hands\":[{\"badge\":\"racer%d\"}]}"
      })
  void ofFiveHundredAtOnceExactlyOneWins(String form, String wanted, String other)
      throws Exception {
    List<String> others = new ArrayList<>();
    for (int i = 1; i <= 10; i++) {
      others.add(added(form, other.formatted(i)).path("id").asString());
    }
    List<Future<Wire.Reply>> replies = new ArrayList<>();
    try (ExecutorService threads = Executors.newFixedThreadPool(50)) {
      for (int i = 0; i < 500; i++) {
        int n = i;
        replies.add(
            threads.submit(
                () ->
                    n % 50 == 0
                        ? wire.put(
                            "/api/forms/" + form + "/records/" + others.get(n / 50),
                            Wire.JSON_TYPE,
                            wanted,
                            "If-Match",
                            "\"1\"")
                        : wire.add(form, wanted)));
      }
    }
    int won = 0;
    for (Future<Wire.Reply> reply : replies) {
      int status = reply.get().status();
      if (status < 300) {
        won++;
      } else {
        assertThat(status).isEqualTo(422);
        assertThat(reply.get().json().path("errors").findValuesAsString("code"))
            .containsExactly("taken");
      }
    }
    assertThat(won).isEqualTo(1);
  }
}
