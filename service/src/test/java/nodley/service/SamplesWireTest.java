package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import nodley.core.submission.Sentences;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** Samples are sent back to the service: it accepts the right, and refuses the wrong as said. */
class SamplesWireTest {

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.at(Clock.fixed(Instant.now(), ZoneOffset.UTC));
    wire = service.wire();
    wire.publishWholeDemo();
    wire.add("berth", "{\"code\":\"A1\",\"pontoon\":\"north\",\"length\":12,\"depth\":9.5}");
    wire.addVessel("Grey Heron", "MQ7AB");
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static JsonNode samples(String form, String query) {
    Wire.Reply reply = wire.get("/api/forms/" + form + "/samples?" + query);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(200);
    return reply.json().path("samples");
  }

  @ParameterizedTest
  @ValueSource(strings = {"vessel", "skipper", "berth", "visit", "incident", "harbour"})
  void rightOnesAreAcceptedAndWrongOnesRefusedForTheirOneFault(String form) {
    for (JsonNode wrong : samples(form, "wrong=true&seed=3")) {
      Wire.Reply refused =
          wire.post(
              "/api/forms/" + form + "/records", Wire.JSON_TYPE, wrong.path("values").toString());
      assertThat(refused.status()).as(wrong.toString()).isEqualTo(422);
      JsonNode errors = refused.json().path("errors");
      assertThat(errors.size()).as(errors.toString()).isEqualTo(1);
      assertThat(errors.path(0).path("pointer")).isEqualTo(wrong.path("pointer"));
      assertThat(errors.path(0).path("code")).isEqualTo(wrong.path("code"));
      assertThat(errors.path(0).path("detail")).isEqualTo(wrong.path("detail"));
    }
    for (JsonNode sample : samples(form, "count=10&seed=11")) {
      if (form.equals("harbour")) {
        // It has one record only, so that ten cannot be added.
        Wire.Reply check = wire.check(form, "", sample.path("values").toString());
        assertThat(check.json().path("verdict").asString())
            .as(check.response().body())
            .isEqualTo("accepted");
        continue;
      }
      Wire.Reply added = wire.add(form, sample.path("values").toString());
      assertThat(added.status()).as(added.response().body()).isIn(201, 422);
      // Ten are made at once, and two of them may have chosen the same unique value.
      if (added.status() == 422) {
        assertThat(added.json().path("errors").path(0).path("code").asString()).isEqualTo("taken");
      }
    }
  }

  /**
   * Between them the six forms can be refused in every way but those of asks, holds and uploads.
   */
  @Test
  void theDemoCanBeRefusedInEveryWay() {
    Set<String> codes = new HashSet<>();
    for (String form : List.of("vessel", "skipper", "berth", "visit", "incident", "harbour")) {
      samples(form, "wrong=true").forEach(it -> codes.add(it.path("code").asString()));
    }
    List<String> expected = new ArrayList<>(Sentences.KEYS);
    expected.removeAll(
        List.of(
            "asking",
            "free",
            "unanswered",
            "held",
            "ask-refused",
            "ask-unanswered",
            "file-too-large",
            "file-type",
            "filled",
            "file-harmful"));
    assertThat(codes).containsAll(expected);
  }

  @ParameterizedTest
  @CsvSource({
    "vessel, count=0, 400",
    "vessel, count=51, 400",
    "vessel, seed=x, 400",
    "vessel, cuont=1, 400",
    "vesel, count=1, 404"
  })
  void whatIsAskedWronglyIsTold(String form, String query, int status) {
    assertThat(wire.get("/api/forms/" + form + "/samples?" + query).status()).isEqualTo(status);
  }

  @Test
  void aFormThatNothingMeetsSaysWhatStandsAgainst() {
    wire.publish(
        "never",
        "form: never\n"
            + "fields: { a: { type: integer, range: 1..2 } }\n"
            + "rules: [{ must: a > 5, at: a }]");
    Wire.Reply reply = wire.get("/api/forms/never/samples");
    assertThat(reply.status()).isEqualTo(409);
    assertThat(reply.json().path("detail").asString()).contains("A does not go with");
  }
}
