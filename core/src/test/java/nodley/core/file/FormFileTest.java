package nodley.core.file;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import java.nio.file.Files;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import nodley.core.Repository;
import nodley.core.form.Access;
import nodley.core.form.Control;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.Arguments;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

class FormFileTest {

  private static final String HEAD = "form: boat\nfields:\n  a: ";

  /** A field's text at line 3, column 6; then code, line, column, suggestion or "", and words. */
  static Stream<Arguments> fieldErrors() {
    return Stream.of(
        wrong("{ type: text, lenght: 2.. }", "unknown-key", 20, "length", "Did you mean `length`?"),
        wrong("{ type: txt }", "bad-value", 14, "text", "not \"txt\""),
        wrong("{ label: A }", "missing-key", 6, "", "needs a `type`"),
        wrong("{ type: text, type: date }", "duplicate", 20, "", "on line 3"),
        wrong("[text]", "wrong-type", 6, "", "a set of keys, not a list"),
        wrong(
            "{ type: text, required: yes }",
            "wrong-type",
            30,
            "",
            "true or false, or an expression, not text"),
        wrong("{ type: text, length: 5..2 }", "bad-value", 28, "", "begins after its end"),
        wrong("{ type: text, length: -1..2 }", "bad-value", 28, "", "whole numbers"),
        wrong("{ type: text, length: two }", "bad-value", 28, "", "whole numbers"),
        wrong("{ type: text, length: .. }", "bad-value", 28, "", "whole numbers"),
        wrong("{ type: text, range: 1..2 }", "unknown-key", 20, "", "`length` limits a text"),
        wrong("{ type: integer, length: 1..2 }", "unknown-key", 23, "", "`range` limits a number"),
        wrong("{ type: integer, range: 0.5..2 }", "bad-value", 30, "", "whole numbers"),
        wrong("{ type: integer, range: 9..2 }", "bad-value", 30, "", "begins after its end"),
        wrong("{ type: integer, step: 0.5 }", "bad-value", 29, "", "whole number above 0"),
        wrong("{ type: decimal, step: 0 }", "bad-value", 29, "", "above 0"),
        wrong("{ type: decimal, step: -1 }", "bad-value", 29, "", "above 0"),
        wrong("{ type: date, range: 2027-02-30.. }", "bad-value", 27, "", "dates, such as"),
        wrong("{ type: text, pattern: 'a\\d' }", "bad-pattern", 29, "", "character 2"),
        wrong("{ type: text, tidy: [trim, lowre] }", "bad-value", 33, "lower", "tidy"),
        wrong("{ type: text, tidy: [lower, upper] }", "bad-value", 26, "", "both"),
        wrong("{ type: text, keep: 'z-a' }", "bad-value", 26, "", "backwards"),
        wrong("{ type: choice }", "missing-key", 6, "", "needs `options`"),
        wrong("{ type: integer, control: slider }", "bad-value", 32, "", "both ends of a range"),
        wrong(
            "{ type: text, control: slider }",
            "bad-value",
            29,
            "",
            "`control` is text, textarea or none"),
        wrong(
            "{ type: text, check: leving }", "bad-value", 27, "leaving", "Did you mean `leaving`?"),
        wrong(
            "{ type: secret, prefill: true }",
            "unknown-key",
            22,
            "",
            "does not go with type secret"),
        wrong("{ type: choice, options: [] }", "bad-value", 31, "", "at least one"),
        wrong(
            "{ type: choice, options: [a, b, a] }", "duplicate", 38, "", "Duplicate option \"a\""),
        wrong("{ type: choice, options: a }", "wrong-type", 31, "", "a list"),
        wrong("{ type: choice, options: [' a'] }", "bad-value", 32, "", "white space"),
        wrong("{ type: choice, options: [a], default: b }", "bad-value", 45, "", "not one of"),
        wrong("{ type: integer, default: x }", "bad-value", 32, "", "whole number"),
        wrong("{ type: text, length: 3.., default: ab }", "bad-value", 42, "", "at least 3"),
        wrong("{ type: record }", "missing-key", 6, "", "names the form"),
        wrong("{ type: record, form: brth }", "unknown-name", 28, "berth", "Did you mean `berth`?"),
        wrong("{ type: boolean, unique: true }", "unknown-key", 23, "", "does not go with"),
        wrong(
            "{ type: text, unique: { ignorecase: true } }",
            "unknown-key",
            30,
            "ignore-case",
            "`unique`"),
        wrong(
            "{ type: integer, unique: { ignore-case: true } }", "unknown-key", 33, "", "`unique`"),
        wrong("{ type: text, unique: 3 }", "wrong-type", 28, "", "true or false"),
        wrong("{ type: text, control: slider }", "bad-value", 29, "", "text, textarea or none"),
        wrong("{ type: text, control: none }", "bad-value", 29, "", "a `default` or a `compute`"),
        wrong(
            "{ type: text, control: none, default: a, editable: true }",
            "bad-value",
            57,
            "",
            "`editable` is not allowed with `control: none`"),
        wrong("{ type: text, was: Old-Name }", "bad-value", 25, "", "not a valid name of a field"),
        wrong("{ type: text, was: [a] }", "wrong-type", 25, "", "text"),
        wrong(
            "{ type: text, label: (What, else) }",
            "unknown-key",
            34,
            "",
            "Is there an unquoted comma"),
        wrong("{ type: text, say: { takn: x } }", "unknown-key", 27, "taken", "Did you mean"),
        wrong("{ type: text, say: { taken: '{vlaue}' } }", "bad-text", 34, "value", "{vlaue}"));
  }

