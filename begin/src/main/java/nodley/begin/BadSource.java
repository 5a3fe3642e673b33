package nodley.begin;

/** What a form file was to be begun from cannot be used; the message says why. */
public final class BadSource extends Exception {
  private static final long serialVersionUID = 1;

  BadSource(String message) {
    super(message);
  }
}
