package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Lists, parts and case files as they are read: as strictly as forms. */
class SharedFilesTest {

  private static ListFile list(String text) throws FormFileException {
    return ListFile.read(text, Format.YAML, Optional.empty());
  }

  private static PartFile part(String text) throws FormFileException {
    return PartFile.read(text, Format.YAML, Optional.empty(), FormRegistry.UNKNOWN);
  }

  private static String first(FormFileException refused) {
    FormFileError error = refused.errors().getFirst();
    return error.line() + ":" + error.column() + " " + error.code();
  }

  @Test
  void aListIsWrittenInThreeWays() throws Exception {
    assertThat(list("list: s\noptions: [fresh-water, Power]").choices())
        .extracting(Choice::value, Choice::label)
        .containsExactly(
            org.assertj.core.groups.Tuple.tuple("fresh-water", "Fresh water"),
            org.assertj.core.groups.Tuple.tuple("Power", "Power"));
    assertThat(list("list: s\noptions: { w: Water }").choices())
        .extracting(Choice::label)
        .containsExactly("Water");
    ListFile marked =
        list("list: s\noptions: [{ value: w, label: Water, depth: 2.5, trade: true, for: sail }]");
    assertThat(marked.choices().getFirst().marks().byName())
        .containsEntry("depth", new Value.Number(new java.math.BigDecimal("2.5")))
        .containsEntry("trade", new Value.Bool(true))
        .containsEntry("for", new Value.Text("sail"))
        .containsEntry("label", new Value.Text("Water"));
    assertThat(
            list("list: s\noptions: [{ value: w, offered: false }]").choices().getFirst().offered())
        .isFalse();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "list: s|1:1 missing-key",
        "lsit: s|1:1 missing-key",
        "list: S\\noptions: [a]|1:7 bad-value",
        "list: s\\noptions: []|2:10 bad-value",
        "list: s\\noptions: [a, a]|2:14 duplicate",
        "list: s\\noptions: [' a']|2:11 bad-value",
        "list: s\\noptions: [{ label: A }]|2:11 missing-key",
        "list: s\\noptions: [{ value: a, Deep: 1 }]|2:29 bad-value",
        "list: s\\noptions: [{ value: a, deep: 1 }, { value: b, deep: x }]|2:52 wrong-type",
        "list: s\\noptions: [{ value: a, deep: [1] }]|2:29 wrong-type",
        "list: s\\noptions: three|2:10 wrong-type",
        "list: s\\nopitons: [a]|1:1 missing-key",
        "[a]|1:1 wrong-type"
      })
  void aListsErrorHasItsPlace(String text, String told) {
    FormFileException refused =
        catchThrowableOfType(FormFileException.class, () -> list(text.replace("\\n", "\n")));
    assertThat(first(refused)).as(refused.getMessage()).isEqualTo(told);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "part: p|1:1 missing-key",
        "part: p\\nfields: {}|2:9 bad-value",
        "part: p\\nfields: { a: { type: txt } }|2:22 bad-value",
        "part: p\\nfields: { a: { type: text } }\\nmust: true|1:1 missing-key",
        "part: p\\nfields: { a: { type: text } }\\nsay: x|3:6 unknown-key",
        "part: p\\nfields: { a: { type: text, shown: b } }|2:35 unknown-name",
        "part: p\\ntakes: { a: dat }\\nmust: a > today|2:13 bad-value",
        "part: p\\ntakes: { day: date }\\nmust: dya > today|3:7 unknown-name",
        "part: p\\ntakes: { a: date }\\nmust: a + 1|3:7 bad-expression",
        "part: p\\ntakes: { a: date }\\nmust: a > today\\nsay: '{b}'|4:6 bad-text"
      })
  void aPartsErrorHasItsPlace(String text, String told) {
    FormFileException refused =
        catchThrowableOfType(FormFileException.class, () -> part(text.replace("\\n", "\n")));
    assertThat(first(refused)).as(refused.getMessage()).isEqualTo(told);
  }

  @Test
  void aPartThatDoesNotFitIsToldWhereItIsUsed() throws Exception {
    Shared shared =
        Shared.NONE
            .with(part("part: later\ntakes: { a: date, b: date }\nmust: b > a"))
            .with(part("part: contact\nfields: { mail: { type: email } }"));
    String form =
        """
        form: f
        fields:
          a: { type: date }
          n: { type: integer }
          c: { use: later }
        rules:
          - { use: later, with: { a: a } }
          - { use: later, with: { a: a, b: n } }
          - { use: contact }
          - { use: laetr }
          - { use: later, with: { a: a, b: a + 1, c: a } }
        """;
    FormFileException refused =
        catchThrowableOfType(
            FormFileException.class,
            () -> FormFile.read(form, Format.YAML, FormRegistry.alone(shared)));
    assertThat(refused.errors())
        .extracting(it -> it.line() + " " + it.code() + " " + it.suggestion().orElse(""))
        .containsExactly(
            "5 unknown-name ",
            "7 missing-key ",
            "8 bad-expression ",
            "9 unknown-name ",
            "10 unknown-name later",
            "11 unknown-key a");
  }

  @Test
  void aCaseFileSaysWhatIsExpected() throws Exception {
    CaseFile file =
        CaseFile.read(
            """
            now: 2027-03-01T12:00:00Z
            cases:
              - { name: a, in: { n: 1.50, t: "1.50", l: [a, null], g: { b: true } }, verdict: refused }
              - { name: b, in: {}, errors: {}, before: { n: 1 }, values: { n: null } }
              - { name: c, in: {}, errors: { crew/0/name: value-missing } }
            """,
            Format.YAML);
    assertThat(file.now()).contains(Instant.parse("2027-03-01T12:00:00Z"));
    CaseFile.Case a = file.cases().get(0);
    assertThat(a.line()).isEqualTo(3);
    assertThat(a.in().get("n")).isEqualTo(new Raw.Number(new java.math.BigDecimal("1.5")));
    assertThat(a.in().get("t")).isEqualTo(new Raw.Text("1.50"));
    assertThat(a.in().get("l")).isEqualTo(new Raw.Many(List.of(new Raw.Text("a"), new Raw.Null())));
    assertThat(a.in().get("g")).isEqualTo(new Raw.Members(Map.of("b", new Raw.Bool(true))));
    assertThat(file.cases())
        .extracting(CaseFile.Case::verdict)
        .containsExactly("refused", "accepted", "refused");
    assertThat(file.cases().get(1).before()).isPresent();
    assertThat(file.cases().get(2).errors()).contains(Map.of("crew/0/name", "value-missing"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "now: x\\ncases: []|1:6 bad-value",
        "case: []|1:1 unknown-key",
        "cases: [{ in: {}, verdict: accepted }]|1:9 missing-key",
        "cases: [{ name: a, in: {} }]|1:9 missing-key",
        "cases: [{ name: a, in: [], verdict: accepted }]|1:24 wrong-type",
        "cases: [{ name: a, in: {}, verdict: fine }]|1:37 bad-value",
        "cases: [{ name: a, in: {}, errors: { n: value-mising } }]|1:41 bad-value",
        "cases: three|1:8 wrong-type"
      })
  void aCaseFilesErrorHasItsPlace(String text, String told) {
    FormFileException refused =
        catchThrowableOfType(
            FormFileException.class, () -> CaseFile.read(text.replace("\\n", "\n"), Format.YAML));
    assertThat(first(refused)).as(refused.getMessage()).isEqualTo(told);
  }

  @Test
  void aMarkThatHidesAFieldOfTheFormIsToldWhereItIsComparedWithItself() throws Exception {
    FormRegistry goods =
        FormRegistry.alone(
            Shared.NONE.with(list("list: goods\noptions: [{ value: oil, kind: wet }]")));
    String form =
        """
        form: f
        fields:
          kind: { type: choice, options: [wet, dry] }
          good: { type: choice, options: { list: goods, where: kind = kind } }
        """;
    assertThatThrownBy(() -> FormFile.read(form, Format.YAML, goods))
        .isInstanceOfSatisfying(
            FormFileException.class,
            refused -> {
              assertThat(first(refused)).isEqualTo("4:61 bad-expression");
              assertThat(refused.errors().getFirst().detail())
                  .isEqualTo(
                      "`kind` is that of the option or row on both sides; the form's own is"
                          + " `form.kind`.");
            });
    FormFile.read(form.replace("= kind", "= form.kind"), Format.YAML, goods);
  }
}