  private static Arguments wrong(
      String field, String code, int column, String suggestion, String words) {
    return Arguments.of(field, code, column, suggestion, words);
  }

  @ParameterizedTest
  @MethodSource("fieldErrors")
  void aFieldsErrorHasPlaceCodeAndSuggestion(
      String field, String code, int column, String suggestion, String words) {
    List<FormFileError> errors = errors(HEAD + field + "\n");
    assertThat(errors).hasSize(1);
    FormFileError error = errors.getFirst();
    assertThat(error.code()).isEqualTo(code);
    assertThat(error.line()).isEqualTo(3);
    assertThat(error.column()).isEqualTo(column);
    assertThat(error.suggestion().orElse("")).isEqualTo(suggestion);
    assertThat(error.detail()).contains(words);
  }

  static Stream<Arguments> fileErrors() {
    String rest =
        "\nfields: { a: { type: text }, b: { type: record, form: berth }, s: { type: secret } }\n";
    return Stream.of(
        Arguments.of("", "1:1 unreadable"),
        Arguments.of("# nothing", "1:1 unreadable"),
        Arguments.of("form: [boat", "1:12 unreadable"),
        Arguments.of("form: boat\n\tfields: {}", "2:1 unreadable"),
        Arguments.of("form: boat\n---\nform: boat", "2:1 unreadable"),
        Arguments.of("just text", "1:1 wrong-type"),
        Arguments.of("form: *gone", "1:7 unreadable"),
        Arguments.of("form: !!binary aGk=" + rest, "1:7 unreadable"),
        Arguments.of("? [a]\n: b", "1:3 unreadable"),
        Arguments.of("fields: { a: { type: text } }", "1:1 missing-key"),
        Arguments.of("form: boat", "1:1 missing-key"),
        Arguments.of("form: boat\nfields: {}", "2:9 bad-value"),
        Arguments.of("form: Boat" + rest, "1:7 bad-value"),
        Arguments.of("form: a_b" + rest, "1:7 bad-value"),
        Arguments.of("form: a" + "b".repeat(40) + rest, "1:7 bad-value"),
        Arguments.of("form: boat\ntitel: x" + rest, "2:1 unknown-key"),
        Arguments.of("form: boat\ntitle: '{a}'" + rest, "2:8 bad-text"),
        Arguments.of("form: boat\ntitle: { edit: 'x {aa}' }" + rest, "2:16 unknown-name"),
        Arguments.of("form: boat\ncalled: '{s}'" + rest, "2:9 bad-text"),
        Arguments.of("form: boat\naccess: { add: anybody }" + rest, "2:16 bad-value"),
        Arguments.of("form: boat\naccess: { ad: anyone }" + rest, "2:11 unknown-key"),
        Arguments.of("form: boat\naccess: { see: signed-inn }" + rest, "2:16 bad-value"),
        Arguments.of("form: boat\naccess: { see: Clerk }" + rest, "2:16 bad-value"),
        Arguments.of("form: boat\naccess: { see: onwer }" + rest, "2:16 bad-value"),
        Arguments.of("form: boat\nrecords: one\naccess: { edit: owner }" + rest, "3:17 bad-value"),
        Arguments.of("form: boat\nfields: { a: { type: text, see: owner } }", "2:33 bad-value"),
        Arguments.of(
            "form: boat\nfields: { a: { type: text, see: clerk, unique: true } }",
            "2:48 bad-value"),
        Arguments.of(
            "form: boat\ncalled: \"{a}\"\nfields: { a: { type: text, see: clerk } }",
            "2:9 bad-text"),
        Arguments.of(
            "form: boat\nfields: { a: { type: rows, see: clerk, fields: { b: { type: text } } } }",
            "2:28 unknown-key"),
        Arguments.of("form: boat\naccess: { see: [clerk, anyon] }" + rest, "2:24 bad-value"),
        Arguments.of("form: boat\naccess: { see: [] }" + rest, "2:16 bad-value"),
        Arguments.of("form: boat\naccess: { see: [clerk, clerk] }" + rest, "2:24 duplicate"),
        Arguments.of("form: boat\naccess: { see: [clerk, {}] }" + rest, "2:24 wrong-type"),
        Arguments.of("form: boat\nafter: { add: { go: lists } }" + rest, "2:21 bad-value"),
        Arguments.of("form: boat\nafter: { add: { go: 'javascript:x' } }" + rest, "2:21 bad-value"),
        Arguments.of("form: boat\nafter: { add: { go: //evil.example } }" + rest, "2:21 bad-value"),
        Arguments.of("form: boat\nafter: { edit: { say: '{c}' } }" + rest, "2:23 unknown-name"),
        Arguments.of("form: boat\nfields: { id: { type: text } }", "2:11 bad-value"),
        Arguments.of("form: boat\nfields: { constructor: { type: text } }", "2:11 bad-value"),
        Arguments.of("form: boat\nfields: { rowid: { type: text } }", "2:11 bad-value"),
        Arguments.of("form: boat\nfields: { A: { type: text } }", "2:11 bad-value"),
        Arguments.of("form: boat\nfields: { _a: { type: text } }", "2:11 bad-value"),
        Arguments.of("form: boat\nfields: { __proto__: { type: text } }", "2:11 bad-value"),
        Arguments.of(
            "form: boat\nfields: { aB: { type: text }, ab: { type: text } }", "2:31 duplicate"),
        Arguments.of(
            "form: boat\nfields: { a: { type: text }, b: { type: text, was: a } }",
            "2:52 bad-value"),
        Arguments.of(
            "form: boat\nfields: { a: { type: text, was: x }, b: { type: text, was: x } }",
            "2:60 duplicate"),
        Arguments.of("a: " + "[".repeat(5_000), "1:35 unreadable"));
  }

