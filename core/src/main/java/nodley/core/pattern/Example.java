package nodley.core.pattern;

import com.ibm.icu.text.UnicodeSet;
import java.util.List;
import java.util.Optional;

/**
 * Makes short examples of texts that match a pattern, for messages and for the placeholder of a
 * control. An example is readable: visible characters alone, no white space at its ends, up to 40
 * characters. Where the pattern allows none such, there is none. For one thread; time is bounded by
 * that length.
 */
final class Example {

  /** A longer one shows nobody how a value is written. */
  private static final int LONGEST = 40;

  /** How often a single character is there that may be repeated, where the pattern lets it. */
  private static final List<Integer> REPEATS = List.of(3, 1, 5, 8, 12, 20);

  private static final UnicodeSet READABLE = new UnicodeSet("[[:L:][:N:][:P:][:S:]\\ ]").freeze();
  private static final List<String> IN_ORDER =
      List.of("abcdefghijklmnopqrstuvwxyz", "ABCDEFGHIJKLMNOPQRSTUVWXYZ", "1234567890");

  private final StringBuilder text = new StringBuilder();
  private final int[] used = new int[IN_ORDER.size()];
  private final int times;
  private boolean readable = true;

  private Example(int times) {
    this.times = times;
  }

  /** Examples of different lengths; none that is long, or that would hold what cannot be seen. */
  static List<String> of(Shape shape) {
    return REPEATS.stream()
        .map(times -> of(shape, times))
        .flatMap(Optional::stream)
        .distinct()
        .toList();
  }

  private static Optional<String> of(Shape shape, int times) {
    Example example = new Example(times);
    example.add(shape);
    return Optional.of(example.text.toString())
        .filter(it -> example.readable && !it.isBlank() && it.equals(it.strip()));
  }

  private void add(Shape shape) {
    if (!readable) {
      return;
    }
    switch (shape) {
      case Shape.One(UnicodeSet of) -> character(of);
      case Shape.All(List<Shape> parts) -> parts.forEach(this::add);
      case Shape.Either(List<Shape> parts) -> add(parts.getFirst());
      case Shape.Repeat(Shape part, int min, int max) -> {
        boolean single = part instanceof Shape.One && max > 1;
        int often = single ? Math.max(min, Math.min(times, max)) : min;
        for (int i = 0; i < often && readable; i++) {
          add(part);
        }
      }
    }
    readable &= text.length() <= LONGEST;
  }

  private void character(UnicodeSet of) {
    for (int kind = 0; kind < used.length; kind++) {
      String order = IN_ORDER.get(kind);
      if (of.containsSome(order)) {
        char next = order.charAt(used[kind]++ % order.length());
        text.appendCodePoint(of.contains(next) ? next : first(of, order));
        return;
      }
    }
    UnicodeSet signs = new UnicodeSet(of).retainAll(READABLE);
    readable = !signs.isEmpty();
    if (readable) {
      text.appendCodePoint(signs.charAt(signs.charAt(0) == ' ' && signs.size() > 1 ? 1 : 0));
    }
  }

  private static int first(UnicodeSet of, String order) {
    return order.chars().filter(of::contains).findFirst().orElseThrow();
  }
}
