package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import java.time.Clock;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.file.FormFile;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is free near a taken value. */
class AlternativesTest {

  /** Everything that is named is taken. */
  private record Taken(Set<String> values) implements Lookups {
    @Override
    public Optional<Set<Integer>> taken(Form form, List<UniqueKey> keys, Optional<String> except) {
      Set<Integer> taken = new HashSet<>();
      for (int i = 0; i < keys.size(); i++) {
        if (values.contains(keys.get(i).values().getLast().shown())) {
          taken.add(i);
        }
      }
      return Optional.of(taken);
    }

    @Override
    public Optional<Optional<Display.Found>> record(String form, String id) {
      return Optional.empty();
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "length: ..8|MQ7AB|MQ7AB|MQ8AB, MQ9AB, MQ10AB",
        "length: ..5|MQ7AB|MQ7AB|MQ8AB, MQ9AB",
        "length: ..8|MQ7AB|MQ7AB MQ8AB MQ10AB|MQ9AB, MQ11AB, MQ12AB",
        "length: ..8|A009|A009|A010, A011, A012",
        "length: ..20|Heron|Heron|Heron2, Heron3, Heron4",
        "length: ..20|grey-heron|grey-heron|grey-heron-2, grey-heron-3, grey-heron-4",
        "'pattern: \"[A-F][0-9]\"'|A8|A8|A9",
        "'pattern: \"[A-Z]+\"'|HERON|HERON|''",
      })
  void theNearestThatTheFieldAccepts(String limits, String value, String taken, String expected)
      throws Exception {
    Form form =
        FormFile.read(
            "form: boat\nfields:\n  code: { type: text, unique: { alternatives: true }, "
                + limits
                + " }\n",
            Format.YAML,
            FormRegistry.UNKNOWN);
    Verdict verdict =
        Submission.check(
            form,
            new Input(Map.of("code", new Raw.Text(value)), Input.Encoding.JSON),
            Context.add(Clock.systemUTC()),
            new Taken(Set.copyOf(Arrays.asList(taken.split(" ")))));
    FieldError error = verdict.errors().getFirst();
    assertThat(error.code()).isEqualTo("taken");
    String registered = "Code " + value + " is already registered.";
    if (expected.isEmpty()) {
      assertThat(error.params()).doesNotContainKey("alternatives");
      assertThat(error.detail()).isEqualTo(registered);
    } else {
      assertThat(error.params().get("alternatives")).isEqualTo(List.of(expected.split(", ")));
      assertThat(error.detail()).isEqualTo(registered + " Free: " + expected + ".");
    }
  }

  @ParameterizedTest
  @CsvSource({"type: email", "type: date", "type: phone"})
  void onlyTextsAndWholeNumbersHaveAlternatives(String type) {
    assertThat(
            catchThrowable(
                () ->
                    FormFile.read(
                        "form: boat\nfields:\n  code: { "
                            + type
                            + ", unique: { alternatives: true } }\n",
                        Format.YAML,
                        FormRegistry.UNKNOWN)))
        .hasMessageContaining("alternatives");
  }
}
