package nodley.core.text;

/** A message that is not ICU MessageFormat, or uses a feature that is not supported. */
public final class BadMessage extends Exception {

  private static final long serialVersionUID = 1;

  BadMessage(String message) {
    super(message);
  }
}
