package nodley.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.IntStream;
import nodley.core.file.FormFile;
import nodley.core.file.FormFileException;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.access.Keys;
import nodley.store.access.Sessions;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.folder.DataFolder;
import nodley.store.form.PublishedForm;
import nodley.store.publish.FormPublisher;
import nodley.store.record.Listing;
import nodley.store.record.Records;
import nodley.store.schema.Schema;
import nodley.store.sqlite.Sql;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class StoreTest {

  private static final String BOAT =
      """
      form: boat
      fields:
        sign: { type: text, unique: true }
        mail: { type: email, unique: { ignore-case: true } }
        crew: { type: integer }
        length: { type: decimal }
        power: { type: boolean }
        built: { type: date }
        kind: { type: choice, options: [sail, motor] }
        select: { type: text }
        berth: { type: record, form: berth }
      """;

  @TempDir private Path folder;
  private Store store;

  @BeforeEach
  void open() {
    store = Store.open(folder);
    publish("form: berth\nfields: { code: { type: text, unique: true } }");
  }

  @AfterEach
  void close() {
    store.close();
  }

  private FormPublisher.Published publish(String text) {
    try {
      return store
          .publisher()
          .publish(
              FormFile.read(text, Format.YAML, FormRegistry.UNKNOWN),
              text,
              Format.YAML,
              FormPublisher.Manner.CAREFUL);
    } catch (FormFileException e) {
      throw new AssertionError(e);
    }
  }

  private PublishedForm form(String name) {
    return store.forms().find(name).orElseThrow();
  }

  private RecordSink.Outcome<StoredRecord> add(String form, Map<String, Value> values) {
    return TestSubmissions.add(store, form(form), new Values(values));
  }

  private StoredRecord kept(String form, Map<String, Value> values) {
    return ((RecordSink.Kept<StoredRecord>) add(form, values)).record();
  }

  private static Value text(String text) {
    return new Value.Text(text);
  }

  private static Value number(String number) {
    return new Value.Number(new BigDecimal(number));
  }

  private List<String> sql(String query) throws SQLException {
    return RawQuery.lines(folder, query);
  }

  @Test
  void eachFieldIsATypedColumnUnderItsName() throws Exception {
    publish(BOAT);
    assertThat(sql("SELECT name, type FROM pragma_table_info('boat')"))
        .containsExactly(
            "record_number|INTEGER",
            "id|TEXT",
            "version|INTEGER",
            "revision|INTEGER",
            "created_at|TEXT",
            "updated_at|TEXT",
            "updated_by|TEXT",
            "created__by|TEXT",
            "owner__id|TEXT",
            "confirmed__at|TEXT",
            "sign|TEXT",
            "mail|TEXT",
            "crew|INTEGER",
            "length|REAL",
            "power|INTEGER",
            "built|TEXT",
            "kind|TEXT",
            "select|TEXT",
            "berth|TEXT",
            "mail_folded|TEXT");
    assertThat(
            sql(
                "SELECT l.\"unique\", i.name FROM pragma_index_list('boat') l,"
                    + " pragma_index_info(l.name) i WHERE l.origin = 'c' ORDER BY 2"))
        .containsExactly("0|berth", "1|mail_folded", "1|sign");
  }

  @Test
  void valuesComeBackAsTheyWereKeptAlsoAfterAReopen() {
    publish(BOAT);
    StoredRecord berth = kept("berth", Map.of("code", text("A1")));
    Map<String, Value> values =
        Map.of(
            "sign", text("MQ7AB"),
            "mail", text("Ann@Harbour.example"),
            "crew", number("9007199254740991"),
            "length", number("123456789.012345"),
            "power", new Value.Bool(false),
            "built", new Value.Date(LocalDate.of(1, 1, 1)),
            "kind", text("sail"),
            "select", text("Robert'); DROP TABLE boat;--"),
            "berth", text(berth.id()));
    StoredRecord record = kept("boat", values);
    store.close();
    store = Store.open(folder);
    StoredRecord again = store.records().find(form("boat").form(), record.id()).orElseThrow();
    assertThat(again.values().byName()).isEqualTo(values);
    assertThat(again.version()).isEqualTo(1);
    assertThat(again.createdAt()).matches("\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d:\\d\\d\\.\\d{3}Z");
  }

  /** Decimals of 15 digits survive the way through a 64-bit float. */
  @ParameterizedTest
  @CsvSource({"0.1", "0.3", "-0.07", "999999999999999", "0.000000000000123456789012345", "1E30"})
  void decimalsSurviveReal(String decimal) {
    publish(BOAT);
    StoredRecord record = kept("boat", Map.of("length", number(decimal)));
    Value kept =
        store.records().find(form("boat").form(), record.id()).orElseThrow().values().get("length");
    assertThat(kept).isEqualTo(number(decimal));
  }

  @Test
  void blankIsNullAndNeverCollides() throws Exception {
    publish(BOAT);
    kept("boat", Map.of());
    kept("boat", Map.of());
    assertThat(sql("SELECT count(*) FROM boat WHERE sign IS NULL AND mail IS NULL"))
        .containsExactly("2");
  }

  @Test
  void allTakenFieldsAreToldNotTheFirst() {
    publish(BOAT);
    kept("boat", Map.of("sign", text("A"), "mail", text("ann@b.example")));
    assertThat(add("boat", Map.of("sign", text("A"), "mail", text("ANN@b.example"))))
        .isEqualTo(new RecordSink.Clash<StoredRecord>(Set.of(0, 1), Set.of(), Set.of()));
  }

  /** Pairs that Unicode case folding makes the same, and pairs that it does not. */
  @ParameterizedTest
  @CsvSource({
    "ann, ANN, true",
    "straße, STRASSE, true",
    "Ärger, äRGER, true",
    "ΟΔΟΣ, οδος, true",
    "ΟΔΟΣ, οδοσ, true",
    "ﬁn, FIN, true",
    "é, E\u0301, true",
    "K, k, true",
    "a, á, false",
    "i, ı, false"
  })
  void ignoringCaseIsUnicodeFolding(String one, String other, boolean same) {
    publish("form: name\nfields: { n: { type: text, unique: { ignore-case: true } } }");
    kept("name", Map.of("n", text(one)));
    Set<String> taken =
        TestSubmissions.taken(store, form("name"), new Values(Map.of("n", text(other))));
    assertThat(!taken.isEmpty()).isEqualTo(same);
    assertThat(add("name", Map.of("n", text(other))) instanceof RecordSink.Clash).isEqualTo(same);
  }

  @Test
  void ofManyAddsOfOneValueAtOnceOneIsKept() throws Exception {
    publish(BOAT);
    int many = 200;
    CountDownLatch start = new CountDownLatch(1);
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Future<RecordSink.Outcome<StoredRecord>>> answers = new ArrayList<>();
      for (int i = 0; i < many; i++) {
        answers.add(
            threads.submit(
                () -> {
                  start.await();
                  return add("boat", Map.of("sign", text("MQ1")));
                }));
      }
      start.countDown();
      int kept = 0;
      for (Future<RecordSink.Outcome<StoredRecord>> answer : answers) {
        kept += answer.get() instanceof RecordSink.Kept ? 1 : 0;
      }
      assertThat(kept).isEqualTo(1);
    }
    assertThat(sql("SELECT count(*) FROM boat")).containsExactly("1");
  }

  @Test
  void anEditTakesTheVersionItKnows() {
    publish(BOAT);
    StoredRecord record = kept("boat", Map.of("sign", text("A")));
    RecordSink.Outcome<StoredRecord> edited =
        TestSubmissions.edit(
            store, form("boat"), record.id(), 1, new Values(Map.of("sign", text("B"))), "");
    assertThat(edited)
        .isInstanceOfSatisfying(
            RecordSink.Kept.class,
            it -> assertThat(((StoredRecord) it.record()).version()).isEqualTo(2));
    assertThatThrownBy(
            () -> TestSubmissions.edit(store, form("boat"), record.id(), 1, Values.NONE, ""))
        .isInstanceOfSatisfying(
            StoreException.Outdated.class, e -> assertThat(e.current().version()).isEqualTo(2));
    assertThatThrownBy(() -> TestSubmissions.edit(store, form("boat"), "gone", 1, Values.NONE, ""))
        .isInstanceOf(StoreException.NoSuchRecord.class);
  }

  @Test
  void anEditOntoATakenValueClashes() {
    publish(BOAT);
    kept("boat", Map.of("sign", text("A")));
    StoredRecord other = kept("boat", Map.of("sign", text("B")));
    assertThat(
            TestSubmissions.edit(
                store, form("boat"), other.id(), 1, new Values(Map.of("sign", text("A"))), ""))
        .isEqualTo(new RecordSink.Clash<StoredRecord>(Set.of(0), Set.of(), Set.of()));
  }

  @Test
  void aReferenceHoldsInTheDatabase() {
    publish(BOAT);
    StoredRecord berth = kept("berth", Map.of("code", text("A1")));
    StoredRecord boat = kept("boat", Map.of("berth", text(berth.id())));
    assertThat(add("boat", Map.of("berth", text("nowhere"))))
        .isEqualTo(new RecordSink.Clash<StoredRecord>(Set.of(), Set.of(), Set.of("berth")));
    assertThatThrownBy(() -> store.recordWriter().remove(form("berth").form(), berth.id(), 1))
        .isInstanceOfSatisfying(
            StoreException.StillReferred.class,
            e ->
                assertThat(e.referrers())
                    .containsExactly(new StoreException.Referrer("boat", "berth", boat.id())));
    store.recordWriter().remove(form("boat").form(), boat.id(), 1);
    store.recordWriter().remove(form("berth").form(), berth.id(), 1);
    assertThat(store.records().count(form("berth").form(), Optional.empty()).records()).isZero();
  }

  @Test
  void pagesGoByKeyNewestFirst() {
    List<String> ids = new ArrayList<>();
    for (int i = 0; i < 25; i++) {
      ids.addFirst(kept("berth", Map.of("code", text("A" + i))).id());
    }
    List<String> seen = new ArrayList<>();
    Optional<Listing> here = Optional.of(Listing.newest("", 10));
    while (here.isPresent()) {
      Records.Page page = store.records().list(form("berth").form(), here.get());
      page.records().forEach(record -> seen.add(record.id()));
      here = page.next().map(Listing.newest("", 10)::after);
    }
    assertThat(seen).isEqualTo(ids);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "quay|ann@quay.example; Old quay, north",
        "OLD no|Old quay, north",
        "north old|Old quay, north",
        "ol|Old quay, north",
        "uay|''",
        "quay south|''",
        "sao|São Tomé",
        "TOMÉ|São Tomé",
        "straße|Straße 50%",
        "50%|Straße 50%",
        "a_b|a_b",
        "c\\d|c\\d",
        "ann@quay|ann@quay.example",
        "OR 1=1 --|''",
        "old\"quay|Old quay, north",
        "quay OR south|''",
        "NEAR(old quay)|''",
        "code:quay|''",
        "*|''",
        "-quay -old|Old quay, north",
      })
  void wordsAreFoundByTheirBeginningsAndSignsAreNoLanguage(String words, String found) {
    for (String code :
        List.of("Old quay, north", "São Tomé", "Straße 50%", "a_b", "c\\d", "ann@quay.example")) {
      kept("berth", Map.of("code", text(code)));
    }
    assertThat(search(words)).isEqualTo(found.isEmpty() ? List.of() : List.of(found.split("; ")));
  }

  private List<String> search(String words) {
    return store.records().list(form("berth").form(), Listing.newest(words, 10)).records().stream()
        .map(record -> record.values().get("code").shown())
        .toList();
  }

  @Test
  void theSameTextIsNoNewRevision() {
    assertThat(publish(BOAT).outcome().change()).isEqualTo(FormPublisher.Change.NEW);
    assertThat(publish(BOAT).outcome().change()).isEqualTo(FormPublisher.Change.UNCHANGED);
    FormPublisher.Published revised = publish(BOAT + "  more: { type: text }\n");
    assertThat(revised.outcome().change()).isEqualTo(FormPublisher.Change.REVISED);
    assertThat(revised.form().revision()).isEqualTo(2);
  }

  @Test
  void publishesAtOnceBecomeRevisionsOneAfterTheOther() throws Exception {
    int many = 20;
    CountDownLatch start = new CountDownLatch(1);
    List<Integer> revisions = new ArrayList<>();
    try (ExecutorService threads = Executors.newVirtualThreadPerTaskExecutor()) {
      List<Future<FormPublisher.Published>> published = new ArrayList<>();
      for (int i = 0; i < many; i++) {
        String text = "form: berth\nfields: { code: { type: text, length: .." + (i + 1) + " } }";
        published.add(
            threads.submit(
                () -> {
                  start.await();
                  return publish(text);
                }));
      }
      start.countDown();
      for (Future<FormPublisher.Published> one : published) {
        revisions.add(one.get().form().revision());
      }
    }
    assertThat(revisions)
        .containsExactlyInAnyOrderElementsOf(IntStream.rangeClosed(2, many + 1).boxed().toList());
    assertThat(form("berth").revision()).isEqualTo(many + 1);
  }

  @Test
  void aNewFieldIsBlankAndADroppedOneStaysInTheTable() throws Exception {
    kept("berth", Map.of("code", text("A1")));
    publish("form: berth\nfields: { depth: { type: decimal } }");
    StoredRecord record = kept("berth", Map.of("depth", number("2.5")));
    assertThat(record.values().toJson()).containsOnlyKeys("depth");
    assertThat(sql("SELECT code, depth FROM berth ORDER BY id"))
        .containsExactly("A1|null", "null|2.5");
    publish(
        "form: berth\nfields: { code: { type: text, unique: true }, depth: { type: decimal } }");
    assertThat(search("A1")).containsExactly("A1");
  }

  @Test
  void keptValuesThatAreNotUniqueStandAgainstAUniqueField() throws Exception {
    publish("form: berth\nfields: { code: { type: text } }");
    String first = kept("berth", Map.of("code", text("A1"))).id();
    String second = kept("berth", Map.of("code", text("a1"))).id();
    assertThat(
            publish("form: berth\nfields: { code: { type: text, unique: true } }")
                .outcome()
                .change())
        .isEqualTo(FormPublisher.Change.REVISED);
    assertThatThrownBy(
            () ->
                publish(
                    "form: berth\nfields: { code: { type: text, unique: { ignore-case: true } } }"))
        .isInstanceOfSatisfying(
            StoreException.MigrationConflict.class,
            e -> {
              StoreException.Objection objection = e.objections().getFirst();
              assertThat(objection.field()).isEqualTo("code");
              assertThat(objection.records()).containsExactlyInAnyOrder(first, second);
              assertThat(objection.count()).isEqualTo(2);
            });
    assertThat(form("berth").revision()).isEqualTo(3);
    assertThat(sql("SELECT count(*) FROM pragma_table_info('berth') WHERE name = 'code_folded'"))
        .containsExactly("0");
  }

  @Test
  void aTypeChangesOnlyWhereKeptValuesAllow() throws Exception {
    publish("form: berth\nfields: { code: { type: text }, built: { type: text } }");
    kept("berth", Map.of("built", text("2020-02-30")));
    assertThatThrownBy(() -> publish("form: berth\nfields: { built: { type: date } }"))
        .isInstanceOf(StoreException.MigrationConflict.class);
    assertThatThrownBy(() -> publish("form: berth\nfields: { built: { type: integer } }"))
        .isInstanceOf(StoreException.MigrationConflict.class);
    publish("form: berth\nfields: { code: { type: integer }, built: { type: text } }");
    kept("berth", Map.of("code", number("3")));
    assertThat(sql("SELECT typeof(code) FROM berth WHERE code IS NOT NULL"))
        .containsExactly("integer");
  }

  @Test
  void aSubmissionJudgedUnderAnOldRevisionIsNotKept() {
    PublishedForm old = form("berth");
    publish("form: berth\nfields: { code: { type: text, length: ..2 } }");
    assertThatThrownBy(() -> TestSubmissions.add(store, old, Values.NONE))
        .isInstanceOf(StoreException.FormChanged.class);
  }

  @Test
  void aFolderBelongsToOneProcessAtATime() {
    assertThatThrownBy(() -> Store.open(folder))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("in use by another Nodley");
  }

  @Test
  void aFolderThatCannotBeWrittenIsTold(@TempDir Path other) throws Exception {
    Path file = Files.writeString(other.resolve("file"), "no folder");
    assertThatThrownBy(() -> Store.open(file.resolve("data")))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("cannot be written");
  }

  @Test
  void dataOfANewerNodleyIsRefusedInWords() throws Exception {
    store.close();
    try (Connection connection =
        DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE))) {
      Sql.run(connection, "PRAGMA user_version = 99");
    }
    assertThatThrownBy(() -> Store.open(folder)).hasMessageContaining("written by a newer Nodley");
    try (Connection connection =
        DriverManager.getConnection("jdbc:sqlite:" + folder.resolve(DataFolder.FILE))) {
      Sql.run(connection, "PRAGMA user_version = " + Schema.VERSION);
    }
    store = Store.open(folder);
  }

  /** A folder that data version 7 wrote: its rows had no identities yet, in three levels. */
  @Test
  void rowsOfDataVersionSevenGetIdentities() throws Exception {
    store.close();
    Files.copy(
        Path.of(StoreTest.class.getResource("/data-7/nodley.db").toURI()),
        folder.resolve(DataFolder.FILE),
        StandardCopyOption.REPLACE_EXISTING);
    store = Store.open(folder);
    assertThat(store.records().list(form("trip").form(), Listing.newest("", 5)).records())
        .extracting(it -> it.values().toJson().toString())
        .containsExactly(
            "{name=South, crew=[{name=any}]}",
            "{name=North, crew=[{name=Ann, papers=[{no=a1, pages=[{text=p1}, {text=p2}]},"
                + " {no=a2}]}, {name=Bob, papers=[{no=b1, pages=[{text=p3}]}]}]}");
    assertThat(sql("SELECT name, pw FROM \"trip.crew\" ORDER BY name"))
        .containsExactly("Ann|digest-a", "Bob|digest-b", "any|null");
    assertThat(store.records().list(form("trip").form(), Listing.newest("p3", 5)).records())
        .hasSize(1);
    // The unique index counts as before, and references still hold.
    Value.Rows bob = new Value.Rows(List.of(new Values(Map.of("name", text("BOB")))));
    assertThat(add("trip", Map.of("crew", bob))).isInstanceOf(RecordSink.Clash.class);
    assertThat(sql("PRAGMA foreign_key_check")).isEmpty();
    assertThat(sql("SELECT name FROM sqlite_schema WHERE type = 'index' AND name LIKE 'trip.%'"))
        .contains("trip.crew__name", "trip.crew__berth__ref", "trip.crew__record");
  }

  @Test
  void aFileThatIsNoDatabaseIsToldAndLeftAlone() throws Exception {
    store.close();
    Path file = folder.resolve(DataFolder.FILE);
    Files.writeString(file, "this is not a database, but somebody's letter".repeat(100));
    assertThatThrownBy(() -> Store.open(folder))
        .isInstanceOf(StoreException.BadFolder.class)
        .hasMessageContaining("cannot be opened");
    assertThat(file).content().startsWith("this is not a database");
    Files.delete(file);
    store = Store.open(folder);
  }

  @Test
  void keysAndSessionsAreKnownAndEnd() throws Exception {
    Keys keys = store.keys();
    Sessions sessions = store.sessions();
    keys.setFirst("first");
    String session = sessions.openWithKey(Keys.FIRST, "::1");
    assertThat(keys.find("first").orElseThrow().name()).isEqualTo("admin");
    assertThat(sessions.find(session).orElseThrow().key()).isEqualTo("admin");
    assertThat(keys.find("other")).isEmpty();
    keys.setFirst("second");
    assertThat(keys.find("first")).isEmpty();
    assertThat(sessions.find(session)).isEmpty();
    String again = sessions.openWithKey(Keys.FIRST, "::1");
    sessions.close(again);
    assertThat(sessions.find(again)).isEmpty();
    assertThat(sql("SELECT digest FROM nodley_keys").getFirst()).doesNotContain("second");
  }
}
