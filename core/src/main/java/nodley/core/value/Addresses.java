package nodley.core.value;

/** What e-mail and web addresses look like, as regular expressions for the whole value. */
public final class Addresses {

  /** Unicode's property White_Space (PropList.txt), for a character class. */
  public static final String WHITE =
      "\\u0009-\\u000D\\u0020\\u0085\\u00A0\\u1680\\u2000-\\u200A\\u2028\\u2029\\u202F\\u205F\\u3000";

  /** HTML, "valid email address" (the production behind {@code type=email}). */
  public static final String EMAIL =
      "[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+"
          + "@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?"
          + "(?:\\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*";

  /** An absolute http or https address with a host (RFC 3986), without white space. */
  public static final String URL =
      "[hH][tT][tT][pP][sS]?://"
          + "(?:[^/?#@"
          + WHITE
          + "]*@)?"
          + "(?:\\[[0-9A-Fa-f:.]+\\]|[^/?#@:\\[\\]<>\\\\^`{|}\"%"
          + WHITE
          + "]+)"
          + "(?::[0-9]{1,5})?"
          + "(?:[/?#][^"
          + WHITE
          + "]*)?";

  private static final int MAX_LABEL = 63;
  private static final String SIGNS = ".!#$%&'*+/=?^_`{|}~-";

  private Addresses() {}

  /** The same as {@link #EMAIL}, in one pass. */
  public static boolean isEmail(String text) {
    int at = text.indexOf('@');
    if (at <= 0) {
      return false;
    }
    for (int i = 0; i < at; i++) {
      if (!isAlphanumeric(text.charAt(i)) && SIGNS.indexOf(text.charAt(i)) < 0) {
        return false;
      }
    }
    int start = at + 1;
    for (int i = start; i <= text.length(); i++) {
      if (i == text.length() || text.charAt(i) == '.') {
        if (!isLabel(text, start, i)) {
          return false;
        }
        start = i + 1;
      }
    }
    return true;
  }

  /** A part of a host: 1 to 63 letters, digits and hyphens, no hyphen at its ends. */
  private static boolean isLabel(String text, int start, int end) {
    boolean right =
        end > start
            && end - start <= MAX_LABEL
            && text.charAt(start) != '-'
            && text.charAt(end - 1) != '-';
    for (int i = start; right && i < end; i++) {
      right = isAlphanumeric(text.charAt(i)) || text.charAt(i) == '-';
    }
    return right;
  }

  private static boolean isAlphanumeric(char c) {
    return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9';
  }
}
