package nodley.core.text;

import java.util.List;
import java.util.Locale;

/** The languages that Nodley's own sentences ship in; the first one stands in for all others. */
public final class Languages {

  public static final List<Locale> SHIPPED =
      List.of(Locale.ENGLISH, Locale.GERMAN, new Locale.Builder().setLanguage("es").build());

  private Languages() {}
}
