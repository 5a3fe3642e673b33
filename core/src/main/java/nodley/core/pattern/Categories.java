package nodley.core.pattern;

import com.ibm.icu.lang.UCharacter;
import com.ibm.icu.lang.UProperty;
import com.ibm.icu.text.UnicodeSet;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;

/**
 * The general categories of Unicode (UAX #44) as ICU4J has them, written as ranges: the tables of
 * the matcher itself are of 2010.
 */
final class Categories {

  /** By name, with {@code ^} before it for all others; made once each, for some are long. */
  private static final Map<String, String> KNOWN = new ConcurrentHashMap<>();

  private Categories() {}

  /** The members of a category, or all others, as ranges that may stand in a class. */
  static String ranges(String category, boolean others) {
    return KNOWN.computeIfAbsent(
        (others ? "^" : "") + category,
        _ -> {
          UnicodeSet members = set(category);
          return ranges(others ? members.complement() : members);
        });
  }

  /** The members of a category. */
  static UnicodeSet set(String category) {
    int mask = UCharacter.getPropertyValueEnum(UProperty.GENERAL_CATEGORY_MASK, category);
    return new UnicodeSet().applyIntPropertyValue(UProperty.GENERAL_CATEGORY_MASK, mask);
  }

  private static String ranges(UnicodeSet set) {
    var out = new StringBuilder();
    for (UnicodeSet.EntryRange range : set.ranges()) {
      out.append(String.format("\\x{%x}-\\x{%x}", range.codepoint, range.codepointEnd));
    }
    return out.toString();
  }
}
