package nodley.cli;

import picocli.CommandLine.Command;

/** Lists the databases in which forms look things up. */
@Command(
    name = "sources",
    header = "Lists the databases in which forms look things up.",
    description = "Those that the settings have, what came of the last question, and which rest.",
    footerHeading = "%nExample:%n",
    footer = "  nodley sources")
final class SourcesCommand extends ServiceCommand {

  @Override
  public Integer call() {
    return StandingTable.print(
        this, "sources", "The settings have no database to look things up in.");
  }
}
