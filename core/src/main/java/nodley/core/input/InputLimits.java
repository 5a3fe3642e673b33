package nodley.core.input;

/**
 * Limits of one submission.
 *
 * @param depth objects and arrays inside each other, the outermost counted
 * @param values names, items and pairs altogether
 */
public record InputLimits(int depth, int values) {
  public static final InputLimits DEFAULT = new InputLimits(32, 20_000);
}
