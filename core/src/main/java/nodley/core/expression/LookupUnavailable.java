package nodley.core.expression;

/**
 * Thrown by an expression that reads through a record which cannot be looked up now. One shared
 * instance without a stack trace.
 */
public final class LookupUnavailable extends RuntimeException {

  private static final long serialVersionUID = 1;

  @SuppressWarnings("StaticAssignmentOfThrowable") // It has no stack trace that could mislead.
  public static final LookupUnavailable NOW = new LookupUnavailable();

  private LookupUnavailable() {
    super("cannot be asked now", null, false, false);
  }
}
