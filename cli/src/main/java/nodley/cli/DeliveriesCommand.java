package nodley.cli;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Lists what outlets are told, and sends it again. */
@Command(
    name = "deliveries",
    header = "Lists what outlets are told of accepted submissions, and sends it again.",
    description = "The latest come first.",
    subcommands = {DeliveriesCommand.Again.class, DeliveriesCommand.Show.class},
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley deliveries",
      "  nodley deliveries --state failed --outlet office",
      "  nodley deliveries again 0199c6a2-51d3-7b1c-8f20-3f9c1d27a0b4"
    })
final class DeliveriesCommand extends ServiceCommand {

  @Option(
      names = "--state",
      paramLabel = "STATE",
      description = "Those that are waiting, delivered or failed.")
  private String state;

  @Option(names = "--outlet", paramLabel = "NAME", description = "Those to this outlet.")
  private String outlet;

  @Option(names = "--form", paramLabel = "FORM", description = "Those of this form.")
  private String form;

  @Option(
      names = "--record",
      paramLabel = "RECORD",
      description = "Those of this record, by its id.")
  private String record;

  @Mixin private LimitOption limit;

  @Override
  public Integer call() {
    Map<String, String> wanted = new LinkedHashMap<>();
    wanted.put("state", state);
    wanted.put("outlet", outlet);
    wanted.put("form", form);
    wanted.put("record", record);
    wanted.put("limit", limit.text());
    JsonNode reply = client().get("/deliveries" + Client.query(wanted));
    if (!printedJson(reply)) {
      print(reply.path("deliveries"));
    }
    return Cli.ACCEPTED;
  }

  private void print(JsonNode deliveries) {
    if (deliveries.isEmpty()) {
      out().println("There is no such delivery.");
      return;
    }
    List<List<String>> rows = new ArrayList<>();
    rows.add(List.of("ID", "MADE", "OUTLET", "FORM", "CHANGE", "STATE", "TRIES", "ANSWER"));
    for (JsonNode delivery : deliveries) {
      rows.add(
          List.of(
              delivery.path("id").asString(),
              delivery.path("madeAt").asString(),
              delivery.path("outlet").asString(),
              delivery.path("form").asString(),
              delivery.path("change").asString(),
              delivery.path("state").asString(),
              delivery.path("tries").asString(),
              delivery.path("answer").asString("")));
    }
    Table.print(rows, out());
  }

  /** {@code nodley deliveries again}. */
  @Command(
      name = "again",
      description = "Sends a delivery again at once, whatever it had come to.",
      footerHeading = "%nExample:%n",
      footer = "  nodley deliveries again 0199c6a2-51d3-7b1c-8f20-3f9c1d27a0b4")
  static final class Again extends ServiceCommand {

    @Parameters(paramLabel = "DELIVERY", description = "Its id, as nodley deliveries lists it.")
    private String id;

    @Override
    public Integer call() {
      JsonNode reply = client().post("/deliveries/" + Client.part(id) + "/again");
      if (!printedJson(reply)) {
        out().println("It is sent to " + reply.path("outlet").asString() + " again.");
      }
      return Cli.ACCEPTED;
    }
  }

  /** {@code nodley deliveries show}. */
  @Command(
      name = "show",
      description = "Shows a delivery with what it tells.",
      footerHeading = "%nExample:%n",
      footer = "  nodley deliveries show 0199c6a2-51d3-7b1c-8f20-3f9c1d27a0b4")
  static final class Show extends ServiceCommand {

    @Parameters(paramLabel = "DELIVERY", description = "Its id, as nodley deliveries lists it.")
    private String id;

    @Override
    public Integer call() {
      JsonNode reply = client().get("/deliveries/" + Client.part(id));
      if (!printedJson(reply)) {
        List<List<String>> rows = new ArrayList<>();
        reply
            .properties()
            .forEach(
                it ->
                    rows.add(
                        List.of(
                            it.getKey(),
                            it.getValue().isObject()
                                ? it.getValue().toString()
                                : it.getValue().asString())));
        Table.print(rows, out());
      }
      return Cli.ACCEPTED;
    }
  }
}
