package nodley.cli;

import picocli.CommandLine.Command;

/** Lists the services outside that are asked about submissions. */
@Command(
    name = "asks",
    header = "Lists the services that are asked about submissions.",
    description = "Those that the settings have, what each said last, and which rest.",
    footerHeading = "%nExample:%n",
    footer = "  nodley asks")
final class AsksCommand extends ServiceCommand {

  @Override
  public Integer call() {
    return StandingTable.print(this, "asks", "The settings have nobody to ask.");
  }
}
