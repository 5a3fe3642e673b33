package nodley.core.submission;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import nodley.core.file.FormFile;
import nodley.core.form.Display;
import nodley.core.form.Form;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.value.Values;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class SubmissionTest {

  private Form form;

  /** A store that says what it is told to say, and notes what it was asked. */
  private static final class Noted implements Lookups, RecordSink<Values> {
    private final List<String> questions = new ArrayList<>();
    private Set<String> taken = Set.of();
    private boolean exists = true;
    private Set<String> clash;
    private boolean kept;

    @Override
    public Optional<Set<Integer>> taken(Form form, List<UniqueKey> keys, Optional<String> except) {
      List<String> names = keys.stream().map(it -> it.unique().name()).toList();
      questions.add("taken " + names + except.map(id -> " but " + id).orElse(""));
      return Optional.of(places(keys, taken));
    }

    @Override
    public Optional<Optional<Display.Found>> record(String name, String id) {
      questions.add("record " + name + " " + id);
      return Optional.of(
          exists ? Optional.of(new Display.Found(null, Values.NONE)) : Optional.empty());
    }

    @Override
    public RecordSink.Outcome<Values> keep(Values values, List<UniqueKey> keys) {
      kept = true;
      return clash == null
          ? new RecordSink.Kept<>(values)
          : new RecordSink.Clash<>(places(keys, clash), Set.of(), Set.of("berth"));
    }

    private static Set<Integer> places(List<UniqueKey> keys, Set<String> names) {
      return IntStream.range(0, keys.size())
          .filter(i -> names.contains(keys.get(i).unique().name()))
          .boxed()
          .collect(Collectors.toSet());
    }
  }

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  private final Noted store = new Noted();

  @BeforeEach
  void read() throws Exception {
    form =
        FormFile.read(
            """
            form: boat
            fields:
              sign: { type: text, unique: true, tidy: [upper], length: 2.. }
              mail: { type: email, unique: { ignore-case: true } }
              berth: { type: record, form: berth }
              crew: { type: integer, required: true, range: 1..9 }
            """);
  }

  private Verdict check(String json) throws Exception {
    return Submission.check(form, input(json), ADD, store);
  }

  private static nodley.core.input.Input input(String json) throws Exception {
    return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
  }

  private static List<String> codes(Verdict verdict) {
    return verdict.errors().stream().map(it -> it.pointer() + " " + it.code()).toList();
  }

  @Test
  void allUniqueFieldsAreOneQuestion() throws Exception {
    check("{\"sign\":\"ab\",\"mail\":\"a@b.example\",\"crew\":1}");
    assertThat(store.questions).containsExactly("taken [sign, mail]");
  }

  @Test
  void theStoreIsNotAskedAboutAValueThatFailsOrIsBlank() throws Exception {
    check("{\"sign\":\"a\",\"mail\":\" \",\"crew\":1}");
    assertThat(store.questions).isEmpty();
  }

  @Test
  void takenStandsAtItsField() throws Exception {
    store.taken = Set.of("mail");
    Verdict verdict = check("{\"sign\":\"ab\",\"mail\":\"a@b.example\",\"crew\":1}");
    assertThat(codes(verdict)).containsExactly("#/mail taken");
    assertThat(verdict.errors().getFirst().detail())
        .isEqualTo("Mail a@b.example is already registered.");
    assertThat(verdict.errors().getFirst().params()).containsEntry("value", "a@b.example");
  }

  @Test
  void anEditAsksForAllButItself() throws Exception {
    Submission.check(
        form, input("{\"sign\":\"ab\",\"crew\":1}"), ADD.editing("r1", Values.NONE), store);
    assertThat(store.questions).containsExactly("taken [sign] but r1");
  }

  @Test
  void aReferenceToNothingIsRefused() throws Exception {
    store.exists = false;
    assertThat(codes(check("{\"berth\":\"b1\",\"crew\":1}")))
        .containsExactly("#/berth no-such-record");
    assertThat(store.questions).containsExactly("record berth b1");
  }

  @Test
  void whatWasNotAskedIsSaid() throws Exception {
    Verdict verdict =
        Submission.check(
            form, input("{\"sign\":\"ab\",\"berth\":\"b1\",\"crew\":1}"), ADD, Lookups.NONE);
    assertThat(verdict.isAccepted()).isTrue();
    assertThat(verdict.unasked()).containsExactly("#/berth", "#/sign");
  }

  @Test
  void aCheckOfSomeFieldsSpeaksOnlyOfThem() throws Exception {
    Verdict verdict =
        Submission.check(
            form, input("{\"sign\":\"a\",\"nope\":1}"), ADD, store, Optional.of(Set.of("sign")));
    assertThat(codes(verdict)).containsExactly("#/sign too-short");
    assertThat(verdict.values().toJson()).containsOnlyKeys("sign");
  }

  @Test
  void anUnknownFieldIsRefusedAndTheOneMeantIsNamed() throws Exception {
    Verdict verdict = check("{\"crw\":3,\"crew\":1,\"a/b~c\":1}");
    assertThat(codes(verdict)).containsExactly("#/crw unknown-field", "#/a~1b~0c unknown-field");
    assertThat(verdict.errors().getFirst().detail())
        .isEqualTo("The form has no field \"crw\". Did you mean \"crew\"?");
  }

  @Test
  void nothingRefusedIsKept() throws Exception {
    Answer<Values> answer = Submission.send(form, input("{\"crew\":99}"), ADD, store, store);
    assertThat(answer).isInstanceOf(Answer.Refused.class);
    assertThat(store.kept).isFalse();
  }

  @Test
  void whatIsKeptIsWhatWasJudged() throws Exception {
    Answer<Values> answer =
        Submission.send(form, input("{\"sign\":\" ab \",\"crew\":\"3\"}"), ADD, store, store);
    assertThat(answer)
        .isInstanceOfSatisfying(
            Answer.Accepted.class,
            it -> assertThat(((Values) it.record()).toJson().get("sign")).isEqualTo("AB"));
  }

  @Test
  void theStoresConstraintIsTheLastJudgeAndSpeaksLikeTheCheck() throws Exception {
    store.clash = Set.of("sign");
    Answer<Values> answer =
        Submission.send(
            form, input("{\"sign\":\"ab\",\"berth\":\"b\",\"crew\":3}"), ADD, store, store);
    assertThat(answer)
        .isInstanceOfSatisfying(
            Answer.Refused.class,
            it ->
                assertThat(codes(it.verdict()))
                    .containsExactly("#/sign taken", "#/berth no-such-record"));
  }
}
