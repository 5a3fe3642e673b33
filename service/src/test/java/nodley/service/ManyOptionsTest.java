package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** A list of a hundred thousand options stays on the service; a person looks for one by words. */
class ManyOptionsTest {

  private static final int MANY = 100_000;

  private static final String FORM =
      """
      form: call
      access: { add: anyone, see: anyone, edit: anyone }
      fields:
        coast: { type: choice, options: [north, south] }
        port:
          type: choice
          required: true
          control: search
          options: { list: ports, where: 'coast is blank or at = coast' }
        note: { type: text }
      """;

  private static RunningService service;
  private static Wire wire;
  private static Browser browser;

  /** Every other one is in the south; the thousandth is offered no longer. */
  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    String list =
        IntStream.range(0, MANY)
            .mapToObj(
                n ->
                    "  - { value: p%d, label: Port %d of Quay, at: %s%s }"
                        .formatted(
                            n,
                            n,
                            n % 2 == 0 ? "north" : "south",
                            n == 1_000 ? ", offered: false" : ""))
            .collect(Collectors.joining("\n", "list: ports\noptions:\n", "\n"));
    Wire.Reply published = wire.put("/api/lists/ports", "application/yaml", list);
    assertThat(published.status()).as(published.response().body()).isEqualTo(201);
    wire.publish("call", FORM);
    browser = Browser.withScript(service.address());
  }

  @AfterAll
  static void stop() {
    browser.close();
    service.close();
  }

  private static List<String> found(String query) {
    return wire.get("/api/forms/call/options/port?" + query.replace(" ", "%20"))
        .json()
        .path("options")
        .valueStream()
        .map(option -> option.path("value").asString())
        .toList();
  }

  @Test
  void neitherDescriptionNorPageHasThem() {
    Wire.Reply description = wire.get("/api/forms/call");
    JsonNode port = description.json().path("fields").path(1);
    assertThat(port.path("onService").toString()).isEqualTo("[\"options\"]");
    assertThat(port.has("options")).isFalse();
    assertThat(description.response().body().length()).isLessThan(20_000);
    assertThat(wire.get("/forms/call/new").response().body().length()).isLessThan(60_000);
  }

  @Test
  void theyAreFoundByWordsByValueAndByOtherFields() {
    assertThat(found("q=port 99999")).containsExactly("p99999");
    assertThat(found("q=p77")).containsExactly("p77");
    assertThat(found("q=port 4321 of")).containsExactly("p4321");
    assertThat(found("q=port 4321 of&coast=north")).isEmpty();
    assertThat(found("q=port 1000 of")).isEmpty();
    assertThat(found("q=")).hasSize(500).startsWith("p0", "p1");
    assertThat(found("q=&coast=south")).hasSize(500).startsWith("p1", "p3");
  }

  @Test
  void theServiceJudgesThem() {
    assertThat(wire.add("call", "{\"port\":\"p99999\"}").status()).isEqualTo(201);
    for (String values :
        List.of(
            "{\"port\":\"p100000\"}",
            "{\"port\":\"p1000\"}",
            "{\"port\":\"p4321\",\"coast\":\"north\"}")) {
      Wire.Reply refused = wire.post("/api/forms/call/records", Wire.JSON_TYPE, values);
      assertThat(refused.status()).as(values).isEqualTo(422);
      assertThat(refused.json().path("errors").path(0).path("code").asString())
          .isEqualTo("not-an-option");
    }
  }

  @Test
  void onThePageOneIsChosenByWordsAndShownAgainInAnEdit() {
    browser.openBound("/forms/call/new");
    browser.choose("#f-port", "Port 54321 of Quay");
    browser.press("main button[type=submit]");
    browser.untilText("main", "Call added.");
    JsonNode kept = wire.get("/api/forms/call/records?limit=1").json().path("records").path(0);
    assertThat(kept.path("values").path("port").asString()).isEqualTo("p54321");

    browser.openBound("/forms/call/" + kept.path("id").asString() + "/edit");
    assertThat(browser.valueOf("#f-port[role=combobox]")).isEqualTo("Port 54321 of Quay");
  }
}
