package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.file.FormFile;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.file.Shared;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.junit.jupiter.api.Test;

/** Each stage by itself: the record that it takes is made by hand, without the stages before it. */
class StagesTest {

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  private static Request request(String fields, String json, Lookups lookups) throws Exception {
    Form form =
        FormFile.read(
            "form: boat\nfields:\n" + fields.indent(2),
            Format.YAML,
            FormRegistry.alone(Shared.NONE));
    Input input = JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
    return Request.of(form, input, ADD, lookups, Optional.empty());
  }

  private static Request request(String fields) throws Exception {
    return request(fields, "{}", Lookups.NONE);
  }

  /** States of a form's own fields that have these values. */
  private static FieldStates states(Request request, Map<String, Value> values) {
    FieldStates root = FieldStates.of(request);
    values.forEach(
        (name, value) -> {
          FieldState state = root.at(List.of(name));
          state.absent = false;
          state.value = value;
        });
    return root;
  }

  private static Value text(String text) {
    return new Value.Text(text);
  }

  private static Value number(int number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  private static List<String> codes(Problems problems) {
    return problems.list().stream().map(it -> it.pointer() + " " + it.code()).toList();
  }

  @Test
  void bindingMakesValuesOfTheFieldsTypesAndTidiesNothing() throws Exception {
    Request request =
        request(
            "rig: { type: text }\ncrew: { type: integer }\nbuilt: { type: date }",
            "{\"rig\": \"  sail \", \"crew\": \"seven\", \"mast\": 2}",
            Lookups.NONE);
    Bound bound = Binder.bind(request);
    assertThat(bound.root().at(List.of("rig")).value).isEqualTo(text("  sail "));
    assertThat(bound.root().at(List.of("built")).absent).isTrue();
    assertThat(codes(bound.problems())).containsExactly("#/crew bad-input", "#/mast unknown-field");
  }

  @Test
  void tidyingChangesValuesAlone() throws Exception {
    Request request = request("rig: { type: text, required: true, tidy: [upper] }");
    FieldStates root = states(request, Map.of("rig", text("  sail ")));
    Tidied tidied = Tidier.tidy(new Bound(request, root, new Problems(request, root)));
    assertThat(tidied.root().at(List.of("rig")).value).isEqualTo(text("SAIL"));
    assertThat(codes(tidied.problems())).isEmpty();
  }

  @Test
  void aHiddenFieldIsBlank() throws Exception {
    Request request =
        request("rig: { type: text }\nmast: { type: integer, shown: 'rig = \"sail\"' }");
    FieldStates root = states(request, Map.of("rig", text("motor"), "mast", number(2)));
    Resolved resolved =
        DependentFields.resolve(new Tidied(request, root, new Problems(request, root)));
    FieldState mast = resolved.root().at(List.of("mast"));
    assertThat(mast.hidden).isTrue();
    assertThat(mast.value).isEqualTo(Value.BLANK);
  }

  @Test
  void dependentFieldsAreResolvedInTheOrderInWhichTheyDepend() throws Exception {
    Request request =
        request(
            """
            fee: { type: integer, compute: area * 2 }
            area: { type: integer, compute: length * width }
            length: { type: integer }
            width: { type: integer, default: 3 }
            """);
    FieldStates root = states(request, Map.of("length", number(5)));
    Resolved resolved =
        DependentFields.resolve(new Tidied(request, root, new Problems(request, root)));
    assertThat(resolved.root().at(List.of("fee")).value).isEqualTo(number(30));
  }

  @Test
  void validatingSetsErrorsAlone() throws Exception {
    Request request =
        request(
            """
            name: { type: text, required: true }
            crew: { type: integer, range: 1..4 }
            """);
    FieldStates root = states(request, Map.of("crew", number(9)));
    Validated validated =
        Validator.validate(new Resolved(request, root, new Problems(request, root)));
    assertThat(codes(validated.problems()))
        .containsExactly("#/name value-missing", "#/crew range-overflow");
    assertThat(validated.root().at(List.of("crew")).value).isEqualTo(number(9));
  }

  @Test
  void lookingUpAsksForWhatHasNoErrorAndOnceForAll() throws Exception {
    List<List<UniqueKey>> asked = new ArrayList<>();
    Lookups lookups =
        new Lookups() {
          @Override
          public Optional<Set<Integer>> taken(
              Form form, List<UniqueKey> keys, Optional<String> except) {
            asked.add(keys);
            return Optional.of(Set.of(1));
          }

          @Override
          public Optional<Optional<Display.Found>> record(String form, String id) {
            return Optional.of(Optional.empty());
          }
        };
    Request request =
        request(
            """
            sign: { type: text, unique: true }
            number: { type: text, unique: true }
            name: { type: text, unique: true }
            """,
            "{}",
            lookups);
    FieldStates root =
        states(request, Map.of("sign", text("A1"), "number", text("7"), "name", text("Heron")));
    Problems problems = new Problems(request, root);
    problems.reject(root.at(List.of("sign")), "pattern-mismatch");
    LookedUp lookedUp = LookupStage.lookUp(new Validated(request, root, problems), true);
    assertThat(asked)
        .singleElement()
        .satisfies(
            keys ->
                assertThat(keys)
                    .extracting(it -> it.values().getFirst())
                    .containsExactly(text("7"), text("Heron")));
    assertThat(codes(lookedUp.problems()))
        .containsExactly("#/sign pattern-mismatch", "#/name taken");
  }

  @Test
  void nothingIsSavedThatHasAnError() throws Exception {
    Request request = request("name: { type: text }");
    FieldStates root = states(request, Map.of("name", text("Heron")));
    Problems problems = new Problems(request, root);
    List<Values> saved = new ArrayList<>();
    RecordSink<String> sink =
        (values, keys) -> {
          saved.add(values);
          return new RecordSink.Kept<>("kept");
        };
    assertThat(SaveStage.save(new Asked(request, root, problems, List.of()), sink))
        .isEqualTo(new Answer.Accepted<>("kept"));
    problems.rejectUnknown(root, "mast");
    assertThat(SaveStage.save(new Asked(request, root, problems, List.of()), sink))
        .isInstanceOf(Answer.Refused.class);
    assertThat(saved).hasSize(1);
  }
}
