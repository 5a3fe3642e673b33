package nodley.core.expression;

/** An expression reaches through a record that nobody can be asked about just now. */
public final class LookupUnavailable extends RuntimeException {

  private static final long serialVersionUID = 1;

  public static final LookupUnavailable NOW = new LookupUnavailable();

  private LookupUnavailable() {
    super("cannot be asked now", null, false, false);
  }
}
