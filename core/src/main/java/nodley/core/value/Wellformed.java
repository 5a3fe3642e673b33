package nodley.core.value;

/** Checks that text can be stored and sent: Unicode scalar values only, and no NUL. */
public final class Wellformed {

  private static final char REPLACEMENT = '\uFFFD';

  private Wellformed() {}

  /** True if the text has no NUL and no unpaired surrogate. */
  public static boolean is(String text) {
    // Counted by one and without a turn-off, so that the compiler makes the most of it.
    int length = text.length();
    for (int i = 0; i < length; i++) {
      char c = text.charAt(i);
      if (c == 0 || Character.isSurrogate(c)) {
        return c != 0 && isFrom(text, i);
      }
    }
    return true;
  }

  /** The same from a surrogate on. */
  private static boolean isFrom(String text, int start) {
    for (int i = start; i < text.length(); i++) {
      char c = text.charAt(i);
      if (c == 0 || Character.isSurrogate(c) && !isPairAt(text, i)) {
        return false;
      }
      i += Character.isSurrogate(c) ? 1 : 0;
    }
    return true;
  }

  /** The text with U+FFFD for NUL and for every unpaired surrogate, so that UTF-8 can carry it. */
  public static String of(String text) {
    if (is(text)) {
      return text;
    }
    var out = new StringBuilder(text.length());
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (Character.isSurrogate(c) && isPairAt(text, i)) {
        out.append(c).append(text.charAt(++i));
      } else {
        out.append(c == 0 || Character.isSurrogate(c) ? REPLACEMENT : c);
      }
    }
    return out.toString();
  }

  private static boolean isPairAt(String text, int i) {
    return i + 1 < text.length() && Character.isSurrogatePair(text.charAt(i), text.charAt(i + 1));
  }
}
