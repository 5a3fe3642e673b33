package nodley.store.upload;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.zip.ZipFile;
import org.apache.tika.metadata.Metadata;
import org.apache.tika.metadata.TikaCoreProperties;
import org.apache.tika.mime.MediaType;
import org.apache.tika.mime.MimeTypeException;
import org.apache.tika.mime.MimeTypes;

/**
 * Finds the media type of a file from its content (Apache Tika's detector). A name never decides;
 * it only says which kind of plain text, or of a zip archive that has what the kind needs.
 * Thread-safe; reads no more than the beginning of a file, and the directory of an archive.
 */
public final class MediaTypes {

  /** What is no known type. */
  public static final String UNKNOWN = "application/octet-stream";

  private static final String ZIP = "application/zip";

  /** What an archive must have inside to be a document of a kind. */
  private static final Map<String, String> INSIDE =
      Map.of(
          "application/vnd.openxmlformats-officedocument.wordprocessingml.document", "word/",
          "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xl/",
          "application/vnd.openxmlformats-officedocument.presentationml.presentation", "ppt/",
          "application/vnd.oasis.opendocument.text", "content.xml",
          "application/vnd.oasis.opendocument.spreadsheet", "content.xml",
          "application/vnd.oasis.opendocument.presentation", "content.xml",
          "application/epub+zip", "META-INF/container.xml");

  private static final int MOST_ENTRIES = 10_000;

  private MediaTypes() {}

  /** Loaded once a file is looked at, since it takes a fifth of a second. */
  private static final class Known {
    static final MimeTypes TYPES = MimeTypes.getDefaultMimeTypes();

    private Known() {}
  }

  /**
   * Returns the media type of a file.
   *
   * @param name the name that it was sent under
   */
  public static String of(Path file, String name) throws IOException {
    String type = detect(file, name);
    String inside = INSIDE.get(type);
    if (inside != null && !has(file, inside)) {
      return ZIP;
    }
    return isArchiveByName(type) ? ZIP : type;
  }

  /** Other types that are zip archives by their name alone are not believed. */
  private static boolean isArchiveByName(String type) {
    if (type.equals(ZIP) || INSIDE.containsKey(type)) {
      return false;
    }
    MediaType found = MediaType.parse(type);
    return Known.TYPES.getMediaTypeRegistry().isSpecializationOf(found, MediaType.APPLICATION_ZIP);
  }

  private static String detect(Path file, String name) throws IOException {
    Metadata metadata = new Metadata();
    metadata.set(TikaCoreProperties.RESOURCE_NAME_KEY, name.toLowerCase(Locale.ROOT));
    try (InputStream in = new BufferedInputStream(Files.newInputStream(file), 1 << 16)) {
      return Known.TYPES.detect(in, metadata).getBaseType().toString();
    }
  }

  /** True if an archive has an entry of this name, or in this folder; nothing is unpacked. */
  private static boolean has(Path file, String entry) {
    try (ZipFile zip = new ZipFile(file.toFile())) {
      return zip.stream().limit(MOST_ENTRIES).anyMatch(it -> it.getName().startsWith(entry));
    } catch (IOException | IllegalArgumentException e) {
      return false;
    }
  }

  /** What names of files of a type usually end in, such as {@code .jpg}; none if it is unknown. */
  public static Set<String> endings(String type) {
    try {
      return new HashSet<>(Known.TYPES.forName(type).getExtensions());
    } catch (MimeTypeException e) {
      return Set.of();
    }
  }
}
