package nodley.core.value;

import java.time.Period;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/** Units by which dates are moved: days, weeks, months, years. */
public enum DateUnit {
  DAYS(1, false),
  WEEKS(7, false),
  MONTHS(1, true),
  YEARS(12, true);

  /** The words for units, in the plural. */
  public static final List<String> WORDS = Stream.of(values()).map(DateUnit::word).toList();

  private final int size;
  private final boolean inMonths;

  DateUnit(int size, boolean inMonths) {
    this.size = size;
    this.inMonths = inMonths;
  }

  /** The unit that a word stands for, in the singular or plural. */
  public static Optional<DateUnit> of(String word) {
    return Stream.of(values())
        .filter(it -> word.equals(it.word()) || (word + "s").equals(it.word()))
        .findFirst();
  }

  /** How many days it has, or months if it is counted in months. */
  public int size() {
    return size;
  }

  /** True for months and years, whose days differ. */
  public boolean isInMonths() {
    return inMonths;
  }

  /**
   * A number of units.
   *
   * @throws ArithmeticException beyond the range of int
   */
  public Period times(int count) {
    int all = Math.multiplyExact(count, size);
    return inMonths ? Period.ofMonths(all) : Period.ofDays(all);
  }

  private String word() {
    return name().toLowerCase(Locale.ROOT);
  }
}
