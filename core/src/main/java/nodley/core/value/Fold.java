package nodley.core.value;

import com.ibm.icu.lang.UCharacter;
import java.text.Normalizer;

/**
 * The key under which texts are the same whatever their case: canonical caseless matching (Unicode
 * Standard, D145), kept in NFC.
 */
public final class Fold {

  private Fold() {}

  /** The same for a text; other values are as they are. */
  public static Value of(Value value) {
    return value instanceof Value.Text(String text) ? new Value.Text(of(text)) : value;
  }

  /** The folded text. */
  public static String of(String text) {
    String decomposed = Normalizer.normalize(text, Normalizer.Form.NFD);
    return Normalizer.normalize(UCharacter.foldCase(decomposed, true), Normalizer.Form.NFC);
  }
}
