package nodley.store.publish;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;
import static org.assertj.core.api.Assertions.tuple;

import java.math.BigDecimal;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import nodley.core.submission.Difference;
import nodley.core.submission.Differences;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.RawQuery;
import nodley.store.Store;
import nodley.store.TestSubmissions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.record.Version;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Tables follow their form from revision to revision, and nothing kept is lost on the way. */
class FormMigrationTest {

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

  private FormPublisher.Published publish(String text, FormPublisher.Manner manner) {
    return TestSubmissions.publish(store, text, manner);
  }

  /** A form of these fields; each publish tells what it changed, as "kind field". */
  private List<String> boat(String... fields) {
    return changes(publish(boatFile(fields), FormPublisher.Manner.CAREFUL).outcome());
  }

  private static String boatFile(String... fields) {
    return "form: boat\nfields:\n  " + String.join("\n  ", fields) + "\n";
  }

  private static List<String> changes(FormPublisher.Outcome outcome) {
    return outcome.changes().stream().map(it -> it.kind().word() + " " + it.field()).toList();
  }

  private StoreException.MigrationConflict standsAgainst(String... fields) {
    return catchThrowableOfType(StoreException.MigrationConflict.class, () -> boat(fields));
  }

  private PublishedForm boat() {
    return store.forms().find("boat").orElseThrow();
  }

  private StoredRecord kept(String form, Map<String, Value> values) {
    PublishedForm published = store.forms().find(form).orElseThrow();
    return ((RecordSink.Kept<StoredRecord>)
            TestSubmissions.add(store, published, new Values(values)))
        .record();
  }

  private StoredRecord kept(Map<String, Value> values) {
    return kept("boat", values);
  }

  private Object json(String id) {
    return store.records().find(boat().form(), id).orElseThrow().values().toJson();
  }

  private List<String> sql(String query) throws Exception {
    return RawQuery.lines(folder, query);
  }

  private static Value text(String text) {
    return new Value.Text(text);
  }

  private static Value group(String name, String text) {
    return new Value.Group(new Values(Map.of(name, text(text))));
  }

  private static Value rows(Value value) {
    return new Value.Rows(List.of(((Value.Group) value).values()));
  }

  @Test
  void aDroppedFieldIsRetiredAndItsValuesComeBackWithIt() throws Exception {
    boat("name: { type: text }", "depth: { type: decimal }");
    String id = kept(Map.of("name", text("Heron"), "depth", decimal("1.5"))).id();
    assertThat(boat("name: { type: text }")).containsExactly("retired depth");
    assertThat(store.publisher().retired("boat"))
        .singleElement()
        .satisfies(
            field -> {
              assertThat(field.field()).isEqualTo("depth");
              assertThat(field.type()).isEqualTo("decimal");
              assertThat(field.revision()).isEqualTo(2);
              assertThat(field.values()).isEqualTo(1);
            });
    assertThat(json(id)).isEqualTo(Map.of("name", "Heron"));
    kept(Map.of("name", text("Tern")));
    assertThat(sql("SELECT name, depth FROM boat ORDER BY id"))
        .containsExactly("Heron|1.5", "Tern|null");
    assertThat(boat("name: { type: text }", "depth: { type: decimal }"))
        .containsExactly("back depth");
    assertThat(json(id)).isEqualTo(Map.of("name", "Heron", "depth", new BigDecimal("1.5")));
    assertThat(store.publisher().retired("boat")).isEmpty();
  }

  private static Value decimal(String number) {
    return new Value.Number(new BigDecimal(number));
  }

