package nodley.service.start;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import nodley.service.standin.StandIns;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * {@code nodley demo}: runs the service with the forms and records of Marrow Quay, which it makes
 * where the data folder has none. In a folder that was named, what is changed is kept.
 */
@Command(
    name = "demo",
    description = "Starts the service with the made-up harbour of Marrow Quay.",
    mixinStandardHelpOptions = true,
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley demo",
      "  nodley demo --port 0",
      "  nodley demo --issuer               (people sign in at the harbour's own office, too)",
      "  nodley demo --data marrow-quay     (keeps what you change for the next time)"
    })
public final class Demo implements Callable<Integer> {

  @Option(
      names = "--data",
      paramLabel = "DIR",
      description = "The data folder. Default: a fresh one that goes when the demo stops.")
  private Path data;

  @Option(
      names = "--port",
      paramLabel = "N",
      defaultValue = "8420",
      description = "The port; 0 takes a free one. Default: ${DEFAULT-VALUE}.")
  private int port;

  @Option(
      names = "--issuer",
      description =
          "Starts a stand-in issuer beside it, at which people sign in by OpenID Connect.")
  private boolean withIssuer;

  @Override
  public Integer call() {
    Optional<StandInIssuer> issuer;
    try {
      issuer = withIssuer ? Optional.of(StandInIssuer.find()) : Optional.empty();
    } catch (IllegalStateException e) {
      System.err.println(e.getMessage());
      return 1;
    }
    Path folder = data == null ? fresh() : data;
    int at = port == 0 ? freePort() : port;
    StandIns standIns = new StandIns(fresh());
    String settings =
        "nodley:\n"
            + standIns.settings("http://127.0.0.1:" + at)
            + issuer.map(StandInIssuer::settings).orElse("");
    Path config = written(settings);
    return Running.run(
        new Service.Settings(
            folder,
            Optional.empty(),
            "127.0.0.1",
            at,
            Optional.of(config),
            Clock.system(ZoneId.systemDefault())),
        service -> {
          issuer.ifPresent(it -> it.start(service.address()));
          begin(service, standIns, issuer.isPresent(), data != null);
        },
        () -> {
          issuer.ifPresent(StandInIssuer::stop);
          standIns.close();
          if (data == null) {
            TemporaryFolder.remove(folder);
          }
        });
  }

  /** Links in mails name the port before the service has it. */
  private static int freePort() {
    try (var socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      return socket.getLocalPort();
    } catch (IOException e) {
      throw new UncheckedIOException("There is no free port.", e);
    }
  }

  private static Path fresh() {
    try {
      return Files.createTempDirectory("nodley-demo-");
    } catch (IOException e) {
      throw new UncheckedIOException("No temporary folder can be made.", e);
    }
  }

  private static Path written(String settings) {
    try {
      Path file = Files.createTempFile("nodley-demo-", ".yaml");
      file.toFile().deleteOnExit();
      return Files.writeString(file, settings);
    } catch (IOException e) {
      throw new UncheckedIOException("No temporary file can be made.", e);
    }
  }

  private static void begin(
      Service service, StandIns standIns, boolean hasIssuer, boolean lasting) {
    Optional<String> made = service.firstKey(Running.givenKey());
    List<DemoPeople.Added> added = DemoPeople.add(service);
    int records = service.part(MarrowQuay.class).fill();
    String at = service.address();
    String key =
        made.orElse(
            Running.givenKey()
                .map(_ -> "the one in NODLEY_ADMIN_KEY")
                .orElse("the one shown when this data folder was new"));
    String people =
        added.isEmpty()
            ? "as you left them"
            : added.stream()
                .map(it -> "%-6s %-34s %s".formatted(it.name(), it.password(), it.role()))
                .collect(Collectors.joining("\n            "));
    String harbour =
        records == 0
            ? "The harbour of Marrow Quay, as you left it."
            : "The harbour of Marrow Quay: 8 forms and " + records + " made-up records.";
    System.out.println(
        """

        %s

          Pages     %s/forms
          Console   %s/console
          Outbox    %s   the mails that would have gone
          Key       %s
          People    %s%s

        Try first
          1. Register a vessel at %s/forms/vessel/new
             Type the call sign mq-7ab, which is taken, and leave the field.
          2. Sign in to the console as ida, and edit the vessel Grey Heron.
          3. Sign in at %s/sign-in as mara, and look at your account and your
             winter moorings: what the office alone sees, and may change.
          4. Register a visitor at %s/forms/visitor/new
             The call sign PX4TN is one that the register knows; see the outbox then,
             and confirm the skipper's address by the link there.
          5. In another terminal:
               export NODLEY_KEY=%s
               ./nodley --at %s records vessel
               ./nodley --at %s check vessel callSign=mq-7ab

        Ctrl-C stops the demo%s.
        """
            .formatted(
                harbour,
                at,
                at,
                standIns.outbox(),
                key,
                people,
                hasIssuer
                    ? "\n  Office    "
                        + at
                        + "/sign-in/with/harbour   signs the same people in, without passwords"
                    : "",
                at,
                at,
                at,
                made.orElse("$NODLEY_ADMIN_KEY"),
                at,
                at,
                lasting ? "; what you change is kept" : " and forgets it"));
  }
}
