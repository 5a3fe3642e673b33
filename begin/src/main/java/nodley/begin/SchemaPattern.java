package nodley.begin;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Patterns of JSON Schema, which are ECMA-262's and are looked for anywhere in a value, as
 * I-Regexps that the whole value matches. What has no place in those is left as it is, and found by
 * who reads the form file.
 */
final class SchemaPattern {

  private static final String ANYTHING = ".*";

  /** What a class of characters holds, for the letter that stands for it. */
  private static final Map<Character, String> CLASSES =
      Map.of('d', "0-9", 'w', "A-Za-z0-9_", 's', " \\t\\n\\r");

  /** What I-Regexp escapes itself, and categories; RFC 9485, section 3. */
  private static final String ESCAPABLE = "()*+-.?[\\]^{|}nrtpP";

  private final String in;
  private final List<String> alternatives = new ArrayList<>();
  private final StringBuilder out = new StringBuilder();
  private int depth;
  private boolean inClass;

  /** True if the alternative that is read begins, or ends, where the value does. */
  private boolean begins;

  private boolean ends;

  private SchemaPattern(String in) {
    this.in = in;
  }

  /** The same pattern for a whole value. */
  static String whole(String pattern) {
    return new SchemaPattern(pattern).read();
  }

  private String read() {
    for (int at = 0; at < in.length(); at++) {
      char c = in.charAt(at);
      if (c == '\\' && at + 1 < in.length()) {
        escape(in.charAt(++at));
      } else if (inClass) {
        inClass = c != ']';
        out.append(c);
      } else if (c == '(' && in.startsWith("(?:", at)) {
        depth++;
        at += 2;
        out.append(c);
      } else if (depth == 0 && c == '|') {
        alternative();
      } else if (depth == 0 && c == '^' && out.isEmpty()) {
        begins = true;
      } else if (depth == 0 && c == '$' && isLast(at)) {
        ends = true;
      } else {
        depth += c == '(' ? 1 : c == ')' ? -1 : 0;
        inClass = c == '[';
        out.append(c);
      }
    }
    alternative();
    return String.join("|", alternatives);
  }

  private boolean isLast(int at) {
    return at + 1 == in.length() || in.charAt(at + 1) == '|';
  }

  private void escape(char c) {
    String characters = CLASSES.get(c);
    if (characters != null) {
      out.append(inClass ? characters : "[" + characters + "]");
    } else if (ESCAPABLE.indexOf(c) >= 0 || Character.isLetterOrDigit(c)) {
      out.append('\\').append(c);
    } else {
      out.append(c);
    }
  }

  private void alternative() {
    alternatives.add((begins ? "" : ANYTHING) + out + (ends ? "" : ANYTHING));
    out.setLength(0);
    begins = false;
    ends = false;
  }
}
