package nodley.core.sample;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import nodley.core.pattern.IRegexp;

/**
 * Makes texts that match a pattern, by walking its syntax tree and choosing among alternatives and
 * repeats at random. For one thread. What it makes is tried against the pattern by whoever asked,
 * since classes are sampled from common characters only.
 */
final class PatternSample {

  /** Letters, digits and signs that classes are tried with. */
  private static final List<String> CHARACTERS =
      IntStream.concat(
              IntStream.rangeClosed(0x20, 0x7E),
              "\n\t\u00e9\u00df\u00c5\u0416\u0436\u03a9\u05d0\u4e2d\u0661\u20ac\u00a0\u0301"
                  .codePoints())
          .mapToObj(Character::toString)
          .toList();

  private final String in;
  private final SeededRandom random;
  private final int more;
  private int at;

  private PatternSample(String in, SeededRandom random, int more) {
    this.in = in;
    this.random = random;
    this.more = more;
  }

  /**
   * A text that matches.
   *
   * @param more maximum number of repetitions beyond the minimum
   */
  static String of(IRegexp pattern, SeededRandom random, int more) {
    return new PatternSample(pattern.text(), random, more).branches();
  }

  /** All branches are walked over, to find the end; one of them is taken. */
  private String branches() {
    List<String> branches = new ArrayList<>(List.of(branch()));
    while (at < in.length() && in.charAt(at) == '|') {
      at++;
      branches.add(branch());
    }
    return random.one(branches);
  }

  private String branch() {
    StringBuilder out = new StringBuilder();
    while (at < in.length() && in.charAt(at) != '|' && in.charAt(at) != ')') {
      int start = at;
      String once = atom();
      long times = quantifier();
      for (long i = 0; i < times; i++) {
        out.append(i == 0 ? once : again(start));
      }
    }
    return out.toString();
  }

  /** The atom once more, with another choice. */
  private String again(int start) {
    int after = at;
    at = start;
    String text = atom();
    at = after;
    return text;
  }

  private String atom() {
    int start = at;
    switch (in.charAt(at)) {
      case '(' -> {
        at++;
        String inside = branches();
        at++;
        return inside;
      }
      case '[' -> {
        at++;
        while (in.charAt(at) != ']') {
          at += in.charAt(at) == '\\' ? 2 : 1;
        }
        at++;
      }
      case '\\' -> {
        boolean category = in.charAt(at + 1) == 'p' || in.charAt(at + 1) == 'P';
        at = category ? in.indexOf('}', at) + 1 : at + 2;
      }
      default -> at += Character.charCount(in.codePointAt(at));
    }
    String single = in.substring(start, at);
    if (single.length() == Character.charCount(single.codePointAt(0)) && !single.equals(".")) {
      return single;
    }
    IRegexp one = IRegexp.of(single);
    List<String> fitting = CHARACTERS.stream().filter(one::matches).toList();
    return fitting.isEmpty() ? "" : random.one(fitting);
  }

  private long quantifier() {
    if (at >= in.length()) {
      return 1;
    }
    return switch (in.charAt(at)) {
      case '?' -> {
        at++;
        yield random.between(0, 1);
      }
      case '*' -> {
        at++;
        yield random.between(0, more);
      }
      case '+' -> {
        at++;
        yield random.between(1, 1L + more);
      }
      case '{' -> {
        String[] ends = in.substring(at + 1, in.indexOf('}', at)).split(",", -1);
        at = in.indexOf('}', at) + 1;
        long min = Long.parseLong(ends[0]);
        long max =
            ends.length == 1 ? min : ends[1].isEmpty() ? Long.MAX_VALUE : Long.parseLong(ends[1]);
        yield random.between(min, Math.min(max, min + more));
      }
      default -> 1;
    };
  }
}
