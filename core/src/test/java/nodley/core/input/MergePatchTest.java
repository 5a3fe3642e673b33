package nodley.core.input;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.util.Map;
import nodley.core.value.Raw;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class MergePatchTest {

  /** The test cases of RFC 7396, appendix A, in which target and patch are objects. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          {"a":"b"}                 | {"a":"c"}               | {"a":"c"}
          {"a":"b"}                 | {"b":"c"}               | {"a":"b","b":"c"}
          {"a":"b"}                 | {"a":null}              | {}
          {"a":"b","b":"c"}         | {"a":null}              | {"b":"c"}
          {"a":["b"]}               | {"a":"c"}               | {"a":"c"}
          {"a":"c"}                 | {"a":["b"]}             | {"a":["b"]}
          {"a":{"b":"c"}}           | {"a":{"b":"d","c":null}} | {"a":{"b":"d"}}
          {"a":[{"b":"c"}]}         | {"a":[1]}               | {"a":[1]}
          {"e":null}                | {"a":1}                 | {"e":null,"a":1}
          {}                        | {"a":{"bb":{"ccc":null}}} | {"a":{"bb":{}}}
          """)
  void patches(String target, String patch, String result) throws Exception {
    assertThat(MergePatch.apply(read(target), read(patch))).isEqualTo(read(result));
  }

  private static Map<String, Raw> read(String json) throws Unreadable {
    return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT).members();
  }
}
