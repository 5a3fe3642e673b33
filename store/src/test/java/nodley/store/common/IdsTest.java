package nodley.store.common;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.Test;

class IdsTest {

  private static final Instant NOON = Instant.parse("2027-03-01T12:00:00Z");

  @Test
  void idsAreUuidsOfVersionSevenWithTheirTime() {
    UUID id = UUID.fromString(new Ids(Clock.fixed(NOON, ZoneOffset.UTC), Optional.empty()).next());
    assertThat(id.version()).isEqualTo(7);
    assertThat(id.variant()).isEqualTo(2);
    assertThat(id.getMostSignificantBits() >>> 16).isEqualTo(NOON.toEpochMilli());
  }

  @Test
  void idsOfOneMillisecondSortInTheOrderOfTheirMaking() {
    Ids ids = new Ids(Clock.fixed(NOON, ZoneOffset.UTC), Optional.empty());
    List<String> made = new ArrayList<>();
    for (int i = 0; i < 10_000; i++) {
      made.add(ids.next());
    }
    assertThat(made).isSorted().doesNotHaveDuplicates();
  }

  @Test
  void goesOnFromTheLatestThatIsKeptWhereTheClockWasSetBack() {
    String latest = new Ids(Clock.fixed(NOON, ZoneOffset.UTC), Optional.empty()).next();
    Clock back = Clock.fixed(NOON.minusSeconds(3_600), ZoneOffset.UTC);
    Ids ids = new Ids(back, Optional.of(latest));
    String first = ids.next();
    assertThat(first).isGreaterThan(latest);
    assertThat(ids.next()).isGreaterThan(first);
  }

  /** By the layout of RFC 9562, section 5.7: 48 bits of time, 4 of version, 12 more. */
  @Test
  void anIdSortsByItsTimeAndItsCounter() {
    assertThat(Ids.order("0196f3a1-b2c3-7abc-8def-001122334455")).isEqualTo(0x0196f3a1b2c3abcL);
    assertThat(Ids.order("ffffffff-ffff-7fff-8def-001122334455")).isEqualTo(0xfffffffffffffffL);
    assertThat(Ids.order("grey-heron")).isEqualTo(-1);
    assertThat(Ids.order("")).isEqualTo(-1);
  }
}