  @ParameterizedTest
  @MethodSource("fileErrors")
  void aFilesErrorHasItsPlace(String text, String told) {
    assertThat(errors(text))
        .extracting(error -> error.line() + ":" + error.column() + " " + error.code())
        .containsExactly(told);
  }

  @Test
  void allErrorsAreToldAtOnceInTheOrderOfTheFile() {
    assertThat(
            errors(
                """
                form: boat
                titel: x
                fields:
                  a: { type: txt }
                  b: { type: text, lenght: 3 }
                  c: { type: integer, range: 9..1 }
                acces: {}
                """))
        .extracting(error -> error.line() + " " + error.code())
        .containsExactly(
            "2 unknown-key", "4 bad-value", "5 unknown-key", "6 bad-value", "7 unknown-key");
  }

  @Test
  void manyAliasesCannotMakeAFileExplode() {
    var text = new StringBuilder("a0: &a0 [x, x, x, x, x, x, x, x, x, x]\n");
    for (int i = 1; i < 12; i++) {
      text.append("a%d: &a%d [%s]\n".formatted(i, i, ("*a" + (i - 1) + ", ").repeat(10)));
    }
    assertThat(errors(text.toString()))
        .singleElement()
        .satisfies(error -> assertThat(error.detail()).contains("more than 1000000 parts"));
  }

