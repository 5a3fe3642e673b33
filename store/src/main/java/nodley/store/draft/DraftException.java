package nodley.store.draft;

/** Why a draft cannot be begun or changed; the message is for people. */
public abstract sealed class DraftException extends Exception {

  private static final long serialVersionUID = 1;

  private DraftException(String message) {
    super(message);
  }

  /** There are as many as may be. */
  public static final class TooMany extends DraftException {
    private static final long serialVersionUID = 1;

    TooMany(String message) {
      super(message);
    }
  }

  /** Somebody else changed it since. */
  public static final class Outdated extends DraftException {
    private static final long serialVersionUID = 1;
    private final transient Draft current;

    Outdated(Draft current) {
      super("The draft was changed meanwhile.");
      this.current = current;
    }

    /** Returns the draft as it is now. */
    public Draft current() {
      return current;
    }
  }

  /** It is gone. */
  public static final class Gone extends DraftException {
    private static final long serialVersionUID = 1;

    Gone() {
      super("The draft is gone.");
    }
  }
}
