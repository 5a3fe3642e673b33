package nodley.core.submission;

import java.text.Normalizer;
import java.util.regex.Pattern;
import nodley.core.form.Field;
import nodley.core.form.Tidying;
import nodley.core.form.Type;
import nodley.core.value.Letters;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * Tidies texts into their standard form, before rules see them. The order is fixed: line ends, NFC,
 * keep, trim, squeeze, case, scheme. Stateless; linear in the length of the text.
 */
public final class Tidy {

  /** RFC 3986, section 3.1, with two slashes; or a scheme that takes none. */
  private static final Pattern SCHEME =
      Pattern.compile("[A-Za-z][A-Za-z0-9+.-]*://|(?i:mailto|javascript|data|tel|file):");

  private static final int FIRST_MARK = 0x300;
  private static final int MAX_MARKS = 30;

  private Tidy() {}

  /**
   * Tidies a value of a field. Returns the same object if there is nothing to tidy, and blank for a
   * text of which nothing is left.
   */
  static Value of(Field field, Value value) {
    if (!(value instanceof Value.Text(String text))) {
      return value;
    }
    String tidied = of(text, field.tidying());
    if (tidied == null) {
      return new Value.Unread(new Raw.Text(text));
    }
    if (field.type() == Type.PHONE) {
      tidied = phone(tidied);
    }
    if (tidied == text) {
      return value;
    }
    return Value.text(tidied);
  }

  /**
   * Returns null if the text cannot be stored: it contains NUL, an unpaired surrogate, or more than
   * 30 combining marks in a row.
   */
  static String of(String text, Tidying tidying) {
    boolean plain = isPlain(text);
    if (!plain && (!Wellformed.is(text) || hasManyMarks(text))) {
      return null;
    }
    String tidied = plain ? text : standard(text);
    if (tidying.keep().isPresent()) {
      tidied = keep(tidied, tidying.keep().get());
      if (hasManyMarks(tidied)) {
        return null;
      }
    }
    boolean spaced = !plain || tidying.keep().isPresent();
    if (spaced && tidying.trim()) {
      tidied = trim(tidied);
    }
    if (spaced && tidying.squeeze()) {
      tidied = squeeze(tidied, tidying.multiline());
    }
    tidied =
        switch (tidying.letters()) {
          case AS_TYPED -> tidied;
          case LOWER -> Letters.lower(tidied);
          case UPPER -> Letters.upper(tidied);
        };
    return tidying.scheme() && isBare(tidied) ? "https://" + tidied : tidied;
  }

  /** Printable ASCII with single spaces inside it: most texts, and nothing to do. */
  private static boolean isPlain(String text) {
    int length = text.length();
    if (length == 0 || text.charAt(0) == ' ' || text.charAt(length - 1) == ' ') {
      return false;
    }
    for (int i = 0; i < length; i++) {
      char c = text.charAt(i);
      boolean visible = c > ' ' && c <= '~';
      if (!visible && (c != ' ' || text.charAt(i - 1) == ' ')) {
        return false;
      }
    }
    return true;
  }

  /** A host without a scheme; what has one, or something like one, is left for the rules. */
  private static boolean isBare(String text) {
    return !text.isEmpty() && !text.startsWith("/") && !SCHEME.matcher(text).lookingAt();
  }

  /** Takes out of a phone number what only makes it easier to read. */
  static String phone(String text) {
    char[] kept = new char[text.length()];
    int count = 0;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      if (!isAid(c)) {
        kept[count++] = c;
      }
    }
    return count == kept.length ? text : new String(kept, 0, count);
  }

  private static boolean isAid(char c) {
    return c == ' '
        || c == '.'
        || c == '-'
        || c == '('
        || c == ')'
        || c == '\u00A0'
        || c >= '\u2010' && c <= '\u2013';
  }

  /**
   * True if more than 30 marks stand in a row, which is what the Stream-Safe Text Format allows
   * (UAX #15, section 13). Sorting them, as normalization does, takes the square of their number.
   */
  private static boolean hasManyMarks(String text) {
    int marks = 0;
    for (int i = 0, c; i < text.length(); i += Character.charCount(c)) {
      c = text.codePointAt(i);
      marks = c >= FIRST_MARK && isMark(c) ? marks + 1 : 0;
      if (marks > MAX_MARKS) {
        return true;
      }
    }
    return false;
  }

  private static boolean isMark(int c) {
    return switch (Character.getType(c)) {
      case Character.NON_SPACING_MARK, Character.COMBINING_SPACING_MARK, Character.ENCLOSING_MARK ->
          true;
      default -> false;
    };
  }

  /** Line ends become LF; then Unicode normalization form C (UAX #15). */
  public static String standard(String text) {
    String lines = text.indexOf('\r') < 0 ? text : text.replace("\r\n", "\n").replace('\r', '\n');
    return isLatin1(lines) ? lines : Normalizer.normalize(lines, Normalizer.Form.NFC);
  }

  /** Below the first mark there is nothing to compose (UAX #15, Latin-1 is in NFC). */
  private static boolean isLatin1(String text) {
    for (int i = 0; i < text.length(); i++) {
      if (text.charAt(i) >= FIRST_MARK) {
        return false;
      }
    }
    return true;
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

  /** Each run of White_Space becomes one space; in a text of many lines, line ends stay. */
  private static String squeeze(String text, boolean multiline) {
    StringBuilder out = null;
    for (int i = 0; i < text.length(); i++) {
      char c = text.charAt(i);
      boolean white = isWhite(c) && !(multiline && c == '\n');
      boolean goesOn =
          white
              && i > 0
              && isWhite(text.charAt(i - 1))
              && !(multiline && text.charAt(i - 1) == '\n');
      if (out == null && white && (c != ' ' || goesOn)) {
        out = new StringBuilder(text.length()).append(text, 0, i);
      }
      if (out != null && !goesOn) {
        out.append(white ? ' ' : c);
      }
    }
    return out == null ? text : out.toString();
  }

  /** Unicode's White_Space; what is printable ASCII is told by one look. */
  private static boolean isWhite(char c) {
    return (c <= ' ' || c > '~') && isOtherWhite(c);
  }

  private static boolean isOtherWhite(char c) {
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

  /** True if there is nothing but White_Space. */
  static boolean isBlank(String text) {
    for (int i = 0; i < text.length(); i++) {
      if (!isWhite(text.charAt(i))) {
        return false;
      }
    }
    return true;
  }

  private static String keep(String text, Tidying.Keep keep) {
    var out = new StringBuilder(text.length());
    for (int i = 0, c; i < text.length(); i += Character.charCount(c)) {
      c = text.codePointAt(i);
      if (keep.one().matches(c)) {
        out.appendCodePoint(c);
      }
    }
    return out.toString();
  }
}
