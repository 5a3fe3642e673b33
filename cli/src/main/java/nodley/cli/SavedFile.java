package nodley.cli;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Saves what the service answers to a file that is not there yet, and says so. */
final class SavedFile {

  private SavedFile() {}

  /**
   * Saves a reply.
   *
   * @param path of the call, below {@code /api}
   */
  static void save(ServiceCommand command, String path, Path file) {
    if (Files.exists(file)) {
      throw new CommandLine.ParameterException(
          command.commands(), file + " is there already, and is not written over.");
    }
    try {
      command.client().save(path, file);
      long bytes = Files.size(file);
      JsonNode saved =
          JsonMapper.shared().valueToTree(Map.of("file", file.toString(), "bytes", bytes));
      if (!command.printedJson(saved)) {
        command.out().println("Saved to " + file + ": " + bytes / 1024 + " KiB.");
      }
    } catch (IOException e) {
      throw new CommandLine.ParameterException(
          command.commands(), file + " cannot be written: " + e.getMessage());
    }
  }
}