  @Test
  void whatIsForgottenIsGoneFromTheTableAndFromEarlierVersions() throws Exception {
    boat(
        "name: { type: text }",
        "owner: { type: group, fields: { mail: { type: email, unique: true } } }",
        "crew: { type: rows, fields: { name: { type: text } } }");
    StoredRecord record =
        kept(
            Map.of(
                "name", text("Heron"),
                "owner", group("mail", "ann@quay.example"),
                "crew", rows(group("name", "Bo"))));
    TestSubmissions.edit(store, boat(), record.id(), 1, with(record, "name", text("Tern")), "ann");
    boat("name: { type: text }");
    assertThatThrownBy(() -> store.publisher().forget(boat().form(), "name"))
        .isInstanceOf(StoreException.StillThere.class);
    assertThat(store.publisher().forget(boat().form(), "nmae")).isEmpty();
    assertThat(store.publisher().forget(boat().form(), "owner"))
        .extracting(RetiredField::field)
        .containsExactly("owner.mail");
    assertThat(sql("SELECT name FROM pragma_table_info('boat') WHERE name LIKE 'owner.%'"))
        .isEmpty();
    assertThat(sql("SELECT record FROM nodley_versions"))
        .containsExactly("{\"name\":\"Heron\",\"crew\":[{\"name\":\"Bo\",\"_row\":1}]}");
    store.publisher().forget(boat().form(), "crew");
    assertThat(sql("SELECT name FROM sqlite_schema WHERE name LIKE 'boat.%'")).isEmpty();
    assertThat(sql("SELECT record FROM nodley_versions")).containsExactly("{\"name\":\"Heron\"}");
    assertThat(store.publisher().retired("boat")).isEmpty();
    assertThat(sql("PRAGMA integrity_check")).containsExactly("ok");
  }

  @Test
  void aRetiredReferenceHoldsNoRecordBack() throws Exception {
    publish("form: berth\nfields: { code: { type: text } }", FormPublisher.Manner.CAREFUL);
    boat("name: { type: text }", "berth: { type: record, form: berth }");
    StoredRecord berth = kept("berth", Map.of("code", text("A1")));
    String id = kept(Map.of("name", text("Heron"), "berth", text(berth.id()))).id();
    boat("name: { type: text }");
    store.recordWriter().remove(store.forms().find("berth").orElseThrow().form(), berth.id(), 1);
    assertThat(sql("SELECT berth FROM boat")).containsExactly(berth.id());
    StoreException.MigrationConflict against =
        standsAgainst("name: { type: text }", "berth: { type: record, form: berth }");
    assertThat(against.objections().getFirst().records()).containsExactly(id);
    assertThat(against.isForceable()).isFalse();
    store.publisher().forget(boat().form(), "berth");
    assertThat(boat("name: { type: text }", "berth: { type: record, form: berth }"))
        .containsExactly("added berth");
  }

  @Test
  void aRenamedFieldTakesItsValuesVersionsAndIndexAlong() throws Exception {
    boat("name: { type: text, unique: { ignore-case: true } }", "depth: { type: decimal }");
    StoredRecord record = kept(Map.of("name", text("Heron"), "depth", decimal("1.5")));
    TestSubmissions.edit(
        store, boat(), record.id(), 1, with(record, "depth", decimal("2.5")), "ann");
    String[] renamed = {
      "title: { type: text, unique: { ignore-case: true }, was: name }", "depth: { type: decimal }"
    };
    assertThat(boat(renamed)).contains("renamed title").doesNotContain("added title");
    assertThat(json(record.id()))
        .isEqualTo(Map.of("title", "Heron", "depth", new BigDecimal("2.5")));
    assertThat(TestSubmissions.add(store, boat(), new Values(Map.of("title", text("HERON")))))
        .isInstanceOf(RecordSink.Clash.class);
    assertThat(sql("SELECT record FROM nodley_versions").getFirst())
        .contains("\"title\":\"Heron\"")
        .doesNotContain("name");
    assertThat(sql("SELECT name FROM pragma_index_list('boat') WHERE origin = 'c'"))
        .containsExactly("boat__title");
    // `was` stays in the file, and renames nothing the second time.
    assertThat(boat(renamed[0], "depth: { type: decimal, label: Draught }")).isEmpty();
    // Back to the revision from before, the field has its old name again.
    assertThat(
            boat("name: { type: text, unique: { ignore-case: true } }", "depth: { type: decimal }"))
        .contains("renamed name");
    assertThat(json(record.id()))
        .isEqualTo(Map.of("name", "Heron", "depth", new BigDecimal("2.5")));
  }

