package nodley.bench.store;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.UUID;

/** Made-up vessels, each told by its number: the same number gives the same vessel. */
final class Vessels {

  private static final List<String> FIRST =
      List.of(
          "Grey",
          "White",
          "Little",
          "Old",
          "Proud",
          "Merry",
          "Silent",
          "Northern",
          "Bright",
          "Brave",
          "Quick",
          "Patient",
          "Lucky",
          "Evening",
          "Morning",
          "Golden");
  private static final List<String> SECOND =
      List.of(
          "Heron",
          "Petrel",
          "Tern",
          "Gull",
          "Plover",
          "Curlew",
          "Sanderling",
          "Dunlin",
          "Avocet",
          "Cormorant",
          "Gannet",
          "Puffin",
          "Shearwater",
          "Skua",
          "Guillemot",
          "Razorbill",
          "Turnstone",
          "Whimbrel",
          "Knot",
          "Ruff");

  private static final Instant BEGINNING = Instant.parse("2015-01-01T00:00:00Z");
  private static final LocalDate OLDEST = LocalDate.of(1900, 1, 1);

  /** Coprime to ten, so that no two vessels have the same official number. */
  private static final long STEP = 387_420_489L;

  private static final long OFFICIAL_NUMBERS = 1_000_000_000L;

  private Vessels() {}

  static String name(long n) {
    return first(n) + " " + second(n);
  }

  static String first(long n) {
    return FIRST.get((int) (n % FIRST.size()));
  }

  static String second(long n) {
    return SECOND.get((int) (n / FIRST.size() % SECOND.size()));
  }

  static String callSign(long n) {
    return "M" + n % 10 + Long.toString(n / 10, 36).toUpperCase(Locale.ROOT);
  }

  static String officialNumber(long n) {
    String digits = Long.toString(n * STEP % OFFICIAL_NUMBERS);
    return "0".repeat(9 - digits.length()) + digits;
  }

  static double length(long n) {
    return (200 + n % 5_800) / 100.0;
  }

  static LocalDate built(long n) {
    return OLDEST.plusDays(n % 45_000);
  }

  static Instant createdAt(long n) {
    return BEGINNING.plusMillis(n);
  }

  /** UUIDv7 (RFC 9562): the time, and the number where chance would be. */
  static String id(long n) {
    return new UUID(createdAt(n).toEpochMilli() << 16 | 0x7000, 0x8000_0000_0000_0000L | n)
        .toString();
  }

  static String json(long n) {
    return """
    {"name": "%s", "callSign": "%s", "officialNumber": "%s", "rig": "sail", "length": %s, "built": "%s", "insured": true}\
    """
        .formatted(name(n), callSign(n), officialNumber(n), length(n), built(n));
  }
}
