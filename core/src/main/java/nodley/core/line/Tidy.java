package nodley.core.line;

import java.text.Normalizer;
import java.util.Locale;
import java.util.regex.Pattern;
import nodley.core.form.Tidying;

/**
 * Station two, tidy: a typed text comes to its standard form before rules see it. The order is
 * fixed: line ends, NFC, keep, trim, squeeze, case.
 */
public final class Tidy {

  /** Unicode's property White_Space (PropList.txt). */
  private static final String WHITE =
      "\\u0009-\\u000D\\u0020\\u0085\\u00A0\\u1680\\u2000-\\u200A\\u2028\\u2029\\u202F\\u205F\\u3000";

  private static final Pattern RUN = Pattern.compile("[" + WHITE + "]+");
  private static final Pattern RUN_IN_LINE = Pattern.compile("[" + WHITE + "&&[^\\n]]+");

  private Tidy() {}

  static String of(String text, Tidying tidying) {
    String tidied = standard(text);
    if (tidying.keep().isPresent()) {
      tidied = keep(tidied, tidying.keep().get());
    }
    if (tidying.trim()) {
      tidied = trim(tidied);
    }
    if (tidying.squeeze()) {
      tidied = (tidying.multiline() ? RUN_IN_LINE : RUN).matcher(tidied).replaceAll(" ");
    }
    return switch (tidying.letters()) {
      case AS_TYPED -> tidied;
      case LOWER -> tidied.toLowerCase(Locale.ROOT);
      case UPPER -> tidied.toUpperCase(Locale.ROOT);
    };
  }

  /** Line ends become LF; then Unicode normalization form C (UAX #15). */
  public static String standard(String text) {
    String lines = text.indexOf('\r') < 0 ? text : text.replace("\r\n", "\n").replace('\r', '\n');
    return Normalizer.normalize(lines, Normalizer.Form.NFC);
  }

  /** The text without White_Space at its ends. */
  public static String trim(String text) {
    int start = 0;
    int end = text.length();
    while (start < end && isWhite(text.charAt(start))) {
      start++;
    }
    while (end > start && isWhite(text.charAt(end - 1))) {
      end--;
    }
    return text.substring(start, end);
  }

  private static boolean isWhite(char c) {
    return c >= 0x09 && c <= 0x0D
        || c == 0x20
        || c == 0x85
        || c == 0xA0
        || c == 0x1680
        || c >= 0x2000 && c <= 0x200A
        || c == 0x2028
        || c == 0x2029
        || c == 0x202F
        || c == 0x205F
        || c == 0x3000;
  }

  private static String keep(String text, Tidying.Keep keep) {
    var out = new StringBuilder();
    text.codePoints()
        .filter(c -> keep.one().matches(Character.toString(c)))
        .forEach(out::appendCodePoint);
    return out.toString();
  }
}
