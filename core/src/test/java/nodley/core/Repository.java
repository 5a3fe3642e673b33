package nodley.core;

import java.net.URISyntaxException;
import java.nio.file.Path;

/** Files of the repository: they are found whatever the working directory is. */
public final class Repository {

  /** This class is three folders below it: core/target/test-classes. */
  private static final Path ROOT = root();

  private Repository() {}

  /**
   * Returns a file.
   *
   * @param path from the root of the repository, such as {@code docs/wire.md}
   */
  public static Path file(String path) {
    return ROOT.resolve(path);
  }

  private static Path root() {
    try {
      return Path.of(Repository.class.getProtectionDomain().getCodeSource().getLocation().toURI())
          .resolve("../../..")
          .normalize();
    } catch (URISyntaxException e) {
      throw new IllegalStateException(e);
    }
  }
}
