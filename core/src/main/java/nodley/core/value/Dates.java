package nodley.core.value;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Dates: {@code YYYY-MM-DD}, years 0001 to 9999, proleptic Gregorian (HTML "valid date string").
 */
public final class Dates {

  private static final Pattern DATE = Pattern.compile("([0-9]{4})-([0-9]{2})-([0-9]{2})");

  private Dates() {}

  public static Optional<LocalDate> read(String text) {
    Matcher date = DATE.matcher(text);
    if (!date.matches() || date.group(1).equals("0000")) {
      return Optional.empty();
    }
    try {
      return Optional.of(
          LocalDate.of(
              Integer.parseInt(date.group(1)),
              Integer.parseInt(date.group(2)),
              Integer.parseInt(date.group(3))));
    } catch (DateTimeException e) {
      return Optional.empty();
    }
  }
}
