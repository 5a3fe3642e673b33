package nodley.service;

import static org.awaitility.Awaitility.await;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;
import org.awaitility.core.ConditionTimeoutException;

/** The programs as processes of their own, started as the launcher starts them. */
final class Program implements AutoCloseable {

  /** What tools/pack made of the jars. */
  private static final Path RUN = Repository.file("service/target/run");

  private static final Path SERVICE = RUN.resolve("service/nodley-service-app.jar");
  private static final Path CLIENT = RUN.resolve("client/nodley-cli.jar");
  private static final int PATIENCE = 60;

  private final Process process;
  private final List<String> lines = new CopyOnWriteArrayList<>();
  private final Thread reader;

  /**
   * How a command ended: its exit status, and what it wrote to out and err, one after the other.
   */
  record Ended(int status, String out) {}

  private Program(Process process) {
    this.process = process;
    this.reader =
        Thread.ofVirtual()
            .start(
                () -> {
                  try (BufferedReader out =
                      new BufferedReader(
                          new InputStreamReader(
                              process.getInputStream(), StandardCharsets.UTF_8))) {
                    out.lines().forEach(lines::add);
                  } catch (IOException | UncheckedIOException e) {
                    // The process was ended while it was being read.
                  }
                });
  }

  /** Starts the service; the environment of this build's own key is taken away. */
  static Program service(Map<String, String> environment, Object... arguments) {
    return start(SERVICE, environment, arguments);
  }

  /** Runs the command-line client to its end. */
  static Ended client(Map<String, String> environment, Object... arguments) {
    try (Program program = start(CLIENT, environment, arguments)) {
      return program.ended();
    }
  }

  /** Starts what {@code ./nodley dev} starts, on a port. */
  static Program dev(int port) {
    Map<String, String> environment =
        Map.of("NODLEY_JDK", System.getProperty("java.home"), "NODLEY_RUN", RUN.toString());
    Path script = Repository.file("web/dev.mjs");
    return start(List.of("node", script.toString(), "--port", Integer.toString(port)), environment);
  }

  /** Runs a script below web with Node. */
  static Program node(String script, Object... arguments) {
    Path web = Repository.file("web");
    List<String> command = new ArrayList<>(List.of("node", web.resolve(script).toString()));
    Arrays.stream(arguments).map(Object::toString).forEach(command::add);
    return start(command, Map.of());
  }

  /** What runs the command-line client, before its arguments. */
  static List<String> clientCommand() {
    return command(CLIENT);
  }

  private static Program start(Path jar, Map<String, String> environment, Object... arguments) {
    List<String> command = command(jar);
    Arrays.stream(arguments).map(Object::toString).forEach(command::add);
    return start(command, environment);
  }

  private static List<String> command(Path jar) {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.add("--enable-native-access=ALL-UNNAMED");
    command.add("-Dfile.encoding=UTF-8");
    command.add("-Dstdout.encoding=UTF-8");
    command.add("-Dstderr.encoding=UTF-8");
    command.add("-XX:+UseSerialGC");
    // As in the launcher: to move the cache takes an eighth of each start.
    command.add("-XX:+UnlockDiagnosticVMOptions");
    command.add("-XX:ArchiveRelocationMode=0");
    command.add("-Xlog:aot*=off");
    command.add("-Xlog:cds*=off");
    // It lives for seconds: what the second compiler makes of its code never pays.
    command.add("-XX:TieredStopAtLevel=1");
    if (jar.equals(CLIENT)) {
      command.add("-XX:AOTCache=" + RUN.resolve("client.aot"));
    } else {
      // As its cache was made.
      command.add("-XX:+UseCompactObjectHeaders");
      command.add("-XX:AOTCache=" + RUN.resolve("service.aot"));
    }
    command.add("-jar");
    command.add(jar.toString());
    return command;
  }

  private static Program start(List<String> command, Map<String, String> environment) {
    ProcessBuilder builder = new ProcessBuilder(command).redirectErrorStream(true);
    builder.environment().keySet().removeIf(name -> name.startsWith("NODLEY_"));
    builder.environment().putAll(environment);
    try {
      return new Program(builder.start());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** The address, once the service says that it is ready. */
  String ready() {
    return line("Nodley is ready at ").replace("Nodley is ready at ", "");
  }

  /** The first line with this text in it, as soon as it is there. */
  String line(String text) {
    return line(text, line -> line.contains(text));
  }

  /**
   * The first line of which something holds, as soon as it is there.
   *
   * @param what which line that is, for a person
   */
  String line(String what, Predicate<String> wanted) {
    try {
      await()
          .atMost(Duration.ofSeconds(PATIENCE))
          .pollInterval(Duration.ofMillis(10))
          .until(() -> !reader.isAlive() || find(wanted).isPresent());
    } catch (ConditionTimeoutException e) {
      // Told below, with the lines there are.
    }
    return find(wanted)
        .orElseThrow(
            () ->
                new AssertionError(
                    "no line with \"" + what + "\" in:\n" + String.join("\n", lines)));
  }

  private Optional<String> find(Predicate<String> wanted) {
    return lines.stream().filter(wanted).findFirst();
  }

  /** Waits for the end. */
  Ended ended() {
    try {
      if (!process.waitFor(PATIENCE, TimeUnit.SECONDS)) {
        throw new AssertionError("it goes on and on:\n" + String.join("\n", lines));
      }
      reader.join();
      return new Ended(process.exitValue(), String.join("\n", lines));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new AssertionError(e);
    }
  }

  /** Asks it to stop, as Ctrl-C does, and waits for the end. */
  Ended stop() {
    // Unlike Process.destroy, this leaves its last words to be read.
    process.toHandle().destroy();
    return ended();
  }

  /** Ends it without a word of warning. */
  void kill() {
    process.toHandle().destroyForcibly();
    ended();
  }

  @Override
  public void close() {
    stop();
  }
}
