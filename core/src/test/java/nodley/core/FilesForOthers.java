package nodley.core;

import java.nio.file.Files;
import java.nio.file.Path;
import nodley.core.submission.Corpus;
import nodley.core.submission.ExpressionsDocTest;
import nodley.core.text.PluralCases;

/**
 * Writes what the tests of other modules compare with the core, under core/target/corpus. The build
 * runs it once the core's tests are compiled, so that none of them has to have run.
 */
public final class FilesForOthers {

  private FilesForOthers() {}

  public static void main(String[] arguments) throws Exception {
    Path to = Files.createDirectories(Repository.file("core/target/corpus"));
    Corpus.write(to);
    PluralCases.write(to.resolve("plurals.json"));
    ExpressionsDocTest.write(to.resolve("expressions/trees.json"));
  }
}
