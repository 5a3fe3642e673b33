package nodley.core.input;

/**
 * A body that is malformed or exceeds a limit. The message is a sentence for whoever sent it, with
 * the place where that is known. It is told as a problem: nothing of such a body is judged.
 */
public final class Unreadable extends Exception {

  private static final long serialVersionUID = 1;

  private final boolean tooLarge;

  private Unreadable(String message, boolean tooLarge) {
    super(message);
    this.tooLarge = tooLarge;
  }

  static Unreadable because(String message) {
    return new Unreadable(message, false);
  }

  static Unreadable tooMany(int limit) {
    return new Unreadable("The body holds more than " + limit + " values.", true);
  }

  /** True if it is a matter of size (HTTP 413), not of form (HTTP 400). */
  public boolean isTooLarge() {
    return tooLarge;
  }
}
