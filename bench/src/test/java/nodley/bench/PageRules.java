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

  private final Process node;
  private final List<Path> files;
  private final BufferedWriter to;
  private final BufferedReader from;

  /** Starts Node. */
  PageRules() throws IOException {
    files = List.of(copy("judge.mjs"), copy("/META-INF/resources/page/nodley.js"));
    node =
        new ProcessBuilder("node", files.getFirst().toString(), files.getLast().toString())
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
  private static Path copy(String resource) throws IOException {
    Path file = Files.createTempFile("page-rules", ".mjs");
    try (InputStream in = PageRules.class.getResourceAsStream(resource)) {
      return Files.write(file, in.readAllBytes());
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
    for (Path file : files) {
      Files.deleteIfExists(file);
    }
  }
}
