package nodley.core.expression;

import static org.assertj.core.api.Assertions.assertThat;

import nodley.core.file.FormFile;
import nodley.core.form.Form;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PageExpressionTest {

  /** What a page is sent of a condition: nothing that a field it does not have is compared with. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "title = \"mark\"|[=, [get, 0, title], mark]",
        "stamp = \"mark\"|[kept]",
        "stamp = title|[kept, [get, 0, title]]",
        "title = \"a\" and lower(stamp) = \"mark\"|[and, [=, [get, 0, title], a], [kept]]",
        "not (stamp in [\"mark\", \"b\"])|[not, [kept]]",
        "stamp is blank|[kept]",
        "title in [\"kept\"]|[in, [get, 0, title], [kept]]",
        "if stamp = \"mark\" then title = \"a\" else true|[if, [kept], [=, [get, 0, title], a],"
            + " true]",
      })
  void aPageIsNotSentWhatItDoesNotHave(String condition, String expected) throws Exception {
    Form form =
        FormFile.read(
            """
            form: letter
            fields:
              title: { type: text }
              stamp: { type: text, control: none, default: mark }
              reply: { type: text, shown: '%s' }
            """
                .formatted(condition));
    assertThat(form.field("reply").orElseThrow().presence().shown().toJson().toString())
        .isEqualTo(expected);
  }
}
