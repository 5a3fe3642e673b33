package nodley.cli;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/**
 * Prints what a publish did, or would do: changes of tables, warnings, conflicts with stored
 * records.
 */
final class PublishReport {

  private PublishReport() {}

  /** Which revision of which form was published: {@code vessel: revision 2}. */
  static String revision(JsonNode reply) {
    return revision(reply, reply.path("form").asString());
  }

  /** The same of a form that the reply does not name. */
  static String revision(JsonNode reply, String form) {
    return form + ": revision " + reply.path("revision").asString();
  }

  /** Prints a line for each change, and what is hardly wanted. */
  static void print(JsonNode outcome, PrintWriter to) {
    List<List<String>> rows = new ArrayList<>();
    for (JsonNode change : outcome.path("changes")) {
      rows.add(
          List.of(
              "  " + change.path("change").asString(),
              place(change, outcome),
              change.path("detail").asString()));
    }
    Table.print(rows, to);
    printWarnings(outcome.path("warnings"), to);
  }

  static void printWarnings(JsonNode warnings, PrintWriter to) {
    for (JsonNode warning : warnings) {
      to.println(
          "  warning: "
              + warning.path("pointer").asString()
              + ": "
              + warning.path("detail").asString());
    }
  }

  /** Prints the records that conflict with the form file, one id a line. */
  static void printObjections(JsonNode objections, PrintWriter to) {
    for (JsonNode objection : objections) {
      String field = objection.path("field").asString();
      to.println(
          "  "
              + objection.path("form").asString()
              + (field.isEmpty() ? "" : "." + field)
              + ": "
              + objection.path("detail").asString());
      JsonNode records = objection.path("records");
      records.forEach(id -> to.println("    " + id.asString()));
      long more = objection.path("count").asLong() - records.size();
      if (more > 0) {
        to.println("    and " + more + " more");
      }
    }
  }

  /** The field; with its form, where a list or a part is published that several may use. */
  private static String place(JsonNode change, JsonNode outcome) {
    String field = change.path("field").asString();
    JsonNode files = outcome.path("files");
    boolean one =
        outcome.has("form")
            || files.size() == 1 && files.path(0).path("kind").asString().equals("form");
    return one ? field : change.path("form").asString() + "." + field;
  }
}
