package nodley.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ExampleTest {

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '`',
      value = {
        "[A-Z]{2}[0-9]{3}, AB123",
        "[A-Za-z0-9_]+, abc",
        "[a-z]+(-[a-z]+)*, abc",
        "[A-Z][a-z]*, Aabc",
        "-?[0-9]+(\\.[0-9]{2})?, 123",
        "[0-9]{4}-[0-9]{2}-[0-9]{2}, 1234-56-78",
        "`[^@]+@[^@]+`, abc@def",
        "(north|south)-[1-4], north-1",
        "`[A-Z]{2} [0-9]{2,}`, AB 123",
        "[3-9]{3}, 333",
        "#[0-9a-fA-F]{6}, #abcdef",
        "\\p{Lu}\\p{Ll}+, Aabc",
        "[αβγ]{2}, αα",
      })
  void anExampleIsMadeAsAPersonWouldMakeOneUp(String pattern, String example) {
    assertThat(IRegexp.of(pattern).examples()).first().isEqualTo(example);
    assertThat(IRegexp.of(pattern).examples()).allMatch(IRegexp.of(pattern)::matches);
  }

  @Test
  void noneIsLongOrHoldsWhatCannotBeSeen() {
    assertThat(IRegexp.of("[a-z]{41,}").examples()).isEmpty();
    assertThat(IRegexp.of("([a-z]{1000}){20}").examples()).isEmpty();
    assertThat(IRegexp.of("a\\p{Cc}b").examples()).isEmpty();
    assertThat(IRegexp.of("a?").examples()).isEmpty();
    assertThat(IRegexp.of(" +").examples()).isEmpty();
  }

  @Test
  void thereAreLongerOnesForFieldsThatAskForThem() {
    assertThat(IRegexp.of("[0-9]+").examples())
        .containsExactly("123", "1", "12345", "12345678", "123456789012", "12345678901234567890");
  }
}
