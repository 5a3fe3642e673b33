package nodley.core.form;

import java.time.Duration;
import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/**
 * How much one address may send of a form while nobody is known to send it.
 *
 * @param add adds and edits; empty for what the service allows
 * @param check early checks; empty for what the service allows
 */
public record Pace(Optional<Rate> add, Optional<Rate> check) {

  /** A form that says nothing of it. */
  public static final Pace OF_SERVICE = new Pace(Optional.empty(), Optional.empty());

  /** Lengths of time. */
  public enum Unit {
    SECOND(Duration.ofSeconds(1)),
    MINUTE(Duration.ofMinutes(1)),
    HOUR(Duration.ofHours(1)),
    DAY(Duration.ofDays(1));

    private final Duration length;

    Unit(Duration length) {
      this.length = length;
    }

    /** Returns how long it is. */
    public Duration length() {
      return length;
    }

    /** Returns the word for it in form files. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** Returns the one that a word of a form file means; empty for another word. */
    public static Optional<Unit> of(String word) {
      return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
    }
  }

  /**
   * So many in a unit of time.
   *
   * @param count from 1 up
   */
  public record Rate(int count, Unit unit) {}
}
