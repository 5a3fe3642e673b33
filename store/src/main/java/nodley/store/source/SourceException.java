package nodley.store.source;

/**
 * A database of somebody else's did not answer, or not in time. What forms ask of it is open then;
 * the message is for the operator.
 */
public final class SourceException extends Exception {

  private static final long serialVersionUID = 1;

  /**
   * With what operators are told.
   *
   * @param why in a few words
   */
  public SourceException(String why, Throwable cause) {
    super(why, cause);
  }
}
