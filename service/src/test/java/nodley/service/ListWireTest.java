package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.JsonNode;

/** Lists of records over the wire: picked, ordered, page by page. */
class ListWireTest {

  private static RunningService service;
  private static Wire wire;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
    wire = service.wire();
    publish(
        "quay",
        "form: quay\n"
            + "access: { see: signed-in }\n"
            + "fields: { name: { type: text }, deep: { type: decimal } }");
    publish(
        "boat",
        """
        form: boat
        access: { see: anyone }
        fields:
          name: { type: text }
          crew: { type: integer }
          quay: { type: record, form: quay }
          pin: { type: secret }
          tags: { type: choices, options: [a, b] }
          hands: { type: rows, fields: { n: { type: text } } }
        """);
    String north = added("quay", "{\"name\":\"North\",\"deep\":2.5}");
    String south = added("quay", "{\"name\":\"South\",\"deep\":4}");
    for (int i = 0; i < 12; i++) {
      added(
          "boat",
          "{\"name\":\"B%02d\",%s\"quay\":\"%s\",\"pin\":\"1234\"}"
              .formatted(i, i % 4 == 0 ? "" : "\"crew\":" + i % 4 + ",", i < 6 ? north : south));
    }
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String yaml) {
    assertThat(wire.publish(form, yaml).status()).isEqualTo(201);
  }

  private static String added(String form, String json) {
    Wire.Reply reply = wire.add(form, json);
    assertThat(reply.status()).as(reply.response().body()).isEqualTo(201);
    return reply.json().path("id").asString();
  }

  private static String query(String name, String value) {
    return name + "=" + URLEncoder.encode(value, StandardCharsets.UTF_8);
  }

  private static List<String> names(JsonNode page) {
    List<String> names = new ArrayList<>();
    page.path("records").forEach(it -> names.add(it.path("values").path("name").asString()));
    return names;
  }

  private static Wire.Reply list(String query) {
    return wire.get("/api/forms/boat/records?" + query);
  }

  @Test
  void whereAndSortGoTogetherAndTheNextLinkKeepsThem() {
    String query = query("where", "crew >= 2") + "&" + query("sort", "-crew,name") + "&limit=4";
    Wire.Reply first = list(query);
    assertThat(names(first.json())).containsExactly("B03", "B07", "B11", "B02");
    String next = first.header("Link").replaceFirst("<(.*)>; rel=\"next\"", "$1");
    Wire.Reply second = wire.get(next);
    assertThat(names(second.json())).containsExactly("B06", "B10");
    assertThat(second.header("Link")).isEmpty();
    assertThat(second.json().has("next")).isFalse();
  }

  @Test
  void whatIsBlankComesFirstAndLastWhenDescending() {
    assertThat(names(list("sort=crew,name&limit=4").json()))
        .containsExactly("B00", "B04", "B08", "B01");
    assertThat(names(list("sort=-crew,-name").json())).endsWith("B08", "B04", "B00");
  }

  @Test
  void aConditionReachesThroughAReferenceAsFarAsTheCallerMaySee() {
    String query = query("where", "quay.deep > 3") + "&sort=name";
    assertThat(names(list(query).json())).containsExactly("B06", "B07", "B08", "B09", "B10", "B11");
    assertThat(names(service.stranger().get("/api/forms/boat/records?" + query).json())).isEmpty();
  }

  /** A stranger's text never reaches the database, and is answered in words. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '^',
      textBlock =
          """
          where | crew >                          | "where" goes wrong at its character 7
          where | crw > 1                         | Did you mean `crew`?
          where | crew                            | Type mismatch: expected true or false, found a whole number.
          where | 1=1; DROP TABLE boat            | "where" goes wrong at its character 4
          where | name = "x" OR 1=1 --            | "where" goes wrong at its character 12
          where | pin = "1234"                    | is a secret
          where | quay.pin = "x"                  | There is no `pin` in it.
          where | hands.n = "x"                   | a value for each row
          sort  | crw                             | Did you mean "crew"?
          sort  | pin                             | which is a secret
          sort  | hands                           | which has no one value
          sort  | tags                            | which has no one value
          sort  | name; DROP TABLE boat           | which the form does not have
          sort  | name,name,name,name,name,name   | takes up to 5 fields
          sort  | ^^                              | which the form does not have
          cursor | Zm9yZ2Vk                       | is not one that a page of this list gave
          cursor | ***                            | is not one that a page of this list gave
          limit | 0                               | is a whole number from 1 to 1000
          """)
  void isTold(String name, String value, String detail) {
    Wire.Reply reply = list(query(name, value));
    assertThat(reply.status()).isEqualTo(400);
    assertThat(reply.json().path("type").asString()).isEqualTo("/problems/bad-query");
    assertThat(reply.json().path("detail").asString()).contains(detail);
    assertThat(list("limit=1").status()).isEqualTo(200);
  }

  @Test
  void aCursorIsGoodForItsOwnListAlone() {
    String cursor = list("sort=name&limit=3").json().path("next").asString();
    assertThat(names(list("sort=name&limit=3&cursor=" + cursor).json())).contains("B03");
    assertThat(list("sort=crew&limit=3&cursor=" + cursor).status()).isEqualTo(400);
    assertThat(list("limit=3&cursor=" + cursor).status()).isEqualTo(400);
    assertThat(list("sort=name&" + query("where", "crew > 1") + "&cursor=" + cursor).status())
        .isEqualTo(400);
    assertThat(wire.get("/api/forms/quay/records?sort=name&cursor=" + cursor).status())
        .isEqualTo(400);
    char other = cursor.charAt(0) == 'A' ? 'B' : 'A';
    assertThat(list("sort=name&cursor=" + other + cursor.substring(1)).status()).isEqualTo(400);
    service.restart();
    wire = service.wire();
    assertThat(list("sort=name&cursor=" + cursor).status()).isEqualTo(200);
  }
}
