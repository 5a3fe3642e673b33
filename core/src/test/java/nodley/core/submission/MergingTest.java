package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import nodley.core.Repository;
import nodley.core.file.FormFile;
import nodley.core.form.Form;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.value.Raw;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The same cases as the page's: {@code corpus/merging}. */
class MergingTest {

  private static final JsonMapper JSON = JsonMapper.shared();

  private static final String FORM =
      """
      form: tour
      fields:
        note: {type: text}
        tools: {type: choices, options: [a, b, c]}
        home: {type: group, fields: {town: {type: text}, zip: {type: text}}}
        crew: {type: rows, fields: {name: {type: text}, age: {type: integer}}}
        fee: {type: integer, compute: 3}
      """;

  @TestFactory
  Stream<DynamicTest> mergesAsTheCorpusSays() throws Exception {
    Form form = FormFile.read(FORM);
    JsonNode cases = JSON.readTree(Files.readString(Repository.file("corpus/merging/cases.json")));
    return cases
        .valueStream()
        .map(
            one ->
                DynamicTest.dynamicTest(
                    one.path("why").asString(),
                    () -> {
                      Merging.Merged merged =
                          Merging.merge(
                              form.fields(),
                              side(one, "base"),
                              side(one, "theirs"),
                              side(one, "yours"));
                      assertThat(merged.values()).isEqualTo(side(one, "merged"));
                      assertThat(merged.conflicts().stream().map(Merging.Conflict::pointer))
                          .containsExactlyElementsOf(
                              one.path("conflicts").valueStream().map(JsonNode::asString).toList());
                    }));
  }

  /** The values of one side; the field is left out of what it is null in. */
  private static Raw.Members side(JsonNode one, String name) throws Exception {
    JsonNode value = one.path(name);
    return members(value.isNull() ? Map.of() : Map.of(one.path("field").asString(), value));
  }

  private static Raw.Members members(Object json) throws Exception {
    byte[] bytes = JSON.writeValueAsString(json).getBytes(StandardCharsets.UTF_8);
    return new Raw.Members(JsonInput.read(bytes, InputLimits.DEFAULT).members());
  }

  @Test
  void takesTheirsFromTheRowThatATypedOneSaysItIs() throws Exception {
    Form form = FormFile.read(FORM);
    Map<String, Object> bob = Map.of("_row", 2, "name", "Bob", "age", 30);
    Map<String, Object> ann = Map.of("_row", 1, "name", "Ann", "age", 41);
    Raw.Members theirs =
        members(Map.of("crew", List.of(Map.of("_row", 1, "name", "Ann", "age", 42), bob)));
    Raw.Members typed = members(Map.of("crew", List.of(bob, ann)));
    assertThat(Merging.withTheirs(form.fields(), typed, theirs, "#/crew/1/age"))
        .isEqualTo(
            members(Map.of("crew", List.of(bob, Map.of("_row", 1, "name", "Ann", "age", 42)))));
    for (String nothing :
        List.of(
            "",
            "#",
            "#/",
            "#/x",
            "#/crew/9/age",
            "#/crew/1",
            "#/crew/-1/age",
            "#/note/0",
            "#/crew/1/nobody",
            "#/crew/99999999999/age")) {
      assertThat(Merging.withTheirs(form.fields(), typed, theirs, nothing).members().get("crew"))
          .as(nothing)
          .isEqualTo(typed.members().get("crew"));
    }
  }

  @Test
  void callsRowsByTheirPlace() throws Exception {
    Form form = FormFile.read(FORM);
    Raw.Members[] sides = new Raw.Members[3];
    for (int i = 0; i < sides.length; i++) {
      sides[i] = members(Map.of("crew", List.of(Map.of("_row", 1, "name", "Ann", "age", 40 + i))));
    }
    assertThat(Merging.merge(form.fields(), sides[0], sides[1], sides[2]).conflicts())
        .extracting(it -> it.label() + " " + it.theirs().shown() + " " + it.yours().shown())
        .containsExactly("Crew 1: Age 41 42");
  }
}
