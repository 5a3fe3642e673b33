package nodley.core.text;

import com.ibm.icu.text.PluralRules;
import com.ibm.icu.text.PluralRules.PluralType;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/**
 * The plural categories of languages, by the rules of CLDR that ship with ICU (UTS #35, part 3,
 * "Language Plural Rules"). Browsers have other versions of these rules, so a page gets them with
 * the sentences that need them.
 */
final class Plurals {

  private Plurals() {}

  private static PluralRules rules(Locale language, boolean ordinal) {
    return PluralRules.forLocale(language, ordinal ? PluralType.ORDINAL : PluralType.CARDINAL);
  }

  /** The category of a number: {@code one}, {@code few}, {@code other}. */
  static String category(BigDecimal number, Locale language, boolean ordinal) {
    return rules(language, ordinal).select(number.doubleValue());
  }

  /** Stands where there is no modulus: no operand is greater. */
  private static final long NO_MODULUS = 1_000_000_000_000_000L;

  /**
   * The rules of some categories, as a page reads them: of each category the alternatives, of each
   * alternative the relations that all hold. A relation is {@code [operand, modulus, yes, [from,
   * to], …]}: whether the operand, modulo the modulus, is in one of the spans. The operands are n,
   * i, v and f of UTS #35; t and w are f and v, for numbers have no trailing zeros here, and there
   * are no exponents. Where n must be one of some integers, another relation says that v is 0.
   *
   * @param categories those that a sentence has words for
   */
  static Map<String, Object> toJson(Set<String> categories, Locale language, boolean ordinal) {
    Map<String, Object> json = new LinkedHashMap<>();
    // All of a language, with samples: `few: n % 10 = 3 and n % 100 != 13 @integer 3, 23, …; one:
    // …`
    for (String rule : rules(language, ordinal).toString().split(";\\s*")) {
      String[] parts = rule.split("@", 2)[0].split(":\\s*", 2);
      if (categories.contains(parts[0]) && !parts[0].equals(PluralRules.KEYWORD_OTHER)) {
        json.put(parts[0], alternatives(parts[1]));
      }
    }
    return json;
  }

  /** Of a rule as CLDR writes it: {@code n % 10 = 1,3..5 and n % 100 != 11 or v = 0}. */
  private static List<Object> alternatives(String rule) {
    List<Object> alternatives = new ArrayList<>();
    for (String alternative : rule.strip().split(" or ")) {
      List<Object> relations = new ArrayList<>();
      boolean possible = true;
      for (String relation : alternative.split(" and ")) {
        if (relation.startsWith("e ")) {
          // Of a number without an exponent, e is 0.
          possible &= relation.equals("e = 0");
        } else {
          relations.add(relation(relation.split(" ")));
          if (relation.startsWith("n ") && !relation.contains("!=")) {
            relations.add(relation("v = 0".split(" ")));
          }
        }
      }
      if (possible) {
        alternatives.add(relations);
      }
    }
    return alternatives;
  }

  private static List<Object> relation(String[] words) {
    String operand =
        switch (words[0]) {
          case "t" -> "f";
          case "w" -> "v";
          default -> words[0];
        };
    boolean modulo = words[1].equals("%");
    List<Object> relation = new ArrayList<>();
    relation.add(operand);
    relation.add(modulo ? Long.parseLong(words[2]) : NO_MODULUS);
    relation.add(words[words.length - 2].equals("="));
    for (String span : words[words.length - 1].split(",")) {
      String[] ends = span.split("\\.\\.");
      relation.add(List.of(Integer.parseInt(ends[0]), Integer.parseInt(ends[ends.length - 1])));
    }
    return relation;
  }
}
