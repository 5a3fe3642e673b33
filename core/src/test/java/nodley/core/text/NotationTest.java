package nodley.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.Locale;
import nodley.core.value.Value;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvFileSource;

/** The page reads the same tables: {@code corpus/notation}. */
class NotationTest {

  private static final String TABLES = "../corpus/notation/";

  private static Notation of(String language) {
    return Notation.of(Locale.forLanguageTag(language));
  }

  @ParameterizedTest
  @CsvFileSource(files = TABLES + "typed.csv", delimiter = ';', numLinesToSkip = 1)
  void aTypedNumberComesToStandardForm(String language, String typed, String standard) {
    assertThat(of(language).standard(typed)).isEqualTo(standard);
  }

  @ParameterizedTest
  @CsvFileSource(files = TABLES + "numbers.csv", delimiter = ';', numLinesToSkip = 1)
  void aNumberIsShownAndCanBeTypedOver(String language, String number, String shown, String typed) {
    BigDecimal value = new BigDecimal(number);
    assertThat(of(language).shown(new Value.Number(value))).isEqualTo(shown);
    assertThat(of(language).typed(value)).isEqualTo(typed);
    assertThat(of(language).standard(typed)).isEqualTo(number);
  }

  @ParameterizedTest
  @CsvFileSource(files = TABLES + "dates.csv", delimiter = ';', numLinesToSkip = 1)
  void aDateIsShown(String language, LocalDate date, String shown) {
    assertThat(of(language).shown(new Value.Date(date))).isEqualTo(shown);
  }

  @Test
  void theTablesAreThere() {
    assertThat(Path.of(TABLES + "typed.csv")).exists();
    assertThat(Notation.STANDARD.shown(new Value.Text("1,5"))).isEqualTo("1,5");
  }
}
