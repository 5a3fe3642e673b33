package nodley.bench;

import com.ibm.icu.lang.UCharacter;
import com.ibm.icu.lang.UProperty;
import com.ibm.icu.text.UnicodeSet;
import java.util.List;

/** Characters of every general category that a pattern can name, and patterns that name them. */
final class Characters {

  /** RFC 9485, section 3; without Cn, of which a page has no table that will stay true. */
  private static final List<String> CATEGORIES =
      List.of(
          "L", "Ll", "Lm", "Lo", "Lt", "Lu", "M", "Mc", "Me", "Mn", "N", "Nd", "Nl", "No", "P",
          "Pc", "Pd", "Pe", "Pf", "Pi", "Po", "Ps", "Z", "Zl", "Zp", "Zs", "S", "Sc", "Sk", "Sm",
          "So", "C", "Cc", "Cf", "Co");

  /** What browsers of some years ago know too. */
  private static final UnicodeSet KNOWN = new UnicodeSet("[[:Age=15.0:]-[:Cs:]]").freeze();

  private static final List<UnicodeSet> MEMBERS =
      CATEGORIES.stream().map(Characters::members).toList();

  private final Dice dice;

  Characters(Dice dice) {
    this.dice = dice;
  }

  /** One to four characters, each of a category that is drawn first. */
  String text() {
    var text = new StringBuilder();
    for (int i = dice.between(1, 4); i > 0; i--) {
      UnicodeSet members = dice.one(MEMBERS);
      text.appendCodePoint(members.charAt(dice.below(members.size())));
    }
    return text.toString();
  }

  /** A class of one or two categories, or of all others. */
  String pattern() {
    String one = category();
    return dice.one(one + "+", "[" + one + category() + "]*", "[^" + one + "a]{1,3}", ".*" + one);
  }

  /** What {@code keep} says: what stands in a class. */
  String kept() {
    return category() + dice.one("", "a-z", category());
  }

  private String category() {
    return dice.one("\\p{", "\\P{") + dice.one(CATEGORIES) + "}";
  }

  private static UnicodeSet members(String category) {
    int mask = UCharacter.getPropertyValueEnum(UProperty.GENERAL_CATEGORY_MASK, category);
    return new UnicodeSet()
        .applyIntPropertyValue(UProperty.GENERAL_CATEGORY_MASK, mask)
        .retainAll(KNOWN)
        .freeze();
  }
}
