package nodley.store.record;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.file.FormFileException;
import nodley.core.input.InputLimits;
import nodley.core.input.JsonInput;
import nodley.core.submission.Context;
import nodley.core.submission.Lookups;
import nodley.core.submission.RecordSink;
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

/** Groups, rows, choices and secrets, from values to columns and back. */
class NestedTest {

  private static final String TRIP =
      """
      form: trip
      fields:
        name: { type: text }
        at: { type: time }
        seen: { type: datetime }
        wants: { type: choices, options: [water, power] }
        pass: { type: secret }
        mood: { type: text, kept: false }
        contact:
          type: group
          fields:
            mail: { type: email, unique: { ignore-case: true } }
            home: { type: group, fields: { berth: { type: record, form: berth } } }
        crew:
          type: rows
          fields:
            name: { type: text }
            berth: { type: record, form: berth }
            papers: { type: rows, fields: { no: { type: text }, to: { type: date } } }
      """;

  private static final Context ADD =
      Context.add(Clock.fixed(Instant.parse("2027-03-01T12:00:00Z"), ZoneOffset.UTC));

  @TempDir private Path folder;
  private Store store;

  @BeforeEach
  void open() throws Exception {
    store = Store.open(folder);
    publish("form: berth\nfields: { code: { type: text } }");
    publish(TRIP);
  }

  @AfterEach
  void close() {
    store.close();
  }

  private FormPublisher.Published publish(String text) throws FormFileException {
    return TestSubmissions.publish(store, text, FormPublisher.Manner.CAREFUL);
  }

  private PublishedForm form(String name) {
    return store.forms().find(name).orElseThrow();
  }

  private Values values(String form, String json) throws Exception {
    return Submission.check(
            form(form).form(),
            JsonInput.read(json.getBytes(StandardCharsets.UTF_8), InputLimits.DEFAULT),
            ADD,
            Lookups.NONE)
        .values();
  }

  private StoredRecord add(String form, String json) throws Exception {
    return ((RecordSink.Kept<StoredRecord>)
            TestSubmissions.add(store, form(form), values(form, json)))
        .record();
  }

  private List<String> sql(String query) throws SQLException {
    return RawQuery.lines(folder, query);
  }

  private static final String FULL =
      """
      {"name": "North", "at": "10:00:30", "seen": "2027-03-01T10:00:00.250+01:00",
       "wants": ["power", "water"], "mood": "fine", "contact": {"mail": "Ann@a.example"},
       "crew": [{"name": "Ann", "papers": [{"no": "a", "to": "2028-02-29"}, {"no": "b"}]},
                {"name": "Bob", "papers": [{"no": "c"}]}, {"name": "Cy"}]}
      """;

  @Test
  void whatGoesInComesOutAgain() throws Exception {
    StoredRecord kept = add("trip", FULL);
    add("trip", FULL.replace("Ann@", "Other@").replace("North", "South"));
    Values found = store.records().find(form("trip").form(), kept.id()).orElseThrow().values();
    assertThat(found.toJson().toString())
        .isEqualTo(
            "{name=North, at=10:00:30, seen=2027-03-01T09:00:00.250Z, wants=[power, water],"
                + " contact={mail=Ann@a.example}, crew=[{name=Ann, papers=[{no=a, to=2028-02-29},"
                + " {no=b}]}, {name=Bob, papers=[{no=c}]}, {name=Cy}]}");
    assertThat(store.records().list(form("trip").form(), Listing.newest("", 10)).records())
        .extracting(record -> record.values().at(List.of("contact", "mail")).shown())
        .containsExactly("Other@a.example", "Ann@a.example");
  }

  @Test
  void columnsAreNamedByPathAndRowsHaveTablesOfTheirOwn() throws Exception {
    add("trip", FULL);
    assertThat(sql("SELECT name, \"contact.mail\", wants ->> 0 FROM trip"))
        .containsExactly("North|Ann@a.example|power");
    assertThat(sql("SELECT row_number, name FROM \"trip.crew\" ORDER BY 1"))
        .containsExactly("0|Ann", "1|Bob", "2|Cy");
    assertThat(
            sql(
                "SELECT c.row_number, p.row_number, no FROM \"trip.crew.papers\" p"
                    + " JOIN \"trip.crew\" c ON c.row_id = p.outer_row ORDER BY 1, 2"))
        .containsExactly("0|0|a", "0|1|b", "1|0|c");
    assertThat(sql("SELECT name FROM pragma_table_info('trip')")).doesNotContain("mood", "crew");
  }

  @Test
  void anEditPutsOtherRowsInTheirPlaceAndARemovalTakesThemAlong() throws Exception {
    StoredRecord kept = add("trip", FULL);
    TestSubmissions.edit(
        store, form("trip"), kept.id(), 1, values("trip", "{\"crew\": [{\"name\": \"Dee\"}]}"), "");
    assertThat(sql("SELECT row_number, name FROM \"trip.crew\"")).containsExactly("0|Dee");
    assertThat(sql("SELECT count(*) FROM \"trip.crew.papers\"")).containsExactly("0");
    store.recordWriter().remove(form("trip").form(), kept.id(), 2);
    assertThat(sql("SELECT count(*) FROM \"trip.crew\"")).containsExactly("0");
  }

