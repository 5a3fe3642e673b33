package nodley.core.text;

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
import tools.jackson.databind.json.JsonMapper;

/** Plural categories in all languages that CLDR knows, for the page's tests. */
public final class PluralCases {

  private static final List<String> CATEGORIES = List.of("zero", "one", "two", "few", "many");

  private PluralCases() {}

  private static Object piece(Locale language, boolean ordinal) {
    var text = new StringBuilder("{n, " + (ordinal ? "selectordinal" : "plural") + ",");
    CATEGORIES.forEach(it -> text.append(' ').append(it).append(" {").append(it).append('}'));
    try {
      return Message.of(text + " other {other}}").toJson(language);
    } catch (BadMessage e) {
      throw new AssertionError(e);
    }
  }

  /** Writes messages and what comes of them, by ICU4J. */
  public static void write(Path file) throws IOException {
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
    Files.write(file, JsonMapper.shared().writeValueAsBytes(cases));
  }

  private static String plain(double number) {
    return BigDecimal.valueOf(number).stripTrailingZeros().toPlainString();
  }
}
