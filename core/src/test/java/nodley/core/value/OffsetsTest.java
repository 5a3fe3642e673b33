package nodley.core.value;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** The day of a moment, also where the clocks have been changed since the one before. */
class OffsetsTest {

  @ParameterizedTest
  @CsvSource({
    // Portugal's clocks went an hour on at 2027-03-28T01:00Z, and go back at 2027-10-31T01:00Z.
    "2027-03-27T23:30:00Z, Europe/Lisbon, 2027-03-27",
    "2027-03-28T23:30:00Z, Europe/Lisbon, 2027-03-29",
    "2027-10-30T23:30:00Z, Europe/Lisbon, 2027-10-31",
    "2027-10-31T23:30:00Z, Europe/Lisbon, 2027-10-31",
    "2027-03-27T23:30:00Z, Europe/Lisbon, 2027-03-27",
    "2027-03-01T12:00:00Z, Pacific/Kiritimati, 2027-03-02",
    "2027-03-01T10:00:00Z, Pacific/Pago_Pago, 2027-02-28",
    "1969-12-31T23:59:59.999Z, UTC, 1969-12-31",
    "0001-01-01T00:00:00Z, UTC, 0001-01-01",
    "9999-12-31T23:59:59.999Z, UTC, 9999-12-31"
  })
  void theDayOfAMoment(Instant moment, ZoneId zone, LocalDate day) {
    assertThat(Offsets.day(moment, zone)).isEqualTo(day);
  }

  /** Apia left out the whole of 2011-12-30; Gaza's clocks have gone back just after midnight. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "Europe/Lisbon",
        "Pacific/Apia",
        "America/St_Johns",
        "Asia/Gaza",
        "Asia/Kathmandu",
        "+05:30"
      })
  void isWhatTheJdkMakesOfIt(String name) {
    ZoneId zone = ZoneId.of(name);
    Random random = new Random(20_261_125);
    for (int i = 0; i < 20_000; i++) {
      Instant moment =
          Instant.ofEpochMilli(random.nextLong(-3_000_000_000_000L, 4_000_000_000_000L));
      assertThat(Offsets.day(moment, zone))
          .as("%s in %s", moment, zone)
          .isEqualTo(LocalDate.ofInstant(moment, zone));
    }
  }

  @Test
  void atTheVeryMomentOfEachChange() {
    ZoneId zone = ZoneId.of("America/St_Johns");
    Instant change = Instant.parse("1970-01-01T00:00:00Z");
    for (int i = 0; i < 100; i++) {
      change = zone.getRules().nextTransition(change).getInstant();
      for (int seconds = -1; seconds <= 1; seconds++) {
        Instant moment = change.plusSeconds(seconds);
        assertThat(Offsets.day(moment, zone)).isEqualTo(LocalDate.ofInstant(moment, zone));
      }
    }
  }
}
