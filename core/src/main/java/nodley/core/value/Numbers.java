package nodley.core.value;

import java.math.BigDecimal;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * Exact decimal numbers: how they are read from text, bounded, and written. They are {@code
 * BigDecimal}s throughout and never binary floating point, so that what is stored is what was
 * typed. Stateless.
 */
public final class Numbers {

  /** The largest integer that JavaScript, JSON and SQLite all carry exactly: 2^53 − 1. */
  public static final BigDecimal MAX_INTEGER = BigDecimal.valueOf(9_007_199_254_740_991L);

  /** Decimals keep at most this many significant digits, which a 64-bit float carries exactly. */
  public static final int MAX_DIGITS = 15;

  /** The largest exponent, either way, that a JSON number may write. */
  public static final int MAX_EXPONENT = 30;

  /** No number has its first or last digit further from the point than this. */
  public static final int MAX_PLACES = 100;

  private static final int MAX_TEXT = 1_000;

  /** HTML "valid floating-point number" without an exponent. */
  private static final Pattern PLAIN = Pattern.compile("-?([0-9]+(\\.[0-9]+)?|\\.[0-9]+)");

  private Numbers() {}

  /** Reads plain notation such as {@code -12.50}; anything else is empty. */
  public static Optional<BigDecimal> read(String text) {
    if (text.length() > MAX_TEXT || !PLAIN.matcher(text).matches()) {
      return Optional.empty();
    }
    return Optional.of(standard(new BigDecimal(text)));
  }

  /** The one form of a number: no trailing zeros after the point, no exponent. */
  public static BigDecimal standard(BigDecimal number) {
    if (number.scale() == 0) {
      return number;
    }
    BigDecimal stripped = number.stripTrailingZeros();
    return stripped.scale() < 0 ? stripped.setScale(0) : stripped;
  }

  /** Returns a number without exponent and without zeros at its end. */
  public static String plain(BigDecimal number) {
    return standard(number).toPlainString();
  }

  /** True if the number has no more than {@link #MAX_DIGITS} significant digits. */
  public static boolean isPrecise(BigDecimal number) {
    return number.precision() <= MAX_DIGITS
        || number.stripTrailingZeros().precision() <= MAX_DIGITS;
  }

  /** True if the number is within what a 64-bit float can carry, with room to spare. */
  public static boolean isInReach(BigDecimal number) {
    if (number.scale() >= 0 && number.scale() <= MAX_PLACES && number.precision() <= MAX_PLACES) {
      return true;
    }
    BigDecimal stripped = number.stripTrailingZeros();
    return stripped.scale() <= MAX_PLACES && stripped.precision() - stripped.scale() <= MAX_PLACES;
  }

  /** True if a number has no fraction. */
  public static boolean isInteger(BigDecimal number) {
    boolean whole = number.scale() <= 0 || number.stripTrailingZeros().scale() <= 0;
    return whole && number.abs().compareTo(MAX_INTEGER) <= 0;
  }
}
