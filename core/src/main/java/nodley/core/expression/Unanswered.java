package nodley.core.expression;

/** An expression reaches through a record that nobody can be asked about just now. */
public final class Unanswered extends RuntimeException {

  private static final long serialVersionUID = 1;

  public static final Unanswered NOW = new Unanswered();

  private Unanswered() {
    super("cannot be asked now", null, false, false);
  }
}
