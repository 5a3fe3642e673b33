package nodley.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import com.ibm.icu.text.PluralRules;
import com.ibm.icu.text.PluralRules.PluralType;
import com.ibm.icu.util.ULocale;
import java.io.IOException;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import nodley.core.Repository;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import tools.jackson.databind.json.JsonMapper;

/**
 * Plural categories in all languages that CLDR knows. What is found is left under target/corpus for
 * the page's half of the same test.
 */
class PluralsTest {

  private static final List<String> CATEGORIES = List.of("zero", "one", "two", "few", "many");

  private static Object piece(Locale language, boolean ordinal) {
    var text = new StringBuilder("{n, " + (ordinal ? "selectordinal" : "plural") + ",");
    CATEGORIES.forEach(it -> text.append(' ').append(it).append(" {").append(it).append('}'));
    try {
      return Message.of(text + " other {other}}").toJson(language);
    } catch (BadMessage e) {
      throw new AssertionError(e);
    }
  }

  /** By the tables of CLDR 48 and 49 that are for people to read. */
  @ParameterizedTest
  @CsvSource({
    "en, 1, one, one", "en, 2, other, two", "en, 3, other, few", "en, 11, other, other",
    "en, 21, other, one", "en, 1.5, other, other", "de, 1, one, other", "fr, 0, one, other",
    "fr, 1, one, one", "fr, 1.5, one, other", "pl, 2, few, other", "pl, 5, many, other",
    "pl, 1.5, other, other", "ru, 21, one, other", "it, 8, other, many", "it, 80, other, many",
    "cy, 0, zero, zero", "cy, 6, many, many", "ar, 3, few, other", "lt, 1.5, many, other",
    "es, 1, one, one", "es, 3, other, one", "es, 13, other, one", "es, 11, other, other",
    "sv, 1, one, one", "sv, 11, other, other", "da, 1.5, one, other", "da, -1, one, other"
  })
  void categoriesAreThoseOfCldr(String language, String number, String cardinal, String ordinal) {
    Locale locale = Locale.forLanguageTag(language);
    var value = new BigDecimal(number);
    assertThat(Plurals.category(value, locale, false)).isEqualTo(cardinal);
    assertThat(Plurals.category(value, locale, true)).isEqualTo(ordinal);
  }

  @Test
  void pagesGetTheRulesOfAllLanguages() throws IOException {
    List<Object> cases = new ArrayList<>();
    for (ULocale language : PluralRules.getAvailableULocales()) {
      for (boolean ordinal : new boolean[] {false, true}) {
        PluralRules rules =
            PluralRules.forLocale(language, ordinal ? PluralType.ORDINAL : PluralType.CARDINAL);
        Map<String, String> expected = new TreeMap<>();
        for (String category : rules.getKeywords()) {
          // The samples that CLDR gives with its rules.
          for (double sample : rules.getSamples(category)) {
            expected.put(plain(sample), category);
          }
        }
        for (double number : new double[] {0.1, 0.5, 1.1, 1.2, 1.21, 1.5, 2.4, 10.11, 11.2}) {
          expected.put(plain(number), rules.select(number));
        }
        cases.add(
            Map.of(
                "language",
                language.toLanguageTag(),
                "ordinal",
                ordinal,
                "message",
                piece(language.toLocale(), ordinal),
                "expected",
                expected));
      }
    }
    assertThat(cases).hasSizeGreaterThan(300);
    Path file = Repository.file("core/target/corpus/plurals.json");
    Files.createDirectories(file.getParent());
    Files.write(file, JsonMapper.shared().writeValueAsBytes(cases));
  }

  private static String plain(double number) {
    return BigDecimal.valueOf(number).stripTrailingZeros().toPlainString();
  }
}
