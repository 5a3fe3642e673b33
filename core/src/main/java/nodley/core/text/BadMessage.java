package nodley.core.text;

/** A sentence that is not ICU MessageFormat, or uses what has no place in it. */
public final class BadMessage extends Exception {

  private static final long serialVersionUID = 1;

  BadMessage(String message) {
    super(message);
  }
}
