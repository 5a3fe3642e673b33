package nodley.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@Command(
    name = "backup",
    description = "Saves a copy of everything, while the service goes on.",
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley backup monday.db",
      "  nodley restore monday.db --data harbour            (with the service stopped)"
    })
final class BackupCommand extends ServiceCommand {

  @Parameters(index = "0", paramLabel = "FILE", description = "A file that is not there yet.")
  private Path file;

  @Override
  public Integer call() {
    if (Files.exists(file)) {
      throw new CommandLine.ParameterException(
          commands(), file + " is there already, and is not written over.");
    }
    try {
      client().save("/backup", file);
      long bytes = Files.size(file);
      JsonNode saved =
          JsonMapper.shared().valueToTree(Map.of("file", file.toString(), "bytes", bytes));
      if (!printedJson(saved)) {
        out().println("Saved to " + file + ": " + bytes / 1024 + " KiB.");
      }
      return Cli.ACCEPTED;
    } catch (IOException e) {
      throw new CommandLine.ParameterException(
          commands(), file + " cannot be written: " + e.getMessage());
    }
  }
}
