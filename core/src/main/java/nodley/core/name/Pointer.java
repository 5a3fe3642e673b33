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
    return isPlain(name) ? parent + '/' + name : parent + '/' + escaped(name);
  }

  /** Letters and digits, as names of fields are: nothing to escape. */
  private static boolean isPlain(String name) {
    for (int i = 0; i < name.length(); i++) {
      char c = name.charAt(i);
      if (!(c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9')) {
        return false;
      }
    }
    return true;
  }

  private static String escaped(String name) {
    String token = Wellformed.of(name).replace("~", "~0").replace("/", "~1");
    var out = new StringBuilder();
    for (byte b : token.getBytes(StandardCharsets.UTF_8)) {
      boolean plain = b > 0 && (Character.isLetterOrDigit(b) || FRAGMENT.indexOf(b) >= 0);
      out.append(plain ? Character.toString(b) : String.format("%%%02X", b));
    }
    return out.toString();
  }
}
