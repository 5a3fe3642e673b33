package nodley.store;

import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;

/** Moments as they are kept and sent: RFC 3339, UTC, to the millisecond. */
final class Times {

  private static final DateTimeFormatter FORMAT =
      DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss.SSS'Z'").withZone(ZoneOffset.UTC);

  private Times() {}

  static String now() {
    return of(Instant.now());
  }

  static String of(Instant moment) {
    return FORMAT.format(moment);
  }
}
