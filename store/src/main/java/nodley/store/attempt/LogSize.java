package nodley.store.attempt;

import java.util.Comparator;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentSkipListMap;
import nodley.store.sqlite.EngineSql;

/**
 * Counts the logged attempts of each form and their bytes (estimated), as of the last commit.
 * Reading is thread-safe; it is changed after commits only, by one thread at a time.
 */
final class LogSize {

  /** What an attempt takes besides its texts: numbers, ids, its entries in the indexes. */
  private static final int BESIDES = 300;

  /** The same by SQLite, for an attempt that is kept. */
  static final String BYTES =
      EngineSql.bytes("errors") + " + " + EngineSql.bytes("account") + " + " + BESIDES;

  private record Size(long rows, long bytes) {

    Size plus(Size other) {
      return new Size(rows + other.rows, bytes + other.bytes);
    }
  }

  private long changes;
  private final Map<String, Size> byForm = new ConcurrentSkipListMap<>();

  /** Returns the estimated bytes of an attempt: its texts in UTF-8, and a constant for the rest. */
  static long bytes(Attempt attempt) {
    return octets(attempt.errors()) + octets(attempt.account()) + BESIDES;
  }

  /** The length of a text in UTF-8 (RFC 3629). */
  private static long octets(String text) {
    long octets = text.length();
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      // Each half of a surrogate pair stands for two of its four bytes.
      octets += c < 0x80 ? 0 : c < 0x800 || Character.isSurrogate(c) ? 1 : 2;
    }
    return octets;
  }

  /** Goes up with each change. */
  long changes() {
    return changes;
  }

  /** Adds to the counts of a form; negative numbers for what is deleted. Writer thread only. */
  void add(String form, long rows, long bytes) {
    changes++;
    byForm.merge(form, new Size(rows, bytes), Size::plus);
  }

  /** Returns the number of attempts of all forms. */
  long rows() {
    return byForm.values().stream().mapToLong(Size::rows).sum();
  }

  /** Returns the bytes of the attempts of all forms. */
  long bytes() {
    return byForm.values().stream().mapToLong(Size::bytes).sum();
  }

  /** Returns the bytes of the attempts of one form. */
  long bytes(String form) {
    Size size = byForm.get(form);
    return size == null ? 0 : size.bytes();
  }

  /** The form whose attempts take the most bytes, if they take more than these. */
  Optional<String> largest(long bytes) {
    return byForm.entrySet().stream()
        .filter(it -> it.getValue().bytes() > bytes)
        .max(Comparator.comparingLong(it -> it.getValue().bytes()))
        .map(Map.Entry::getKey);
  }

  /** The form that has the most attempts. */
  Optional<String> longest() {
    return byForm.entrySet().stream()
        .max(Comparator.comparingLong(it -> it.getValue().rows()))
        .map(Map.Entry::getKey);
  }
}
