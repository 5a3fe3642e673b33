package nodley.service.start;

import java.nio.file.Path;
import java.util.Optional;
import java.util.concurrent.Callable;
import nodley.store.care.Backup;
import nodley.store.common.StoreException;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/**
 * {@code nodley restore}: puts a backup into a data folder, while no service uses it. Data that is
 * there is never written over: it stays, or is put aside where that was asked for.
 */
@Command(
    name = "restore",
    description = "Puts a backup into a data folder, while no service uses it.",
    mixinStandardHelpOptions = true,
    footerHeading = "%nExamples:%n",
    footer = {
      "  nodley restore monday.tar --data harbour",
      "  nodley restore monday.tar --data harbour --replace  (the data there is put aside)"
    })
public final class Restore implements Callable<Integer> {

  @Parameters(index = "0", paramLabel = "FILE", description = "What `nodley backup` has made.")
  private Path backup;

  @Option(
      names = "--data",
      paramLabel = "DIR",
      defaultValue = "nodley-data",
      description = "The data folder. Default: ${DEFAULT-VALUE}.")
  private Path data;

  @Option(names = "--replace", description = "Put data that is there aside, as nodley.db.before.")
  private boolean replace;

  @Override
  public Integer call() {
    try {
      Optional<Path> aside = Backup.restore(backup, data, replace);
      System.out.println(
          backup
              + " is restored to "
              + data
              + "."
              + aside.map(it -> " What was there is " + it.getFileName() + " now.").orElse(""));
      return 0;
    } catch (StoreException.BadFolder e) {
      System.err.println(e.getMessage());
      return 1;
    }
  }
}
