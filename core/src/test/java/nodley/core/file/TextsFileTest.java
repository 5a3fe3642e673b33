package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Locale;
import nodley.core.file.TextsFile.From;
import nodley.core.file.TextsFile.State;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.submission.Context;
import nodley.core.submission.FieldError;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Texts by language: what they change, where each comes from, and what is wrong in them. */
class TextsFileTest {

  private static final String FILE =
      """
      form: boat
      title: { add: Add a boat, edit: "Edit {name}", list: Boats }
      called: "{name}"
      fields:
        name: { type: text, required: true, length: 2..5, help: On her bow. }
        rig: { type: choice, options: { sail: Sails, motor: Motor } }
        nights: { type: integer }
        owner:
          type: group
          fields:
            mail: { type: email, say: { type-mismatch: "{value} is no address." } }
      rules:
        - { must: nights <= 2, at: nights, say: "{nights, plural, one {# night} other {# nights}}!" }
        - { must: nights >= 1, at: nights }
      """;

  private static Form boat;

  @BeforeAll
  static void read() throws Exception {
    boat = FormFile.read(FILE);
  }

  private static TextsFile texts(String language, String text) throws FormFileException {
    return TextsFile.read(
        text, Format.YAML, boat, Locale.forLanguageTag(language), FormRegistry.UNKNOWN);
  }

  private static List<String> said(Form form, String json) throws Exception {
    Input input = JsonInput.read(json.getBytes("UTF-8"), InputLimits.DEFAULT);
    Context now = Context.add(Clock.fixed(Instant.EPOCH, ZoneOffset.UTC));
    return Submission.check(form, input, now, Lookups.NONE).errors().stream()
        .map(FieldError::detail)
        .toList();
  }

  @Test
  void aFormSpeaksItsTextsAndNodleysOwnInTheirLanguage() throws Exception {
    Form german =
        texts(
                "de",
                """
                title: { add: Ein Boot dazu }
                fields:
                  name: { label: Name am Bug, help: Vorne. }
                  rig: { options: { sail: Segel } }
                  owner: { fields: { mail: { say: { type-mismatch: "{value} ist keine Adresse." } } } }
                rules:
                  - { say: "{nights, plural, one {# Nacht} other {# Nächte}}!" }
                """)
            .form();
    assertThat(german.titles().add().text()).isEqualTo("Ein Boot dazu");
    assertThat(german.titles().list()).isEqualTo("Boats");
    assertThat(german.field("name").orElseThrow().wording().help()).isEqualTo("Vorne.");
    assertThat(german.field("rig").orElseThrow().options().choices())
        .extracting(it -> it.value() + " " + it.label())
        .containsExactly("sail Segel", "motor Motor");
    assertThat(said(german, "{\"name\":\"x\",\"nights\":3,\"owner\":{\"mail\":\"o\"}}"))
        .containsExactly(
            "Name am Bug braucht mindestens 2 Zeichen; es ist 1.",
            "3 Nächte!",
            "o ist keine Adresse.");
    assertThat(said(boat, "{\"name\":\"x\"}"))
        .containsExactly("Name must have at least 2 characters; it has 1.");
  }

  /** Polish has four categories (CLDR), which English does not know. */
  @ParameterizedTest
  @CsvSource({"1, 1 noc", "3, 3 noce", "5, 5 nocy", "22, 22 noce"})
  void aLanguageThatDoesNotShipHasItsOwnPluralsAndMayGiveNodleysSentences(int nights, String said)
      throws Exception {
    Form polish =
        texts(
                "pl",
                """
                rules:
                  - { say: "{nights, plural, one {# noc} few {# noce} many {# nocy} other {# nocy}}" }
                  - {}
                say: { value-missing: "Brak: {label}." }
                """)
            .form();
    List<String> all = said(polish, "{\"nights\":" + (nights == 1 ? 0 : nights) + "}");
    assertThat(all.getFirst()).isEqualTo("Brak: Name.");
    assertThat(all.getLast())
        .isEqualTo(nights == 1 ? "Nights does not go with the other values." : said);
  }