  @Test
  void groupsAndRowsAreRenamedWithAllThatIsInThem() throws Exception {
    boat(
        "owner: { type: group, fields: { mail: { type: email, unique: { ignore-case: true } } } }",
        "crew: { type: rows, fields: { name: { type: text, unique: true } } }");
    StoredRecord record =
        kept(
            Map.of(
                "owner", group("mail", "ann@quay.example"),
                "crew", rows(group("name", "Bo"))));
    TestSubmissions.edit(
        store, boat(), record.id(), 1, with(record, "crew", rows(group("name", "Bob"))), "ann");
    String file =
        boatFile(
            "keeper:",
            "  type: group",
            "  was: owner",
            "  fields: { email: { type: email, was: mail, unique: { ignore-case: true } } }",
            "hands:",
            "  type: rows",
            "  was: crew",
            "  fields: { called: { type: text, was: name, unique: true } }");
    assertThat(changes(publish(file, FormPublisher.Manner.CAREFUL).outcome()))
        .contains("renamed keeper", "renamed keeper.email", "renamed hands", "renamed hands.called")
        .noneMatch(it -> it.startsWith("added") || it.startsWith("retired"));
    assertThat(json(record.id()))
        .isEqualTo(
            Map.of(
                "keeper", Map.of("email", "ann@quay.example"),
                "hands", List.of(Map.of("called", "Bob"))));
    assertThat(sql("SELECT record FROM nodley_versions"))
        .containsExactly(
            "{\"keeper\":{\"email\":\"ann@quay.example\"},\"hands\":[{\"_row\":1,\"called\":\"Bo\"}]}");
    assertThat(
            TestSubmissions.add(
                store, boat(), new Values(Map.of("keeper", group("email", "ANN@quay.example")))))
        .isInstanceOf(RecordSink.Clash.class);
    assertThat(
            TestSubmissions.add(
                store, boat(), new Values(Map.of("hands", rows(group("called", "Bob"))))))
        .isInstanceOf(RecordSink.Clash.class);
    assertThat(sql("PRAGMA foreign_key_check")).isEmpty();
  }

