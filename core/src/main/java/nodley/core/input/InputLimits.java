package nodley.core.input;

/**
 * Limits of one submission.
 *
 * @param depth objects and arrays inside each other, the outermost counted
 * @param values names, items and pairs altogether
 */
public record InputLimits(int depth, int values) {
  /** For what was within some limits when it was stored. */
  public static final InputLimits STORED = new InputLimits(500, Integer.MAX_VALUE);

  public static final InputLimits DEFAULT = new InputLimits(32, 20_000);
}
