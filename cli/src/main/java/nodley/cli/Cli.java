package nodley.cli;

import java.io.PrintWriter;
import java.util.Map;
import nodley.core.ProductVersion;
import picocli.CommandLine;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;

/**
 * The program. Its exit status: 0 accepted, 1 refused, 2 wrong usage, 3 service not reached, 4 a
 * fault of its own.
 */
@Command(
    name = "nodley",
    mixinStandardHelpOptions = true,
    versionProvider = Cli.Version.class,
    scope = CommandLine.ScopeType.INHERIT,
    synopsisSubcommandLabel = "COMMAND",
    description = "Declare a form once; check, add, edit and list its records.",
    subcommands = {
      StartCommand.class,
      LintCommand.class,
      PageCommand.class,
      TryCommand.class,
      PreviewCommand.class,
      PublishCommand.class,
      FormsCommand.class,
      FormCommand.class,
      TypesCommand.class,
      TextsCommand.class,
      SampleCommand.class,
      CheckCommand.class,
      AddCommand.class,
      EditCommand.class,
      RecordsCommand.class,
      RecordCommand.class,
      VersionsCommand.class,
      AttemptsCommand.class,
      LogCommand.class,
      KeysCommand.class,
      PeopleCommand.class,
      SessionsCommand.class,
      AttemptCommand.class,
      DeliveriesCommand.class,
      OutletsCommand.class,
      AsksCommand.class,
      SourcesCommand.class,
      WatchCommand.class,
      DropCommand.class,
      RemovedCommand.class,
      BackupCommand.class
    })
public final class Cli implements Runnable {

  static final int ACCEPTED = 0;
  static final int REFUSED = 1;
  static final int USAGE = 2;
  static final int UNREACHED = 3;
  static final int FAILED = 4;

  @Spec private CommandSpec spec;

  @Mixin private Connection connection;

  private final Map<String, String> environment;

  private Cli(Map<String, String> environment) {
    this.environment = environment;
  }

  public static void main(String[] args) {
    System.exit(run(commandLine(System.getenv()), args));
  }

  /** Runs a command; whatever goes wrong in it is told in a sentence, never by a stack trace. */
  static int run(CommandLine commands, String... args) {
    try {
      return commands.execute(args);
    } catch (Error e) {
      return failed(e, commands);
    }
  }

  private static int failed(Throwable failure, CommandLine commands) {
    StackTraceElement[] trace = failure.getStackTrace();
    commands
        .getErr()
        .println(
            "nodley failed: this is a fault of Nodley's own, please report it with this line: "
                + failure
                + (trace.length == 0 ? "" : " at " + trace[0]));
    return FAILED;
  }

  /**
   * The program, ready to be run; tests run it within their own process.
   *
   * @param environment variables, such as {@code NODLEY_AT}
   */
  static CommandLine commandLine(Map<String, String> environment) {
    CommandLine commands = new CommandLine(new Cli(environment));
    commands
        .getCommandSpec()
        .usageMessage()
        .footerHeading("%nThe service itself:%n")
        .footer(
            "  serve    Starts the service on a data folder.",
            "  demo     Starts it with the made-up harbour of Marrow Quay.",
            "  dev      Starts it from a working copy, and follows what you change there.",
            "  restore  Puts a backup into a data folder.",
            "  doctor   Looks a data folder over.",
            "",
            "Where and who: --at and --key, else NODLEY_AT and NODLEY_KEY, else `at` and `key` in",
            "~/.config/nodley/client.properties, else http://127.0.0.1:8420 and no key.",
            "",
            "Exit status: 0 accepted, 1 refused, 2 wrong usage, 3 service not reached, 4 a fault of"
                + " nodley.",
            "",
            "Examples:",
            "  nodley demo",
            "  nodley lint forms/vessel.form.yaml",
            "  nodley publish forms/*.form.yaml",
            "  nodley add vessel name='Grey Heron' callSign=MQ7AB rig=sail length=11.4"
                + " insured=yes");
    commands.setExecutionExceptionHandler(Cli::explain);
    CommandLine.IParameterExceptionHandler usual = commands.getParameterExceptionHandler();
    commands.setParameterExceptionHandler((wrong, args) -> misused(wrong, args, usual));
    return commands;
  }

  /** Says how a command is used where that is what was wrong, and not a file or a value. */
  private static int misused(
      CommandLine.ParameterException wrong,
      String[] args,
      CommandLine.IParameterExceptionHandler usual)
      throws Exception {
    if (wrong.getClass() != CommandLine.ParameterException.class
        || wrong.getCommandLine().getParent() == null) {
      return usual.handleParseException(wrong, args);
    }
    PrintWriter err = wrong.getCommandLine().getErr();
    err.println(wrong.getMessage());
    err.println("See " + wrong.getCommandLine().getCommandSpec().qualifiedName() + " --help.");
    return USAGE;
  }

  private static int explain(Exception e, CommandLine commands, CommandLine.ParseResult ignored) {
    PrintWriter err = commands.getErr();
    return switch (e) {
      case ServiceUnreachable unreached -> {
        err.println(unreached.getMessage());
        yield UNREACHED;
      }
      case ServiceRefusal told -> {
        told.print(commands.getOut(), err);
        yield told.status();
      }
      case CommandLine.ParameterException wrong -> {
        err.println(wrong.getMessage());
        yield USAGE;
      }
      default -> failed(e, commands);
    };
  }

  Map<String, String> environment() {
    return environment;
  }

  Connection connection() {
    return connection;
  }

  @Override
  public void run() {
    throw new CommandLine.ParameterException(
        spec.commandLine(), "Say what to do: a COMMAND is missing.");
  }

  /** Tells {@code --version}. */
  static final class Version implements CommandLine.IVersionProvider {
    @Override
    public String[] getVersion() {
      return new String[] {"nodley " + ProductVersion.current()};
    }
  }
}
