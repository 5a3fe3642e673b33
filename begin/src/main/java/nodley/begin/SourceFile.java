package nodley.begin;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * A file that a form is begun from.
 *
 * @param name what it is called where something is said of it
 */
@SuppressWarnings("ArrayRecordComponent") // It is read once, and never compared.
public record SourceFile(String name, byte[] bytes) {

  private static final long MAX_BYTES = 64L << 20;

  /**
   * Reads one of the disk.
   *
   * @throws BadSource if it is not there, is larger than 64 MiB, or cannot be read
   */
  public static SourceFile of(Path path) throws BadSource {
    try {
      if (!Files.isRegularFile(path)) {
        throw new BadSource("The file " + path + " is not there.");
      }
      if (Files.size(path) > MAX_BYTES) {
        throw new BadSource(
            "The file " + path + " is larger than 64 MiB; its beginning is enough.");
      }
      return new SourceFile(path.toString(), Files.readAllBytes(path));
    } catch (IOException e) {
      throw new BadSource("The file " + path + " cannot be read.");
    }
  }

  /** The name without the folders before it. */
  String lastName() {
    return name.substring(Math.max(name.lastIndexOf('/'), name.lastIndexOf('\\')) + 1);
  }
}
