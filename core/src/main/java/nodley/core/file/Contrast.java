package nodley.core.file;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import nodley.core.form.Theme;
import nodley.core.form.Theme.Colour;
import nodley.core.form.Theme.Shade;

/**
 * Measures whether the colours of a theme can be told apart: the contrast ratio of WCAG 2.2 from
 * the relative luminance of both, for each pair that pages put beside each other. A theme below
 * level AA is an error of its file. Stateless.
 */
final class Contrast {

  /** WCAG 2.2, 1.4.3 (level AA) for words, 1.4.11 for the edges of controls. */
  private record Pair(Colour front, Colour behind, double least) {}

  private static final double WORDS = 4.5;
  private static final double EDGES = 3;

  private static final List<Pair> PAIRS =
      List.of(
          new Pair(Colour.INK, Colour.PAPER, WORDS),
          new Pair(Colour.INK, Colour.SHEET, WORDS),
          new Pair(Colour.SOFT, Colour.PAPER, WORDS),
          new Pair(Colour.SOFT, Colour.SHEET, WORDS),
          new Pair(Colour.ACCENT, Colour.PAPER, WORDS),
          new Pair(Colour.ACCENT, Colour.SHEET, WORDS),
          new Pair(Colour.ON_ACCENT, Colour.ACCENT, WORDS),
          new Pair(Colour.ON_ACCENT, Colour.ACCENT_STRONG, WORDS),
          new Pair(Colour.WRONG, Colour.PAPER, WORDS),
          new Pair(Colour.WRONG, Colour.SHEET, WORDS),
          new Pair(Colour.WRONG, Colour.WRONG_SHEET, WORDS),
          new Pair(Colour.RIGHT, Colour.PAPER, WORDS),
          new Pair(Colour.RIGHT, Colour.RIGHT_SHEET, WORDS),
          new Pair(Colour.EDGE, Colour.SHEET, EDGES));

  private Contrast() {}

  /** Finds pairs that a theme has made, wholly or in part, and that cannot be read. */
  static void check(Theme theme, Section file) {
    Map<String, Function<Shade, String>> schemes =
        switch (theme.scheme()) {
          case LIGHT -> Map.of("light", Shade::light);
          case DARK -> Map.of("dark", Shade::dark);
          case BOTH -> Map.of("light", Shade::light, "dark", Shade::dark);
        };
    for (Pair pair : PAIRS) {
      boolean front = theme.colours().containsKey(pair.front());
      if (!front && !theme.colours().containsKey(pair.behind())) {
        continue;
      }
      Section colours = file.section("colours").orElseThrow();
      Colour at = front ? pair.front() : pair.behind();
      schemes.keySet().stream()
          .sorted()
          .forEach(
              scheme -> {
                Function<Shade, String> in = schemes.get(scheme);
                double ratio =
                    of(in.apply(theme.shade(pair.front())), in.apply(theme.shade(pair.behind())));
                if (ratio < pair.least()) {
                  colours.bad(at.word(), "bad-value", told(pair, scheme, ratio));
                }
              });
    }
  }

  private static String told(Pair pair, String scheme, double ratio) {
    return "`%s` on `%s` has a contrast of %s to 1 in %s; it needs %s (WCAG 2.2)."
        .formatted(
            pair.front().word(),
            pair.behind().word(),
            BigDecimal.valueOf(ratio).setScale(1, RoundingMode.DOWN),
            scheme,
            pair.least() == WORDS ? "4.5" : "3");
  }

  /** From 1, the same, to 21, black and white. */
  static double of(String a, String b) {
    double x = luminance(a);
    double y = luminance(b);
    return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
  }

  /** WCAG 2.2, "relative luminance". */
  private static double luminance(String colour) {
    return 0.2126 * part(colour, 1) + 0.7152 * part(colour, 3) + 0.0722 * part(colour, 5);
  }

  private static double part(String colour, int from) {
    double share = Integer.parseInt(colour.substring(from, from + 2), 16) / 255.0;
    return share <= 0.04045 ? share / 12.92 : Math.pow((share + 0.055) / 1.055, 2.4);
  }
}
