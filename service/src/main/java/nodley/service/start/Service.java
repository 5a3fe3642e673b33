package nodley.service.start;

import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.atomic.AtomicReference;
import java.util.stream.Stream;
import nodley.service.limits.Limits;
import nodley.service.limits.SettingsReader;
import nodley.service.publish.FolderWatch;
import nodley.service.publish.Publisher;
import nodley.store.Store;
import nodley.store.access.Keys;
import org.slf4j.bridge.SLF4JBridgeHandler;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.web.server.context.WebServerApplicationContext;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.support.GenericApplicationContext;

/** A running service. Closing it finishes requests in progress and closes the data folder. */
public final class Service implements AutoCloseable {

  static {
    // The store opens before Spring begins; logback.xml says all, and need not be read anew.
    System.setProperty("org.springframework.boot.logging.LoggingSystem", "none");
    SLF4JBridgeHandler.removeHandlersForRootLogger();
    SLF4JBridgeHandler.install();
  }

  private final ConfigurableApplicationContext context;
  private final Store store;

  /**
   * How to start.
   *
   * @param port 0 takes a free one
   * @param config a file of settings; what it says of address and port counts for nothing
   * @param clock gives today and now, and the zone of forms that name none
   */
  public record Settings(
      Path data,
      Optional<Path> forms,
      String address,
      int port,
      Optional<Path> config,
      Clock clock) {}

  private Service(ConfigurableApplicationContext context, Store store) {
    this.context = context;
    this.store = store;
  }

  /**
   * Opens the data folder and begins to answer.
   *
   * @throws nodley.store.common.StoreException.BadFolder if the data folder cannot be used
   * @throws org.springframework.boot.web.server.PortInUseException if the port is in use
   */
  public static Service start(Settings settings) {
    var opening = new AtomicReference<CompletableFuture<Store>>();
    try {
      SpringApplication application = Application.create();
      application.addInitializers(
          context -> {
            var beans = (GenericApplicationContext) context;
            Limits limits = SettingsReader.register(beans);
            // Reading many forms takes a while, and so does Spring; neither waits for the other.
            CompletableFuture<Store> store =
                CompletableFuture.supplyAsync(
                    () -> Store.open(settings.data(), limits.store()),
                    task -> Thread.ofPlatform().name("opening").start(task));
            opening.set(store);
            beans.registerBean(Store.class, store::join, bean -> bean.setDestroyMethodName(""));
            beans.registerBean(Clock.class, settings::clock);
          });
      ConfigurableApplicationContext context = application.run(arguments(settings));
      Store store = opening.get().join();
      settings.forms().ifPresent(folder -> watch(context, store, folder));
      store.operatorLog().addLater("", "start", "", "");
      store.forms().readAhead();
      return new Service(context, store);
    } catch (RuntimeException e) {
      if (opening.get() != null) {
        opened(opening.get()).close();
      }
      throw e;
    }
  }

  /** What was said on the command line counts more than what a file or a variable says. */
  private static String[] arguments(Settings settings) {
    List<String> arguments = new ArrayList<>();
    arguments.add("--server.address=" + settings.address());
    arguments.add("--server.port=" + settings.port());
    settings
        .config()
        .ifPresent(file -> arguments.add("--spring.config.additional-location=" + file.toUri()));
    return arguments.toArray(String[]::new);
  }

  /** Throws what the store itself threw, which Spring tells of in other words. */
  private static Store opened(CompletableFuture<Store> opening) {
    try {
      return opening.join();
    } catch (CompletionException e) {
      throw e.getCause() instanceof RuntimeException own ? own : e;
    }
  }

  private static void watch(ConfigurableApplicationContext context, Store store, Path folder) {
    var watch =
        new FolderWatch(
            folder, store.folder(), context.getBean(Publisher.class), store.operatorLog());
    ((GenericApplicationContext) context).registerBean(FolderWatch.class, () -> watch);
    context.getBean(FolderWatch.class);
    watch.start();
  }

  /**
   * Sets the first key: the given one, else a new one if there is none yet.
   *
   * @return the new key, to be shown this once
   */
  public Optional<String> firstKey(Optional<String> given) {
    Keys keys = store.keys();
    if (given.isPresent()) {
      keys.setFirst(given.get());
      return Optional.empty();
    }
    if (keys.hasAny()) {
      return Optional.empty();
    }
    String key = keys.newSecret();
    keys.setFirst(key);
    return Optional.of(key);
  }

  /** Returns where it answers, such as {@code http://127.0.0.1:8420}. */
  public String address() {
    int port = ((WebServerApplicationContext) context).getWebServer().getPort();
    String host = context.getEnvironment().getProperty("server.address", "127.0.0.1");
    return (isEncrypted() ? "https://" : "http://")
        + (host.contains(":") ? "[" + host + "]" : host)
        + ":"
        + port;
  }

  private boolean isEncrypted() {
    return Stream.of("certificate", "key-store", "bundle")
        .anyMatch(it -> context.getEnvironment().containsProperty("server.ssl." + it));
  }

  <T> T part(Class<T> type) {
    return context.getBean(type);
  }

  @Override
  public void close() {
    context.close();
    store.close();
  }
}
