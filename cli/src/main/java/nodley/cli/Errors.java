package nodley.cli;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/** Prints the errors of a verdict, one a line. */
final class Errors {

  private Errors() {}

  static void print(JsonNode errors, PrintWriter to) {
    List<List<String>> rows = new ArrayList<>();
    for (JsonNode error : errors) {
      rows.add(
          List.of(
              "  " + name(error), error.path("code").asString(), error.path("detail").asString()));
    }
    Table.print(rows, to);
  }

  /**
   * The field that the pointer of an error or a change points at, as the command line names it:
   * {@code crew[0].name}; empty for the form itself.
   */
  static String name(JsonNode error) {
    return error
        .path("pointer")
        .asString("")
        .replaceFirst("^#/?", "")
        .replaceAll("/([0-9]+)(?=/|$)", "[$1]")
        .replace('/', '.');
  }
}
