package nodley.store.common;

import java.time.Duration;

/**
 * Limits of a store.
 *
 * @param waiting submissions that wait to be written at once
 * @param turn how long one of them waits
 * @param holdsPerAddress unique values that are held for pages at one address
 * @param logRows attempts that are kept, of all forms together
 * @param logBytes bytes of them, of all forms together
 * @param logBytesPerForm bytes of those of one form
 * @param uploads limits of files that no record has yet
 * @param drafts limits of unfinished submissions
 * @param freeDisk bytes; where the disk has less left, the log of attempts gives way
 */
public record StoreLimits(
    int waiting,
    Duration turn,
    int holdsPerAddress,
    long logRows,
    long logBytes,
    long logBytesPerForm,
    long freeDisk,
    UploadLimits uploads,
    DraftLimits drafts) {

  public static final StoreLimits DEFAULT =
      new StoreLimits(
          1_024,
          Duration.ofSeconds(10),
          20,
          1_000_000,
          1L << 30,
          256L << 20,
          128L << 20,
          UploadLimits.DEFAULT,
          DraftLimits.DEFAULT);
}
