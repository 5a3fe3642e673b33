package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** Names with underscores, as tables and pages have them, from form file to table and back. */
class SnakeCaseTest {

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    Wire.Reply reply =
        wire.publish(
            "person",
            """
            form: person
            called: "{first_name} {last_name}"
            access: { add: anyone, see: anyone, edit: anyone }
            after: { edit: { go: stay, say: "{first_name} is saved." } }
            fields:
              first_name: { type: text, required: true }
              last_name: { type: text }
              first_day: { type: date }
              last_day: { type: date, rules: [{ must: last_day >= first_day + 1 month }] }
              home_town: { type: group, fields: { post_code: { type: text } } }
              phone_numbers: { type: rows, fields: { dial_code: { type: integer, required: true } } }
              number_count: { type: integer, compute: count(phone_numbers) }
            unique:
              - { fields: [first_name, last_name], ignore-case: true }
            """);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  @Test
  void theyGoThroughWireTableFormEncodingAndQueries() {
    String person =
        """
        {"first_name": "Ann", "last_name": "%s", "first_day": "2027-01-31", "last_day": "2027-02-28",
         "home_town": {"post_code": "1"}, "phone_numbers": [{"dial_code": 351}, {"dial_code": 34}]}
        """;
    assertThat(wire.add("person", person.formatted("Ferrow")).status()).isEqualTo(201);
    assertThat(wire.add("person", person.formatted("FERROW")).codeOf("last_name"))
        .isEqualTo("taken");
    Wire.Reply wrong =
        wire.add(
            "person", "{\"frist_name\": \"A\", \"phone_numbers\": [{}, {\"dial_code\": \"x\"}]}");
    assertThat(wrong.codeOf("first_name")).isEqualTo("value-missing");
    assertThat(wrong.codeOf("phone_numbers/1/dial_code")).isEqualTo("bad-input");
    assertThat(wrong.response().body()).contains("Did you mean \\\"first_name\\\"?");
    Wire.Reply sent =
        wire.post(
            "/api/forms/person/records",
            Wire.FORM_TYPE,
            "first_name=Bob&home_town.post_code=2&phone_numbers[0].dial_code=44&submit=Send");
    assertThat(sent.status()).as(sent.response().body()).isEqualTo(201);
    assertThat(sent.json().path("called").asString()).isEqualTo("Bob");
    assertThat(sent.json().path("values").path("number_count").asInt()).isEqualTo(1);
    assertThat(
            wire.get("/api/forms/person/records?where=home_town.post_code+%3D+%222%22")
                .json()
                .path("records")
                .findValuesAsString("first_name"))
        .isEqualTo(List.of("Bob"));
  }

  @Test
  void theyNameRowsThatAButtonAdds() {
    Wire.Reply page =
        wire.post("/forms/person/new", Wire.FORM_TYPE, "first_name=Ed&_more=phone_numbers");
    assertThat(page.status()).isEqualTo(200);
    assertThat(page.response().body()).contains("name=\"phone_numbers[0].dial_code\"");
  }

  /** A browser sends the button that was pressed, whatever a page calls it. */
  @Test
  void theButtonOfAPlainFormIsNoUnknownField() {
    assertThat(
            wire.post("/api/forms/person/records", Wire.FORM_TYPE, "first_name=Cy&button=ok")
                .status())
        .isEqualTo(201);
    assertThat(
            wire.post("/api/forms/person/records", Wire.FORM_TYPE, "first_name=Di&send=ok")
                .codeOf("send"))
        .isEqualTo("unknown-field");
    assertThat(wire.add("person", "{\"first_name\": \"Di\", \"submit\": \"x\"}").codeOf("submit"))
        .isEqualTo("unknown-field");
    wire.publish("asks", "form: asks\naccess: { add: anyone }\nfields: { submit: { type: text } }");
    assertThat(
            wire.post("/api/forms/asks/records", Wire.FORM_TYPE, "submit=Send")
                .json()
                .path("values")
                .path("submit")
                .asString())
        .isEqualTo("Send");
  }

  @Test
  void aPageHasThemWithAndWithoutScript() {
    String id =
        wire.add("person", "{\"first_name\": \"Eve\", \"phone_numbers\": [{\"dial_code\": 1}]}")
            .json()
            .path("id")
            .asString();
    try (Browser browser = Browser.withScript(service.address())) {
      browser.openBound("/forms/person/" + id + "/edit");
      browser.type("#f-first_name", "Eva");
      browser.type("#f-phone_numbers-0-dial_code", "x");
      browser.leave();
      browser.untilText("#f-phone_numbers-0-dial_code-error", "Dial code");
      browser.type("#f-phone_numbers-0-dial_code", "2");
      browser.find("form.nodley button[type=submit]:not([name])").click();
      browser.untilText(".said", "Eva is saved.");
    }
    assertThat(
            wire.get("/api/forms/person/records/" + id)
                .json()
                .path("values")
                .path("phone_numbers")
                .path(0)
                .path("dial_code")
                .asInt())
        .isEqualTo(2);
  }
}
