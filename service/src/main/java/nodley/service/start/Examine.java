package nodley.service.start;

import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.concurrent.Callable;
import nodley.store.care.Doctor;
import nodley.store.common.StoreException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/**
 * {@code nodley doctor}: examines a data folder, says what is wrong with it, and changes nothing.
 */
@Command(
    name = "doctor",
    description = "Looks a data folder over; the service may be running.",
    mixinStandardHelpOptions = true,
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley doctor --data harbour",
      "",
      "Looks at integrity, references, tables, unique indexes, disk and clock, and changes",
      "nothing. Exit status: 0 if all is well, else 1."
    })
public final class Examine implements Callable<Integer> {

  @Option(
      names = "--data",
      paramLabel = "DIR",
      defaultValue = "nodley-data",
      description = "The data folder. Default: ${DEFAULT-VALUE}.")
  private Path data;

  @Override
  public Integer call() {
    try {
      List<Doctor.Finding> findings = Doctor.look(data, Clock.systemUTC());
      for (Doctor.Finding finding : findings) {
        System.out.printf(
            "%-5s  %-16s  %s%n",
            finding.isWell() ? "ok" : "WRONG", finding.what(), finding.detail());
      }
      return findings.stream().allMatch(Doctor.Finding::isWell) ? 0 : 1;
    } catch (StoreException.BadFolder e) {
      System.err.println(e.getMessage());
      return 1;
    }
  }
}
