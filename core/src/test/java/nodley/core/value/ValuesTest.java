package nodley.core.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Values by name: what is the same, what is blank, what is behind groups. */
class ValuesTest {

  private static final Value ANN = new Value.Text("Ann");
  private static final Value YES = new Value.Bool(true);

  private static Values of(Object... namesAndValues) {
    Map<String, Value> byName = new LinkedHashMap<>();
    for (int i = 0; i < namesAndValues.length; i += 2) {
      byName.put((String) namesAndValues[i], (Value) namesAndValues[i + 1]);
    }
    return new Values(byName);
  }

  @Test
  void theSameNamesWithTheSameValuesAreTheSameInWhateverOrder() {
    assertThat(of("a", ANN, "b", YES)).isEqualTo(of("b", YES, "a", ANN));
    assertThat(of("a", ANN, "b", YES)).hasSameHashCodeAs(of("b", YES, "a", ANN));
    assertThat(of("a", ANN)).isNotEqualTo(of("b", ANN)).isNotEqualTo(of("a", YES));
    assertThat(of("a", ANN)).isNotEqualTo(of("a", ANN, "b", Value.BLANK));
  }

  @Test
  void valuesMadeOfAnArrayAreThoseMadeOfAMap() {
    Values.Names names = new Values.Names(List.of("a", "b"));
    Values values = new Values(names, new Value[] {ANN, YES});
    assertThat(values).isEqualTo(of("a", ANN, "b", YES));
    assertThat(values.byName()).containsExactly(Map.entry("a", ANN), Map.entry("b", YES));
    assertThat(names.place("b")).isEqualTo(1);
    assertThat(names.place("c")).isEqualTo(-1);
  }

  @Test
  void whatIsNotThereIsBlankAndLeftOutOfJson() {
    Values inside = of("mail", ANN);
    Values values = of("contact", new Value.Group(inside), "note", Value.BLANK);
    assertThat(values.get("nobody")).isEqualTo(Value.BLANK);
    assertThat(values.at(List.of("contact", "mail"))).isEqualTo(ANN);
    assertThat(values.at(List.of("note", "mail"))).isEqualTo(Value.BLANK);
    assertThat(values.toJson()).isEqualTo(Map.of("contact", Map.of("mail", "Ann")));
    assertThat(values.isBlank()).isFalse();
    assertThat(of("note", Value.BLANK).isBlank()).isTrue();
    assertThat(Values.NONE.isBlank()).isTrue();
  }
}
