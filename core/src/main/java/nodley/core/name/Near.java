package nodley.core.name;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Pattern;
import org.apache.commons.text.similarity.DamerauLevenshteinDistance;

/**
 * Finds a name that is similar to a misspelt one, for "Did you mean …?". Case, hyphens and
 * underscores do not count. Names of more than 100 characters have none that is near, so that cost
 * is bounded: linear in the number of known names. Stateless.
 */
public final class Near {

  private static final int MAX_LENGTH = 100;

  private static final Pattern IN_BRACKETS = Pattern.compile("\\[([A-Za-z][A-Za-z0-9_]*)\\]");
  private static final Pattern BETWEEN_DOTS = Pattern.compile("\\.([0-9]+)(?=[.\\[]|$)");

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
    // Beyond its threshold it returns -1.
    var distance = new DamerauLevenshteinDistance(Math.max(1, plain.length() / 3));
    return known.stream()
        .filter(other -> distance.apply(plain, plain(other)) >= 0)
        .min(Comparator.comparingInt(other -> distance.apply(plain, plain(other))));
  }

  /**
   * The name of a nested value as form encoding has it here, {@code crew[0].name}, where one was
   * sent that other programs write, {@code crew[0][name]} or {@code crew.0.name}; empty if it
   * begins with no known name.
   */
  public static Optional<String> nested(String name, Collection<String> known) {
    if (name.length() > MAX_LENGTH) {
      return Optional.empty();
    }
    String here = IN_BRACKETS.matcher(name).replaceAll(".$1");
    here = BETWEEN_DOTS.matcher(here).replaceAll("[$1]");
    String outermost = here.replaceFirst("[.\\[].*", "");
    return here.equals(name) || !known.contains(outermost) ? Optional.empty() : Optional.of(here);
  }

  private static String plain(String name) {
    return name.toLowerCase(Locale.ROOT).replace("-", "").replace("_", "");
  }
}
