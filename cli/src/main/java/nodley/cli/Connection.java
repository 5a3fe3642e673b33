package nodley.cli;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Optional;
import java.util.Properties;
import picocli.CommandLine;
import picocli.CommandLine.Option;
import picocli.CommandLine.ScopeType;

/** Options that all commands share: address, key, output format. */
final class Connection {

  private static final String DEFAULT = "http://127.0.0.1:8420";

  @CommandLine.Spec(CommandLine.Spec.Target.MIXEE)
  private CommandLine.Model.CommandSpec spec;

  @Option(
      names = "--at",
      paramLabel = "URL",
      scope = ScopeType.INHERIT,
      description = "The address of the service.")
  private String at;

  @Option(
      names = "--key",
      paramLabel = "KEY",
      scope = ScopeType.INHERIT,
      description = "The key to show to the service.")
  private String key;

  @Option(
      names = "--config",
      paramLabel = "FILE",
      scope = ScopeType.INHERIT,
      description = "A file with `at = URL` and `key = KEY`.")
  private Path config;

  @Option(names = "--json", scope = ScopeType.INHERIT, description = "Print JSON, for a program.")
  private boolean json;

  /** True if the address was given on the command line itself. */
  boolean isRemote() {
    return at != null;
  }

  boolean json() {
    return json;
  }

  /** By option, environment, or config file, in this order. */
  Client client() {
    Properties file = read();
    String address =
        first(at, "NODLEY_AT", file.getProperty("at")).orElse(DEFAULT).replaceFirst("/+$", "");
    if (!address.matches("https?://[^/\\s]+(/\\S*)?")) {
      throw new CommandLine.ParameterException(
          spec.commandLine(), "--at is an address such as " + DEFAULT + ", not " + address + ".");
    }
    return new Client(address, first(key, "NODLEY_KEY", file.getProperty("key")), json);
  }

  private Map<String, String> environment() {
    return ((Cli) spec.root().userObject()).environment();
  }

  private Optional<String> first(String option, String variable, String property) {
    return Optional.ofNullable(option)
        .or(() -> Optional.ofNullable(environment().get(variable)))
        .or(() -> Optional.ofNullable(property))
        .map(String::strip)
        .filter(text -> !text.isEmpty());
  }

  private Properties read() {
    Properties properties = new Properties();
    Path file = config == null ? usual(environment()) : config;
    if (config == null && !Files.exists(file)) {
      return properties;
    }
    try (Reader reader = Files.newBufferedReader(file)) {
      properties.load(reader);
      return properties;
    } catch (IOException | IllegalArgumentException e) {
      throw new CommandLine.ParameterException(
          spec.commandLine(), "The config file " + file + " cannot be read.");
    }
  }

  /** Where the config file is looked for. */
  static Path usual(Map<String, String> environment) {
    String base = environment.get("XDG_CONFIG_HOME");
    Path folder =
        base == null || base.isBlank()
            ? Path.of(System.getProperty("user.home"), ".config")
            : Path.of(base);
    return folder.resolve("nodley").resolve("client.properties");
  }
}
