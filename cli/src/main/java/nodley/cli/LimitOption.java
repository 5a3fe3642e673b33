package nodley.cli;

import picocli.CommandLine.Option;

/** {@code --limit} of the commands that list what came last. */
final class LimitOption {

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "20",
      description = "How many at most (usual: ${DEFAULT-VALUE}).")
  private int limit;

  /** Returns the number, as a query has it. */
  String text() {
    return Integer.toString(limit);
  }
}
