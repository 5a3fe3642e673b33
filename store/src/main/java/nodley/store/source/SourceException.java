package nodley.store.source;

/** A database of somebody else's did not answer. */
public final class SourceException extends Exception {

  private static final long serialVersionUID = 1;

  SourceException(String why, Throwable cause) {
    super(why, cause);
  }
}
