package nodley.service.start;

import java.net.SocketException;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import nodley.store.common.StoreException;
import org.springframework.boot.web.server.PortInUseException;

/** Runs the service until the process is stopped; explains in words why it cannot start. */
final class Running {

  private static final int SHORTEST_KEY = 8;

  private Running() {}

  static int run(Service.Settings settings, Consumer<Service> once) {
    return run(settings, once, () -> {});
  }

  /**
   * Runs it.
   *
   * @param once is done once it answers
   * @param afterwards is done as the process ends, whether the service could start or not
   */
  static int run(Service.Settings settings, Consumer<Service> once, Runnable afterwards) {
    AtomicReference<Service> started = new AtomicReference<>();
    Runtime.getRuntime()
        .addShutdownHook(new Thread(() -> stop(Optional.ofNullable(started.get()), afterwards)));
    if (settings.port() < 0 || settings.port() > 65_535) {
      System.err.println("A port is a number from 0 to 65535, not " + settings.port() + ".");
      return 2;
    }
    if (givenKey().filter(key -> key.length() < SHORTEST_KEY).isPresent()) {
      System.err.println(
          "The key in NODLEY_ADMIN_KEY is too short: it has at least "
              + SHORTEST_KEY
              + " characters.");
      return 2;
    }
    try {
      Service service = Service.start(settings);
      started.set(service);
      once.accept(service);
      System.out.println("Nodley is ready at " + service.address());
      new CountDownLatch(1).await();
      return 0;
    } catch (StoreException.BadFolder e) {
      System.err.println(e.getMessage());
      return 1;
    } catch (RuntimeException e) {
      System.err.println(why(settings, e));
      return 1;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return 1;
    }
  }

  /** In a sentence why the service does not start. */
  private static String why(Service.Settings settings, RuntimeException e) {
    String told = e.toString();
    boolean network = e instanceof PortInUseException;
    for (Throwable cause = e; cause != null; cause = cause.getCause()) {
      network |= cause instanceof SocketException;
      String message = cause.getMessage();
      boolean wraps =
          message != null
              && cause.getCause() != null
              && message.contains(cause.getCause().toString());
      if (message != null && message.contains(" ") && !wraps) {
        // The deepest that is a sentence says most.
        told = message.strip();
      }
    }
    if (!network) {
      return "The service cannot start: " + told;
    }
    return "Port "
        + settings.port()
        + " of "
        + settings.address()
        + " cannot be used: another program has it, or the address is not of this machine."
        + " Choose another with --port, or --port 0 for a free one.";
  }

  private static void stop(Optional<Service> service, Runnable afterwards) {
    service.ifPresent(Service::close);
    afterwards.run();
    service.ifPresent(_ -> System.out.println("Nodley has stopped."));
  }

  /** The key that the environment sets. */
  static Optional<String> givenKey() {
    return Optional.ofNullable(System.getenv("NODLEY_ADMIN_KEY"))
        .map(String::strip)
        .filter(key -> !key.isEmpty());
  }
}
