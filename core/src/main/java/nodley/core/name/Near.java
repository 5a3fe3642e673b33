package nodley.core.name;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;

/** Finds a name that is similar to a misspelt one. */
public final class Near {

  private static final int MAX_LENGTH = 100;

  private Near() {}

  /**
   * The nearest of the known names, by the number of letters added, dropped, changed or swapped
   * with their neighbour; at most a third of the letters may differ, and one always may.
   */
  public static Optional<String> to(String name, Collection<String> known) {
    if (name.isEmpty() || name.length() > MAX_LENGTH) {
      return Optional.empty();
    }
    String plain = plain(name);
    int most = Math.max(1, plain.length() / 3);
    return known.stream()
        // The lengths tell of most names that they are too far.
        .filter(other -> Math.abs(plain.length() - plain(other).length()) <= most)
        .filter(other -> distance(plain, plain(other)) <= most)
        .min(Comparator.comparingInt(other -> distance(plain, plain(other))));
  }

  private static String plain(String name) {
    return name.toLowerCase(Locale.ROOT).replace("-", "").replace("_", "");
  }

  /** Optimal string alignment distance. */
  private static int distance(String a, String b) {
    int[][] d = new int[a.length() + 1][b.length() + 1];
    for (int i = 0; i <= a.length(); i++) {
      for (int j = 0; j <= b.length(); j++) {
        if (i == 0 || j == 0) {
          d[i][j] = i + j;
          continue;
        }
        int change = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
        d[i][j] = Math.min(Math.min(d[i - 1][j], d[i][j - 1]) + 1, d[i - 1][j - 1] + change);
        boolean swapped =
            i > 1
                && j > 1
                && a.charAt(i - 1) == b.charAt(j - 2)
                && a.charAt(i - 2) == b.charAt(j - 1);
        if (swapped) {
          d[i][j] = Math.min(d[i][j], d[i - 2][j - 2] + 1);
        }
      }
    }
    return d[a.length()][b.length()];
  }
}
