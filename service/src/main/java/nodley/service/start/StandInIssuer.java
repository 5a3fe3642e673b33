package nodley.service.start;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * The stand-in issuer of the demo, as a process of its own. The service is told of it before it
 * runs, and asks it for nothing before somebody signs in.
 */
final class StandInIssuer {

  private static final String READY = "The stand-in issuer is ready at ";

  private final Path jar;
  private final int port;
  private Process process;

  private StandInIssuer(Path jar, int port) {
    this.jar = jar;
    this.port = port;
  }

  /**
   * Finds it where the launcher has put it, and a free port.
   *
   * @throws IllegalStateException if it is not there, in a sentence
   */
  static StandInIssuer find() {
    try {
      Path service =
          Path.of(StandInIssuer.class.getProtectionDomain().getCodeSource().getLocation().toURI());
      Path jar = service.resolveSibling("../issuer/nodley-issuer.jar").normalize();
      if (!Files.exists(jar)) {
        throw new IllegalStateException(
            "The stand-in issuer is not built: start the demo with ./nodley demo --issuer.");
      }
      try (var free = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
        return new StandInIssuer(jar, free.getLocalPort());
      }
    } catch (URISyntaxException | IOException e) {
      throw new IllegalStateException("The stand-in issuer cannot be started.", e);
    }
  }

  /** Returns the settings by which people sign in there: what stands below {@code nodley:}. */
  String settings() {
    return """
      sign-in:
        issuers:
          - name: harbour
            label: Harbour Office
            uri: http://127.0.0.1:%d
            client-id: nodley
            client-secret: a-secret-for-the-demo
            roles-claim: groups
            roles: ["Harbour Masters=admin", "Harbour Clerks=clerk"]
    """
        .indent(2)
        .formatted(port);
  }

  /**
   * Starts it for the service of an address, and waits until it answers.
   *
   * @throws IllegalStateException if it does not start
   */
  void start(String service) {
    String java = Path.of(System.getProperty("java.home"), "bin", "java").toString();
    var command =
        new ProcessBuilder(
                List.of(
                    java,
                    "-Xmx128m",
                    "-XX:+UseSerialGC",
                    "-XX:TieredStopAtLevel=1",
                    "-jar",
                    jar.toString(),
                    String.valueOf(port),
                    service))
            .redirectError(ProcessBuilder.Redirect.INHERIT);
    try {
      process = command.start();
      var lines =
          new BufferedReader(
              new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
      List<String> said = new ArrayList<>();
      String line = lines.readLine();
      while (line != null && !line.startsWith(READY)) {
        said.add(line);
        line = lines.readLine();
      }
      if (line == null) {
        said.forEach(System.err::println);
        throw new IllegalStateException("The stand-in issuer has stopped: see above.");
      }
      // What else it says is of no use here, and must not fill the pipe.
      Thread.ofVirtual().start(() -> lines.lines().forEach(_ -> {}));
    } catch (IOException e) {
      throw new IllegalStateException("The stand-in issuer cannot be started.", e);
    }
  }

  void stop() {
    if (process != null) {
      process.destroy();
    }
  }
}
