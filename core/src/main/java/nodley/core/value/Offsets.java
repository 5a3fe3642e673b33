package nodley.core.value;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.zone.ZoneOffsetTransition;
import java.time.zone.ZoneRules;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * Computes the date in a time zone. The offset is cached between two changes of the zone's clocks.
 * Thread-safe.
 */
public final class Offsets {

  private static final int DAY = 86_400;

  private static final Map<ZoneId, Offset> LAST = new ConcurrentHashMap<>();

  /** How far a zone is ahead of UTC, in seconds, from one second of the epoch until another. */
  private record Offset(long from, long until, int ahead) {

    static Offset of(ZoneId zone, Instant moment) {
      ZoneRules rules = zone.getRules();
      // A change at this very moment is one before it.
      ZoneOffsetTransition before = rules.previousTransition(moment.plusNanos(1));
      ZoneOffsetTransition after = rules.nextTransition(moment);
      return new Offset(
          before == null ? Long.MIN_VALUE : before.toEpochSecond(),
          after == null ? Long.MAX_VALUE : after.toEpochSecond(),
          rules.getOffset(moment).getTotalSeconds());
    }

    boolean isInForce(long second) {
      return from <= second && second < until;
    }
  }

  private Offsets() {}

  /** The day that a moment falls on in a zone. */
  public static LocalDate day(Instant moment, ZoneId zone) {
    long second = moment.getEpochSecond();
    Offset offset = LAST.get(zone);
    if (offset == null || !offset.isInForce(second)) {
      offset = Offset.of(zone, moment);
      LAST.put(zone, offset);
    }
    return LocalDate.ofEpochDay(Math.floorDiv(second + offset.ahead(), DAY));
  }
}
