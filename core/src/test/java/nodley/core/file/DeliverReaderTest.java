package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assertions.tuple;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** {@code deliver}, and forms that keep nothing. */
class DeliverReaderTest {

  private static final String FIELDS =
      "fields: { name: { type: text }, pin: { type: secret },"
          + " contact: { type: group, fields: { email: { type: email } } } }\n";

  private static Form read(String more) throws FormFileException {
    return FormFile.read("form: visit\n" + FIELDS + more, Format.YAML, FormRegistry.UNKNOWN);
  }

  @Test
  void whatIsNotSaidIsUsual() throws FormFileException {
    Form form =
        read("deliver: [{ to: office }, { to: post, on: remove, values: [contact.email] }]");
    assertThat(form.deliveries())
        .extracting(DeliveryRule::to, DeliveryRule::on, DeliveryRule::values)
        .containsExactly(
            tuple(
                "office",
                Set.of(DeliveryRule.Change.ADD, DeliveryRule.Change.EDIT),
                Optional.empty()),
            tuple(
                "post",
                Set.of(DeliveryRule.Change.REMOVE),
                Optional.of(List.of(List.of("contact", "email")))));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "deliver: [{ on: add }] | missing-key | A delivery names its outlet",
        "deliver: [{ to: Office }] | bad-value | An outlet's name is a small letter",
        "deliver: [{ to: office, on: adding }] | bad-value | not \"adding\"",
        "deliver: [{ to: office, on: [] }] | bad-value | names at least one of",
        "deliver: [{ to: office, values: [nam] }] | unknown-name | name",
        "deliver: [{ to: office, values: [contact.mail] }] | unknown-name | contact.email",
        "deliver: [{ to: office, values: [pin] }] | bad-value | cannot be told",
        "deliver: [{ to: office, values: [name, name] }] | duplicate | twice",
        "deliver: [{ to: office, when: naem = \"x\" }] | unknown-name | name",
        "deliver: [{ to: office, unless: x }] | unknown-key | unless",
        "records: none | missing-key | so it says who is told",
        "records: none\\nkeep-for: 2 days\\ndeliver: [{ to: office }] | bad-value | keep-for",
        "records: none\\naccess: { see: anyone }\\ndeliver: [{ to: office }] | bad-value | to see",
        "records: none\\nunique: [{ fields: [name] }]\\ndeliver: [{ to: office }] | bad-value |"
            + " Nothing can be unique",
      })
  void whatIsWrongIsToldWithWhatWasMeant(String more, String code, String words) {
    FormFileException e =
        catchThrowableOfType(FormFileException.class, () -> read(more.replace("\\n", "\n")));
    assertThat(e).as(more).isNotNull();
    assertThat(e.errors())
        .anySatisfy(
            it -> {
              assertThat(it.code()).isEqualTo(code);
              assertThat(it.detail()).contains(words);
            });
  }

  @Test
  void filesAreKeptWithRecordsAlone() {
    FormFileException e =
        catchThrowableOfType(
            FormFileException.class,
            () ->
                FormFile.read(
                    "form: letter\nrecords: none\nfields: { photo: { type: file } }\n"
                        + "deliver: [{ to: office }]\n",
                    Format.YAML,
                    FormRegistry.UNKNOWN));
    assertThat(e.errors()).extracting(FormFileError::code).containsExactly("bad-value");
  }
}
