package nodley.core.pattern;

import com.ibm.icu.text.UnicodeSet;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * Recursive-descent parser for the grammar of RFC 9485, section 3. Writes the pattern for RE2/J and
 * for browsers while it parses.
 */
final class Parser {

  private static final int MAX_REPEAT = 1_000;
  private static final int MAX_DEPTH = 100;

  /**
   * With its repeats written out, a pattern may have this many parts; RE2/J makes a state of each.
   */
  private static final int MAX_SIZE = 20_000;

  private static final String ESCAPABLE = "()*+-.?[\\]^{|}nrt";

  private static final Set<String> CATEGORIES =
      Set.of(
          "L", "Ll", "Lm", "Lo", "Lt", "Lu", "M", "Mc", "Me", "Mn", "N", "Nd", "Nl", "No", "P",
          "Pc", "Pd", "Pe", "Pf", "Pi", "Po", "Ps", "Z", "Zl", "Zp", "Zs", "S", "Sc", "Sk", "Sm",
          "So", "C", "Cc", "Cf", "Cn", "Co");

  private final String in;
  private final StringBuilder java;
  private final StringBuilder browser;
  private int at;
  private int depth;
  private boolean inClass;

  /** The characters of the single character, class or category that was read last. */
  private UnicodeSet characters = new UnicodeSet();

  /**
   * A part of a pattern.
   *
   * @param size how many parts it has once repeats are written out
   */
  private record Part(Shape shape, int size) {}

  Parser(String in, StringBuilder java, StringBuilder browser) {
    this.in = in;
    this.java = java;
    this.browser = browser;
  }

  Shape pattern() {
    Part whole = branches();
    if (at < in.length()) {
      throw bad("there is a ')' without its '('");
    }
    return whole.shape();
  }

  private Part branches() {
    Part first = branch();
    int size = first.size();
    List<Shape> branches = new ArrayList<>(List.of(first.shape()));
    while (eat('|')) {
      both("|");
      Part next = branch();
      size += next.size();
      branches.add(next.shape());
    }
    return new Part(branches.size() == 1 ? first.shape() : new Shape.Either(branches), size);
  }

  private Part branch() {
    int size = 0;
    List<Shape> parts = new ArrayList<>();
    while (at < in.length() && peek() != '|' && peek() != ')') {
      int start = at;
      Part part = quantified(atom());
      parts.add(part.shape());
      size += part.size();
      if (size > MAX_SIZE) {
        throw new BadPattern("the pattern is too large: its repeats multiply", start);
      }
    }
    return new Part(new Shape.All(parts), size);
  }

  private Part atom() {
    if (peek() == '(') {
      return group();
    }
    characters = new UnicodeSet();
    single();
    return new Part(new Shape.One(characters), 1);
  }

  private void single() {
    int c = peek();
    switch (c) {
      case '[' -> charClass();
      case '.' -> {
        at++;
        both("[^\\n\\r]");
        characters.add('\n').add('\r').complement();
      }
      case '\\' -> {
        inClass = false;
        escape();
      }
      case '*', '+', '?', '{' -> throw bad("there is nothing before '" + (char) c + "' to repeat");
      case ']', '}' -> throw bad("'" + (char) c + "' stands alone; write \\" + (char) c);
      default -> literal(next());
    }
  }

  private Part group() {
    if (++depth > MAX_DEPTH) {
      throw bad("groups are nested deeper than " + MAX_DEPTH);
    }
    int open = at++;
    if (at < in.length() && peek() == '?') {
      throw bad("groups that begin with '(?' are not part of I-Regexp");
    }
    both("(?:");
    Part inside = branches();
    if (!eat(')')) {
      throw new BadPattern("this '(' is never closed", open);
    }
    both(")");
    depth--;
    return new Part(inside.shape(), Math.max(1, inside.size()));
  }

  /** An atom with the repeat that follows it, if one does. */
  private Part quantified(Part atom) {
    int c = at < in.length() ? peek() : 0;
    Shape.Repeat repeat;
    if (c == '*' || c == '+' || c == '?') {
      at++;
      both(Character.toString(c));
      repeat = new Shape.Repeat(atom.shape(), c == '+' ? 1 : 0, c == '?' ? 1 : Shape.ENDLESS);
    } else if (c == '{') {
      repeat = range(atom.shape());
    } else {
      return atom;
    }
    if (at < in.length() && "*+?{".indexOf(peek()) >= 0) {
      throw bad(
          "a repeat cannot be repeated; lazy and possessive repeats are not part of I-Regexp");
    }
    int times = c != '{' ? 1 : repeat.max() == Shape.ENDLESS ? repeat.min() : repeat.max();
    return new Part(repeat, atom.size() * Math.max(1, times));
  }

  private Shape.Repeat range(Shape part) {
    int open = at++;
    int min = count(open);
    int max = min;
    String written = "{" + min;
    if (eat(',')) {
      written += ",";
      max = Shape.ENDLESS;
      if (at < in.length() && peek() != '}') {
        max = count(open);
        if (max < min) {
          throw new BadPattern("the repeat {" + min + "," + max + "} has its ends reversed", open);
        }
        written += max;
      }
    }
    if (!eat('}')) {
      throw new BadPattern("a repeat is {2}, {2,} or {2,5}", open);
    }
    both(written + "}");
    return new Shape.Repeat(part, min, max);
  }

