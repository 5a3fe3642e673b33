package nodley.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class IRegexpTest {

  /** Inside the grammar of RFC 9485, section 3. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "a",
        "a|b|",
        "()",
        "(a|b)*c+d?",
        "a{2}",
        "a{2,}",
        "a{0,3}",
        "[a-z]",
        "[^a]",
        "[-a]",
        "[a-]",
        "[^-a-c-]",
        "\\p{L}",
        "\\P{Nd}[\\p{Zs}x]",
        "\\.\\*\\(\\)\\[\\]\\{\\}\\|\\\\\\^\\-",
        "\\n\\r\\t",
        "a^b$c",
        "\uD83D\uDEA2",
        "[\\]\\[]",
        "\\p{Cn}",
        "\\P{C}",
        "a{1000}",
        "[&&]",
        "~"
      })
  void isAnIRegexp(String pattern) {
    assertThat(IRegexp.of(pattern).text()).isEqualTo(pattern);
  }

  static Stream<Arguments> outside() {
    return Stream.of(
        Arguments.of("\\d", 0, "write [0-9]"),
        Arguments.of("a\\w", 1, "write [A-Za-z0-9_]"),
        Arguments.of("\\s", 0, "not part of I-Regexp"),
        Arguments.of("\\bword", 0, "whole value"),
        Arguments.of("a\\1", 1, "not part of I-Regexp"),
        Arguments.of("\\u0041", 0, "not part of I-Regexp"),
        Arguments.of("(?:a)", 1, "not part of I-Regexp"),
        Arguments.of("(?=a)", 1, "not part of I-Regexp"),
        Arguments.of("a*?", 2, "cannot be repeated"),
        Arguments.of("a++", 2, "cannot be repeated"),
        Arguments.of("a{2}{3}", 4, "cannot be repeated"),
        Arguments.of("*a", 0, "nothing before"),
        Arguments.of("a|+", 2, "nothing before"),
        Arguments.of("(a", 0, "never closed"),
        Arguments.of("a)", 1, "without its '('"),
        Arguments.of("[a", 0, "never closed"),
        Arguments.of("[]", 0, "at least one"),
        Arguments.of("[^]", 0, "at least one"),
        Arguments.of("a]", 1, "stands alone"),
        Arguments.of("a}", 1, "stands alone"),
        Arguments.of("[z-a]", 1, "backwards"),
        Arguments.of("[a-c-e]", 4, "'-' stands first or last"),
        Arguments.of("[[a]]", 1, "written \\["),
        Arguments.of("[a-\\p{L}]", 1, "ends in one character"),
        Arguments.of("a{,3}", 1, "a repeat is"),
        Arguments.of("a{3,2}", 1, "reversed"),
        Arguments.of("a{1001}", 1, "up to 1000"),
        Arguments.of("a{99999999999}", 1, "up to 1000"),
        Arguments.of("\\p{Greek}", 0, "not a Unicode category"),
        Arguments.of("\\p{IsLatin}", 0, "not a Unicode category"),
        Arguments.of("\\pL", 0, "written \\p{L}"),
        Arguments.of("a\\", 1, "lone"),
        Arguments.of("\uD800", 0, "surrogate"));
  }

  @ParameterizedTest
  @MethodSource("outside")
  void isOutsideAndTheReasonAndPlaceAreTold(String pattern, int offset, String reason) {
    assertThatThrownBy(() -> IRegexp.of(pattern))
        .isInstanceOfSatisfying(
            BadPattern.class,
            e -> {
              assertThat(e.offset()).isEqualTo(offset);
              assertThat(e).hasMessageContaining(reason);
            });
  }

  @Test
  void repeatsThatMultiplyAreTooLarge() {
    assertThatThrownBy(() -> IRegexp.of("((a{1000}){1000}){1000}"))
        .isInstanceOf(BadPattern.class)
        .hasMessageContaining("too large");
  }

  @Test
  void groupsThatNestDeepAreALimitNotAnOverflow() {
    assertThatThrownBy(() -> IRegexp.of("(".repeat(100_000)))
        .isInstanceOf(BadPattern.class)
        .hasMessageContaining("deeper than 100");
  }

  @Test
  void aPatternMadeToBlowUpRunsInLinearTime() {
    IRegexp pattern = IRegexp.of("(a*)*b");
    assertThat(pattern.matches("a".repeat(100_000))).isFalse();
  }

  @Test
  void unassignedCodePointsAreCn() {
    assertThat(IRegexp.of("\\p{Cn}").matches("\uFFFF")).isTrue();
    assertThat(IRegexp.of("[\\p{Cn}]").matches("a")).isFalse();
    assertThat(IRegexp.of("\\P{C}+").matches("abc")).isTrue();
    assertThat(IRegexp.of("\\P{C}").matches("\u0007")).isFalse();
  }
}
