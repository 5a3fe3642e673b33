package nodley.service;

import nodley.core.ProductVersion;
import nodley.service.start.AddPerson;
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
    versionProvider = Nodley.Version.class,
    subcommands = {Serve.class, Demo.class, Restore.class, Examine.class, AddPerson.class})
public final class Nodley {

  /** Tells {@code --version}. */
  static final class Version implements CommandLine.IVersionProvider {
    @Override
    public String[] getVersion() {
      return new String[] {"nodley " + ProductVersion.current()};
    }
  }

  private Nodley() {}

  public static void main(String[] args) {
    System.exit(new CommandLine(new Nodley()).execute(args));
  }
}
