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

  private Addresses() {}
}
