package nodley.core.value;

/** Names of people that other sites tell: one line, which hides nothing where it is listed. */
public final class OneLine {

  private static final int LONGEST = 300;

  private OneLine() {}

  /** Returns whether a text has no control, format or separator character, and no half of one. */
  public static boolean isPlain(String text) {
    return text.codePoints()
        .map(Character::getType)
        .noneMatch(
            type ->
                type == Character.CONTROL
                    || type == Character.FORMAT
                    || type == Character.SURROGATE
                    || type == Character.LINE_SEPARATOR
                    || type == Character.PARAGRAPH_SEPARATOR);
  }

  /** Returns the beginning of a text as one line of up to 300 characters, for a log. */
  public static String cut(String text) {
    String beginning = text.substring(0, Math.min(text.length(), LONGEST));
    return beginning.replaceAll("[\\p{Cc}\\p{Cf}\\p{Cs}\\p{Zl}\\p{Zp}]", " ");
  }

  /** Returns whether a text has up to so many characters (code points). */
  public static boolean isUpTo(int most, String text) {
    return text.codePointCount(0, text.length()) <= most;
  }
}