  @Test
  void aRetiredFieldIsNotWrittenOver() throws Exception {
    boat("name: { type: text }");
    String id = kept(Map.of("name", text("Heron"))).id();
    boat("title: { type: text }");
    StoreException.MigrationConflict against = standsAgainst("name: { type: text, was: title }");
    assertThat(against.objections().getFirst().detail()).contains("nodley form boat --forget name");
    assertThat(sql("SELECT name FROM boat")).containsExactly("Heron");
    store.publisher().forget(boat().form(), "name");
    assertThat(boat("name: { type: text, was: title }")).containsExactly("renamed name");
    assertThat(json(id)).isEqualTo(Map.of());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "type: text|12|type: integer|12",
        "type: text|12.0|type: integer|12",
        "type: text| 2027-03-01|type: date|2027-03-01",
        "type: text|true|type: boolean|1",
        "type: text|Ann@Quay.example|type: email|Ann@Quay.example",
        "type: text|+351 21-12 345|type: phone|+3512112345",
        "type: text|sail|type: choice, options: [sail, motor]|sail",
        "type: text|sail|type: choices, options: [sail, motor]|[\"sail\"]",
        "type: integer|12|type: decimal|12.0",
        "type: integer|12|type: text|12",
        "type: decimal|12|type: integer|12",
        "type: decimal|12.5|type: text|12.5",
        "type: date|2027-03-01|type: text|2027-03-01",
        "type: email|a@quay.example|type: text|a@quay.example",
      })
  void valuesConvertWhereTheyCan(String before, String value, String after, String expected)
      throws Exception {
    boat("it: { " + before + " }");
    Value kept =
        before.contains("integer") || before.contains("decimal")
            ? decimal(value)
            : before.contains("date")
                ? new Value.Date(java.time.LocalDate.parse(value))
                : text(value);
    kept(Map.of("it", kept));
    assertThat(boat("it: { " + after + " }")).containsExactly("converted it");
    assertThat(sql("SELECT it FROM boat")).containsExactly(expected);
  }

  /** An index sees to it that nobody has two, also after a table was built anew. */
  @Test
  void whereEachPersonHasOneRecordAnIndexSeesToIt() throws Exception {
    String form = "form: boat\n%sfields: { it: { type: %s, unique: true } }\n";
    String one = "records: one-each\n";
    String index = "SELECT sql FROM sqlite_schema WHERE name = 'boat__one__each'";
    publish(form.formatted("", "text"), FormPublisher.Manner.CAREFUL);
    assertThat(sql(index)).isEmpty();
    for (String type : List.of("text", "integer", "decimal", "text")) {
      assertThat(
              changes(publish(form.formatted(one, type), FormPublisher.Manner.CAREFUL).outcome()))
          .as(type)
          .noneMatch(it -> it.contains("each"));
      assertThat(sql(index)).as(type).singleElement().asString().contains("UNIQUE");
    }
    publish(form.formatted("", "text"), FormPublisher.Manner.CAREFUL);
    assertThat(sql(index)).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "twelve|type: integer",
        "12.5|type: integer",
        "1e3|type: decimal",
        "2027-02-29|type: date",
        "perhaps|type: boolean",
        "at quay|type: email",
        "quay|type: url",
        "no-record|type: record, form: boat",
        "hidden|type: secret",
      })
  void oneValueThatCannotBeConvertedStandsAgainstTheType(String value, String after)
      throws Exception {
    boat("it: { type: text }", "n: { type: integer }");
    String id = kept(Map.of("it", text(value))).id();
    kept(Map.of("n", decimal("1")));
    StoreException.MigrationConflict against =
        standsAgainst("it: { " + after + " }", "n: { type: integer }");
    assertThat(against.isForceable()).isFalse();
    assertThat(against.objections())
        .singleElement()
        .satisfies(
            it -> {
              assertThat(it.field()).isEqualTo("it");
              assertThat(it.records()).containsExactly(id);
              assertThat(it.count()).isEqualTo(1);
              assertThat(it.detail()).startsWith("Kept values cannot become ");
            });
    assertThat(boat().revision()).isEqualTo(1);
    assertThat(sql("SELECT it FROM boat WHERE it IS NOT NULL")).containsExactly(value);
  }

  @Test
  void whatAKeptSecretWasNeverBecomesAValue() throws Exception {
    boat("it: { type: secret }");
    kept(Map.of("it", text("digest")));
    assertThat(standsAgainst("it: { type: text }")).isNotNull();
    boat("other: { type: text }");
    assertThat(standsAgainst("it: { type: text }", "other: { type: text }")).isNotNull();
    assertThat(standsAgainst("other: { type: text }", "mine: { type: text, was: it }")).isNotNull();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "name: { type: text, length: ..4 }|name|at most 4",
        "name: { type: text, pattern: '[A-Z]+' }|name|Name",
        "name: { type: text, rules: [{ must: name != \"Heron\", say: Not that. }] }|name|Not that.",
        "depth: { type: decimal, required: true }|depth|depth",
        "crew: { type: rows, count: 2.., fields: { name: { type: text } } }|crew|2",
      })
  void keptRecordsStandAgainstATighterRuleUnlessItIsForced(
      String tighter, String field, String inSentence) {
    String[] loose = {
      "name: { type: text }",
      "depth: { type: decimal }",
      "crew: { type: rows, fields: { name: { type: text } } }"
    };
    boat(loose);
    String id = kept(Map.of("name", text("Heron"), "crew", rows(group("name", "Bo")))).id();
    kept(
        Map.of(
            "name", text("ERN"),
            "depth", decimal("1"),
            "crew",
                new Value.Rows(
                    List.of(
                        new Values(Map.of("name", text("Cy"))),
                        new Values(Map.of("name", text("Di")))))));
    String[] tight = loose.clone();
    for (int i = 0; i < tight.length; i++) {
      tight[i] = tight[i].startsWith(field + ":") ? tighter : tight[i];
    }
    StoreException.MigrationConflict against = standsAgainst(tight);
    assertThat(against.isForceable()).isTrue();
    assertThat(against.objections())
        .singleElement()
        .satisfies(
            it -> {
              assertThat(it.field()).isEqualTo(field);
              assertThat(it.records()).containsExactly(id);
              assertThat(it.count()).isEqualTo(1);
              assertThat(it.detail()).containsIgnoringCase(inSentence);
            });
    assertThat(boat().revision()).isEqualTo(1);
    FormPublisher.Outcome forced =
        publish(boatFile(tight), FormPublisher.Manner.FORCE_RULES).outcome();
    assertThat(forced.fallsShort()).isEqualTo(against.objections());
    // What falls short once does not stand in the way of what comes after.
    String[] next = tight.clone();
    next[1] = next[1].replace("type: decimal", "type: decimal, range: ..900");
    assertThat(boat(next)).isEmpty();
  }

  @Test
  void whatIsKeptIsNotHeldAgainstTheClockNorAgainstOptionsNoLongerOffered() {
    boat("due: { type: date }", "kind: { type: choice, options: [sail, motor] }");
    kept(Map.of("due", new Value.Date(java.time.LocalDate.of(2001, 1, 1)), "kind", text("sail")));
    assertThat(
            boat("due: { type: date, range: today.. }", "kind: { type: choice, options: [motor] }"))
        .containsExactly("option-dropped kind");
  }

  @Test
  void aPreviewTellsAllAndChangesNothing() throws Exception {
    boat("name: { type: text }", "depth: { type: decimal }", "it: { type: text }");
    String id = kept(Map.of("name", text("Heron"), "it", text("perhaps"))).id();
    List<String> before = sql("SELECT sql FROM sqlite_schema ORDER BY name");
    FormPublisher.Outcome told =
        publish(
                boatFile(
                    "title: { type: text, was: name, unique: true }",
                    "length: { type: decimal }",
                    "it: { type: text, length: ..3 }"),
                FormPublisher.Manner.PREVIEW)
            .outcome();
    assertThat(told.change()).isEqualTo(FormPublisher.Change.REVISED);
    assertThat(changes(told))
        .containsExactly("renamed title", "added length", "unique title", "retired depth");
    assertThat(told.fallsShort().getFirst().records()).containsExactly(id);
    assertThat(
            publish(boatFile("it: { type: integer }"), FormPublisher.Manner.PREVIEW)
                .outcome()
                .objections())
        .extracting(StoreException.Objection::field)
        .containsExactly("it");
    assertThat(sql("SELECT sql FROM sqlite_schema ORDER BY name")).isEqualTo(before);
    assertThat(boat().revision()).isEqualTo(1);
    assertThat(store.forms().revisions("boat")).hasSize(1);
    assertThat(json(id)).isEqualTo(Map.of("name", "Heron", "it", "perhaps"));
  }

  /** Nodley has columns of its own for a unique's condition; a field may be called as it likes. */
  @Test
  void aFieldWithAnUnderscoreIsAFieldLikeAnyOther() throws Exception {
    String name = "name: { type: text, unique: { ignore-case: true, when: live } }";
    String live = "live: { type: boolean }";
    boat(name, live, "name_when: { type: text }", "left_when: { type: text }");
    String id =
        kept(Map.of(
                "name", text("Tern"),
                "live", Value.Bool.TRUE,
                "name_when", text("once"),
                "left_when", text("today")))
            .id();
    boat(
        name,
        live,
        "name_when: { type: text }",
        "left_when: { type: text }",
        "note: { type: text }");
    assertThat(json(id))
        .isEqualTo(Map.of("name", "Tern", "live", true, "name_when", "once", "left_when", "today"));
    boat(name, live, "name_when: { type: text }");
    assertThat(store.publisher().retired("boat"))
        .extracting(RetiredField::field, RetiredField::values)
        .contains(tuple("left_when", 1L));
    assertThat(store.publisher().forget(boat().form(), "left_when"))
        .extracting(RetiredField::field)
        .containsExactly("left_when");
    assertThat(sql("SELECT name FROM pragma_table_info('boat')")).doesNotContain("left_when");
  }

  @Test
  void aUniqueThatIsGoneLeavesNothingBehind() throws Exception {
    String free = "name: { type: text }";
    boat(free, "live: { type: boolean }");
    List<String> before = sql("SELECT name FROM pragma_table_info('boat')");
    assertThat(
            boat(
                "name: { type: text, unique: { ignore-case: true, when: live } }",
                "live: { type: boolean }"))
        .containsExactly("unique name");
    assertThat(boat(free, "live: { type: boolean }")).containsExactly("not-unique name");
    assertThat(sql("SELECT name FROM pragma_table_info('boat')")).isEqualTo(before);
  }

  /** The values of a record with another one: what changes nothing makes no version. */
  private static Values with(StoredRecord record, String name, Value value) {
    Map<String, Value> values = record.values().byName();
    values.put(name, value);
    return new Values(values);
  }

  private StoredRecord edited(StoredRecord before, Map<String, Value> values) {
    return ((RecordSink.Kept<StoredRecord>)
            TestSubmissions.edit(
                store, boat(), before.id(), before.version(), new Values(values), "eve"))
        .record();
  }

  /** What each version but the first changed, the latest first, as pointers. */
  private List<String> history(StoredRecord record) {
    List<Version> versions = store.records().versions(boat().form(), record.id(), 99, 99);
    return IntStream.range(0, versions.size() - 1)
        .mapToObj(
            i ->
                Differences.between(versions.get(i + 1).values(), versions.get(i).values()).stream()
                    .map(Difference::pointer)
                    .toList()
                    .toString())
        .toList();
  }

  @Test
  void whatAPublishDoesIsNobodysEdit() {
    boat("name: { type: text }", "badge: { type: text }", "no: { type: text }");
    StoredRecord one =
        edited(
            kept(Map.of("name", text("a"))),
            Map.of("name", text("b"), "badge", text("7"), "no", text("12")));
    boat("name: { type: text }", "no: { type: integer }");
    StoredRecord two =
        edited(one, Map.of("name", text("c"), "no", new Value.Number(new BigDecimal("12"))));
    assertThat(history(two)).containsExactly("[#/name]", "[#/name, #/no, #/badge]");
    boat("name: { type: text }", "badge: { type: text }", "no: { type: integer }");
    StoredRecord now = store.records().find(boat().form(), two.id()).orElseThrow();
    assertThat(now.values().get("badge")).isEqualTo(text("7"));
    assertThat(history(now)).containsExactly("[#/name]", "[#/name, #/no, #/badge]");
    // And the version that was made meanwhile has what was put away, too.
    assertThat(store.records().version(boat().form(), now.id(), 2).orElseThrow().values().toJson())
        .hasToString("{name=b, no=12, badge=7}");
  }

  @Test
  void aWayBackPastTwoRenamesFindsItsValues() {
    boat("sail: { type: text }");
    String id = kept(Map.of("sail", text("MQ 7"))).id();
    boat("mark: { type: text, was: sail }");
    boat("code: { type: text, was: mark }");
    assertThat(json(id)).isEqualTo(Map.of("code", "MQ 7"));
    assertThat(boat("sail: { type: text }")).containsExactly("renamed sail");
    assertThat(json(id)).isEqualTo(Map.of("sail", "MQ 7"));
    // Also where the key was dropped meanwhile.
    boat("mark: { type: text, was: sail }");
    boat("mark: { type: text }");
    assertThat(boat("sail: { type: text }")).containsExactly("renamed sail");
    assertThat(json(id)).isEqualTo(Map.of("sail", "MQ 7"));
    assertThat(store.publisher().retired("boat")).isEmpty();
  }

  @Test
  void anEarlierNameThatNeverWasIsRefusedWithTheNearOne() {
    boat("sail: { type: text }");
    assertThat(standsAgainst("mark: { type: text, was: sial }").objections())
        .extracting(StoreException.Objection::toString)
        .containsExactly(
            "boat.mark: `was: sial` names no field that the form has, had, or keeps values of."
                + " Did you mean `sail`?");
    // The key may stay once it has done its work.
    boat("mark: { type: text, was: sail }");
    assertThat(boat("mark: { type: text, was: sail }", "more: { type: text }"))
        .containsExactly("added more");
  }
}
