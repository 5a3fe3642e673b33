package nodley.service.start;

import java.io.IOException;
import java.nio.file.Path;
import org.springframework.util.FileSystemUtils;

/** Removes the data folder that the demo makes where none is given. Failing to is no error. */
final class TemporaryFolder {

  private TemporaryFolder() {}

  static void remove(Path folder) {
    try {
      FileSystemUtils.deleteRecursively(folder);
    } catch (IOException e) {
      // It lies in the system's temporary folder, which is swept in any case.
    }
  }
}
