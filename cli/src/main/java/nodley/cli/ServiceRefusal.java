package nodley.cli;

import java.io.PrintWriter;
import tools.jackson.databind.JsonNode;

/** The service answered with a problem, which is printed for people or, with --json, as it is. */
final class ServiceRefusal extends RuntimeException {

  private static final long serialVersionUID = 1;
  private static final int UNAUTHORIZED = 401;

  private final transient JsonNode problem;
  private final boolean json;

  ServiceRefusal(JsonNode problem, boolean json) {
    super(problem.path("title").asString());
    this.problem = problem;
    this.json = json;
  }

  /** The exit status of the command. */
  int status() {
    return Cli.REFUSED;
  }

  /** The problem as it was answered (RFC 9457). */
  JsonNode problem() {
    return problem;
  }

  /** Prints it: as JSON for programs, else its sentences with the fields that they are about. */
  void print(PrintWriter out, PrintWriter err) {
    if (json) {
      out.println(problem);
      return;
    }
    err.println(problem.path("title").asString() + ".");
    String detail = problem.path("detail").asString();
    if (!detail.isEmpty()) {
      err.println(detail);
    }
    if (problem.path("status").asInt() == UNAUTHORIZED) {
      err.println(
          "Give a key by --key, in NODLEY_KEY, or as `key` in "
              + Connection.usual(System.getenv())
              + ".");
    }
    Errors.print(problem.path("errors"), err);
    for (JsonNode field : problem.path("fields")) {
      err.println(
          "  "
              + Errors.name(field)
              + ": theirs "
              + field.path("theirs")
              + ", yours "
              + field.path("yours"));
    }
    PublishReport.printObjections(problem.path("objections"), err);
    problem
        .path("forms")
        .propertyStream()
        .forEach(
            form -> {
              err.println("  " + form.getKey());
              form.getValue().forEach(error -> err.println("    " + error.asString()));
            });
    problem
        .path("records")
        .forEach(
            it -> err.println("  " + it.path("form").asString() + " " + it.path("id").asString()));
  }
}
