package nodley.core.value;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.Month;
import java.time.Period;
import java.time.Year;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Dates, times and moments: proleptic Gregorian, years 0001 to 9999.
 *
 * <p>A date is HTML's "valid date string"; a time {@code hh:mm} or {@code hh:mm:ss}; a moment RFC
 * 3339 with an offset, or, as HTML's datetime-local control writes it, without.
 */
public final class Dates {

  private static final Instant FIRST = Instant.parse("0001-01-01T00:00:00Z");
  private static final Instant LAST = Instant.parse("9999-12-31T23:59:59.999Z");
  private static final Pattern MOMENT =
      Pattern.compile(
          "([0-9]{4}-[0-9]{2}-[0-9]{2})[Tt]([0-9]{2}:[0-9]{2}(?::[0-9]{2})?)(?:\\.([0-9]{1,9}))?"
              + "([Zz]|[+-][0-9]{2}:[0-9]{2})?");

  private Dates() {}

  /** Reads {@code YYYY-MM-DD}. */
  public static Optional<LocalDate> read(String text) {
    if (text.length() != 10 || text.charAt(4) != '-' || text.charAt(7) != '-') {
      return Optional.empty();
    }
    int year = number(text, 0, 4);
    int month = number(text, 5, 7);
    int day = number(text, 8, 10);
    if (year < 1 || month < 1 || month > 12 || day < 1) {
      return Optional.empty();
    }
    boolean exists = day <= 28 || day <= Month.of(month).length(Year.isLeap(year));
    return exists ? Optional.of(LocalDate.of(year, month, day)) : Optional.empty();
  }

  /**
   * A date so much later, or earlier; nothing beyond the years 0001 to 9999. Months end early where
   * they are too short: a month after January 31st is the last day of February.
   */
  public static Optional<LocalDate> moved(LocalDate date, Period by) {
    return Optional.of(date.plus(by)).filter(it -> it.getYear() >= 1 && it.getYear() <= 9999);
  }

  /** Reads {@code hh:mm} or {@code hh:mm:ss}. */
  public static Optional<LocalTime> time(String text) {
    boolean seconds = text.length() == 8 && text.charAt(5) == ':';
    if (!(seconds || text.length() == 5) || text.charAt(2) != ':') {
      return Optional.empty();
    }
    int hour = number(text, 0, 2);
    int minute = number(text, 3, 5);
    int second = seconds ? number(text, 6, 8) : 0;
    boolean fits =
        hour >= 0 && hour < 24 && minute >= 0 && minute < 60 && second >= 0 && second < 60;
    return fits ? Optional.of(LocalTime.of(hour, minute, second)) : Optional.empty();
  }

  /**
   * Reads a moment, to the millisecond; what is finer is cut off.
   *
   * @param zone where a time without an offset is meant; of two such moments the earlier, and none
   *     where a clock change skips the time
   */
  public static Optional<Instant> moment(String text, ZoneId zone) {
    Matcher parts = MOMENT.matcher(text);
    if (!parts.matches()) {
      return Optional.empty();
    }
    Optional<LocalDate> date = read(parts.group(1));
    Optional<LocalTime> time = time(parts.group(2));
    boolean bare =
        parts.group(2).length() == 5 && (parts.group(3) != null || parts.group(4) != null);
    if (date.isEmpty() || time.isEmpty() || bare) {
      return Optional.empty();
    }
    String fraction = parts.group(3) == null ? "0" : parts.group(3);
    int millis = Integer.parseInt((fraction + "00").substring(0, 3));
    LocalDateTime local = date.get().atTime(time.get()).plusNanos(millis * 1_000_000L);
    return at(local, parts.group(4), zone)
        .filter(moment -> !moment.isBefore(FIRST) && !moment.isAfter(LAST));
  }

  private static Optional<Instant> at(LocalDateTime local, String offset, ZoneId zone) {
    if (offset == null) {
      List<ZoneOffset> offsets = zone.getRules().getValidOffsets(local);
      return offsets.stream().map(local::toInstant).min(Instant::compareTo);
    }
    if (offset.equalsIgnoreCase("z")) {
      return Optional.of(local.toInstant(ZoneOffset.UTC));
    }
    int hours = number(offset, 1, 3);
    int minutes = number(offset, 4, 6);
    if (hours > 23 || minutes > 59) {
      return Optional.empty();
    }
    int ahead = (hours * 60 + minutes) * (offset.charAt(0) == '-' ? -1 : 1);
    try {
      return Optional.of(local.minusMinutes(ahead).toInstant(ZoneOffset.UTC));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }

  /** The number that these digits write; −1 if they are not all digits. */
  private static int number(String text, int from, int to) {
    int number = 0;
    for (int i = from; i < to; i++) {
      int digit = text.charAt(i) - '0';
      if (digit < 0 || digit > 9) {
        return -1;
      }
      number = number * 10 + digit;
    }
    return number;
  }
}
