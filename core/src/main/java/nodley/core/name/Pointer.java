package nodley.core.name;

import java.nio.charset.StandardCharsets;
import nodley.core.value.Wellformed;

/** JSON Pointers (RFC 6901) as URI fragments (section 6 there): {@code #/callSign}. */
public final class Pointer {

  /** The whole document. */
  public static final String ROOT = "#";

  private static final String FRAGMENT = "-._~!$&'()*+,;=:@/?";

  private Pointer() {}

  /** The pointer of a top-level member. */
  public static String of(String name) {
    return in(ROOT, name);
  }

  /** The pointer of a member of what another pointer points at. */
  public static String in(String parent, String name) {
    String token = Wellformed.of(name).replace("~", "~0").replace("/", "~1");
    var out = new StringBuilder(parent).append('/');
    for (byte b : token.getBytes(StandardCharsets.UTF_8)) {
      boolean plain = b > 0 && (Character.isLetterOrDigit(b) || FRAGMENT.indexOf(b) >= 0);
      out.append(plain ? Character.toString(b) : String.format("%%%02X", b));
    }
    return out.toString();
  }
}
