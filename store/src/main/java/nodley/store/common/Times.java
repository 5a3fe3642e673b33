package nodley.store.common;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;

/** Formats moments as they are stored and sent: RFC 3339, UTC, with milliseconds. */
public final class Times {

  private static final DateTimeFormatter FORMAT =
      DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss.SSS'Z'").withZone(ZoneOffset.UTC);

  private Times() {}

  /** Returns the current time as it is stored. */
  public static String now() {
    return of(Instant.now());
  }

  /** Formats a moment as it is stored. */
  public static String of(Instant moment) {
    return FORMAT.format(moment);
  }
}
