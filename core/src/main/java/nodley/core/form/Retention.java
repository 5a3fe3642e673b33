package nodley.core.form;

import java.time.Instant;
import java.time.Period;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How long records are kept, and what becomes of a person's records when the person is forgotten.
 *
 * @param keepFor since they were added; empty for as long as nobody removes them
 * @param blanked the names of the fields that {@link Forgetting#BLANK} makes blank; else none
 */
public record Retention(Optional<Period> keepFor, Forgetting forgetting, List<String> blanked) {

  /** A form that says nothing of it. */
  public static final Retention FOR_EVER =
      new Retention(Optional.empty(), Forgetting.KEEP, List.of());

  /** What becomes of the records of a person who is forgotten. */
  public enum Forgetting {
    /** They go. */
    REMOVE,
    /** Some of their fields become blank, in earlier versions too. */
    BLANK,
    /** They stay as they are, and are nobody's. */
    KEEP;

    /** Returns the word for it in form files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  public Retention {
    blanked = List.copyOf(blanked);
  }

  /** Returns the moment before which records have been added that are to go; empty for none. */
  public Optional<Instant> oldest(Instant now) {
    return keepFor.map(it -> now.atZone(ZoneOffset.UTC).minus(it).toInstant());
  }

  /** Returns a time in words, such as {@code 2 years}. */
  public static String words(Period time) {
    if (time.getYears() > 0) {
      return words(time.getYears(), "year");
    }
    return time.getMonths() > 0 ? words(time.getMonths(), "month") : words(time.getDays(), "day");
  }

  private static String words(int count, String unit) {
    return count + " " + unit + (count == 1 ? "" : "s");
  }
}
