package nodley.store.delivery;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import nodley.store.MovableClock;
import nodley.store.TestDatabase;
import nodley.store.access.SignedTokens;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What waits, in which order, and for how long, by a clock that is set by hand. */
class DeliveriesTest {

  private static final Instant START = Instant.parse("2027-05-01T10:00:00Z");

  @TempDir private Path folder;

  private final MovableClock clock = new MovableClock(START);
  private Database database;
  private BatchWriter writer;
  private Deliveries deliveries;

  @BeforeEach
  void open() throws Exception {
    database = TestDatabase.open(folder.resolve(DataFolder.FILE));
    writer = new BatchWriter(database.writer());
    deliveries = opened();
  }

  private Deliveries opened() throws Exception {
    var tokens = new SignedTokens(folder.resolve(SignedTokens.FILE), database, writer);
    return new Deliveries(database, writer, clock, tokens);
  }

  @AfterEach
  void close() {
    writer.close();
    database.close();
  }

  private void add(String record, int version, boolean isBrief) {
    var outgoing =
        new Outgoing(
            "office",
            "visit",
            record,
            version,
            "record.added",
            "",
            "{\"a\":\"grey\"}",
            isBrief,
            Optional.empty());
    writer.write(
        on -> {
          deliveries.add(on, List.of(deliveries.sealed(outgoing)));
          return true;
        });
  }

  private List<String> due() {
    return deliveries.due("office", 10).stream()
        .map(it -> it.delivery().record() + it.delivery().version())
        .toList();
  }

  private Delivery first() {
    return deliveries.due("office", 1).getFirst().delivery();
  }

  private void postpone(Duration wait) {
    deliveries.settle(
        List.of(new Deliveries.Outcome.Postponed(first(), "500", clock.instant().plus(wait))));
  }

  @Test
  void ofOneRecordTheFirstIsDueAlone() {
    add("a", 1, false);
    add("a", 2, false);
    add("b", 1, false);
    assertThat(due()).containsExactly("a1", "b1");
    deliveries.settle(List.of(new Deliveries.Outcome.Delivered(first(), "204")));
    assertThat(due()).containsExactly("a2", "b1");
  }

  /** Whoever waits for the next one must not wake for one that cannot go before. */
  @Test
  void whatStandsBehindAPostponedOneIsNotNext() {
    add("a", 1, false);
    add("a", 2, false);
    postpone(Duration.ofHours(1));
    assertThat(due()).isEmpty();
    assertThat(deliveries.nextDue("office")).contains(START.plus(Duration.ofHours(1)));
    assertThat(deliveries.nextDue("another")).isEmpty();
  }

  @Test
  void triesBeginWithTheFirstOneOrWhenTheOutletIsSwitchedOn() {
    add("a", 1, false);
    clock.set(START.plus(Duration.ofDays(3)));
    postpone(Duration.ZERO);
    assertThat(first().since()).isEqualTo(clock.instant());
    Instant tried = clock.instant();
    clock.advance(Duration.ofHours(5));
    postpone(Duration.ZERO);
    assertThat(first().since()).isEqualTo(tried);
    deliveries.outlets().switchOff("office", "answered 410 Gone");
    assertThat(deliveries.outlets().isOff("office")).isTrue();
    clock.advance(Duration.ofDays(2));
    deliveries.outlets().switchOn("office");
    assertThat(first().since()).isEqualTo(clock.instant());
    assertThat(deliveries.outlets().standing("office").offSince()).isEmpty();
  }

  @Test
  void whatIsBriefIsEncryptedAndGoneOnceItIsDelivered() throws Exception {
    add("a", 1, true);
    String id = first().id();
    assertThat(deliveries.body(id)).contains("{\"a\":\"grey\"}");
    for (String file : List.of(DataFolder.FILE, DataFolder.FILE + "-wal")) {
      byte[] bytes = Files.readAllBytes(folder.resolve(file));
      assertThat(new String(bytes, StandardCharsets.ISO_8859_1)).doesNotContain("grey");
    }
    deliveries.settle(List.of(new Deliveries.Outcome.Delivered(first(), "204")));
    assertThat(deliveries.find(id)).isEmpty();
  }

  @Test
  void whatARecordToldIsForgottenWithItAndWhatWaitsStillGoes() {
    add("a", 1, false);
    String told = first().id();
    deliveries.settle(List.of(new Deliveries.Outcome.Delivered(first(), "204")));
    add("a", 2, false);
    writer.write(
        on -> {
          Deliveries.forgetValues(on, "visit", "a");
          return true;
        });
    assertThat(deliveries.body(told)).isEmpty();
    assertThat(deliveries.again(told)).isFalse();
    assertThat(deliveries.due("office", 1).getFirst().body()).contains("{\"a\":\"grey\"}");
    deliveries.settle(List.of(new Deliveries.Outcome.Delivered(first(), "204")));
    assertThat(deliveries.due("office", 1)).isEmpty();
  }

  @Test
  void whatHasEndedIsKeptForThirtyDays() {
    add("a", 1, false);
    String id = first().id();
    deliveries.settle(List.of(new Deliveries.Outcome.Failed(first(), "500")));
    add("b", 1, false);
    clock.set(START.plus(Duration.ofDays(30)));
    deliveries.sweep();
    assertThat(deliveries.find(id)).map(Delivery::state).contains(Delivery.State.FAILED);
    clock.advance(Duration.ofMillis(1));
    deliveries.sweep();
    assertThat(deliveries.find(id)).isEmpty();
    assertThat(due()).as("what waits is kept however long").containsExactly("b1");
    var wanted =
        new Deliveries.Wanted(
            Optional.empty(),
            Optional.of("office"),
            Optional.empty(),
            Optional.empty(),
            Long.MAX_VALUE,
            10);
    assertThat(deliveries.list(wanted)).hasSize(1);
  }

  @Test
  void anIdThatOnlyBeginsLikeOneIsNone() {
    add("a", 1, false);
    String id = first().id();
    String other = id.substring(0, 24) + (id.endsWith("0") ? "1" : "0").repeat(12);
    assertThat(deliveries.find(other)).isEmpty();
    assertThat(deliveries.body(other)).isEmpty();
    assertThat(deliveries.again(other)).isFalse();
    assertThat(deliveries.find("grey-heron")).isEmpty();
    assertThat(deliveries.find(id)).isPresent();
  }

  /** Their order is that of their acceptance, whatever the clock says. */
  @Test
  void deliveriesAfterAStartFollowThoseBefore() throws Exception {
    add("a", 1, false);
    clock.set(START.minus(Duration.ofHours(1)));
    deliveries = opened();
    add("a", 2, false);
    clock.set(START.plus(Duration.ofHours(1)));
    assertThat(due()).containsExactly("a1");
    deliveries.settle(List.of(new Deliveries.Outcome.Delivered(first(), "204")));
    assertThat(due()).containsExactly("a2");
  }
}
