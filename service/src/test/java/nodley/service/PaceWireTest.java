package nodley.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** How much a form lets one address send while nobody is known to send it. */
class PaceWireTest {

  private static final String FORM =
      "form: %s\naccess: { add: anyone }\nfields: { name: { type: text, unique: true } }\n%s";

  private static RunningService service;

  @BeforeAll
  static void start() {
    service = RunningService.fresh();
  }

  @AfterAll
  static void stop() {
    service.close();
  }

  private static void publish(String form, String pace) {
    assertThat(service.wire().publish(form, FORM.formatted(form, pace)).status()).isIn(200, 201);
  }

  private static Wire.Reply add(Wire by, String form, int number) {
    return by.add(form, "{\"name\": \"boat %d\"}".formatted(number));
  }

  @Test
  void strangersAreHeldToIt() {
    publish("slow", "pace: { add: 2/hour, check: 3/day }\n");
    publish("free", "");
    Wire stranger = service.stranger();
    for (int i = 0; i < 2; i++) {
      assertThat(add(stranger, "slow", i).status()).isEqualTo(201);
    }
    Wire.Reply refused = add(stranger, "slow", 2);
    assertThat(refused.status()).isEqualTo(429);
    assertThat(refused.json().path("detail").asString())
        .startsWith("A stranger may send 2 adds and edits of \"slow\" an hour. Try again in ");
    // One of two in an hour: half an hour later, or a little less.
    assertThat(Integer.parseInt(refused.header("Retry-After"))).isBetween(1_700, 1_801);
    for (int i = 0; i < 3; i++) {
      assertThat(stranger.check("slow", "?fields=name", "{\"name\": \"x\"}").status())
          .isEqualTo(200);
    }
    Wire.Reply asked = stranger.check("slow", "?fields=name", "{\"name\": \"x\"}");
    assertThat(asked.status()).isEqualTo(429);
    assertThat(asked.json().path("detail").asString())
        .startsWith("A stranger may send 3 checks of \"slow\" a day.");
    assertThat(Integer.parseInt(asked.header("Retry-After"))).isBetween(28_000, 28_801);

    assertThat(add(stranger, "free", 0).status()).as("another form").isEqualTo(201);
    assertThat(IntStream.range(10, 20).mapToObj(i -> add(service.wire(), "slow", i).status()))
        .as("a key")
        .containsOnly(201);

    publish("slow", "pace: { add: 5/hour }\n");
    assertThat(IntStream.range(30, 36).mapToObj(i -> add(stranger, "slow", i).status()))
        .as("published anew")
        .containsExactly(201, 201, 201, 201, 201, 429);
  }
}
