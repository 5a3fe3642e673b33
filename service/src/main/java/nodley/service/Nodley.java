package nodley.service;

import nodley.service.start.Demo;
import nodley.service.start.Examine;
import nodley.service.start.Restore;
import nodley.service.start.Serve;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** The service's own commands; all others are the command-line client's. */
@Command(
    name = "nodley",
    description = "Takes form submissions, decides them, keeps them, and answers the page.",
    mixinStandardHelpOptions = true,
    version = "nodley 0.1.0",
    subcommands = {Serve.class, Demo.class, Restore.class, Examine.class})
public final class Nodley {

  private Nodley() {}

  public static void main(String[] args) {
    System.exit(new CommandLine(new Nodley()).execute(args));
  }
}
