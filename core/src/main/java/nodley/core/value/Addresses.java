package nodley.core.value;

import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What e-mail addresses and web addresses look like: as regular expressions for the whole value,
 * which pages and descriptions hand on, and as checks by hand that give the same answers in linear
 * time. Stateless. Sources: the HTML standard for e-mail, RFC 3986 for web addresses.
 */
public final class Addresses {

  /** Unicode's property White_Space (PropList.txt), for a character class. */
  public static final String WHITE =
      "\\u0009-\\u000D\\u0020\\u0085\\u00A0\\u1680\\u2000-\\u200A\\u2028\\u2029\\u202F\\u205F\\u3000";

  /** HTML, "valid email address" (the production behind {@code type=email}). */
  public static final String EMAIL =
      "[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+"
          + "@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?"
          + "(?:\\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*";

  /**
   * The shape of an absolute http or https address with a host (RFC 3986), without white space. Its
   * two groups are the host and the digits of the port; {@link #isUrl} judges those too.
   */
  public static final String URL =
      "[hH][tT][tT][pP][sS]?://"
          + "(?:[^/?#@"
          + WHITE
          + "]*@)?"
          + "(\\[[0-9A-Fa-f:.]+\\]|[^/?#@:\\[\\]<>\\\\^`{|}\"%"
          + WHITE
          + "]+)"
          + "(?::([0-9]*))?"
          + "(?:[/?#][^"
          + WHITE
          + "]*)?";

  private static final Pattern URL_PATTERN = Pattern.compile(URL);

  private static final int MAX_LABEL = 63;

  private static final String LETTERS_DIGITS =
      "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789";

  /** By ASCII character: what may stand before the at sign, and what in a label of the host. */
  private static final boolean[] LOCAL = ascii(LETTERS_DIGITS + ".!#$%&'*+/=?^_`{|}~-");

  private static final boolean[] LABEL = ascii(LETTERS_DIGITS + "-");

  private Addresses() {}

  private static boolean[] ascii(String characters) {
    boolean[] ascii = new boolean[0x80];
    characters.chars().forEach(c -> ascii[c] = true);
    return ascii;
  }

  /**
   * True for an address of the shape of {@link #URL} that the parser of the WHATWG's URL Standard
   * takes.
   */
  public static boolean isUrl(String text) {
    Matcher matcher = URL_PATTERN.matcher(text);
    return matcher.matches()
        && Hosts.isHost(matcher.group(1))
        && (matcher.group(2) == null || Hosts.isPort(matcher.group(2)));
  }

  /** The same as {@link #EMAIL}, in one pass. */
  public static boolean isEmail(String text) {
    int at = text.indexOf('@');
    if (at <= 0) {
      return false;
    }
    for (int i = 0; i < at; i++) {
      if (!isIn(LOCAL, text.charAt(i))) {
        return false;
      }
    }
    int start = at + 1;
    for (int end = text.indexOf('.', start); end >= 0; end = text.indexOf('.', start)) {
      if (!isLabel(text, start, end)) {
        return false;
      }
      start = end + 1;
    }
    return isLabel(text, start, text.length());
  }

  /** A part of a host: 1 to 63 letters, digits and hyphens, no hyphen at its ends. */
  private static boolean isLabel(String text, int start, int end) {
    boolean right =
        end > start
            && end - start <= MAX_LABEL
            && text.charAt(start) != '-'
            && text.charAt(end - 1) != '-';
    for (int i = start; right && i < end; i++) {
      right = isIn(LABEL, text.charAt(i));
    }
    return right;
  }

  private static boolean isIn(boolean[] ascii, char c) {
    return c < ascii.length && ascii[c];
  }
}
