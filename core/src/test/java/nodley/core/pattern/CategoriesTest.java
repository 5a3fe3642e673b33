package nodley.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Every code point in every category, as the JDK's own tables have it. */
class CategoriesTest {

  /** The names of the JDK's constants, in the order of UAX #44. */
  private static final Map<String, Integer> TYPES =
      new TreeMap<>(
          Map.ofEntries(
              Map.entry("Lu", (int) Character.UPPERCASE_LETTER),
              Map.entry("Ll", (int) Character.LOWERCASE_LETTER),
              Map.entry("Lt", (int) Character.TITLECASE_LETTER),
              Map.entry("Lm", (int) Character.MODIFIER_LETTER),
              Map.entry("Lo", (int) Character.OTHER_LETTER),
              Map.entry("Mn", (int) Character.NON_SPACING_MARK),
              Map.entry("Mc", (int) Character.COMBINING_SPACING_MARK),
              Map.entry("Me", (int) Character.ENCLOSING_MARK),
              Map.entry("Nd", (int) Character.DECIMAL_DIGIT_NUMBER),
              Map.entry("Nl", (int) Character.LETTER_NUMBER),
              Map.entry("No", (int) Character.OTHER_NUMBER),
              Map.entry("Pc", (int) Character.CONNECTOR_PUNCTUATION),
              Map.entry("Pd", (int) Character.DASH_PUNCTUATION),
              Map.entry("Ps", (int) Character.START_PUNCTUATION),
              Map.entry("Pe", (int) Character.END_PUNCTUATION),
              Map.entry("Pi", (int) Character.INITIAL_QUOTE_PUNCTUATION),
              Map.entry("Pf", (int) Character.FINAL_QUOTE_PUNCTUATION),
              Map.entry("Po", (int) Character.OTHER_PUNCTUATION),
              Map.entry("Sm", (int) Character.MATH_SYMBOL),
              Map.entry("Sc", (int) Character.CURRENCY_SYMBOL),
              Map.entry("Sk", (int) Character.MODIFIER_SYMBOL),
              Map.entry("So", (int) Character.OTHER_SYMBOL),
              Map.entry("Zs", (int) Character.SPACE_SEPARATOR),
              Map.entry("Zl", (int) Character.LINE_SEPARATOR),
              Map.entry("Zp", (int) Character.PARAGRAPH_SEPARATOR),
              Map.entry("Cc", (int) Character.CONTROL),
              Map.entry("Cf", (int) Character.FORMAT),
              Map.entry("Co", (int) Character.PRIVATE_USE)));

  /** Those of which later versions of Unicode say otherwise than the JDK's (16.0). */
  private static final Set<Integer> MOVED = Set.of(0x295, 0x1734, 0x1171E);

  private static String text(IntStream codePoints) {
    return codePoints
        .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
        .toString();
  }

  /** Of code points that the JDK knows; newer tables have some that it does not. */
  private static IntStream known() {
    return IntStream.rangeClosed(0, Character.MAX_CODE_POINT)
        .filter(c -> c < 0xD800 || c > 0xDFFF)
        .filter(c -> Character.getType(c) != Character.UNASSIGNED && !MOVED.contains(c));
  }

  @Test
  void everyCodePointIsInItsCategoriesAndInNoOther() {
    TYPES.forEach(
        (category, type) -> {
          String members = text(known().filter(c -> Character.getType(c) == type));
          String others = text(known().filter(c -> Character.getType(c) != type));
          assertThat(IRegexp.of("\\p{" + category + "}+").matches(members)).as(category).isTrue();
          assertThat(IRegexp.of("[\\P{" + category + "}]+").matches(others)).as(category).isTrue();
        });
  }

  @Test
  void aFamilyIsAllOfItsCategories() {
    for (String family : Set.of("L", "M", "N", "P", "S", "Z")) {
      String members =
          text(
              known()
                  .filter(
                      c ->
                          TYPES.entrySet().stream()
                              .anyMatch(
                                  it ->
                                      it.getKey().startsWith(family)
                                          && it.getValue() == Character.getType(c))));
      assertThat(IRegexp.of("[\\p{" + family + "}]+").matches(members)).as(family).isTrue();
      assertThat(IRegexp.of("\\P{" + family + "}").matches(members.substring(0, 1))).isFalse();
    }
  }

  /** Characters of Unicode 7 to 15, which the matcher's own tables do not have. */
  @ParameterizedTest
  @CsvSource({"So, 128512", "L, 7312", "Lu, 7312", "Nd, 130032", "L, 201552", "Cn, 888"})
  void charactersOfLaterVersionsAreKnown(String category, int codePoint) {
    String one = Character.toString(codePoint);
    assertThat(IRegexp.of("\\p{" + category + "}").matches(one)).isTrue();
    assertThat(IRegexp.of("[^\\p{" + category + "}]").matches(one)).isFalse();
  }
}
