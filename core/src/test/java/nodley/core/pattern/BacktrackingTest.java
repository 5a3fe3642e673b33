package nodley.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.regex.Pattern;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which patterns a matcher that backs up can be held up by. */
class BacktrackingTest {

  /** A quadratic pattern may read each of 1 000 characters a thousand times, and some more. */
  private static final long MANY = 30_000_000;

  @ParameterizedTest
  @ValueSource(
      strings = {
        "([a-z]+)*",
        "([a-z]+)+",
        "(a*)*",
        "(a|a)*",
        "(a|ab|b)*c",
        "([a-zA-Z0-9])(([-.]|[_]+)?([a-zA-Z0-9]+))*@a",
        "(\\p{L}+ ?)*",
        "(a?b?)*c",
        "((ab)*)*",
        "([0-9]{1,20}){1,20}",
        ".*.*.*x",
        "[a-z]+[a-z]+[a-z]+",
        "( *[a-z] *)*",
        "(x|[a-z])*",
        "([^,]*,?)*"
      })
  void theseAreUnsafe(String pattern) {
    assertThat(IRegexp.of(pattern).isSafeInBrowsers()).as(pattern).isFalse();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "[A-Z]{1,2}[0-9][A-Z0-9]*",
        "[a-z]+",
        ".*",
        ".+@.+",
        "a*b*c*d*",
        "[0-9]{3}-[0-9]{4}",
        "[A-Z0-9]{10}[A-Z0-9]{10}[A-Z0-9]{10}",
        "([a-z0-9]+-)*[a-z0-9]+",
        "[a-z0-9]{1,63}([.][a-z0-9]{1,63})*",
        "\\p{L}[\\p{L} '-]{0,40}\\p{L}",
        "(ab|cd)*",
        "(a|b)*",
        "([0-9]{1,3}[.]){3}[0-9]{1,3}",
        "#[0-9a-f]{6}|#[0-9a-f]{3}",
        "[A-Z]{2}[0-9]{2}( ?[A-Z0-9]{4}){3,7}( ?[A-Z0-9]{1,3})?",
        "(0|[1-9][0-9]*)([.](0|[1-9][0-9]*)){2}"
      })
  void theseAreSafe(String pattern) {
    assertThat(IRegexp.of(pattern).isSafeInBrowsers()).as(pattern).isTrue();
  }

  /** A text that counts how often it is looked at, and ends the search when it is too often. */
  private static final class Counted implements CharSequence {
    private final String text;
    private long looks;

    Counted(String text) {
      this.text = text;
    }

    @Override
    public char charAt(int index) {
      if (++looks > MANY) {
        throw new IllegalStateException("held up");
      }
      return text.charAt(index);
    }

    @Override
    public int length() {
      return text.length();
    }

    @Override
    public CharSequence subSequence(int start, int end) {
      throw new UnsupportedOperationException();
    }
  }

  /** The matcher of the JDK backs up, too: another implementation says what holds one up. */
  @Test
  void whatIsCalledSafeHoldsNoMatcherUp() throws InterruptedException {
    var random = new Random(20_261_128);
    List<String> held = new ArrayList<>();
    List<String> safe = new ArrayList<>();
    for (int i = 0; i < 1_500; i++) {
      String pattern = pattern(random, 3);
      if (IRegexp.of(pattern).isSafeInBrowsers()) {
        safe.add(pattern);
      }
    }
    // It backs up on its stack, which must be as deep as a text is long.
    Thread deep =
        new Thread(
            null, () -> safe.stream().filter(this::holdsUp).forEach(held::add), "deep", 1L << 30);
    deep.start();
    deep.join();
    assertThat(held).isEmpty();
    assertThat(safe).hasSizeBetween(300, 1_400);
  }

  private boolean holdsUp(String pattern) {
    Pattern jdk = Pattern.compile(pattern);
    for (String attack : attacks()) {
      try {
        jdk.matcher(new Counted(attack)).matches();
      } catch (IllegalStateException e) {
        return true;
      }
    }
    return false;
  }

  private static List<String> attacks() {
    List<String> attacks = new ArrayList<>();
    for (String pump : List.of("a", "b", "ab", "aab", "abb", "ba")) {
      for (String end : List.of("", "!", "a!", "b!")) {
        attacks.add(pump.repeat(1_000 / pump.length()) + end);
      }
    }
    return attacks;
  }

  private static String pattern(Random random, int depth) {
    return switch (random.nextInt(depth == 0 ? 3 : 8)) {
      case 0 -> "a";
      case 1 -> "b";
      case 2 -> "[ab]";
      case 3, 4 -> pattern(random, depth - 1) + pattern(random, depth - 1);
      case 5 -> "(" + pattern(random, depth - 1) + "|" + pattern(random, depth - 1) + ")";
      default ->
          "("
              + pattern(random, depth - 1)
              + ")"
              + List.of("*", "+", "?", "{2}", "{1,3}", "{0,9}").get(random.nextInt(6));
    };
  }
}
