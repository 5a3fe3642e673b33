package nodley.core.pattern;

import java.util.stream.IntStream;

/** The categories Cn and C, which RE2/J lacks or sees without unassigned code points. */
final class Unassigned {

  private Unassigned() {}

  static boolean isIn(String category) {
    return category.equals("Cn") || category.equals("C");
  }

  /** The members of the category, or all others, as ranges that may stand in a class or alone. */
  static String ranges(String category, boolean others) {
    var out = new StringBuilder();
    int start = -1;
    for (int c = 0; c <= Character.MAX_CODE_POINT + 1; c++) {
      boolean in = c <= Character.MAX_CODE_POINT && has(category, c) != others;
      if (in && start < 0) {
        start = c;
      } else if (!in && start >= 0) {
        out.append(String.format("\\x{%x}-\\x{%x}", start, c - 1));
        start = -1;
      }
    }
    return out.toString();
  }

  private static boolean has(String category, int c) {
    int type = Character.getType(c);
    return category.equals("Cn")
        ? type == Character.UNASSIGNED
        : IntStream.of(
                Character.UNASSIGNED,
                Character.CONTROL,
                Character.FORMAT,
                Character.PRIVATE_USE,
                Character.SURROGATE)
            .anyMatch(other -> other == type);
  }
}
