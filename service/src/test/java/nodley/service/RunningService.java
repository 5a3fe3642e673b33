package nodley.service;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.Optional;
import nodley.service.start.Service;

/** A service on loopback with a fresh data folder, and a key to it. */
public final class RunningService implements AutoCloseable {

  public static final String KEY = "a-key-for-tests";

  /** The password of people who {@link #signIn}. */
  public static final String PASSWORD = "a grey heron at low tide";

  private final Path data;
  private final Optional<Path> config;
  private final Clock clock;
  private Service service;
  private boolean stopped;
  private int port;

  private RunningService(Path data, Optional<Path> config, Clock clock) {
    this.data = data;
    this.config = config;
    this.clock = clock;
    start(0);
  }

  /** A service whose clock stands still. */
  public static RunningService at(Clock clock) {
    return new RunningService(folder(), Optional.empty(), clock);
  }

  /** A service on a data folder that is there already. */
  static RunningService on(Path data) {
    return new RunningService(data, Optional.empty(), Clock.systemDefaultZone());
  }

  /** A service with settings, each as {@code name: value}. */
  public static RunningService with(String... settings) {
    return with(Clock.systemDefaultZone(), settings);
  }

  /** The same with a clock of a test's. */
  public static RunningService with(Clock clock, String... settings) {
    Path data = folder();
    try {
      Path config = Files.writeString(Path.of(data + ".yaml"), String.join("\n", settings));
      return new RunningService(data, Optional.of(config), clock);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Path folder() {
    try {
      return Files.createTempDirectory("nodley-test-");
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  public static RunningService fresh() {
    return at(Clock.systemDefaultZone());
  }

  private void start(int port) {
    service =
        Service.start(
            new Service.Settings(data, Optional.empty(), "127.0.0.1", port, config, clock));
    service.firstKey(Optional.of(KEY));
  }

  /** Stops the service and starts it again on the same data. */
  public void restart() {
    service.close();
    start(0);
  }

  /** Stops the service; pages that are open stay. */
  public void stop() {
    port = URI.create(address()).getPort();
    service.close();
    stopped = true;
  }

  /** Starts it again where it was, for those pages. */
  public void startAgain() {
    start(port);
    stopped = false;
  }

  public String address() {
    return service.address();
  }

  /** A caller who shows the key. */
  public Wire wire() {
    return new Wire(address(), Optional.of(KEY));
  }

  /** A caller who shows nothing. */
  public Wire stranger() {
    return new Wire(address(), Optional.empty());
  }

  /**
   * Adds somebody, and signs them in.
   *
   * @param roles as a JSON array
   * @return the cookie of their session
   */
  public String signIn(String name, String roles) {
    String link =
        wire()
            .post(
                "/api/people",
                Wire.JSON_TYPE,
                "{\"name\": \"%s\", \"roles\": %s}".formatted(name, roles))
            .json()
            .path("link")
            .asString();
    return stranger()
        .put(
            "/api/password",
            Wire.JSON_TYPE,
            "{\"link\": \"%s\", \"password\": \"%s\"}"
                .formatted(link.replaceFirst(".*link=", ""), PASSWORD))
        .header("Set-Cookie")
        .replaceFirst(";.*", "");
  }

  public Path data() {
    return data;
  }

  @Override
  public void close() {
    if (!stopped) {
      service.close();
    }
  }
}
