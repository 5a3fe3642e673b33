package nodley.core.name;

import java.nio.charset.StandardCharsets;

/** Percent-encoding of one component of an address, as ECMAScript's encodeURIComponent does it. */
public final class Percent {

  private static final String PLAIN = "-_.!~*'()";

  private Percent() {}

  /**
   * Returns text percent-encoded for one segment of a path or one value of a query (RFC 3986,
   * section 2.1).
   */
  public static String encode(String text) {
    var out = new StringBuilder();
    for (byte b : text.getBytes(StandardCharsets.UTF_8)) {
      boolean plain = b > 0 && (Character.isLetterOrDigit(b) || PLAIN.indexOf(b) >= 0);
      out.append(plain ? Character.toString(b) : String.format("%%%02X", b));
    }
    return out.toString();
  }
}
