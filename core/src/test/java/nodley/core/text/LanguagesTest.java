package nodley.core.text;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.io.IOException;
import java.io.InputStreamReader;
import java.io.Reader;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import java.util.Properties;
import nodley.core.value.Value;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Nodley's own sentences in their languages, and what MessageFormat makes of sentences. */
class LanguagesTest {

  private static Properties sentences(String ending) throws IOException {
    Properties sentences = new Properties();
    try (Reader in =
        new InputStreamReader(
            LanguagesTest.class.getResourceAsStream(
                "/nodley/core/text/sentences" + ending + ".properties"),
            StandardCharsets.UTF_8)) {
      sentences.load(in);
    }
    return sentences;
  }

  @ParameterizedTest
  @ValueSource(strings = {"_de", "_es"})
  void everyLanguageSaysWhatEnglishSays(String ending) throws Exception {
    Properties english = sentences("");
    Properties other = sentences(ending);
    assertThat(other.stringPropertyNames()).isEqualTo(english.stringPropertyNames());
    for (String key : english.stringPropertyNames()) {
      assertThat(other.getProperty(key)).as(key).isNotEqualTo(english.getProperty(key));
      assertThat(english.getProperty(key)).as(key).endsWith(end(other.getProperty(key)));
      // A translation may leave out how many there are, but never names what is not there.
      assertThat(Message.of(english.getProperty(key)).names())
          .as(key)
          .containsAll(Message.of(other.getProperty(key)).names());
    }
  }

  /** A sentence ends as its original does: with a full stop, a question mark; a word with none. */
  private static String end(String sentence) {
    String last = sentence.substring(sentence.length() - 1);
    return last.matches("[\\p{L}}]") ? "" : last;
  }

  private static Message.Arguments with(Map<String, Value> values) {
    return new Message.Arguments() {
      @Override
      public String text(String name) {
        return values.getOrDefault(name, Value.BLANK).shown();
      }

      @Override
      public Value value(String name) {
        return values.getOrDefault(name, Value.BLANK);
      }
    };
  }

  private static String fill(String message, String language, Map<String, Value> values)
      throws BadMessage {
    return Message.of(message).fill(with(values), Locale.of(language));
  }

  private static Value number(String number) {
    return new Value.Number(new BigDecimal(number));
  }

  /** Categories by CLDR's plural rules for cardinals. */
  @ParameterizedTest
  @CsvSource({
    "en, 0, other", "en, 1, one", "en, 2, other", "en, 1.5, other", "de, 1, one", "de, 0, other",
    "es, 1, one", "es, 2, other", "es, 1000000, many", "pl, 1, one", "pl, 2, few", "pl, 5, many",
    "pl, 22, few", "pl, 1.5, other", "ar, 0, zero", "ar, 2, two", "ar, 3, few", "ar, 11, many",
    "ja, 1, other", "cy, 6, many", "pt, 0, one", "fr, 1.5, one"
  })
  void pluralsFollowTheLanguage(String language, String number, String category) throws Exception {
    String message =
        "{n, plural, zero {zero} one {one} two {two} few {few} many {many} other {other}}";
    assertThat(fill(message, language, Map.of("n", number(number)))).isEqualTo(category);
  }

  @ParameterizedTest
  @CsvSource({"1, st", "2, nd", "3, rd", "4, th", "11, th", "12, th", "21, st", "102, nd"})
  void ordinalsToo(String number, String ending) throws Exception {
    assertThat(
            fill(
                "{n, selectordinal, one {#st} two {#nd} few {#rd} other {#th}}",
                "en",
                Map.of("n", number(number))))
        .isEqualTo(number + ending);
  }

  /** ICU's own rules for apostrophes: they quote only before a brace, and two stand for one. */
  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '`',
      value = {
        "It's here, It's here",
        "It''s here, It's here",
        "'{'x'}', {x}",
        "a '{x}' b, a {x} b",
        "{n} '{'n'}', 7 {n}",
        "`{n, plural, other {'#' #}}`, # 7"
      })
  void quotesAreIcus(String message, String filled) throws Exception {
    assertThat(fill(message, "en", Map.of("n", number("7")))).isEqualTo(filled);
  }

  @Test
  void whatIsPutInIsNotReadAgain() throws Exception {
    assertThat(fill("{a}{b}", "en", Map.of("a", new Value.Text("{b}"), "b", new Value.Text("'"))))
        .isEqualTo("{b}'");
  }

  @Test
  void anExactNumberComesBeforeItsCategory() throws Exception {
    String message = "{n, plural, =1 {just one} one {one} =2.5 {half} other {#}}";
    assertThat(fill(message, "en", Map.of("n", number("1")))).isEqualTo("just one");
    assertThat(fill(message, "en", Map.of("n", number("2.50")))).isEqualTo("half");
    assertThat(fill(message, "en", Map.of())).isEmpty();
  }

  @Test
  void variantsMayStandInEachOther() throws Exception {
    String message =
        "{kind, select, sail {{n, plural, one {# sail of {who}} other {# sails of {who}}}} other"
            + " {none}}";
    Map<String, Value> values =
        Map.of("kind", new Value.Text("sail"), "n", number("3"), "who", new Value.Text("Ann"));
    assertThat(fill(message, "en", values)).isEqualTo("3 sails of Ann");
    assertThat(fill(message, "en", Map.of("kind", new Value.Text("oar")))).isEqualTo("none");
    assertThat(Message.of(message).names()).containsExactly("kind", "n", "who");
  }

  @Test
  void thePageGetsTextWhereThatIsAllAndPiecesWhereItIsNot() throws Exception {
    assertThat(Message.of("{label} is '{'{value}.").toJson(Locale.ENGLISH).toString())
        .isEqualTo("[[label],  is {, [value], .]");
    assertThat(Message.of("{label} is {value}.").toJson(Locale.ENGLISH))
        .isEqualTo("{label} is {value}.");
    assertThat(Message.of("{n, plural, one {# a} other {# b}}").toJson(Locale.ENGLISH).toString())
        .isEqualTo(
            "[[plural, n, {one=[[n],  a], other=[[n],  b]}, {one=[[[i, 1000000000000000, true, [1,"
                + " 1]], [v, 1000000000000000, true, [0, 0]]]]}]]");
  }

  @ParameterizedTest
  @CsvSource(
      quoteCharacter = '`',
      value = {
        "{a, a { has no matching }",
        "`{a, plural, one {x}}`, needs an `other` variant",
        "`{a, number}`, has a style",
        "`{a, date, short}`, has a style",
        "`{a, plural, offset:1 other {x}}`, no offset",
        "`{a b}`, not ICU MessageFormat",
        "`{}`, not ICU MessageFormat"
      })
  void whatHasNoPlaceIsToldInWords(String message, String told) {
    assertThat(catchThrowableOfType(BadMessage.class, () -> Message.of(message)))
        .hasMessageContaining(told);
  }
}
