package nodley.cli;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;

/** Lists outlets, tries them, and switches them on and off. */
@Command(
    name = "outlets",
    header = "Lists the outlets of the settings, tries them, and switches them on and off.",
    description = "Without more, lists how each stands.",
    subcommands = {OutletsCommand.Test.class, OutletsCommand.On.class, OutletsCommand.Off.class},
    footerHeading = "%nExamples:%n",
    footer = {"  nodley outlets", "  nodley outlets test office", "  nodley outlets on office"})
final class OutletsCommand extends ServiceCommand {

  @Override
  public Integer call() {
    JsonNode reply = client().get("/outlets");
    if (printedJson(reply)) {
      return Cli.ACCEPTED;
    }
    if (reply.path("outlets").isEmpty()) {
      out().println("The settings have no outlets.");
      return Cli.ACCEPTED;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("OUTLET", "WHERE", "STATE", "WAITING", "SINCE", "FAILED"));
    for (JsonNode outlet : reply.path("outlets")) {
      rows.add(
          List.of(
              outlet.path("name").asString(),
              outlet.path("where").asString(),
              outlet.path("on").asBoolean() ? "on" : "off: " + outlet.path("why").asString(),
              outlet.path("waiting").asString(),
              outlet.path("oldest").asString(""),
              outlet.path("failed").asString()));
    }
    Table.print(rows, out());
    return Cli.ACCEPTED;
  }

  /** A command about one outlet. */
  abstract static class OfOne extends ServiceCommand {

    @Parameters(paramLabel = "OUTLET", description = "Its name, as nodley outlets lists it.")
    private String name;

    String name() {
      return name;
    }

    void change(boolean on) {
      JsonNode body = JsonNodeFactory.instance.objectNode().put("on", on);
      JsonNode reply = client().put("/outlets/" + Client.part(name), body);
      if (!printedJson(reply)) {
        String waiting = reply.path("waiting").asString();
        out()
            .println(
                on
                    ? name + " is on; what waits is sent (" + waiting + ")."
                    : name + " is off; what is for it waits (" + waiting + ").");
      }
    }
  }

  /** {@code nodley outlets test}. */
  @Command(
      name = "test",
      description = "Sends an outlet a sample, marked as one, and tells what it said.",
      footerHeading = "%nExample:%n",
      footer = "  nodley outlets test office")
  static final class Test extends OfOne {

    @Override
    public Integer call() {
      JsonNode reply = client().post("/outlets/" + Client.part(name()) + "/test");
      boolean delivered = reply.path("delivered").asBoolean();
      if (!printedJson(reply)) {
        out()
            .println(
                name()
                    + (delivered ? " took the sample: " : " did not take the sample: ")
                    + reply.path("answer").asString()
                    + ".");
      }
      return delivered ? Cli.ACCEPTED : Cli.REFUSED;
    }
  }

  /** {@code nodley outlets on}. */
  @Command(
      name = "on",
      description = "Switches an outlet on, and sends what waits for it.",
      footerHeading = "%nExample:%n",
      footer = "  nodley outlets on office")
  static final class On extends OfOne {

    @Override
    public Integer call() {
      change(true);
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley outlets off}. */
  @Command(
      name = "off",
      description = "Switches an outlet off; what is for it waits.",
      footerHeading = "%nExample:%n",
      footer = "  nodley outlets off office")
  static final class Off extends OfOne {

    @Override
    public Integer call() {
      change(false);
      return Cli.ACCEPTED;
    }
  }
}
