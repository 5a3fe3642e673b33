package nodley.store;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Who may read a data folder: the user that the service runs as, and nobody else. It holds what
 * people sent, and the key that signs sessions and cursors. Where files have no POSIX permissions,
 * nothing is done.
 */
final class Permissions {

  private static final Logger LOG = LoggerFactory.getLogger(Permissions.class);
  private static final Set<PosixFilePermission> FOLDER =
      PosixFilePermissions.fromString("rwx------");
  private static final Set<PosixFilePermission> FILE = PosixFilePermissions.fromString("rw-------");

  private Permissions() {}

  /** Makes the folder, if it is not there, and lets nobody else read what is in it. */
  static void prepare(Path folder) throws IOException {
    boolean fresh = !Files.exists(folder);
    Files.createDirectories(folder);
    if (!isPosix(folder)) {
      return;
    }
    if (fresh) {
      Files.setPosixFilePermissions(folder, FOLDER);
    }
    tighten(folder, FOLDER);
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file :
          files.filter(it -> it.getFileName().toString().startsWith("nodley")).toList()) {
        tighten(file, FILE);
      }
    }
  }

  /** Makes a file that only its owner may read, if it is not there. */
  static void create(Path file) throws IOException {
    if (isPosix(file.getParent()) && !Files.exists(file)) {
      Files.createFile(file, PosixFilePermissions.asFileAttribute(FILE));
    }
  }

  private static boolean isPosix(Path folder) throws IOException {
    return Files.getFileStore(folder).supportsFileAttributeView("posix");
  }

  /** Writes a new file that only its owner may read. */
  static void write(Path file, String text) throws IOException {
    Path whole = file.resolveSibling(file.getFileName() + ".new");
    Files.deleteIfExists(whole);
    create(whole);
    Files.writeString(whole, text, StandardOpenOption.CREATE, StandardOpenOption.SYNC);
    Files.move(whole, file, StandardCopyOption.ATOMIC_MOVE);
  }

  private static void tighten(Path path, Set<PosixFilePermission> wanted) throws IOException {
    Set<PosixFilePermission> found = Files.getPosixFilePermissions(path, LinkOption.NOFOLLOW_LINKS);
    if (Files.isSymbolicLink(path) || wanted.containsAll(found)) {
      return;
    }
    try {
      Files.setPosixFilePermissions(path, wanted);
      LOG.info("{} could be read by other users of this machine; it no longer can.", path);
    } catch (IOException e) {
      LOG.warn(
          "{} can be read by other users of this machine, and this user may not change that: {}",
          path,
          e.getMessage());
    }
  }
}
