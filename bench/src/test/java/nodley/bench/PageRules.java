package nodley.bench;

import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.OutputStreamWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import tools.jackson.core.StreamWriteFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The page runtime, running in Node, asked line by line. */
final class PageRules implements AutoCloseable {

  static final JsonMapper JSON =
      JsonMapper.builder().enable(StreamWriteFeature.WRITE_BIGDECIMAL_AS_PLAIN).build();

  /** The runtime, and the part of it that it imports for its rules. */
  private static final List<String> PARTS = List.of("nodley.js", "more.js");

  private final Process node;
  private final Path folder = Files.createTempDirectory("page-rules");
  private final BufferedWriter to;
  private final BufferedReader from;

  /** Starts Node. */
  PageRules() throws IOException {
    for (String part : PARTS) {
      copy("/META-INF/resources/page/" + part, part);
    }
    Path script = copy("judge.mjs", "judge.mjs");
    node =
        new ProcessBuilder("node", script.toString(), folder.resolve(PARTS.getFirst()).toString())
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    to =
        new BufferedWriter(
            new OutputStreamWriter(node.getOutputStream(), StandardCharsets.UTF_8), 1 << 16);
    from =
        new BufferedReader(
            new InputStreamReader(node.getInputStream(), StandardCharsets.UTF_8), 1 << 16);
  }

  /** Node reads files, and no class path. */
  private Path copy(String resource, String name) throws IOException {
    try (InputStream in = PageRules.class.getResourceAsStream(resource)) {
      return Files.write(folder.resolve(name), in.readAllBytes());
    }
  }

  void send(Object message) throws IOException {
    to.write(JSON.writeValueAsString(message));
    to.write('\n');
  }

  JsonNode reply() throws IOException {
    to.flush();
    String line = from.readLine();
    if (line == null) {
      throw new IOException("Node has ended");
    }
    return JSON.readTree(line);
  }

  JsonNode ask(Object message) throws IOException {
    send(message);
    return reply();
  }

  @Override
  public void close() throws IOException {
    to.close();
    node.destroy();
    for (String part : PARTS) {
      Files.deleteIfExists(folder.resolve(part));
    }
    Files.deleteIfExists(folder.resolve("judge.mjs"));
    Files.deleteIfExists(folder);
  }
}
