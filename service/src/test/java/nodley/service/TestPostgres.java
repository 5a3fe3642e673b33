package nodley.service;

import java.io.IOException;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * A PostgreSQL server of Debian's packages, with a cluster of its own in a temporary folder, on a
 * free port of this machine. It logs every statement.
 */
final class TestPostgres implements AutoCloseable {

  /** The user who owns all. */
  static final String OWNER = "keeper";

  private final Path programs;
  private final Path folder;
  private final int port;

  TestPostgres() throws IOException {
    programs = programs();
    folder = Files.createTempDirectory("nodley-postgres-");
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    // The server does not run as root.
    if (isRoot()) {
      run(List.of("chown", "postgres", folder.toString()));
    }
    as(
        "initdb",
        "-D",
        data(),
        "-U",
        OWNER,
        "-A",
        "trust",
        "-E",
        "UTF8",
        "--no-sync",
        "--locale=C.UTF-8");
    start();
  }

  private static Path programs() throws IOException {
    try (Stream<Path> versions = Files.list(Path.of("/usr/lib/postgresql"))) {
      return versions.sorted().reduce((_, last) -> last).orElseThrow().resolve("bin");
    }
  }

  private static boolean isRoot() {
    return "root".equals(System.getProperty("user.name"));
  }

  private String data() {
    return folder.resolve("data").toString();
  }

  void start() {
    as(
        "pg_ctl",
        "-D",
        data(),
        "-w",
        "-l",
        log().toString(),
        "-o",
        "-p %d -k %s -c listen_addresses=127.0.0.1 -c fsync=off -c log_statement=all"
            .formatted(port, folder),
        "start");
  }

  void stop() {
    as("pg_ctl", "-D", data(), "-w", "-m", "immediate", "stop");
  }

  private Path log() {
    return folder.resolve("log");
  }

  /** The statements that a user has sent, as the server logged them. */
  String logged() throws IOException {
    return Files.readString(log());
  }

  String url() {
    return "jdbc:postgresql://127.0.0.1:" + port + "/postgres";
  }

  /** Has the owner run some statements. */
  void sql(String statements) {
    as(
        "psql",
        "-h",
        "127.0.0.1",
        "-p",
        Integer.toString(port),
        "-U",
        OWNER,
        "-d",
        "postgres",
        "-v",
        "ON_ERROR_STOP=1",
        "-q",
        "-c",
        statements);
  }

  private void as(String program, String... arguments) {
    List<String> command = new ArrayList<>();
    if (isRoot()) {
      command.addAll(List.of("runuser", "-u", "postgres", "--"));
    }
    command.add(programs.resolve(program).toString());
    command.addAll(List.of(arguments));
    run(command);
  }

  private void run(List<String> command) {
    try {
      Path said = Files.createTempFile("nodley-postgres-", ".txt");
      Process process =
          new ProcessBuilder(command)
              .directory(folder.toFile())
              .redirectErrorStream(true)
              .redirectOutput(said.toFile())
              .start();
      if (process.waitFor() != 0) {
        throw new AssertionError(command + "\n" + Files.readString(said, StandardCharsets.UTF_8));
      }
      Files.delete(said);
    } catch (IOException e) {
      throw new AssertionError(e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new AssertionError(e);
    }
  }

  @Override
  public void close() {
    stop();
  }
}