  @Test
  void eachTextIsUsedMissingOrUnused() throws Exception {
    TextsFile read = texts("de", "fields: { name: { label: Name am Bug } }\nrules: [{ say: A }]");
    assertThat(read.texts())
        .contains(
            new TextsFile.Text("fields.name.label", State.USED, From.TEXTS, "Name am Bug"),
            new TextsFile.Text("fields.name.help", State.MISSING, From.FORM_FILE, "On her bow."),
            new TextsFile.Text("fields.rig.options.sail", State.MISSING, From.FORM_FILE, "Sails"),
            new TextsFile.Text("rules.0.say", State.USED, From.TEXTS, "A"),
            new TextsFile.Text("say.value-missing", State.USED, From.NODLEY, "{label} fehlt."));
    // A name alone has no words to translate, and the second rule says nothing of its own.
    assertThat(read.texts())
        .extracting(TextsFile.Text::key)
        .doesNotContain("called", "rules.1.say", "fields.name.unit");

    Form later = FormFile.read(FILE.replace("name:", "title:").replace("{name}", "{title}"));
    TextsFile again =
        TextsFile.reread(
            "fields: { name: { label: Name am Bug }, rig: { label: Takelung } }",
            Format.YAML,
            later,
            Locale.GERMAN,
            FormRegistry.UNKNOWN);
    assertThat(again.form().field("rig").orElseThrow().label()).isEqualTo("Takelung");
    assertThat(again.texts())
        .filteredOn(it -> it.state() == State.UNUSED)
        .extracting(TextsFile.Text::key, TextsFile.Text::text)
        .containsExactly(
            org.assertj.core.groups.Tuple.tuple("fields.name", "The form has no key `name`."));

    TextsFile none = TextsFile.none(boat, Locale.FRENCH, FormRegistry.UNKNOWN);
    assertThat(none.texts())
        .contains(
            new TextsFile.Text(
                "say.value-missing", State.MISSING, From.NODLEY, "{label} is required."))
        .allMatch(it -> it.state() == State.MISSING);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "fields: { nmae: { label: A } }|1:11 unknown-key name",
        "fields: { name: { lable: A } }|1:19 unknown-key label",
        "fields: { rig: { options: { sial: A } } }|1:29 unknown-key sail",
        "tilte: A|1:1 unknown-key title",
        "fields: { name: { required: true } }|1:19 unknown-key",
        "fields: { name: { say: { value-mising: A } } }|1:26 unknown-key value-missing",
        "fields: { name: { say: { value-missing: '{a, plural}' } } }|1:41 bad-text",
        "fields: { name: { say: { value-missing: '{nmae}' } } }|1:41 bad-text name",
        "say: { vlaue-missing: A }|1:8 unknown-key value-missing",
        "say: { page.save: '{lable}' }|1:19 bad-text label",
        "title: { edit: '{nmae}' }|1:16 unknown-name name",
        "title: { add: '{name}' }|1:15 bad-text",
        "called: [a]|1:9 wrong-type",
        "form: ship|1:7 bad-value",
        "rules: [{}, {}, { say: A }]|1:17 unknown-name",
        "[]|1:1 wrong-type",
        "fields: {|1:10 unreadable"
      })
  void whatTheFormDoesNotHaveIsRefusedWithItsPlace(String text, String expected) {
    FormFileException refused =
        catchThrowableOfType(FormFileException.class, () -> texts("de", text));
    FormFileError error = refused.errors().getFirst();
    String found = error.line() + ":" + error.column() + " " + error.code();
    assertThat(found + error.suggestion().map(it -> " " + it).orElse("")).isEqualTo(expected);
  }

  @Test
  void jsonThatEndsEarlyIsToldInWordsAndNotInTheParsersOwn() {
    FormFileException refused =
        catchThrowableOfType(
            FormFileException.class,
            () ->
                TextsFile.read(
                    "{\"fields\": {", Format.JSON, boat, Locale.GERMAN, FormRegistry.UNKNOWN));
    FormFileError error = refused.errors().getFirst();
    assertThat(error.code()).isEqualTo("unreadable");
    assertThat(error.detail())
        .startsWith("This is not JSON: ")
        .endsWith(".")
        .doesNotContain("Source", "REDACTED", "(");
  }

  @ParameterizedTest
  @CsvSource({
    "visit.de, visit, de",
    "a-b.pt-br, a-b, pt-BR",
    "x.zh-Hant-TW, x, zh-Hant-TW",
    "visit.form, , ",
    "visit.list, , ",
    "visit.cases, , ",
    "visit, , ",
    "Visit.de, , "
  })
  void aFileIsNamedByItsFormAndItsLanguage(String name, String form, String language) {
    assertThat(TextsFile.name(name).map(TextsFile.Name::form).orElse(null)).isEqualTo(form);
    assertThat(TextsFile.name(name).map(it -> it.language().toLanguageTag()).orElse(null))
        .isEqualTo(language);
  }
}
