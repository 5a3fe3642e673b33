package nodley.core.pattern;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import java.util.BitSet;
import java.util.List;

/**
 * A pattern in the interoperable regular expression format, I-Regexp (RFC 9485), always matched
 * against the whole value. It is run in linear time by RE2/J; {@link #browser()} is the same
 * pattern for a JavaScript {@code RegExp} with the {@code u} flag.
 */
public final class IRegexp {

  private static final int ASCII = 128;

  private final String text;
  private final String browser;
  private final Pattern compiled;
  private final boolean safe;
  private final List<String> examples;
  private volatile BitSet ascii;

  private IRegexp(
      String text, String browser, Pattern compiled, boolean safe, List<String> examples) {
    this.text = text;
    this.browser = browser;
    this.compiled = compiled;
    this.safe = safe;
    this.examples = examples;
  }

  /**
   * Parses a pattern.
   *
   * @throws BadPattern if it is outside I-Regexp, repeats more than 1 000 times, or is too large
   */
  public static IRegexp of(String text) {
    var forJava = new StringBuilder();
    var forBrowser = new StringBuilder();
    Shape shape = new Parser(text, forJava, forBrowser).pattern();
    try {
      return new IRegexp(
          text,
          "^(?:" + forBrowser + ")$",
          Pattern.compile("^(?:" + forJava + ")$"),
          Backtracking.isSafe(shape),
          Example.of(shape));
    } catch (PatternSyntaxException e) {
      throw new BadPattern("the pattern cannot be run: " + e.getDescription(), 0);
    }
  }

  /** True if the whole value matches. */
  public boolean matches(String value) {
    return compiled.matches(value);
  }

  /** True if this one character matches. Those of ASCII are looked up, once they were asked for. */
  public boolean matches(int character) {
    return character < ASCII ? ascii().get(character) : matches(Character.toString(character));
  }

  private BitSet ascii() {
    BitSet known = ascii;
    if (known == null) {
      known = new BitSet(ASCII);
      for (int c = 0; c < ASCII; c++) {
        known.set(c, matches(Character.toString(c)));
      }
      ascii = known;
    }
    return known;
  }

  /** The pattern as the form file has it. */
  public String text() {
    return text;
  }

  /**
   * True if a matcher that backs up, as those of browsers do, cannot be held up by a value of 1 000
   * characters. Here every pattern is run in linear time.
   */
  public boolean isSafeInBrowsers() {
    return safe;
  }

  /** Short texts that match, of different lengths, the one that is shown most readily first. */
  public List<String> examples() {
    return examples;
  }

  /** Source for {@code new RegExp(source, "u")}. */
  public String browser() {
    return browser;
  }
}
