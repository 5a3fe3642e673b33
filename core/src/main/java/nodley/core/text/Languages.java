package nodley.core.text;

import java.util.List;
import java.util.Locale;

/** The languages of Nodley's own messages; the first is the fallback. */
public final class Languages {

  public static final List<Locale> SHIPPED =
      List.of(Locale.ENGLISH, Locale.GERMAN, new Locale.Builder().setLanguage("es").build());

  private Languages() {}
}
