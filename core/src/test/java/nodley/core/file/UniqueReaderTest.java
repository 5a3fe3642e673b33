package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import nodley.core.form.Form;
import nodley.core.form.Unique;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class UniqueReaderTest {

  private static final String FIELDS =
      """
      fields:
        a: { type: text }
        b: { type: integer }
        c: { type: choices, options: [x, y] }
        g: { type: group, fields: { m: { type: email } } }
        r: { type: rows, fields: { n: { type: text } } }
        boat: { type: record, form: boat }
      """;

  @Test
  void pathsBeginAtTheFormOrTheRowsAround() throws Exception {
    Form form =
        FormFile.read(
            """
            form: f
            unique: [ { fields: [a, g.m], at: a, ignore-case: } ]
            fields:
              a: { type: text }
              g: { type: group, fields: { m: { type: email }, n: { type: text, unique: { within: [m] } } } }
              r: { type: rows, fields: { h: { type: group, fields: { k: { type: text, unique: true } } } } }
            """);
    assertThat(form.uniques())
        .extracting(it -> it.rows() + " " + it.name() + " at " + it.at() + " " + it.ignoreCase())
        .containsExactly(
            "[] g.m+g.n at [g, n] false", "[r] h.k at [h, k] false", "[] a+g.m at [a] true");
    assertThat(form.uniques()).extracting(Unique::ofForm).containsExactly(false, false, true);
  }

  /** What is wrong is told with its place, and what was meant. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      textBlock =
          """
          { fields: [a, bb] }            | #/unique/0/fields/1 | unknown-name | There is no field `bb` here. Did you mean `b`?
          { fields: [a, a] }             | #/unique/0/fields/1 | duplicate | Duplicate field `a`.
          { fields: [a, c] }             | #/unique/0/fields/1 | unknown-name | A field of type choices cannot be unique together with others.
          { fields: [a, r.n] }           | #/unique/0/fields/1 | unknown-name | A field of type rows cannot be unique together with others.
          { fields: [a, g] }             | #/unique/0/fields/1 | unknown-name | A field of type group cannot be unique together with others.
          { fields: [a, b], at: c }      | #/unique/0/at | bad-value | `at` is one of the fields that are unique together.
          { at: a }                      | #/unique/0 | missing-key | A `unique` of the form names the fields that are unique together: { fields: [vessel, arrives] }.
          { fields: [a, b], wen: b > 1 } | #/unique/0/wen | unknown-key | A `unique` of the form has no key `wen`. Did you mean `when`?
          { fields: [a, b], when: b }    | #/unique/0/when | bad-expression | Type mismatch: expected true or false, found a whole number.
          """)
  void isTold(String unique, String pointer, String code, String detail) {
    FormFileException e =
        catchThrowableOfType(
            FormFileException.class,
            () -> FormFile.read("form: f\nunique:\n  - " + unique + "\n" + FIELDS));
    assertThat(e.errors()).hasSize(1);
    assertThat(e.errors().getFirst())
        .returns(pointer, FormFileError::pointer)
        .returns(code, FormFileError::code)
        .returns(detail, FormFileError::detail);
    assertThat(e.errors().getFirst().line()).isEqualTo(3);
  }

  /** An index is kept by the record's own values, whoever asks and whenever. */
  @ParameterizedTest
  @CsvSource({"mode = 'add'", "'b > year(today)'", "boat.length > 3", "caller.name = 'ann'"})
  void aConditionLooksOnlyAtTheRecord(String when) {
    FormFileException e =
        catchThrowableOfType(
            FormFileException.class,
            () ->
                FormFile.read(
                    "form: f\nunique:\n  - { fields: [a], when: \""
                        + when.replace("'", "\\\"")
                        + "\" }\n"
                        + FIELDS));
    assertThat(e.errors().getFirst().detail()).startsWith("`when` looks only at the record's own");
  }

  @Test
  void whatIsNotKeptHasNoIndex() {
    String fields = "fields: { a: { type: text }, b: { type: text, kept: false }%s }";
    for (String file :
        new String[] {
          "unique: [ { fields: [a, b] } ]\n" + fields.formatted(""),
          fields.formatted(", c: { type: text, unique: { within: [b] } }")
        }) {
      FormFileException e =
          catchThrowableOfType(FormFileException.class, () -> FormFile.read("form: f\n" + file));
      assertThat(e.errors().getFirst().detail())
          .isEqualTo("`b` is not kept, so it cannot be unique with others.");
    }
  }

  @Test
  void theSameTwiceIsTold() {
    FormFileException e =
        catchThrowableOfType(
            FormFileException.class,
            () ->
                FormFile.read(
                    "form: f\n"
                        + "unique: [ { fields: [a] } ]\n"
                        + "fields: { a: { type: text, unique: true } }"));
    assertThat(e.errors().getFirst().detail()).isEqualTo("`a` is declared unique twice.");
  }
}
