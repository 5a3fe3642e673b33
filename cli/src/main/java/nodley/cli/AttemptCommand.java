package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** {@code nodley attempt}: tells one attempt from its arrival to its answer. */
@Command(
    name = "attempt",
    description = "Tells one attempt from its arrival to its answer.",
    footerHeading = "%nExamples:%n",
    footer = "  nodley attempt 7c0ffee0-…                          (the X-Request-Id of the reply)")
final class AttemptCommand extends ServiceCommand {

  @Parameters(
      index = "0",
      paramLabel = "ID",
      description = "The id: the X-Request-Id of the reply.")
  private String id;

  @Override
  public Integer call() {
    JsonNode attempt = client().get("/attempts/" + Client.part(id));
    if (!printedJson(attempt)) {
      print(attempt);
    }
    return Cli.ACCEPTED;
  }

  private void print(JsonNode attempt) {
    String by = attempt.path("by").asString("");
    String from = attempt.path("from").asString("");
    out()
        .println(
            switch (attempt.path("mode").asString()) {
                  case "add" -> "An add to ";
                  case "edit" -> "An edit in ";
                  default -> "A check for ";
                }
                + attempt.path("form").asString()
                + " (revision "
                + attempt.path("revision").asString()
                + "), "
                + attempt.path("at").asString());
    out()
        .println(
            "Sent by "
                + (by.isEmpty() ? "somebody not signed in" : by)
                + (from.isEmpty() ? "" : " from " + from)
                + ", as "
                + door(attempt.path("door").asString())
                + ".");
    out().println();
    if (!attempt.path("values").isEmpty()) {
      out().println("What was judged, tidied:");
      List<List<String>> rows = new ArrayList<>();
      attempt
          .path("values")
          .properties()
          .forEach(it -> rows.add(List.of("  " + it.getKey(), FieldValues.text(it.getValue()))));
      Table.print(rows, out());
      int leftOut = attempt.path("leftOut").asInt();
      if (leftOut > 0) {
        out().println("  (Too much to keep: " + leftOut + " of the values are cut or left out.)");
      }
      out().println();
    }
    steps(attempt);
    out().println();
    outcome(attempt);
    for (JsonNode delivery : attempt.path("deliveries")) {
      out()
          .println(
              "Told to "
                  + delivery.path("outlet").asString()
                  + ": "
                  + delivery.path("state").asString()
                  + " ("
                  + delivery.path("id").asString()
                  + ").");
    }
  }

  private static String door(String door) {
    return switch (door) {
      case "page" -> "a page without script";
      case "form" -> "form encoding";
      case "service" -> "the service's own";
      default -> "JSON";
    };
  }

  private void steps(JsonNode attempt) {
    List<List<String>> rows = new ArrayList<>();
    for (JsonNode step : attempt.path("steps")) {
      rows.add(
          List.of(
              "  " + step.path("step").asString(),
              AttemptsCommand.millis(step.path("micros").asLong()),
              step.path("about").asString("")));
    }
    rows.add(List.of("  in all", AttemptsCommand.millis(attempt.path("micros").asLong()), ""));
    out().println("How long it took:");
    Table.print(rows, out());
  }

  private void outcome(JsonNode attempt) {
    String record = attempt.path("record").asString("");
    String problem = attempt.path("problem").asString("");
    out()
        .println(
            switch (attempt.path("verdict").asString()) {
              case "accepted" ->
                  record.isEmpty() ? "No errors." : "Accepted: record " + record + ".";
              case "repeated" ->
                  "Accepted before, and answered the same again: record " + record + ".";
              case "refused" -> "Refused:";
              case "trapped" ->
                  "Answered as if accepted, and not kept: it fell into the page's trap.";
              default ->
                  "Not judged to an end (" + problem + "). " + attempt.path("detail").asString("");
            });
    List<List<String>> rows = new ArrayList<>();
    for (JsonNode error : attempt.path("errors")) {
      String name = Errors.name(error);
      rows.add(
          List.of(
              "  " + (name.isEmpty() ? "the form" : name),
              error.path("code").asString(),
              error.path("detail").asString()));
    }
    Table.print(rows, out());
  }
}
