package nodley.store.upload;

import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import nodley.store.folder.Permissions;

/**
 * The contents of files on disk, each named by its SHA-256: {@code files/ab/ab12…}, beside {@code
 * files/waiting} for uploads that are not complete. A file is there whole or not at all, and never
 * changes. Thread-safe.
 */
public final class Contents {

  /** The folder in the data folder. */
  public static final String FOLDER = "files";

  private static final String WAITING = "waiting";
  private static final String PARTS = "parts";
  private static final Pattern DIGEST = Pattern.compile("[0-9a-f]{64}");
  private static final int BUFFER = 1 << 16;

  private final Path folder;

  /** The contents in a data folder. */
  public Contents(Path dataFolder) {
    this.folder = dataFolder.resolve(FOLDER);
  }

  /** The folder for parts of bodies while these are read; what a killed process left there goes. */
  public Path parts() {
    return folder.resolve(PARTS);
  }

  /** Where the bytes of an upload are as long as it is not complete. */
  Path waiting(String upload) {
    return folder.resolve(WAITING).resolve(upload);
  }

  void prepare() throws IOException {
    Permissions.createFolder(folder.resolve(WAITING));
    Permissions.createFolder(parts());
    for (Path left : list(parts())) {
      Files.delete(left);
    }
  }

  /** Where a content is, whether it is there or not. */
  public Path of(String sha256) {
    if (!DIGEST.matcher(sha256).matches()) {
      throw new IllegalArgumentException("no SHA-256: " + sha256);
    }
    return folder.resolve(sha256.substring(0, 2)).resolve(sha256);
  }

  /** Returns the digest of a file's content, read from disk. */
  public static String digest(Path file) throws IOException {
    MessageDigest digest = sha256();
    byte[] buffer = new byte[BUFFER];
    try (InputStream in = new DigestInputStream(Files.newInputStream(file), digest)) {
      while (in.read(buffer) >= 0) {
        // The digest is all that is wanted.
      }
    }
    return HexFormat.of().formatHex(digest.digest());
  }

  private static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Puts a whole, synced file among the contents. It stays where it was as well, so that what fails
   * afterwards can be done again; the same content is kept once.
   */
  void put(Path file, String sha256) throws IOException {
    Path target = of(sha256);
    Permissions.createFolder(target.getParent());
    if (Files.exists(target) && Files.size(target) == Files.size(file)) {
      return;
    }
    try {
      Files.createLink(target, file);
    } catch (FileAlreadyExistsException | UnsupportedOperationException e) {
      Path whole = target.resolveSibling(sha256 + ".new");
      Files.copy(file, whole, StandardCopyOption.REPLACE_EXISTING);
      sync(whole);
      Files.move(whole, target, StandardCopyOption.ATOMIC_MOVE);
    }
    sync(target.getParent());
  }

  /** Has the disk keep what was written of a file, or which names a folder has. */
  static void sync(Path path) throws IOException {
    try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
      channel.force(true);
    }
  }

  /** Removes a content. */
  void remove(String sha256) throws IOException {
    Files.deleteIfExists(of(sha256));
  }

  /** The files where contents are, each named by a digest unless somebody else put it there. */
  public List<Path> all() throws IOException {
    List<Path> all = new ArrayList<>();
    for (Path inner : list(folder)) {
      String name = inner.getFileName().toString();
      if (Files.isDirectory(inner) && !name.equals(WAITING) && !name.equals(PARTS)) {
        all.addAll(list(inner));
      }
    }
    return all;
  }

  /** The ids of uploads that have bytes waiting. */
  List<String> allWaiting() throws IOException {
    return list(folder.resolve(WAITING)).stream()
        .map(file -> file.getFileName().toString())
        .toList();
  }

  /** What is in a folder, in the order of the names; none if the folder is not there. */
  private static List<Path> list(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      return List.of();
    }
    try (Stream<Path> files = Files.list(folder)) {
      return files.sorted().toList();
    }
  }
}
