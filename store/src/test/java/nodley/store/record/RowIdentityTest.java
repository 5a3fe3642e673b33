package nodley.store.record;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicBoolean;
import nodley.core.input.Input;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.input.Unreadable;
import nodley.core.submission.Answer;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.Submission;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What an edit does not speak of stays with its row: secrets, retired fields, inner rows. */
class RowIdentityTest {

  private static final String USERS =
      """
      form: host
      fields:
        name: { type: text }
        users:
          type: rows
          fields:
            user: { type: text, unique: true }
            role: { type: text }
            pw: { type: secret, required: true }
      """;

  @TempDir private Path folder;
  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(folder);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private PublishedForm publish(String text) {
    return TestSubmissions.publish(store, text, FormPublisher.Manner.FORCE_RULES).form();
  }

  private static Input input(String json) {
    try {
      return JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT);
    } catch (Unreadable e) {
      throw new AssertionError(e);
    }
  }

  private static final Context ADD = Context.add(Clock.systemUTC());

  /** Asks nobody, so that the store's indexes are the judge. */
  private StoredRecord add(PublishedForm form, String json) {
    return accepted(
        Submission.send(
            form.form(),
            input(json),
            ADD,
            Lookups.NONE,
            (values, keys) -> store.recordWriter().add(form, values, keys, SubmissionInfo.by(""))));
  }

  private Answer<StoredRecord> edit(PublishedForm form, StoredRecord before, String json) {
    StoredRecord now = store.records().find(form.form(), before.id()).orElseThrow();
    Context context = ADD.editing(now.id(), now.values());
    return Submission.send(
        form.form(),
        input(json),
        context,
        Lookups.NONE,
        (values, keys) ->
            store
                .recordWriter()
                .edit(form, now.id(), now.version(), values, keys, SubmissionInfo.by("ann")));
  }

  private static StoredRecord accepted(Answer<StoredRecord> answer) {
    assertThat(answer).isInstanceOf(Answer.Accepted.class);
    return ((Answer.Accepted<StoredRecord>) answer).record();
  }

  private static List<String> errors(Answer<StoredRecord> answer) {
    return ((Answer.Refused<StoredRecord>) answer)
        .verdict().errors().stream().map(it -> it.pointer() + " " + it.code()).toList();
  }

  private List<String> sql(String query) throws Exception {
    return RawQuery.lines(folder, query);
  }

  private List<String> passwords() throws Exception {
    return sql("SELECT user, pw FROM \"host.users\" ORDER BY row_number");
  }

  private static final String THREE =
      """
      {"name": "Quay", "users": [
        {"user": "ann", "role": "clerk", "pw": "digest-a"},
        {"user": "bob", "role": "clerk", "pw": "digest-b"},
        {"user": "cy", "role": "guard", "pw": "digest-c"}]}
      """;

  @Test
  void aSecretStaysWithItsRow() throws Exception {
    PublishedForm form = publish(USERS);
    StoredRecord record = add(form, THREE);
    accepted(
        edit(
            form,
            record,
            """
            {"name": "Other quay", "users": [
              {"user": "ann", "role": "clerk"}, {"user": "bob", "role": "clerk"},
              {"user": "cy", "role": "guard"}]}
            """));
    assertThat(passwords()).containsExactly("ann|digest-a", "bob|digest-b", "cy|digest-c");
    accepted(
        edit(
            form,
            record,
            """
            {"users": [{"user": "cy", "role": "guard"}, {"user": "ann", "role": "clerk"}]}
            """));
    assertThat(passwords()).containsExactly("cy|digest-c", "ann|digest-a");
  }

  @Test
  void aRowIsFoundByItsNumberWhateverElseChanged() throws Exception {
    PublishedForm form = publish(USERS);
    StoredRecord record = add(form, THREE);
    long bob = record.values().row(List.of("users"), List.of(1));
    accepted(
        edit(
            form,
            record,
            "{\"users\": [{\"_row\": %d, \"user\": \"robert\", \"role\": \"head\"}]}"
                .formatted(bob)));
    assertThat(passwords()).containsExactly("robert|digest-b");
  }

  @Test
  void aNewRowHasNoSecretOfAnother() throws Exception {
    PublishedForm form = publish(USERS);
    StoredRecord record = add(form, THREE);
    assertThat(
            errors(
                edit(
                    form,
                    record,
                    """
                    {"users": [{"user": "ann", "role": "clerk"}, {}, {"user": "dee", "role": "clerk"}]}
                    """)))
        .containsExactly("#/users/2/pw value-missing");
    // A number that stands for no row, or for one that another row is, makes a new one.
    long ann = record.values().row(List.of("users"), List.of(0));
    assertThat(
            errors(
                edit(
                    form,
                    record,
                    "{\"users\": [{\"_row\": %d, \"user\": \"ann\"}, {\"_row\": %d, \"user\": \"x\"}, {\"_row\": 999, \"user\": \"cy\", \"role\": \"guard\"}]}"
                        .formatted(ann, ann))))
        .containsExactly("#/users/1/pw value-missing", "#/users/2/pw value-missing");
    assertThat(passwords()).containsExactly("ann|digest-a", "bob|digest-b", "cy|digest-c");
  }

  @Test
  void twoRowsMayExchangeTheirUniqueValues() throws Exception {
    PublishedForm form = publish(USERS);
    StoredRecord record = add(form, THREE);
    long ann = record.values().row(List.of("users"), List.of(0));
    long bob = record.values().row(List.of("users"), List.of(1));
    accepted(
        edit(
            form,
            record,
            "{\"users\": [{\"_row\": %d, \"user\": \"bob\"}, {\"_row\": %d, \"user\": \"ann\"}]}"
                .formatted(ann, bob)));
    assertThat(passwords()).containsExactly("bob|digest-a", "ann|digest-b");
  }

  private static final String CREW =
      """
      form: trip
      fields:
        name: { type: text }
        crew: { type: rows, fields: { name: { type: text }%s } }
      """;

  @Test
  void aRetiredFieldOfARowComesBackToItsRow() throws Exception {
    PublishedForm form = publish(CREW.formatted(", badge: { type: text }"));
    StoredRecord record =
        add(
            form,
            """
            {"crew": [{"name": "A", "badge": "7"}, {"name": "B", "badge": "8"}]}
            """);
    form = publish(CREW.formatted(""));
    accepted(
        edit(
            form,
            record,
            """
            {"name": "x", "crew": [{"name": "B"}, {"name": "A"}, {"name": "C"}]}
            """));
    form = publish(CREW.formatted(", badge: { type: text }"));
    assertThat(store.records().find(form.form(), record.id()).orElseThrow().values().toJson())
        .hasToString("{name=x, crew=[{name=B, badge=8}, {name=A, badge=7}, {name=C}]}");
  }

  @Test
  void retiredRowsInsideARowGoWithTheirRow() throws Exception {
    String certs = ", certs: { type: rows, fields: { no: { type: text } } }";
    PublishedForm form = publish(CREW.formatted(certs));
    StoredRecord record =
        add(
            form,
            """
            {"crew": [{"name": "A", "certs": [{"no": "a1"}]}, {"name": "B", "certs": [{"no": "b1"}]}]}
            """);
    form = publish(CREW.formatted(""));
    accepted(edit(form, record, "{\"crew\": [{\"name\": \"B\"}]}"));
    form = publish(CREW.formatted(certs));
    assertThat(store.records().find(form.form(), record.id()).orElseThrow().values().toJson())
        .hasToString("{crew=[{name=B, certs=[{no=b1}]}]}");
  }

  @Test
  void whoLosesARaceHearsOnlyOfWhatOthersHave() {
    PublishedForm form =
        publish(
            """
            form: race
            fields:
              plain: { type: text, unique: true }
              r: { type: rows, fields: { badge: { type: text, unique: true } } }
            """);
    add(form, "{\"plain\": \"one\", \"r\": [{\"badge\": \"x\"}]}");
    Answer<StoredRecord> lost =
        Submission.send(
            form.form(),
            input("{\"plain\": \"two\", \"r\": [{\"badge\": \"free\"}, {\"badge\": \"x\"}]}"),
            ADD,
            Lookups.NONE,
            (values, keys) -> store.recordWriter().add(form, values, keys, SubmissionInfo.by("")));
    assertThat(errors(lost)).containsExactly("#/r/1/badge taken");
  }

  /** What is read while others write: a record, its rows and its versions are of one moment. */
  @Test
  void oneReadIsOneState() throws Exception {
    PublishedForm form = publish(CREW.formatted(""));
    StoredRecord record = add(form, "{\"name\": \"1\", \"crew\": [{\"name\": \"1\"}]}");
    AtomicBoolean done = new AtomicBoolean();
    Thread writing =
        Thread.ofVirtual()
            .start(
                () -> {
                  for (int i = 2; i <= 400; i++) {
                    String json =
                        "{\"name\": \"%d\", \"crew\": [{\"name\": \"%d\"}]}".formatted(i, i);
                    edit(form, record, json);
                  }
                  done.set(true);
                });
    List<String> torn = new ArrayList<>();
    for (int i = 0; !done.get(); i++) {
      StoredRecord read = store.records().find(form.form(), record.id()).orElseThrow();
      String told = read.values().toJson().toString();
      String whole =
          "{name=%d, crew=[{name=%d]]}"
              .replace("]]", "}]")
              .formatted(read.version(), read.version());
      if (!told.equals(whole)) {
        torn.add(told);
      }
      List<Long> numbers =
          store.records().versions(form.form(), record.id(), Long.MAX_VALUE, 3).stream()
              .map(Version::number)
              .toList();
      if (numbers.size() != Set.copyOf(numbers).size()) {
        torn.add(numbers.toString());
      }
    }
    writing.join();
    assertThat(torn).isEmpty();
  }

  /** Tables that follow another revision are read by the form that they follow. */
  @Test
  void readersGoOnWhileAFieldBecomesOneOfAnotherType() throws Exception {
    String choices = "form: bag\nfields: { c: { type: choices, options: [red, blue] } }\n";
    String text = "form: bag\nfields: { c: { type: text } }\n";
    StoredRecord record = add(publish(choices), "{\"c\": [\"red\"]}");
    AtomicBoolean done = new AtomicBoolean();
    Thread publishing =
        Thread.ofVirtual()
            .start(
                () -> {
                  for (int i = 0; i < 40; i++) {
                    publish(i % 2 == 0 ? text : choices);
                  }
                  done.set(true);
                });
    Set<String> read = new TreeSet<>();
    while (!done.get()) {
      PublishedForm form = store.forms().find("bag").orElseThrow();
      read.add(
          store
              .records()
              .find(form.form(), record.id())
              .orElseThrow()
              .values()
              .toJson()
              .toString());
    }
    publishing.join();
    assertThat(read).isSubsetOf("{c=[red]}", "{c=red}");
  }

  /** A form that is dropped and published anew is another one, though it looks like the first. */
  @Test
  void aFormMadeAnewTakesNothingThatTheOldOneJudged() {
    PublishedForm old = publish("form: boat\nfields: { name: { type: text } }\n");
    store.publisher().remove("boat", true);
    publish("form: boat\nfields: { name: { type: text, length: 5.. } }\n");
    Values values = new Values(Map.of("name", new Value.Text("x")));
    assertThatThrownBy(
            () -> store.recordWriter().add(old, values, List.of(), SubmissionInfo.by("")))
        .isInstanceOf(StoreException.FormChanged.class);
  }
}