  private int count(int open) {
    int start = at;
    while (at < in.length() && in.charAt(at) >= '0' && in.charAt(at) <= '9') {
      at++;
    }
    String digits = in.substring(start, at);
    if (digits.isEmpty()) {
      throw new BadPattern("a repeat is {2}, {2,} or {2,5}", open);
    }
    if (digits.length() > 6 || Integer.parseInt(digits) > MAX_REPEAT) {
      throw new BadPattern("a repeat goes up to " + MAX_REPEAT, open);
    }
    return Integer.parseInt(digits);
  }

  private void charClass() {
    int open = at++;
    both("[");
    boolean others = eat('^');
    if (others) {
      both("^");
    }
    boolean empty = true;
    if (eat('-')) {
      literal('-');
      empty = false;
    }
    while (at < in.length() && peek() != ']') {
      if (peek() == '-') {
        at++;
        if (at >= in.length() || peek() != ']') {
          throw new BadPattern(
              "'-' stands first or last in a class, or between two characters", at - 1);
        }
        literal('-');
      } else {
        classMember();
      }
      empty = false;
    }
    if (!eat(']')) {
      throw new BadPattern("this '[' is never closed", open);
    }
    if (empty) {
      throw new BadPattern("a class needs at least one character", open);
    }
    both("]");
    if (others) {
      characters.complement();
    }
  }

  private void classMember() {
    int start = at;
    if (peek() == '[') {
      throw bad("'[' inside a class is written \\[");
    }
    int low = classCharacter();
    if (low < 0) {
      return;
    }
    literal(low);
    if (at + 1 < in.length() && peek() == '-' && in.charAt(at + 1) != ']') {
      at++;
      if (peek() == '[') {
        throw bad("'[' inside a class is written \\[");
      }
      int high = classCharacter();
      if (high < 0) {
        throw new BadPattern("a range ends in one character, not in a category", start);
      }
      if (high < low) {
        throw new BadPattern("the range is written backwards", start);
      }
      both("-");
      literal(high);
      characters.add(low, high);
    }
  }

  /** One character of a class, or −1 for a category, which is written at once. */
  private int classCharacter() {
    inClass = true;
    return peek() == '\\' ? escape() : next();
  }

  /** An escape. Inside a class a single character is returned, not written. */
  private int escape() {
    int start = at++;
    if (at >= in.length()) {
      throw new BadPattern("the pattern ends in a lone \\", start);
    }
    int c = next();
    if (c == 'p' || c == 'P') {
      category(start, (char) c);
      return -1;
    }
    if (ESCAPABLE.indexOf(c) < 0) {
      throw new BadPattern(notPartOf(c), start);
    }
    int meant =
        switch (c) {
          case 'n' -> '\n';
          case 'r' -> '\r';
          case 't' -> '\t';
          default -> c;
        };
    if (!inClass) {
      literal(meant);
    }
    return meant;
  }

  private static String notPartOf(int c) {
    String instead =
        switch (c) {
          case 'd' -> "; write [0-9]";
          case 'w' -> "; write [A-Za-z0-9_]";
          case 's' -> "; write [ \\t\\n\\r]";
          case 'b' -> "; the pattern always matches the whole value";
          default -> "";
        };
    return "\\" + Character.toString(c) + " is not part of I-Regexp" + instead;
  }

  private void category(int start, char p) {
    int close = in.indexOf('}', at);
    if (at >= in.length() || in.charAt(at) != '{' || close < 0) {
      throw new BadPattern("a category is written \\p{L}", start);
    }
    String name = in.substring(at + 1, close);
    if (!CATEGORIES.contains(name)) {
      throw new BadPattern("'" + name + "' is not a Unicode category that I-Regexp has", start);
    }
    at = close + 1;
    String written = "\\" + p + "{" + name + "}";
    browser.append(written);
    UnicodeSet members = new UnicodeSet(Categories.set(name));
    characters.addAll(p == 'P' ? members.complement() : members);
    String ranges = Categories.ranges(name, p == 'P');
    java.append(inClass ? ranges : "[" + ranges + "]");
  }

  /** One character, written so that it means itself in either dialect, in a class and outside. */
  private void literal(int c) {
    characters.add(c);
    boolean plain = Character.isLetterOrDigit(c) && c < 128;
    if (plain || c > 127) {
      both(Character.toString(c));
    } else {
      java.append(String.format("\\x{%x}", c));
      browser.append(String.format("\\u{%x}", c));
    }
  }

  private void both(String text) {
    java.append(text);
    browser.append(text);
  }

  private int peek() {
    return in.codePointAt(at);
  }

  private int next() {
    int c = in.codePointAt(at);
    if (c >= 0xD800 && c <= 0xDFFF) {
      throw bad("an unpaired surrogate is not a character");
    }
    at += Character.charCount(c);
    return c;
  }

  private boolean eat(char c) {
    if (at < in.length() && in.charAt(at) == c) {
      at++;
      return true;
    }
    return false;
  }

  private BadPattern bad(String message) {
    return new BadPattern(message, at);
  }
}
