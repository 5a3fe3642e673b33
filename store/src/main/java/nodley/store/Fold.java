package nodley.store;

import com.ibm.icu.lang.UCharacter;
import java.text.Normalizer;

/**
 * The key under which texts are the same whatever their case: canonical caseless matching (Unicode
 * Standard, D145), kept in NFC.
 */
final class Fold {

  private Fold() {}

  static String of(String text) {
    String decomposed = Normalizer.normalize(text, Normalizer.Form.NFD);
    return Normalizer.normalize(UCharacter.foldCase(decomposed, true), Normalizer.Form.NFC);
  }
}
