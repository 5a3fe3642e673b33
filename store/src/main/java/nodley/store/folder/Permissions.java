package nodley.store.folder;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Restricts a data folder to the user that the service runs as: it holds personal data and secret
 * keys. Does nothing where files have no POSIX permissions. A folder that has other files in it
 * keeps its own permissions; only Nodley's files are restricted.
 */
public final class Permissions {

  private static final Logger LOG = LoggerFactory.getLogger(Permissions.class);
  private static final Set<PosixFilePermission> FOLDER =
      PosixFilePermissions.fromString("rwx------");
  private static final Set<PosixFilePermission> FILE = PosixFilePermissions.fromString("rw-------");

  private Permissions() {}

  /** Makes the folder, if it is not there, and lets nobody else read what is ours in it. */
  static void prepare(Path folder) throws IOException {
    Files.createDirectories(folder);
    if (!isPosix(folder)) {
      return;
    }
    List<Path> all;
    try (Stream<Path> files = Files.list(folder)) {
      all = files.toList();
    }
    List<Path> ours = all.stream().filter(Permissions::isOurs).toList();
    if (ours.size() == all.size()) {
      tighten(folder, FOLDER);
    }
    for (Path file : ours) {
      tighten(file, Files.isDirectory(file) ? FOLDER : FILE);
    }
  }

  private static boolean isOurs(Path file) {
    String name = file.getFileName().toString();
    return name.startsWith("nodley.") && Files.isRegularFile(file)
        || name.equals("files") && Files.isDirectory(file);
  }

  /** Makes a file that only its owner may read, if it is not there. */
  public static void create(Path file) throws IOException {
    if (!Files.exists(file) && isPosix(file.toAbsolutePath().getParent())) {
      Files.createFile(file, PosixFilePermissions.asFileAttribute(FILE));
    }
  }

  /** Makes a folder that only its owner may enter, with those around it, if it is not there. */
  public static void createFolder(Path folder) throws IOException {
    if (Files.isDirectory(folder)) {
      return;
    }
    Path around = folder.toAbsolutePath().getParent();
    createFolder(around);
    try {
      if (isPosix(around)) {
        Files.createDirectory(folder, PosixFilePermissions.asFileAttribute(FOLDER));
      } else {
        Files.createDirectory(folder);
      }
    } catch (FileAlreadyExistsException e) {
      // Somebody else was quicker.
    }
  }

  /** Writes a new file that only its owner may read: the whole of it, or nothing. */
  public static void write(Path file, String text) throws IOException {
    Path whole = file.resolveSibling(file.getFileName() + ".new");
    Files.deleteIfExists(whole);
    create(whole);
    Files.writeString(whole, text, StandardOpenOption.CREATE, StandardOpenOption.SYNC);
    Files.move(whole, file, StandardCopyOption.ATOMIC_MOVE);
  }

  private static boolean isPosix(Path folder) throws IOException {
    return Files.getFileStore(folder).supportsFileAttributeView("posix");
  }

  private static void tighten(Path path, Set<PosixFilePermission> wanted) throws IOException {
    if (wanted.containsAll(Files.getPosixFilePermissions(path, LinkOption.NOFOLLOW_LINKS))) {
      return;
    }
    try {
      Files.setPosixFilePermissions(path, wanted);
    } catch (IOException e) {
      LOG.warn(
          "{} can be read by other users of this machine, and this user may not change that: {}",
          path,
          e.getMessage());
    }
  }
}
