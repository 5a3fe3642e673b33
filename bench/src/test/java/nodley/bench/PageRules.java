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
  private final Path script;
  private final BufferedWriter to;
  private final BufferedReader from;

  /**
   * Starts Node.
   *
   * @param runtime the built page runtime, {@code nodley.js}
   */
  PageRules(Path runtime) throws IOException {
    script = Files.createTempFile("judge", ".mjs");
    try (InputStream in = PageRules.class.getResourceAsStream("judge.mjs")) {
      Files.write(script, in.readAllBytes());
    }
    node =
        new ProcessBuilder(
                List.of("node", script.toString(), runtime.toAbsolutePath().normalize().toString()))
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    to =
        new BufferedWriter(
            new OutputStreamWriter(node.getOutputStream(), StandardCharsets.UTF_8), 1 << 16);
    from =
        new BufferedReader(
            new InputStreamReader(node.getInputStream(), StandardCharsets.UTF_8), 1 << 16);
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
    Files.deleteIfExists(script);
  }
}
