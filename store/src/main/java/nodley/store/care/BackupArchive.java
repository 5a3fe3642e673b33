package nodley.store.care;

import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import nodley.store.common.StoreException;
import nodley.store.folder.DataFolder;
import nodley.store.folder.Permissions;
import nodley.store.upload.Contents;
import org.apache.commons.compress.archivers.tar.TarArchiveEntry;
import org.apache.commons.compress.archivers.tar.TarArchiveInputStream;
import org.apache.commons.compress.archivers.tar.TarArchiveOutputStream;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * A backup as one file: a tar archive (POSIX.1-2001, pax) of {@code manifest.json}, the database
 * and the contents of files. The manifest comes first and has the size and the SHA-256 of
 * everything that follows. Stateless.
 */
public final class BackupArchive {

  private static final String MANIFEST = "manifest.json";
  private static final int MOST_MANIFEST = 1 << 30;
  private static final Pattern CONTENT = Pattern.compile("files/[0-9a-f]{2}/[0-9a-f]{64}");
  private static final JsonMapper JSON = JsonMapper.shared();

  private BackupArchive() {}

  /** One file of an archive. */
  private record Entry(String name, long size, String sha256) {}

  /**
   * Writes an archive.
   *
   * @param database a copy of the database
   * @param digests of the contents that it names
   */
  public static void write(Path database, Contents contents, List<String> digests, OutputStream to)
      throws IOException {
    List<Entry> entries = new ArrayList<>();
    entries.add(new Entry(DataFolder.FILE, Files.size(database), Contents.digest(database)));
    for (String sha256 : digests) {
      entries.add(new Entry(name(sha256), Files.size(contents.of(sha256)), sha256));
    }
    byte[] manifest = JSON.writeValueAsBytes(Map.of("format", 1, "files", entries));
    try (TarArchiveOutputStream tar =
        new TarArchiveOutputStream(to, StandardCharsets.UTF_8.name())) {
      tar.setBigNumberMode(TarArchiveOutputStream.BIGNUMBER_POSIX);
      tar.setLongFileMode(TarArchiveOutputStream.LONGFILE_POSIX);
      begin(tar, MANIFEST, manifest.length);
      tar.write(manifest);
      tar.closeArchiveEntry();
      for (Entry entry : entries) {
        boolean isDatabase = entry.name().equals(DataFolder.FILE);
        begin(tar, entry.name(), entry.size());
        Files.copy(isDatabase ? database : contents.of(entry.sha256()), tar);
        tar.closeArchiveEntry();
      }
      tar.finish();
    }
  }

  private static String name(String sha256) {
    return Contents.FOLDER + "/" + sha256.substring(0, 2) + "/" + sha256;
  }

  private static void begin(TarArchiveOutputStream tar, String name, long size) throws IOException {
    TarArchiveEntry entry = new TarArchiveEntry(name);
    entry.setSize(size);
    entry.setMode(0600);
    // A fraction of a second would need a header of its own before the manifest.
    entry.setLastModifiedTime(FileTime.from(Instant.now().truncatedTo(ChronoUnit.SECONDS)));
    tar.putArchiveEntry(entry);
  }

  /** True if a file begins as an archive of ours does. */
  static boolean is(Path file) throws IOException {
    byte[] name = MANIFEST.getBytes(StandardCharsets.US_ASCII);
    try (InputStream in = Files.newInputStream(file)) {
      return Arrays.equals(in.readNBytes(name.length), name);
    }
  }

  /**
   * Unpacks an archive into a folder that is there, and compares each file with the manifest.
   *
   * @throws StoreException.BadFolder if it is damaged, or has something else in it
   */
  static void unpack(Path archive, Path to) throws IOException {
    try (TarArchiveInputStream tar =
        new TarArchiveInputStream(
            new BufferedInputStream(Files.newInputStream(archive), 1 << 16),
            StandardCharsets.UTF_8.name())) {
      TarArchiveEntry first = tar.getNextEntry();
      if (first == null || !first.getName().equals(MANIFEST) || first.getSize() > MOST_MANIFEST) {
        throw damaged(archive, "its manifest is missing");
      }
      Map<String, Entry> wanted = manifest(archive, tar.readAllBytes());
      for (TarArchiveEntry next = tar.getNextEntry(); next != null; next = tar.getNextEntry()) {
        Entry entry = wanted.remove(next.getName());
        if (entry == null) {
          throw damaged(
              archive, "it has " + next.getName() + ", of which its manifest says nothing");
        }
        Path file = to.resolve(entry.name());
        Permissions.createFolder(file.getParent());
        Permissions.create(file);
        try (OutputStream out = Files.newOutputStream(file)) {
          tar.transferTo(out);
        }
        if (Files.size(file) != entry.size() || !Contents.digest(file).equals(entry.sha256())) {
          throw damaged(archive, entry.name() + " is not what its manifest says");
        }
      }
      if (!wanted.isEmpty()) {
        throw damaged(
            archive,
            wanted.size()
                + " files are missing, "
                + wanted.keySet().iterator().next()
                + " among them");
      }
    } catch (IOException | JacksonException e) {
      if (e instanceof FileSystemException) {
        throw e;
      }
      throw damaged(archive, e.getMessage());
    }
  }

  private static Map<String, Entry> manifest(Path archive, byte[] json) {
    JsonNode read = JSON.readTree(json);
    if (read.path("format").asInt() != 1) {
      throw new StoreException.BadFolder(archive + " was made by a newer Nodley.", null);
    }
    Map<String, Entry> wanted = new LinkedHashMap<>();
    for (JsonNode file : read.path("files")) {
      String name = file.path("name").asString("");
      // A name never leads out of the folder.
      if (!name.equals(DataFolder.FILE) && !CONTENT.matcher(name).matches()) {
        throw damaged(archive, "its manifest names " + name);
      }
      wanted.put(
          name, new Entry(name, file.path("size").asLong(-1), file.path("sha256").asString("")));
    }
    return wanted;
  }

  private static StoreException.BadFolder damaged(Path archive, String why) {
    return new StoreException.BadFolder(archive + " is damaged: " + why + ".", null);
  }
}
