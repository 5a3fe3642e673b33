package nodley.service;

import static org.awaitility.Awaitility.await;

import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;

/**
 * A MariaDB server of Debian's packages, with data of its own in a temporary folder, on a free port
 * of this machine. It logs every statement.
 */
final class TestMariaDb implements AutoCloseable {

  private final Path folder;
  private final int port;
  private final Process server;

  TestMariaDb() throws IOException, InterruptedException {
    folder = Files.createTempDirectory("nodley-mariadb-");
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    // The server does not run as root.
    if (isRoot()) {
      wait(List.of("chown", "mysql", folder.toString()));
    }
    wait(
        as(
            "mariadb-install-db",
            "--no-defaults",
            "--datadir=" + data(),
            "--auth-root-authentication-method=normal",
            "--skip-test-db"));
    server =
        begin(
            as(
                "/usr/sbin/mariadbd",
                "--no-defaults",
                "--datadir=" + data(),
                "--bind-address=127.0.0.1",
                "--port=" + port,
                "--socket=" + folder.resolve("socket"),
                "--pid-file=" + folder.resolve("pid"),
                "--innodb-flush-log-at-trx-commit=0",
                "--general-log=1",
                "--general-log-file=" + log()));
    await("MariaDB").atMost(Duration.ofSeconds(60)).ignoreExceptions().until(() -> answers());
  }

  private static boolean isRoot() {
    return "root".equals(System.getProperty("user.name"));
  }

  private String data() {
    return folder.resolve("data").toString();
  }

  private Path log() {
    return folder.resolve("log");
  }

  /** The statements that were sent, as the server logged them. */
  String logged() throws IOException {
    return Files.readString(log());
  }

  String url(String database) {
    return "jdbc:mariadb://127.0.0.1:" + port + "/" + database;
  }

  private boolean answers() throws SQLException {
    try (Connection made = DriverManager.getConnection(url(""), "root", "")) {
      return made.isValid(1);
    }
  }

  /** Has the owner of all run some statements, with names in double quotes. */
  void sql(String database, String... statements) throws SQLException {
    try (Connection made =
            DriverManager.getConnection(
                url(database) + "?sessionVariables=sql_mode=ANSI", "root", "");
        Statement statement = made.createStatement()) {
      for (String each : statements) {
        statement.execute(each);
      }
    }
  }

  private static List<String> as(String... arguments) {
    List<String> command = new ArrayList<>();
    if (isRoot()) {
      command.addAll(List.of("runuser", "-u", "mysql", "--"));
    }
    command.addAll(List.of(arguments));
    return command;
  }

  private Process begin(List<String> command) throws IOException {
    return new ProcessBuilder(command)
        .directory(folder.toFile())
        .redirectErrorStream(true)
        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
        .start();
  }

  private void wait(List<String> command) throws IOException, InterruptedException {
    if (begin(command).waitFor() != 0) {
      throw new AssertionError(command + " failed");
    }
  }

  @Override
  public void close() {
    // runuser hands the signal on.
    server.destroy();
    try {
      server.waitFor(20, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
