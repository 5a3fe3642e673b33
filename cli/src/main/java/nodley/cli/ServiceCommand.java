package nodley.cli;

import java.io.Console;
import java.io.PrintWriter;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Spec;
import tools.jackson.databind.JsonNode;

/**
 * What all commands share that speak with the service: the client, the output, and whether JSON is
 * wanted. A refusal or an unreachable service is thrown, and {@link Cli} prints it as a sentence.
 */
abstract class ServiceCommand implements Callable<Integer> {

  @Spec private CommandSpec spec;

  private Cli cli() {
    return (Cli) spec.root().userObject();
  }

  /** What calls the service; it is not called before it is needed. */
  final Client client() {
    return cli().connection().client();
  }

  /** What uploads the files that values for a form name. */
  final FileUpload files(Client client, String form) {
    return new FileUpload(client, form, commands(), isSeen() && !json());
  }

  private static boolean isSeen() {
    return Optional.ofNullable(System.console()).filter(Console::isTerminal).isPresent();
  }

  /** True if the address of a service was given on the command line. */
  final boolean isRemote() {
    return cli().connection().isRemote();
  }

  /** True if a program reads what is printed. */
  final boolean json() {
    return cli().connection().json();
  }

  /** Where what was asked for is printed. */
  final PrintWriter out() {
    return spec.commandLine().getOut();
  }

  /** The command as picocli read it. */
  final CommandLine commands() {
    return spec.commandLine();
  }

  /** Prints the reply as it is if a program asked for that; true if so. */
  final boolean printedJson(JsonNode reply) {
    if (json()) {
      out().println(reply);
    }
    return json();
  }
}
