package nodley.core.expression;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** The functions: few and total. {@code round} and {@code matches} have nodes of their own. */
enum Function {
  LENGTH,
  COUNT,
  SUM,
  MIN,
  MAX,
  LOWER,
  UPPER,
  SLUG,
  DAYS,
  YEAR;

  static final List<String> WORDS =
      List.of(
          "length", "count", "sum", "min", "max", "round", "lower", "upper", "slug", "days", "year",
          "matches", "date");

  String word() {
    return name().toLowerCase(Locale.ROOT);
  }

  static Optional<Function> of(String word) {
    return Arrays.stream(values()).filter(it -> it.word().equals(word)).findFirst();
  }
}