  @Test
  void anAliasMayStandForAFieldsRules() throws Exception {
    Form form =
        FormFile.read("form: boat\nfields:\n  a: &name { type: text, length: 2..9 }\n  b: *name\n");
    assertThat(form.field("b").orElseThrow().limits().length().max()).contains(9);
  }

  @Test
  void jsonIsReadAsStrictlyAndHasPlacesToo() {
    assertThat(errors("{\n \"form\": \"boat\",\n \"feilds\": {}\n}", Format.JSON))
        .extracting(error -> error.line() + ":" + error.column() + " " + error.code())
        .containsExactly("1:1 missing-key", "3:2 unknown-key");
    assertThat(errors("{\"form\":", Format.JSON))
        .extracting(FormFileError::code)
        .containsExactly("unreadable");
    assertThat(errors("{\"form\":\"a\",\"form\":\"b\",\"fields\":{}}", Format.JSON))
        .extracting(FormFileError::code)
        .contains("duplicate");
  }

  @Test
  void yamlAndJsonDeclareTheSameForm() throws Exception {
    String json =
        """
        {"form": "boat", "title": {"add": "New", "edit": "Old {a}"},
         "fields": {"a": {"type": "text", "length": "2..9", "required": true},
                    "n": {"type": "decimal", "range": "0.5..", "step": 0.1}}}
        """;
    String yaml =
        """
        form: boat
        title: { add: New, edit: "Old {a}" }
        fields:
          a: { type: text, length: 2..9, required: true }
          n: { type: decimal, range: 0.5.., step: 0.1 }
        """;
    assertThat(FormFile.read(json, Format.JSON, FormRegistry.UNKNOWN))
        .isEqualTo(FormFile.read(yaml));
  }

  @Test
  void aNameMayHaveSingleUnderscoresInIt() throws Exception {
    Form form =
        FormFile.read("form: f\nfields: { first_name: { type: text }, a1_2_c: { type: text } }");
    assertThat(form.fields().names()).containsExactly("first_name", "a1_2_c");
    assertThat(form.fields().list().getFirst().label()).isEqualTo("First name");
    List<String> bad =
        List.of(
            "_a",
            "a_",
            "a__b",
            "A_b",
            "a_b_".repeat(14),
            "a-b",
            "created_at",
            "row_id",
            "record_number",
            "created_At",
            "outer_row",
            "name_folded");
    for (String name : bad) {
      assertThatThrownBy(() -> FormFile.read("form: f\nfields: { " + name + ": { type: text } }"))
          .as(name)
          .isInstanceOf(FormFileException.class);
    }
  }

  /** From February to March there are fewer than 30 days. */
  @Test
  void aRangeThatIsPossibleInSomeMonthIsTaken() throws Exception {
    for (String range :
        List.of("today + 1 month..today + 30", "today..today", "today - 1 year..")) {
      FormFile.read("form: f\nfields: { a: { type: date, range: " + range + " } }");
    }
  }

  @Test
  void whatIsLeftOutHasAPlainMeaning() throws Exception {
    Form form = FormFile.read("form: log-entry\nfields: { callSign: { type: text } }");
    assertThat(form.label()).isEqualTo("Log entry");
    assertThat(form.field("callSign").orElseThrow().label()).isEqualTo("Call sign");
    assertThat(form.access()).isEqualTo(Access.SIGNED_IN);
    assertThat(form.title(Mode.ADD, Values.NONE, Display.ALONE)).isEqualTo("Add log entry");
    Values values = new Values(Map.of("callSign", new Value.Text("MQ7AB")));
    assertThat(form.called(values, Display.ALONE)).isEqualTo("MQ7AB");
    assertThat(form.title(Mode.EDIT, values, Display.ALONE)).isEqualTo("Edit MQ7AB");
    assertThat(form.called(Values.NONE, Display.ALONE)).isEqualTo("Log entry");
  }

