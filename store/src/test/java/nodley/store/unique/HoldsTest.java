package nodley.store.unique;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.file.FormFile;
import nodley.core.file.FormRegistry;
import nodley.core.file.Format;
import nodley.core.form.Form;
import nodley.core.submission.Context;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.MovableClock;
import nodley.store.Store;
import nodley.store.TestDatabase;
import nodley.store.folder.DataFolder;
import nodley.store.publish.FormPublisher;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Holds end by themselves, whatever the clock does. */
class HoldsTest {

  private static final String FILE = "form: buoy\nfields: { code: { type: text, unique: true } }";
  private static final Holds.Holder ANN = new Holds.Holder("ann", "127.0.0.1");

  @TempDir private Path folder;
  private Store store;
  private Database database;
  private BatchWriter writer;
  private Form form;
  private final MovableClock clock = new MovableClock(Instant.parse("2027-05-01T10:00:00Z"));
  private Holds holds;

  @BeforeEach
  void open() throws Exception {
    store = Store.open(folder);
    form = FormFile.read(FILE, Format.YAML, FormRegistry.UNKNOWN);
    store.publisher().publish(form, FILE, Format.YAML, FormPublisher.Manner.CAREFUL);
    database = TestDatabase.open(folder.resolve(DataFolder.FILE));
    writer = new BatchWriter(database.writer());
    holds = new Holds(database, writer, clock, 20);
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
    store.close();
  }

  private List<UniqueKey> uniqueKeys(String code) {
    Values values = new Values(Map.of("code", new Value.Text(code)));
    return Submission.keys(form, values, Context.add(clock));
  }

  private boolean isHeld(String code) {
    return holds.against(form, uniqueKeys(code), "bo").equals(Set.of(0));
  }

  @Test
  void aHoldEndsAfterTenMinutes() {
    assertThat(holds.hold(form, uniqueKeys("A1"), ANN))
        .isEqualTo(Map.of(0, clock.instant().plus(Duration.ofMinutes(10))));
    clock.advance(Duration.ofMinutes(10).minusMillis(1));
    assertThat(isHeld("A1")).isTrue();
    assertThat(holds.list()).hasSize(1);
    clock.advance(Duration.ofMillis(1));
    assertThat(isHeld("A1")).isFalse();
    assertThat(holds.list()).isEmpty();
    assertThat(holds.hold(form, uniqueKeys("A1"), new Holds.Holder("bo", ""))).containsKey(0);
  }

  @Test
  void aClockThatJumpsBackwardsLeavesNoHoldThatWillNotEnd() {
    holds.hold(form, uniqueKeys("A1"), ANN);
    clock.advance(Duration.ofHours(-5));
    assertThat(isHeld("A1")).isFalse();
    assertThat(holds.hold(form, uniqueKeys("A1"), new Holds.Holder("bo", ""))).containsKey(0);
    assertThat(holds.list()).extracting(Hold::value).containsExactly("[\"A1\"]");
  }

  @Test
  void holdsOfEarlierAreKnownAfterAReopen() {
    holds.hold(form, uniqueKeys("A1"), ANN);
    Holds again = new Holds(database, writer, clock, 20);
    assertThat(again.against(form, uniqueKeys("A1"), "bo")).isEqualTo(Set.of(0));
    again.release("ann");
    assertThat(again.against(form, uniqueKeys("A1"), "bo")).isEmpty();
    assertThat(store.records().taken(form, uniqueKeys("A1"), Optional.empty())).isEmpty();
  }
}