  @Test
  void aUniqueFieldInAGroupIsARealUniqueColumn() throws Exception {
    add("trip", "{\"contact\": {\"mail\": \"Ann@a.example\"}}");
    assertThat(
            TestSubmissions.add(
                store,
                form("trip"),
                values("trip", "{\"contact\": {\"mail\": \"aNN@a.example\"}}")))
        .isEqualTo(new RecordSink.Clash<>(Set.of(0), Set.of(), Set.of()));
    assertThat(sql("SELECT \"unique\" FROM pragma_index_list('trip') WHERE name LIKE '%mail'"))
        .containsExactly("1");
    assertThat(
            TestSubmissions.taken(
                store,
                form("trip"),
                values("trip", "{\"contact\": {\"mail\": \"ANN@A.EXAMPLE\"}}")))
        .containsExactly("contact.mail");
  }

  @Test
  void aReferenceInRowsIsAForeignKey() throws Exception {
    String berth = add("berth", "{\"code\": \"A1\"}").id();
    String trip = add("trip", "{\"crew\": [{\"berth\": \"" + berth + "\"}]}").id();
    assertThatThrownBy(() -> store.recordWriter().remove(form("berth").form(), berth, 1))
        .isInstanceOfSatisfying(
            StoreException.StillReferred.class,
            e ->
                assertThat(e.referrers())
                    .containsExactly(new StoreException.Referrer("trip", "crew.berth", trip)));
    assertThat(
            TestSubmissions.add(
                store, form("trip"), values("trip", "{\"crew\": [{\"berth\": \"gone\"}]}")))
        .isEqualTo(new RecordSink.Clash<>(Set.of(), Set.of(), Set.of("crew.berth")));
    assertThat(sql("SELECT count(*) FROM trip"))
        .as("what was written before its rows were refused is gone")
        .containsExactly("1");
  }

  @Test
  void aSecretIsNeverReadAndABlankOneKeepsTheKeptOne() throws Exception {
    Values sealed = new Values(Map.of("pass", new Value.Text("a digest")));
    StoredRecord kept =
        ((RecordSink.Kept<StoredRecord>) TestSubmissions.add(store, form("trip"), sealed)).record();
    assertThat(kept.values().get("pass")).isEqualTo(Value.BLANK);
    TestSubmissions.edit(
        store, form("trip"), kept.id(), 1, values("trip", "{\"name\": \"x\"}"), "");
    assertThat(sql("SELECT name, pass FROM trip")).containsExactly("x|a digest");
    assertThat(store.records().list(form("trip").form(), Listing.newest("digest", 5)).records())
        .isEmpty();
  }

  @Test
  void aSecretDoesNotBecomeATextThatCouldBeRead() throws Exception {
    TestSubmissions.add(
        store, form("trip"), new Values(Map.of("pass", new Value.Text("a digest"))));
    assertThatThrownBy(() -> publish(TRIP.replace("type: secret", "type: text")))
        .isInstanceOf(StoreException.MigrationConflict.class);
  }

  @Test
  void aFieldThatJoinsRowsIsAColumnThere() throws Exception {
    add("trip", FULL);
    publish(
        TRIP.replace("name: { type: text }\n      berth", "age: { type: integer }\n      berth"));
    assertThat(sql("SELECT name FROM pragma_table_info('trip.crew')")).contains("age");
  }

  /** A kept record is not read back to be answered, so the answer must be what would be read. */
  @Test
  void whatIsAnsweredIsWhatIsRead() throws Exception {
    publish(
        """
        form: depth
        fields:
          level: { type: decimal }
          count: { type: integer }
          dry: { type: boolean }
          on: { type: date }
          pin: { type: secret }
          marks: { type: rows, fields: { pin: { type: secret }, at: { type: decimal } } }
        """);
    for (String json :
        List.of(
            "{}",
            "{\"level\": 0.1, \"count\": 9007199254740991, \"dry\": true, \"on\": \"0001-01-01\"}",
            "{\"level\": 123456789012.345, \"dry\": false, \"pin\": \"quiet water\"}",
            "{\"level\": -1e-20, \"marks\": [{\"pin\": \"deep\"}, {\"at\": 1e20}]}")) {
      assertIsRead("depth", add("depth", json));
    }
    StoredRecord trip = add("trip", FULL);
    assertIsRead("trip", trip);
    Values fewer = values("trip", "{\"crew\": [{\"name\": \"Jory\"}], \"mood\": \"worse\"}");
    assertIsRead(
        "trip",
        ((RecordSink.Kept<StoredRecord>)
                TestSubmissions.edit(store, form("trip"), trip.id(), 1, fewer, "ann"))
            .record());
  }

  private void assertIsRead(String form, StoredRecord answered) {
    assertThat(store.records().find(form(form).form(), answered.id())).contains(answered);
  }
}