  @Test
  void aPermissionIsGivenToOneWordOrToSeveral() throws Exception {
    Access access =
        FormFile.read(
                "form: log\naccess: { add: anyone, see: [clerk, harbour-master], edit: clerk }\n"
                    + "fields: { a: { type: text } }")
            .access();
    assertThat(access.add().isGivenTo(List.of())).isTrue();
    assertThat(access.see().words()).containsExactly("clerk", "harbour-master");
    assertThat(access.see().isGivenTo(List.of("harbour-master", "author"))).isTrue();
    assertThat(access.see().isGivenTo(List.of("author"))).isFalse();
    assertThat(access.remove()).as("as edit").isEqualTo(access.edit());
    assertThat(access.edit().isGivenTo(List.of())).isFalse();
    assertThat(Access.SIGNED_IN.add().isGivenTo(List.of())).isTrue();
  }

  @Test
  void theControlFollowsTypeAndOptions() throws Exception {
    Form form =
        FormFile.read(
            """
            form: boat
            fields:
              few: { type: choice, options: [a, b, c, d] }
              many: { type: choice, options: [a, b, c, d, e] }
              set: { type: choice, options: [a, b], control: select }
              long: { type: text, multiline: true }
            """);
    assertThat(form.fields())
        .extracting(field -> field.control())
        .containsExactly(Control.RADIO, Control.SELECT, Control.SELECT, Control.TEXTAREA);
  }

  @ParameterizedTest
  @ValueSource(strings = {"berth", "vessel", "skipper"})
  void theDemosFormsAreInOrder(String name) throws Exception {
    String text = Files.readString(Repository.file("demo/forms/" + name + ".form.yaml"));
    Form form = FormFile.read(text, Format.YAML, others().named(name));
    assertThat(form.name()).isEqualTo(name);
  }

  private static List<FormFileError> errors(String yaml) {
    return errors(yaml, Format.YAML);
  }

  private static List<FormFileError> errors(String text, Format format) {
    FormFileException e =
        catchThrowableOfType(FormFileException.class, () -> FormFile.read(text, format, others()));
    assertThat(e).as("nothing was wrong with: %s", text).isNotNull();
    return e.errors();
  }

