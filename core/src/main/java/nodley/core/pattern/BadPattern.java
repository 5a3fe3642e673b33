package nodley.core.pattern;

/** A pattern that is not an I-Regexp, or too large to run. */
public final class BadPattern extends RuntimeException {

  private static final long serialVersionUID = 1;

  private final int offset;

  BadPattern(String message, int offset) {
    super(message);
    this.offset = offset;
  }

  /** Where in the pattern it goes wrong, counted in UTF-16 units from 0. */
  public int offset() {
    return offset;
  }
}
