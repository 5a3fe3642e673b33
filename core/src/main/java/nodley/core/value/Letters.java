package nodley.core.value;

import com.ibm.icu.lang.UCharacter;
import com.ibm.icu.util.ULocale;
import java.util.Locale;

/**
 * Case mapping without a language, as the Unicode Standard has it (section 3.13), final sigma and
 * all; the JDK's own takes some letters for uncased.
 */
public final class Letters {

  private Letters() {}

  /** Returns text in lower case, regardless of language. */
  public static String lower(String text) {
    return isAscii(text)
        ? text.toLowerCase(Locale.ROOT)
        : UCharacter.toLowerCase(ULocale.ROOT, text);
  }

  /** Returns text in upper case, regardless of language. */
  public static String upper(String text) {
    return isAscii(text)
        ? text.toUpperCase(Locale.ROOT)
        : UCharacter.toUpperCase(ULocale.ROOT, text);
  }

  /** Of these 128 the JDK makes the same, and sooner. */
  private static boolean isAscii(String text) {
    for (int i = 0; i < text.length(); i++) {
      if (text.charAt(i) >= 0x80) {
        return false;
      }
    }
    return true;
  }
}