  private static Stream<Arguments> nestedErrors() {
    return Stream.of(
        wrongIn("a: { type: text, shown: 'cuont > 2' }", "3:28 unknown-name count"),
        wrongIn("a: { type: text, shown: count > \"2\" }", "3:35 bad-expression"),
        wrongIn("a: { type: text, shown: count }", "3:27 bad-expression"),
        wrongIn("a: { type: integer, compute: count / 2 }", "3:32 bad-expression"),
        wrongIn("a: { type: text, shown: 'kind = \"sial\"' }", "3:35 unknown-name sail"),
        wrongIn("a: { type: text, shown: 'pass is blank' }", "3:28 bad-expression"),
        wrongIn("a: { type: text, shown: " + "(".repeat(10_000) + " }", "3:4027 bad-expression"),
        wrongIn("a: { type: text, shown: '" + "(".repeat(2_000) + "1' }", "3:128 bad-expression"),
        wrongIn(
            "a: { type: boolean, compute: '" + "not ".repeat(300) + "true' }",
            "3:433 bad-expression"),
        wrongIn("a: { type: decimal, compute: " + "1+".repeat(250) + "1 }", "3:32 bad-expression"),
        wrongIn("a: { type: integer, compute: b }, b: { type: integer, compute: a }", "3:3 cycle"),
        wrongIn("a: { type: integer, compute: a + 1 }", "3:3 cycle"),
        wrongIn("a: { type: choice, options: { list: srevices } }", "3:39 unknown-name services"),
        wrongIn("a: { use: contcat }", "3:13 unknown-name contact"),
        wrongIn("a: { type: group, fields: {} }", "3:29 bad-value"),
        wrongIn(
            "a: { type: rows, unique: true, fields: { x: { type: text } } }", "3:20 unknown-key"),
        wrongIn("a: { type: text, repeats: pass }", "3:29 bad-value"),
        wrongIn("a: { type: text, repeats: cuont }", "3:29 unknown-name count"),
        wrongIn("a: { type: date, range: today + 3..tomorrow }", "3:27 bad-value"),
        wrongIn("a: { type: date, range: today..today + 3 moons }", "3:27 bad-value"),
        wrongIn("a: { type: date, range: ..today + 1001 years }", "3:27 bad-value"),
        wrongIn("a: { type: date, range: today + 6 weeks..today + 1 month }", "3:27 bad-value"),
        wrongIn("a: { type: date, shown: a > today - 3 yaers }", "3:41 unknown-name years"),
        wrongIn("a: { type: date, shown: count + 3 months > 3 }", "3:33 bad-expression"),
        wrongIn("a: { type: date, shown: a + 0.5 months > a }", "3:31 bad-expression"),
        wrongIn("a: { type: decimal, decimals: 16 }", "3:33 bad-value"),
        wrongIn("a: { type: text, say: { too-long: '{max, plural, one {x}}' } }", "3:37 bad-text"),
        wrongIn("a: { type: text, say: { too-long: '{max, number}' } }", "3:37 bad-text"),
        wrongIn("a: { type: text, say: { too-long: 'a {max' } }", "3:37 bad-text"),
        wrongIn("a: { type: text, say: { too-long: '{pass}' } }", "3:37 bad-text"),
        wrongIn(
            "a: { type: text, say: { taken: { text: x, link: { text: y, href: javascript:1 } } } }",
            "3:68 bad-value"),
        wrongIn(
            "a: { type: text, rules: [{ must: count > 1, at: cuont }] }",
            "3:51 unknown-name count"),
        wrongIn("a: { type: integer, compute: count, default: 3 }", "3:48 bad-value"),
        wrongIn("a: { type: file, accept: [pictures] }", "3:29 bad-value"),
        wrongIn("a: { type: text, scheme: true }", "3:20 unknown-key"),
        wrongIn("a: { type: text, tidy: [scheme] }", "3:27 bad-value"),
        wrongIn("a: { type: text, default: slug(nmae) }", "3:34 unknown-name"));
  }

  private static Arguments wrongIn(String field, String told) {
    return Arguments.of(field, told);
  }

  @ParameterizedTest
  @MethodSource("nestedErrors")
  void anErrorInAnExpressionOrANestedFieldHasItsPlace(String field, String told) throws Exception {
    String text =
        """
        form: trip
        fields:
          %s
          count: { type: integer }
          kind: { type: choice, options: [sail, motor] }
          pass: { type: secret }
        """
            .formatted(field.replace("}, b: {", "}\n  b: {"));
    Shared shared =
        Shared.NONE
            .with(ListFile.read("list: services\noptions: [water]", Format.YAML, Optional.empty()))
            .with(
                PartFile.read(
                    "part: contact\nfields: { mail: { type: email } }",
                    Format.YAML,
                    Optional.empty(),
                    FormRegistry.UNKNOWN));
    FormFileException refused =
        catchThrowableOfType(
            FormFileException.class,
            () -> FormFile.read(text, Format.YAML, FormRegistry.alone(shared)));
    assertThat(refused).as("nothing was wrong with " + field).isNotNull();
    FormFileError first = refused.errors().getFirst();
    assertThat(
            first.line()
                + ":"
                + first.column()
                + " "
                + first.code()
                + first.suggestion().map(it -> " " + it).orElse(""))
        .as(first.detail())
        .isEqualTo(told);
  }

  /** What people write who come from elsewhere: each is told once, with what is meant here. */
  @Test
  void wordsOfOtherLanguagesAreTold() {
    assertThat(
            errors(
                """
                form: a
                fields:
                  name: { type: string, min: 2 }
                  age: { type: number, maxLength: 18 }
                  pw: { type: password }
                  code: { type: text, pattern: "\\d+", label: "a\\sb" }
                  w: { type: text, required: 'name == "x"' }
                  v: { type: text, shown: 'length(name) > 2 and age > 3' }
                after: { add: { goto: list } }
                """))
        .extracting(it -> it.line() + " " + it.code() + " " + it.suggestion().orElse(""))
        .containsExactlyInAnyOrder(
            "3 bad-value text",
            "3 unknown-key range",
            "4 bad-value decimal",
            "4 unknown-key length",
            "5 bad-value secret",
            "6 unreadable ",
            "6 unreadable ",
            "6 bad-pattern ",
            "7 bad-expression ",
            "9 unknown-key go");
  }

