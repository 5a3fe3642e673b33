package nodley.cli;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.Arrays;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * A run of the command-line client within this process, which takes a small part of the time that a
 * process of its own takes.
 *
 * @param status what the process would exit with
 * @param out what it would write to out and err, one after the other
 */
public record ClientRun(int status, String out) {

  /** Runs a command in an environment, and in no other. */
  public static ClientRun of(Map<String, String> environment, Object... arguments) {
    var written = new StringWriter();
    var out = new PrintWriter(written, true);
    int status =
        Cli.run(
            Cli.commandLine(environment).setOut(out).setErr(out),
            Arrays.stream(arguments).map(Object::toString).toArray(String[]::new));
    out.flush();
    return new ClientRun(status, written.toString().lines().collect(Collectors.joining("\n")));
  }
}
