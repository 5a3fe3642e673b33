package nodley.core.input;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;

class UnreadableTest {

  static Stream<Arguments> json() {
    return Stream.of(
        Arguments.of("", "The body is empty."),
        Arguments.of("  \n", "The body is empty."),
        Arguments.of("{\"a\"", "not JSON"),
        Arguments.of("{\"a\":1", "not JSON"),
        Arguments.of("{\"a\":\"b", "not JSON"),
        Arguments.of("{\"a\":[1,", "not JSON"),
        Arguments.of("{'a':1}", "not JSON"),
        Arguments.of("{\"a\":NaN}", "not JSON"),
        Arguments.of("{\"a\":01}", "not JSON"),
        Arguments.of("{\"a\":.5}", "not JSON"),
        Arguments.of("{\"a\":1,}", "not JSON"),
        Arguments.of("{\"a\":1}//", "not JSON"),
        Arguments.of("[1]", "not a JSON object"),
        Arguments.of("3", "not a JSON object"),
        Arguments.of("null", "not a JSON object"),
        Arguments.of("{} {}", "goes on after"),
        Arguments.of("{\"a\":1,\"b\":2,\"a\":3}", "\"a\" stands twice, again at line 1, column 14"),
        Arguments.of("{\"x\":{\"a\":1,\"a\":1}}", "\"a\" stands twice"),
        Arguments.of("{\"a\":1,\"\\u0061\":3}", "\"a\" stands twice"),
        Arguments.of("{\"a\":" + "9".repeat(10_000) + "}", "more than 1000 characters"),
        Arguments.of("{\"a\":0." + "9".repeat(10_000) + "}", "more than 1000 characters"),
        Arguments.of("{\"a\":1e1000000000}", "exponent beyond"),
        Arguments.of("{\"a\":1E-31}", "exponent beyond"),
        Arguments.of("{\"a\":1e99999999999999999999}", "exponent beyond"),
        Arguments.of("[".repeat(5_000), "not a JSON object"),
        Arguments.of("{\"a\":" + "[".repeat(5_000), "nested deeper than 32"),
        Arguments.of("{\"a\":".repeat(5_000), "nested deeper than 32"));
  }

  @ParameterizedTest
  @MethodSource("json")
  void whatIsNotOurJsonIsToldApart(String body, String told) {
    assertThatThrownBy(() -> read(body))
        .isInstanceOf(Unreadable.class)
        .hasMessageContaining(told)
        .matches(e -> !((Unreadable) e).isTooLarge());
  }

  @Test
  void depthCountsToTheLimit() throws Exception {
    String fine = "{\"a\":" + "[".repeat(31) + "]".repeat(31) + "}";
    assertThat(read(fine).members()).containsOnlyKeys("a");
  }

  @Test
  void anExponentOfThirtyIsRead() throws Exception {
    assertThat(read("{\"a\":1e30,\"b\":1e-030}").members()).containsOnlyKeys("a", "b");
  }

  @Test
  void bytesThatAreNotUtf8AreTold() {
    byte[] latin1 = "{\"a\":\"\u00fc\"}".getBytes(StandardCharsets.ISO_8859_1);
    byte[] utf16 = "{\"a\":1}".getBytes(StandardCharsets.UTF_16);
    for (byte[] body : new byte[][] {latin1, utf16}) {
      assertThatThrownBy(() -> JsonInput.read(body, InputLimits.DEFAULT))
          .hasMessage("The body is not UTF-8 text.");
    }
  }

  @Test
  void tooManyValuesAreAMatterOfSize() {
    String json = "{\"a\":[" + "1,".repeat(20_000) + "1]}";
    assertThatThrownBy(() -> read(json)).matches(e -> ((Unreadable) e).isTooLarge());
    String form = "a=1&".repeat(20_001);
    assertThatThrownBy(() -> form(form)).matches(e -> ((Unreadable) e).isTooLarge());
  }

  @Test
  void brokenFormEncodingIsTold() {
    for (String body : new String[] {"a=%", "a=%4", "a=%zz", "%g1=b"}) {
      assertThatThrownBy(() -> form(body)).hasMessageContaining("hexadecimal");
    }
    assertThatThrownBy(() -> form("a=%FC")).hasMessageContaining("not UTF-8");
  }

  @Test
  void emptyPairsAndNamesWithoutValuesAreRead() throws Exception {
    assertThat(form("&&a&=b&c==&").members().keySet()).containsExactly("a", "", "c");
  }

  private static Input read(String json) throws Unreadable {
    return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  private static Input form(String body) throws Unreadable {
    return FormInput.read(body.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }
}