  @ParameterizedTest
  @CsvSource({
    "type: select, choice",
    "type: checkbox, boolean",
    "type: textarea, text",
    "'type: text, message: x', say",
    "'type: secret, confirm: name', repeats",
    "'type: text, format: email', type",
    "'type: choice, enum: [a]', options",
    "'type: text, name: x', label",
    "'type: text, title: x', label",
    "'type: group, properties: {}', fields",
    "'type: text, optional: true', required",
    "'type: text, value: x', default",
  })
  void aWordFromElsewhereIsTold(String field, String meant) {
    assertThat(errors("form: a\nfields: { name: { type: text }, x: { " + field + " } }\n"))
        .extracting(it -> it.suggestion().orElse(""))
        .contains(meant);
  }

  @Test
  void groupsAndRowsAreNestedUpToFour() throws Exception {
    String four = "";
    for (int depth = 4; depth >= 1; depth--) {
      four =
          "{ g%d: { type: group, fields: %s } }"
              .formatted(depth, four.isEmpty() ? "{ x: { type: text } }" : four);
    }
    assertThat(FormFile.read("form: deep\nfields: " + four).everyField()).hasSize(5);
  }

  @Test
  void groupsAndRowsAreFourDeepAtMost() throws Exception {
    String five = "";
    for (int depth = 5; depth >= 1; depth--) {
      five =
          "{ g%d: { type: group, fields: %s } }"
              .formatted(depth, five.isEmpty() ? "{ x: { type: text } }" : five);
    }
    String text = "form: deep\nfields: " + five;
    FormFileException refused =
        catchThrowableOfType(FormFileException.class, () -> FormFile.read(text));
    assertThat(refused.errors().getFirst().detail())
        .isEqualTo("Groups and rows are at most 4 deep in each other.");
  }

  /** A berth, a vessel and a skipper are known already. */
  private static FormRegistry others() throws FormFileException {
    Map<String, Form> forms = new LinkedHashMap<>();
    for (String name : List.of("berth", "vessel", "skipper")) {
      forms.put(name, FormFile.read("form: " + name + "\nfields: { depth: { type: decimal } }\n"));
    }
    return FormRegistry.of(forms, Shared.NONE);
  }

