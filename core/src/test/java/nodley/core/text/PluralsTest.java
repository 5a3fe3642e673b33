package nodley.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.util.Locale;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Plural categories; those of all languages are tried on the page (see {@link PluralCases}). */
class PluralsTest {

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
}
