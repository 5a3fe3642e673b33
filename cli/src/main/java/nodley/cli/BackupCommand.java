package nodley.cli;

import java.nio.file.Path;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** {@code nodley backup}: saves a copy of everything, while the service goes on. */
@Command(
    name = "backup",
    description = "Saves a copy of everything, while the service goes on.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley backup monday.tar",
      "  nodley restore monday.tar --data harbour            (with the service stopped)"
    })
final class BackupCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "FILE", description = "A file that is not there yet.")
  private Path file;

  @Override
  public Integer call() {
    SavedFile.save(this, "/backup", file);
    return Cli.ACCEPTED;
  }
}