  /** What a form says of its pages; then the code, the suggestion or "", and words. */
  static Stream<Arguments> pageErrors() {
    return Stream.of(
        Arguments.of("records: won", "bad-value", "", "many, one, one-each or none"),
        Arguments.of("layout: sides", "bad-value", "side", "Did you mean `side`?"),
        Arguments.of("theme: quay", "unknown-name", "", "no theme `quay`"),
        Arguments.of(
            "after: { add: { clear: [insured] } }", "unknown-name", "", "no field `insured`"),
        Arguments.of("after: { add: { clear: [a, a] } }", "duplicate", "", "Duplicate field `a`"),
        Arguments.of("after: { add: { clear: nothing } }", "bad-value", "", "all or none"),
        Arguments.of(
            "after: { edit: { clear: all } }", "unknown-key", "", "only `add` has `clear`"),
        Arguments.of("buttons: { ad: Go }", "unknown-key", "add", "`buttons` has no key `ad`"),
        Arguments.of("keep-for: 2 fortnights", "bad-value", "", "such as `2 years`"),
        Arguments.of("keep-for: 0 days", "bad-value", "", "such as `2 years`"),
        Arguments.of("keep-for: 2", "bad-value", "", "such as `2 years`"),
        Arguments.of("forget: remov", "bad-value", "remove", "remove"),
        Arguments.of("forget: { blank: [] }", "bad-value", "", "at least one"),
        Arguments.of("forget: { blank: [aa] }", "unknown-name", "a", "no field `aa`"),
        Arguments.of("forget: { blank: [a, a] }", "duplicate", "", "twice"),
        Arguments.of("forget: { blanks: [a] }", "unknown-key", "blank", "blanks"),
        Arguments.of("records: one-eac", "bad-value", "one-each", "one-eac"),
        Arguments.of(
            "access: { add: anyone }\nrecords: one-each",
            "bad-value",
            "signed-in",
            "not signed in"),
        Arguments.of("trap: maybe", "wrong-type", "", "true or false"),
        Arguments.of("pace: 10/minute", "wrong-type", "", ""),
        Arguments.of("pace: { adds: 10/minute }", "unknown-key", "add", "adds"),
        Arguments.of("pace: { add: 10 }", "bad-value", "", "such as `10/minute`"),
        Arguments.of("pace: { add: 0/minute }", "bad-value", "", "from 1 to 999999"),
        Arguments.of(
            "pace: { check: 10/fortnight }", "bad-value", "", "second, minute, hour or day"),
        Arguments.of("pace: { check: 1000000/day }", "bad-value", "", "from 1 to 999999"),
        Arguments.of("origins: [harbour.example]", "bad-value", "", "https://harbour.example"),
        Arguments.of("origins: [\"https://harbour.example/\"]", "bad-value", "", "nothing behind"),
        Arguments.of("origins: [\"*\"]", "bad-value", "", "a scheme and a host"),
        Arguments.of("frames: [harbour.example]", "bad-value", "", "https://harbour.example"),
        Arguments.of("sections: { s: { fields: [a, bb] } }", "unknown-name", "b", "no field `bb`"),
        Arguments.of(
            "sections: { s: { fields: [a, b, a] } }", "duplicate", "", "section `s` already"),
        Arguments.of("sections: { s: { fields: [a] } }", "bad-value", "", "`b` is in no section"),
        Arguments.of("sections: { s: { title: S } }", "missing-key", "", "names its fields"),
        Arguments.of("sections: { S: { fields: [a, b] } }", "bad-value", "", "small letter"),
        Arguments.of("steps: { s: { fields: [a] } }", "bad-value", "", "`b` is in no step"),
        Arguments.of(
            "steps: { s: { fields: [a, b], show: true } }", "unknown-key", "shown", "`show`"),
        Arguments.of(
            "steps: { s: { fields: [a, b], shown: a = 1 } }",
            "bad-expression",
            "",
            "cannot be compared"),
        Arguments.of(
            "steps: { s: { fields: [a, b], shown: c is blank } }", "unknown-name", "a", "no field"),
        Arguments.of("steps: { overview: { fields: [a, b] } }", "bad-value", "", "another name"),
        Arguments.of(
            "sections: { s: { fields: [a, b] } }\nsteps: { t: { fields: [a, b] } }",
            "bad-value",
            "",
            "not both"),
        Arguments.of("draft: { keep: soon }", "bad-value", "", "a number of days"),
        Arguments.of("draft: { who: all }", "bad-value", "", "own"),
        Arguments.of("draft: { keeps: 2 days }", "unknown-key", "keep", "`keeps`"));
  }

  @Test
  void aSecretInsideOfOthersHasNoPlaceInSteps() {
    String text =
        """
        form: boat
        steps: { all: { fields: [owner] } }
        fields: { owner: { type: group, fields: { pin: { type: secret } } } }
        """;
    assertThatThrownBy(() -> FormFile.read(text))
        .hasMessageContaining("`owner.pin` is a secret inside of others");
  }

  @ParameterizedTest
  @MethodSource("pageErrors")
  void whatAFormSaysOfItsPagesIsReadStrictly(
      String line, String code, String suggestion, String words) {
    String text = "form: boat\n" + line + "\nfields: { a: { type: text }, b: { type: text } }";
    FormFileException e = catchThrowableOfType(FormFileException.class, () -> FormFile.read(text));
    FormFileError first = e.errors().getFirst();
    assertThat(first.code()).as(first.detail()).isEqualTo(code);
    assertThat(first.detail()).contains(words);
    assertThat(first.suggestion().orElse("")).isEqualTo(suggestion);
    assertThat(first.line()).isEqualTo(2);
  }
}
