package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import nodley.core.file.TextsFile.From;
import nodley.core.file.TextsFile.State;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.submission.Sentences;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ServiceTextsTest {

  private static final String GERMAN =
      """
      say: { value-missing: "{label} fehlt noch.", page.forms: Vordrucke, page.save: Sichern }
      placeholders: { email: name@beispiel.example, text: … }
      """;

  private static Shared shared() throws FormFileException {
    return Shared.NONE.with(ServiceTexts.read(GERMAN, Format.YAML, Locale.GERMAN));
  }

  private static String placeholder(Form form, String field) {
    return form.fields()
        .find(List.of(field.split("\\.")))
        .map(Field::wording)
        .orElseThrow()
        .placeholder();
  }

  @Test
  void aFormTakesWhatItDoesNotSayItself() throws FormFileException {
    Form form =
        FormFile.read(
            """
            form: boat
            fields:
              name: { type: text, placeholder: Tern }
              home: { type: text }
              length: { type: integer }
              owner: { type: group, fields: { mail: { type: email } } }
            """);
    Form said = shared().in(form, Locale.of("de", "AT"));
    assertThat(placeholder(said, "name")).isEqualTo("Tern");
    assertThat(placeholder(said, "home")).isEqualTo("…");
    assertThat(placeholder(said, "length")).isEmpty();
    assertThat(placeholder(said, "owner.mail")).isEqualTo("name@beispiel.example");
    assertThat(Sentences.of(said).word("page.save", Map.of())).isEqualTo("Sichern");
    assertThat(placeholder(shared().in(form, Locale.of("es")), "home")).isEmpty();
  }

  @Test
  void aFormsOwnTextsGoBeforeThem() throws FormFileException {
    Form form = FormFile.read("form: boat\nfields: { name: { type: text, required: true } }");
    TextsFile texts =
        TextsFile.read(
            "say: { page.save: Boot sichern }",
            Format.YAML,
            form,
            Locale.GERMAN,
            FormRegistry.alone(shared()));
    assertThat(texts.form().say().get("page.save").source()).isEqualTo("Boot sichern");
    assertThat(texts.form().say().get("value-missing").source()).isEqualTo("{label} fehlt noch.");
    assertThat(placeholder(texts.form(), "name")).isEqualTo("…");
    assertThat(texts.texts())
        .contains(
            new TextsFile.Text("say.page.save", State.USED, From.TEXTS, "Boot sichern"),
            new TextsFile.Text(
                "say.value-missing", State.USED, From.SERVICE_TEXTS, "{label} fehlt noch."));
  }

  /** Lookup of RFC 4647, section 3.4, over what ships and what is there. */
  @Test
  void pagesOfNoFormSayThemInTheFirstWantedLanguage() throws FormFileException {
    Shared shared =
        shared()
            .with(
                ServiceTexts.read("say: { page.forms: Formulaires }", Format.YAML, Locale.FRENCH));
    assertThat(forms(shared, Locale.ITALIAN, Locale.GERMAN)).isEqualTo("Vordrucke");
    assertThat(forms(shared, Locale.CANADA_FRENCH)).isEqualTo("Formulaires");
    assertThat(forms(shared, Locale.ITALIAN)).isEqualTo("Forms");
    assertThat(forms(shared)).isEqualTo("Forms");
  }

  private static String forms(Shared shared, Locale... wanted) {
    return shared.sentences(List.of(wanted)).word("page.forms", Map.of());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "fields: {}|1:1 unknown-key",
        "say: { page.svae: A }|1:8 unknown-key page.save",
        "say: { value-missing: '{name} fehlt' }|1:23 bad-text",
        "say: { value-missing: '{label' }|1:23 bad-text",
        "placeholders: { emial: A }|1:17 unknown-key email",
        "placeholders: { boolean: A }|1:17 unknown-key",
        "placeholders: [A]|1:15 wrong-type",
        "'say: ['|1:7 unreadable",
      })
  void whatIsWrongIsToldWithItsPlace(String text, String expected) {
    assertThatThrownBy(() -> ServiceTexts.read(text, Format.YAML, Locale.GERMAN))
        .isInstanceOfSatisfying(
            FormFileException.class,
            e -> {
              FormFileError error = e.errors().getFirst();
              assertThat(
                      (error.line()
                              + ":"
                              + error.column()
                              + " "
                              + error.code()
                              + " "
                              + error.suggestion().orElse(""))
                          .strip())
                  .isEqualTo(expected);
            });
  }

  @Test
  void noFormIsCalledSo() {
    assertThatThrownBy(() -> FormFile.read("form: service\nfields: { a: { type: text } }"))
        .hasMessageContaining("`service` stands for all forms");
  }
}
