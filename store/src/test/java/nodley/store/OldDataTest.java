package nodley.store;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.zip.GZIPInputStream;
import nodley.core.submission.RecordSink;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.access.Key;
import nodley.store.care.Doctor;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Deliveries;
import nodley.store.delivery.Delivery;
import nodley.store.folder.DataFolder;
import nodley.store.form.PublishedForm;
import nodley.store.publish.RetiredField;
import nodley.store.record.Listing;
import nodley.store.record.Version;
import nodley.store.schema.Schema;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Data that each earlier data version wrote itself; {@code tools/old-data} makes the files, and
 * says what it writes: two boats, of which one was edited, and from version 5 on a field that is
 * retired.
 */
class OldDataTest {

  @TempDir private Path folder;

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18})
  void isMigratedAndUsedAsIfWrittenToday(int version) throws Exception {
    unpack(version);
    try (Store store = Store.open(folder)) {
      PublishedForm boat = store.forms().find("boat").orElseThrow();
      List<StoredRecord> boats = store.records().list(boat.form(), Listing.newest("", 5)).records();
      assertThat(boats)
          .extracting(it -> it.values().get("name"))
          .containsExactly(new Value.Text("Storm Petrel"), new Value.Text("Grey Heron"));
      StoredRecord petrel = boats.getFirst();
      StoredRecord heron = boats.getLast();
      assertThat(petrel.version()).isEqualTo(2);
      // Who added a record is known since version 3, and was kept with what an edit replaced.
      assertThat(boats)
          .extracting(StoredRecord::createdBy, StoredRecord::owner)
          .containsOnly(tuple(version < 3 ? "" : "admin", ""));
      // Before version 3 nobody kept what an edit replaced.
      assertThat(store.records().versions(boat.form(), petrel.id(), 9, 9))
          .extracting(Version::number)
          .containsExactlyElementsOf(version < 3 ? List.of(2L) : List.of(2L, 1L));
      if (version >= 2) {
        assertThat(heron.values().toJson().toString()).contains("crew=[{who=Ann}, {who=Bob}]");
      }
      if (version >= 5) {
        assertThat(store.publisher().retired("boat"))
            .extracting(RetiredField::field, RetiredField::values)
            .containsExactly(tuple("note", 1L));
      } else {
        assertThat(heron.values().get("note")).isEqualTo(new Value.Text("old words"));
      }
      assertThat(store.records().list(boat.form(), Listing.newest("heron", 5)).records())
          .extracting(StoredRecord::id)
          .containsExactly(heron.id());
      Map<String, Value> taken =
          Map.of("name", new Value.Text("Tern"), "sign", new Value.Text("MQ7AB"));
      assertThat(TestSubmissions.taken(store, boat, new Values(taken))).containsExactly("sign");
      Map<String, Value> free =
          Map.of("name", new Value.Text("Tern"), "sign", new Value.Text("MQ1AA"));
      assertThat(TestSubmissions.add(store, boat, new Values(free)))
          .isInstanceOf(RecordSink.Kept.class);
      assertThat(TestSubmissions.edit(store, boat, heron.id(), 1, heron.values(), "ann"))
          .isInstanceOf(RecordSink.Kept.class);
      if (version >= 11) {
        whatIsUniqueOnConditionIsSoStill(store);
      }
      // Before version 11 each key was good for everything.
      assertThat(store.keys().all())
          .extracting(Key::name, Key::roles, Key::forms)
          .containsExactly(tuple("admin", Set.of("admin"), Set.of()));
      assertThat(store.keys().find("a-key-for-old-data")).isPresent();
      if (version >= 18) {
        whatWaitedForAnOutletWaitsStill(store);
      }
    }
    assertThat(RawQuery.lines(folder, "PRAGMA user_version")).containsExactly("" + Schema.VERSION);
    assertThat(Doctor.look(folder, Clock.systemUTC())).allMatch(Doctor.Finding::isWell);
  }

  /** The column for the condition has another name from version 12 on. */
  private void whatIsUniqueOnConditionIsSoStill(Store store) throws Exception {
    PublishedForm pass = store.forms().find("pass").orElseThrow();
    Map<String, Value> taken = Map.of("badge", new Value.Text("B1"), "live", Value.Bool.TRUE);
    assertThat(TestSubmissions.taken(store, pass, new Values(taken))).containsExactly("badge");
    Map<String, Value> idle = Map.of("badge", new Value.Text("B1"), "live", Value.Bool.FALSE);
    assertThat(TestSubmissions.add(store, pass, new Values(idle)))
        .isInstanceOf(RecordSink.Kept.class);
    assertThat(RawQuery.lines(folder, "SELECT name FROM pragma_table_info('pass')"))
        .contains("badge__when")
        .doesNotContain("badge_when");
  }

  /** What numbers a delivery is made of its id from version 19 on. */
  private static void whatWaitedForAnOutletWaitsStill(Store store) {
    Deliveries deliveries = store.deliveries();
    List<Delivery> waiting =
        deliveries.due("office", 9).stream().map(Deliveries.Due::delivery).toList();
    assertThat(waiting)
        .extracting(Delivery::change, it -> deliveries.body(it.id()).orElse("").contains("herring"))
        .containsExactly(tuple("record.added", true), tuple("record.added", false));
    assertThat(waiting).isSortedAccordingTo(Comparator.comparing(Delivery::id));
    for (Delivery each : waiting) {
      assertThat(deliveries.find(each.id())).contains(each);
      assertThat(Long.toHexString(each.number()))
          .isEqualTo(each.id().substring(1, 13).replace("-", "") + each.id().substring(15, 18));
    }
  }

  /** The file is as old as it says. */
  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11})
  void isOfItsVersion(int version) throws Exception {
    unpack(version);
    assertThat(RawQuery.lines(folder, "PRAGMA user_version")).containsExactly("" + version);
  }

  private void unpack(int version) throws IOException {
    String name = "/old-data/" + version + ".db.gz";
    try (InputStream packed = OldDataTest.class.getResourceAsStream(name)) {
      Files.copy(new GZIPInputStream(packed), folder.resolve(DataFolder.FILE));
    }
  }
}
