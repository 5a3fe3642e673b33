package nodley.core.sample;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.file.FormFile;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.pattern.IRegexp;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.submission.Verdict;
import nodley.core.value.Raw;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Values that a form accepts, and those with one fault each. */
class SamplerTest {

  private static final Context NOW =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  private static Sampler sampler(String file, long seed) throws Exception {
    Form form = FormFile.read(file);
    return new Sampler(form, NOW, Lookups.NONE, _ -> List.of("r1"), seed);
  }

  private static final String BOAT =
      """
      form: boat
      fields:
        name: { type: text, required: true, length: 3..8 }
        sign: { type: text, keep: "A-Z0-9", pattern: "[A-Z]{2}[0-9]{1,3}" }
        rig: { type: choice, options: [sail, oars] }
        oars: { type: integer, shown: 'rig = "oars"', required: true, range: 2..8, step: 2 }
        from: { type: date, required: true, range: today.. }
        to: { type: date, required: true }
        nights: { type: integer, compute: "days(from, to)" }
        mail: { type: email }
        word: { type: secret, length: 8.. }
        again: { type: secret, repeats: word, kept: false }
        tags: { type: choices, options: [a, b, c], count: 1..2 }
        crew:
          type: rows
          count: 1..2
          fields:
            share: { type: decimal, range: 0..100, decimals: 1 }
      rules:
        - { must: to > from, at: to, say: "Later." }
        - { must: sum(crew.share) <= 100, say: "Too much." }
      """;

  @Test
  void theSameSeedMakesTheSameAndEachValueMeetsWhatItsKeysSay() throws Exception {
    for (long seed = 1; seed <= 20; seed++) {
      Map<String, Raw> values = sampler(BOAT, seed).right().values().orElseThrow();
      assertThat(sampler(BOAT, seed).right().values().orElseThrow()).isEqualTo(values);
      assertThat(values.get("name").shown().length()).isBetween(3, 8);
      assertThat(values.get("sign").shown()).matches("[A-Z]{2}[0-9]{1,3}");
      assertThat(values.containsKey("oars")).isEqualTo(values.get("rig").shown().equals("oars"));
      assertThat(values.get("from").shown()).isGreaterThanOrEqualTo("2027-03-01");
      assertThat(values.get("to").shown()).isGreaterThan(values.get("from").shown());
      assertThat(values).doesNotContainKey("nights");
      assertThat(values.get("again")).isEqualTo(values.get("word"));
      assertThat(values.get("mail").shown()).contains("@").endsWith(".example");
    }
  }

  @Test
  void eachFaultThatCanBeIsMadeOnceWithTheCodeThatIsExpected() throws Exception {
    Sampler sampler = sampler(BOAT, 7);
    Map<String, Raw> right = sampler.right().values().orElseThrow();
    assertThat(sampler.wrong(right, Optional.empty()))
        .extracting(it -> it.pointer() + " " + it.code())
        .doesNotHaveDuplicates()
        .contains(
            "#/name value-missing",
            "#/name bad-input",
            "#/name too-short",
            "#/name too-long",
            "#/sign pattern-mismatch",
            "#/rig not-an-option",
            "#/from value-missing",
            "#/from bad-input",
            "#/from range-underflow",
            "#/nights not-editable",
            "#/mail type-mismatch",
            "#/word too-short",
            "#/again not-repeated",
            "#/tags too-few",
            "#/tags too-many",
            "#/crew too-few",
            "#/crew/0/share range-underflow",
            "#/crew/0/share range-overflow",
            "#/crew/0/share too-precise",
            "#/to rule",
            "# rule",
            "#/noSuchField unknown-field")
        // More crew than may be have shares of more than 100: that would be two faults.
        .doesNotContain("#/crew too-many");
  }

  @Test
  void whatNoValueMeetsIsSaid() throws Exception {
    Sampler.Outcome outcome =
        sampler(
                "form: f\n"
                    + "fields: { a: { type: integer, range: 1..2 } }\n"
                    + "rules: [{ must: a > 5, at: a }]",
                1)
            .right();
    assertThat(outcome.values()).isEmpty();
    assertThat(outcome.against())
        .extracting(it -> it.pointer() + " " + it.code())
        .containsExactly("#/a rule");
  }

  /** Held against the JDK's own expressions, which have the same meaning for these. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "abc",
        "[A-Z]{2}[0-9]+",
        "a?b*c+",
        "(ab|cd|e){2,3}",
        "[^a-z]{5}",
        "\\p{Lu}\\p{Ll}+",
        "x{0}y",
        "\\([0-9]\\)",
        "a\\.b\\\\",
        "((a|b){2}|c)*",
        "é.ß",
        "[\\-a\\]]{4}",
        "[0-9]{3}-[0-9]{3,}",
        "\\n\\t",
        "(a|)(|b)"
      })
  void aPatternsSampleMatchesIt(String pattern) {
    IRegexp regexp = IRegexp.of(pattern);
    for (int seed = 0; seed < 40; seed++) {
      assertThat(PatternSample.of(regexp, new SeededRandom(seed), seed % 5))
          .matches(Pattern.compile(pattern));
    }
  }

  /** Limits under which what is usual for a type does not fit. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "type: email, length: ..20",
        "type: email, pattern: '[a-z]+@b[.]example'",
        "type: phone, pattern: '[0-9]{9}'",
        "type: phone, pattern: '[+]351[0-9]{9}'",
        "type: phone, length: ..7",
        "type: text, pattern: '[0-9]{3}', tidy: [upper], length: 3",
      })
  void aSampleIsFoundWithinNarrowLimits(String field) throws Exception {
    Form form = FormFile.read("form: narrow\nfields: { x: { " + field + ", required: true } }");
    for (long seed = 0; seed < 20; seed++) {
      Map<String, Raw> sample =
          new Sampler(form, NOW, Lookups.NONE, _ -> List.of(), seed).right().values().orElseThrow();
      Verdict verdict =
          Submission.check(form, new Input(sample, Input.Encoding.JSON), NOW, Lookups.NONE);
      assertThat(verdict.errors()).isEmpty();
      // It is tidied already, as the form's schema describes its values.
      assertThat(verdict.values().toJson().get("x")).isEqualTo(sample.get("x").toJson());
    }
  }
}
