package nodley.service.problem;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.value.FileRef;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.junit.jupiter.api.Test;

/** Values of each kind as JSON (RFC 8259), written straight and by way of a tree. */
class ValuesJsonTest {

  private static Values of(Object... namesAndValues) {
    Map<String, Value> byName = new LinkedHashMap<>();
    for (int i = 0; i < namesAndValues.length; i += 2) {
      byName.put((String) namesAndValues[i], (Value) namesAndValues[i + 1]);
    }
    return new Values(byName);
  }

  private static Value number(String number) {
    return new Value.Number(new BigDecimal(number));
  }

  private static final String DIGEST = "ab".repeat(32);

  private static final Values ALL =
      of(
          "text", new Value.Text("Möwe \"<1>\"\n"),
          "blank", Value.BLANK,
          "small", number("0.00000001"),
          "large", number("12300000000000000000000"),
          "yes", Value.Bool.TRUE,
          "day", new Value.Date(LocalDate.of(33, 4, 3)),
          "time", new Value.Time(LocalTime.of(7, 5)),
          "moment", new Value.Moment(Instant.parse("2026-12-02T01:02:03.400Z")),
          "chosen", new Value.Chosen(List.of("sail", "tug")),
          "paper",
              new Value.Files(
                  List.of(FileRef.stored("a.pdf", "application/pdf", 9, DIGEST)), false),
          "group", new Value.Group(of("name", new Value.Text("Ann"), "born", Value.BLANK)),
          "rows", new Value.Rows(List.of(of("n", number("1")).ofRow(7), of("n", Value.BLANK))),
          "unread", new Value.Unread(new Raw.Many(List.of(new Raw.Text("x"), new Raw.Text("y")))));

  private static final String JSON =
      "{\"text\":\"Möwe \\\"<1>\\\"\\n\",\"small\":0.00000001,\"large\":12300000000000000000000,"
          + "\"yes\":true,\"day\":\"0033-04-03\",\"time\":\"07:05\","
          + "\"moment\":\"2026-12-02T01:02:03.400Z\",\"chosen\":[\"sail\",\"tug\"],"
          + "\"paper\":{\"name\":\"a.pdf\",\"type\":\"application/pdf\",\"size\":9,\"sha256\":\""
          + DIGEST
          + "\"},\"group\":{\"name\":\"Ann\"},\"rows\":[{\"n\":1},{}],\"unread\":[\"x\",\"y\"]}";

  @Test
  void writesEachKindOfValue() {
    assertThat(Json.text(ALL)).isEqualTo(JSON);
    assertThat(Json.text(Values.NONE)).isEqualTo("{}");
  }

  @Test
  void writesWhatATreeOfTheValuesSays() {
    assertThat(Json.text(ALL.toJson())).isEqualTo(JSON);
    assertThat(Json.text(Map.of("values", ALL))).isEqualTo("{\"values\":" + JSON + "}");
  }
}
