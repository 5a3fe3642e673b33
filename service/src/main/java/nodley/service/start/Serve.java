package nodley.service.start;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.ZoneId;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * {@code nodley serve}: runs the service on a data folder until the process is stopped. Ends with 1
 * if it cannot start, and 2 if what was said on the command line is wrong.
 */
@Command(
    name = "serve",
    description = "Starts the service on a data folder.",
    mixinStandardHelpOptions = true,
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley serve --data harbour",
      "  nodley serve --data harbour --forms forms --port 9000",
      "  nodley serve --data harbour --config settings.yaml",
      "  NODLEY_ADMIN_KEY=… nodley serve --data harbour",
      "",
      "All state is in the data folder. Without NODLEY_ADMIN_KEY the first key is made",
      "and printed once; one that is given has at least 8 characters. Ctrl-C stops the service;"
          + " what is under way is finished."
    })
public final class Serve implements Callable<Integer> {

  @Option(
      names = "--data",
      paramLabel = "DIR",
      defaultValue = "nodley-data",
      description = "The data folder; made if it is not there. Default: ${DEFAULT-VALUE}.")
  private Path data;

  @Option(
      names = "--forms",
      paramLabel = "DIR",
      description = "A folder of form files, published now and whenever their text changes.")
  private Path forms;

  @Option(
      names = "--address",
      paramLabel = "IP",
      defaultValue = "127.0.0.1",
      description = "The address to listen on. Default: ${DEFAULT-VALUE}.")
  private String address;

  @Option(
      names = "--port",
      paramLabel = "N",
      defaultValue = "8420",
      description = "The port; 0 takes a free one. Default: ${DEFAULT-VALUE}.")
  private int port;

  @Option(
      names = "--config",
      paramLabel = "FILE",
      description =
          "A file of settings, .yaml or .properties: limits, proxies, TLS. See docs/running.md.")
  private Path config;

  @Override
  public Integer call() {
    if (config != null && !Files.isReadable(config)) {
      System.err.println("There is no file of settings " + config + ", or it cannot be read.");
      return 1;
    }
    if (forms != null && !Files.isDirectory(forms)) {
      System.err.println("There is no forms folder " + forms + ".");
      return 1;
    }
    return Running.run(
        new Service.Settings(
            data,
            Optional.ofNullable(forms),
            address,
            port,
            Optional.ofNullable(config),
            Clock.system(ZoneId.systemDefault())),
        service ->
            service
                .firstKey(Running.givenKey())
                .ifPresent(
                    key ->
                        System.out.println(
                            "The first key, shown this once: "
                                + key
                                + "\n"
                                + "  export NODLEY_KEY="
                                + key)));
  }
}
