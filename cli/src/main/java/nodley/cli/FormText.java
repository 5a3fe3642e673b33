package nodley.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import nodley.core.file.Format;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;

/** A form file on this machine. */
record FormText(Path path, byte[] bytes) {

  static FormText read(Path path, CommandLine commands) {
    try {
      return new FormText(path, Files.readAllBytes(path));
    } catch (IOException e) {
      String why = Files.exists(path) ? "cannot be read" : "is not there";
      throw new CommandLine.ParameterException(commands, "The file " + path + " " + why + ".");
    }
  }

  Format format() {
    return Format.ofFile(path.toString());
  }

  /** Prints an error with the line that it stands in, and a mark below its place. */
  void print(JsonNode error, PrintWriter to) {
    int line = error.path("line").asInt();
    int column = error.path("column").asInt();
    to.println(
        path
            + ":"
            + line
            + ":"
            + column
            + "  "
            + error.path("code").asString()
            + "  "
            + error.path("detail").asString());
    List<String> lines = new String(bytes, StandardCharsets.UTF_8).lines().toList();
    if (line <= lines.size()) {
      String number = "%6d".formatted(line);
      to.println(number + " | " + lines.get(line - 1).replace('\t', ' '));
      to.println(" ".repeat(number.length()) + " | " + " ".repeat(column - 1) + "^");
    }
  }
}
