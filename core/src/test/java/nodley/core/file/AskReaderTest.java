package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Ask;
import nodley.core.form.Form;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** {@code ask} of fields, and {@code asks} of forms. */
class AskReaderTest {

  private static Form read(String ask, String more) throws FormFileException {
    return FormFile.read(
        """
        form: vessel
        fields:
          sign: { type: text, ask: %s }
          flag: { type: text }
          pin: { type: secret }
          owner:
            type: group
            fields:
              tax: { type: text, ask: { of: office, sends: [name], on: submit } }
              name: { type: text }
        """
                .formatted(ask)
            + more,
        Format.YAML,
        FormRegistry.UNKNOWN.with(
            new FormRegistry.Outside(
                Set.of(), Set.of("register", "office", "customs"), Sources.NONE, true)));
  }

  @Test
  void aFieldSendsItselfAndWhatItNames() throws FormFileException {
    Form form =
        read(
            "{ of: register, sends: [flag, owner.name] }",
            "asks: [{ of: customs, sends: all, on: submit }, { of: office, sends: [sign] }]");
    assertThat(form.asks())
        .containsExactly(
            new Ask(
                "register",
                Optional.of(List.of("sign")),
                Optional.of(List.of(List.of("sign"), List.of("flag"), List.of("owner", "name"))),
                true),
            new Ask(
                "office",
                Optional.of(List.of("owner", "tax")),
                Optional.of(List.of(List.of("owner", "tax"), List.of("owner", "name"))),
                false),
            new Ask("customs", Optional.empty(), Optional.empty(), false),
            new Ask("office", Optional.empty(), Optional.of(List.of(List.of("sign"))), false));
  }

  @Test
  void withoutSendsAFieldSendsItselfAlone() throws FormFileException {
    assertThat(read("{ of: register }", "").asks().getFirst().sends())
        .contains(List.of(List.of("sign")));
    assertThat(read("{ of: register, sends: all }", "").asks().getFirst().sends()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{ sends: [flag] } | '' | missing-key | `ask` says whom to ask",
        "{ of: Register } | '' | bad-value | a small letter",
        "{ of: registre } | '' | unknown-name | Did you mean `register`?",
        "{ of: register, sends: [flug] } | '' | unknown-name | Did you mean `flag`?",
        "{ of: register, sends: [pin] } | '' | unknown-name | type secret cannot be sent",
        "{ of: register, sends: [flag, flag] } | '' | duplicate | flag",
        "{ of: register, on: typing } | '' | bad-value | leaving",
        "{ of: register, send: [flag] } | '' | unknown-key | Did you mean `sends`?",
        "{ of: register } | asks: [{ sends: all }] | missing-key | A question says whom to ask",
        "{ of: register } | asks: [{ of: customs, on: leaving }] | bad-value | submit",
        "{ of: register } | asks: [{ of: custom }] | unknown-name | Did you mean `customs`?",
      })
  void whatIsWrongIsToldWithWhatWasMeant(String ask, String more, String code, String words) {
    FormFileException e = catchThrowableOfType(FormFileException.class, () -> read(ask, more));
    assertThat(e).as(ask).isNotNull();
    assertThat(e.errors())
        .anySatisfy(
            error -> {
              assertThat(error.code()).isEqualTo(code);
              assertThat(error.detail()).contains(words);
              assertThat(error.line()).isPositive();
            });
  }

  @Test
  void nobodyIsAskedInsideRowsOrAboutWhatOnlySomeSee() {
    for (String field :
        List.of(
            "crew: { type: rows, fields: { name: { type: text, ask: { of: register } } } }",
            "name: { type: text, see: staff, ask: { of: register } }",
            "name: { type: secret, ask: { of: register } }")) {
      FormFileException e =
          catchThrowableOfType(
              FormFileException.class,
              () ->
                  FormFile.read(
                      "form: vessel\nfields: { " + field + " }",
                      Format.YAML,
                      FormRegistry.UNKNOWN));
      assertThat(e).as(field).isNotNull();
      assertThat(e.errors().getFirst().detail()).contains("`ask`");
    }
  }
}
