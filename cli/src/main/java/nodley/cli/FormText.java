package nodley.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import picocli.CommandLine;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Reads a form file on this machine. */
record FormText(Path path, byte[] bytes) {

  static FormText read(Path path, CommandLine commands) {
    try {
      return new FormText(path, Files.readAllBytes(path));
    } catch (IOException e) {
      String why = Files.exists(path) ? "cannot be read" : "is not there";
      throw new CommandLine.ParameterException(commands, "The file " + path + " " + why + ".");
    }
  }

  private static final JsonMapper JSON = JsonMapper.shared();

  Format format() {
    return Format.ofFile(path.toString());
  }

  /** The errors of a file as JSON, as the service tells them. */
  static JsonNode json(FormFileException e) {
    return Json.tree(e.errors());
  }

  /** What a program is told of a file with errors. */
  JsonNode withErrors(JsonNode errors) {
    ObjectNode told = JSON.createObjectNode();
    told.put("file", path.toString());
    told.set("errors", errors);
    return told;
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
      String text = lines.get(line - 1).replace('\t', ' ');
      Excerpt shown = Excerpt.of(text, Math.min(column - 1, text.length()));
      to.println(number + " | " + shown.text());
      to.println(" ".repeat(number.length()) + " | " + " ".repeat(shown.mark()) + "^");
    }
  }

  /** What is shown of a line, and where in it the mark belongs. */
  private record Excerpt(String text, int mark) {

    private static final int WHOLE = 160;
    private static final int BEFORE = 80;
    private static final int AFTER = 60;

    static Excerpt of(String line, int mark) {
      if (line.length() <= WHOLE) {
        return new Excerpt(line, mark);
      }
      int start = mark <= BEFORE ? 0 : mark - BEFORE;
      int end = Math.min(line.length(), mark + AFTER);
      String before = start > 0 ? "…" : "";
      String after = end < line.length() ? "…" : "";
      return new Excerpt(
          before + line.substring(start, end) + after, mark - start + before.length());
    }
  }
}
