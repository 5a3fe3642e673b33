package nodley.store.record;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import nodley.core.value.Raw;
import nodley.store.common.StoreException;
import org.junit.jupiter.api.Test;

class VersionReaderTest {

  private final VersionReader values = new VersionReader();

  private Raw kept(String name) {
    return values.kept().members().get(name);
  }

  @Test
  void aMemberThatStandsAsBeforeIsTheSameObject() {
    values.read("{\"note\":\"a\",\"crew\":[{\"_row\":7,\"name\":\"Ann\"}],\"at\":{\"x\":1}}");
    Raw crew = kept("crew");
    values.read("{\"note\":\"b\",\"crew\":[{\"_row\":7,\"name\":\"Ann\"}],\"at\":{\"x\":2}}");
    assertThat(kept("crew")).isSameAs(crew);
    assertThat(kept("note")).isEqualTo(new Raw.Text("b"));
    assertThat(kept("at"))
        .isEqualTo(new Raw.Members(Map.of("x", new Raw.Number(new BigDecimal("2")))));
    assertThat(values.withoutRows().members().get("crew"))
        .isEqualTo(new Raw.Many(List.of(new Raw.Members(Map.of("name", new Raw.Text("Ann"))))));
  }

  @Test
  void membersComeAndGoAndAreReadWhole() {
    values.read("{}");
    assertThat(values.kept().members()).isEmpty();
    values.read("{\"é\\\"\\u20ac\":\"😀 \\\\ \\\"\",\"n\":-1.50,\"yes\":true,\"no\":[]}");
    assertThat(kept("é\"€")).isEqualTo(new Raw.Text("😀 \\ \""));
    assertThat(kept("n")).isEqualTo(new Raw.Number(new BigDecimal("-1.50")));
    assertThat(kept("yes")).isEqualTo(new Raw.Bool(true));
    assertThat(kept("no")).isEqualTo(new Raw.Many(List.of()));
    values.read("{\"n\":12}");
    assertThat(values.kept().members()).containsOnlyKeys("n");
    assertThat(kept("n")).isEqualTo(new Raw.Number(new BigDecimal("12")));
  }

  @Test
  void whatIsNoJsonIsToldSo() {
    for (String broken : List.of("", "{", "{\"a\":", "{\"a\":1", "{\"a\" 1}", "{\"a\":1}}", "7")) {
      assertThatThrownBy(() -> values.read(broken))
          .as(broken)
          .isInstanceOf(StoreException.Unavailable.class);
    }
  }
}
