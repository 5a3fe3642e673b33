package nodley.core.value;

import com.ibm.icu.lang.UCharacter;
import com.ibm.icu.util.ULocale;

/**
 * Case mapping without a language, as the Unicode Standard has it (section 3.13), final sigma and
 * all; the JDK's own takes some letters for uncased.
 */
public final class Letters {

  private Letters() {}

  public static String lower(String text) {
    return UCharacter.toLowerCase(ULocale.ROOT, text);
  }

  public static String upper(String text) {
    return UCharacter.toUpperCase(ULocale.ROOT, text);
  }
}
