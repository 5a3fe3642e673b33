package nodley.core.name;

import java.util.Locale;

/** Makes readable words from identifiers: {@code callSign} becomes "Call sign". */
public final class Words {

  private Words() {}

  /**
   * {@code callSign} and {@code call_sign} become "Call sign", {@code incident-report} "Incident
   * report".
   */
  public static String of(String name) {
    String words =
        name.replaceAll("([a-z0-9])([A-Z])", "$1 $2")
            .replaceAll("[-_]", " ")
            .toLowerCase(Locale.ROOT);
    return words.substring(0, 1).toUpperCase(Locale.ROOT) + words.substring(1);
  }
}
