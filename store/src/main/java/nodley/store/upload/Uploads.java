package nodley.store.upload;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.Base64;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentMap;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import nodley.store.common.Times;
import nodley.store.common.UploadLimits;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Files on their way to records. An upload is announced, gets its bytes in one or many requests,
 * and is complete with the last one: its content then stands among the {@link Contents}. A record
 * takes it over in its own transaction ({@link #take}); what nothing takes over is swept.
 *
 * <p>Thread-safe. Bytes are written on the caller's thread and never pass through the one writer of
 * the database, which only learns of an upload's beginning and end.
 */
public final class Uploads {

  private static final Logger LOG = LoggerFactory.getLogger(Uploads.class);

  private static final int ID_BYTES = 18;

  /** Where the disk has no more bytes than these, what fails does so for that. */
  private static final long LITTLE = 1 << 20;

  private static final String COLUMNS =
      "SELECT id, form, field, owner, name, size, ends_at, coalesce(sha256, ''), type, draft"
          + " FROM nodley_uploads";

  private static final String NEEDLESS =
      "NOT EXISTS (SELECT 1 FROM nodley_uploads u WHERE u.sha256 = nodley_files.sha256)"
          + " AND NOT EXISTS"
          + " (SELECT 1 FROM nodley_record_files r WHERE r.sha256 = nodley_files.sha256)";

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final UploadLimits limits;
  private final Contents contents;
  private final SecureRandom random = new SecureRandom();
  private volatile ContentScan scan = ContentScan.NONE;

  /** Of uploads that somebody writes or asks for now. */
  private final ConcurrentMap<String, WaitingFile> waiting = new ConcurrentHashMap<>();

  /**
   * Held for reading while a content is put in place until a row names it, and while a backup
   * copies contents; for writing while contents that nothing needs are removed.
   */
  private final ReentrantReadWriteLock needs = new ReentrantReadWriteLock();

  /** The uploads of a data folder. */
  public Uploads(
      Database database, BatchWriter writer, Clock clock, Path dataFolder, UploadLimits limits)
      throws IOException {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.limits = limits;
    this.contents = new Contents(dataFolder);
    contents.prepare();
  }

  /** Has every content looked at from now on, before it is complete. */
  public void scanBy(ContentScan scan) {
    this.scan = scan;
  }

  /** Returns the contents of files. */
  public Contents contents() {
    return contents;
  }

  /**
   * Begins an upload; its row is committed when this returns.
   *
   * @throws UploadException.TooMany if too much waits already
   * @throws UploadException.NoRoom if the disk has no room for it
   */
  public Upload announce(Upload.Announced announced) throws UploadException {
    if (!hasRoom(announced.size())) {
      throw new UploadException.NoRoom();
    }
    byte[] bytes = new byte[ID_BYTES];
    random.nextBytes(bytes);
    Upload upload =
        new Upload(
            Base64.getUrlEncoder().withoutPadding().encodeToString(bytes),
            announced.form(),
            announced.field(),
            announced.owner(),
            FileNames.safe(announced.name()),
            announced.size(),
            clock.instant().plus(limits.kept()),
            "",
            "",
            "");
    Optional<String> refused = writer.write(on -> insert(on, upload, announced));
    if (refused.isPresent()) {
      throw new UploadException.TooMany(refused.get());
    }
    return upload;
  }

  /** True if the disk has room for so many bytes more. */
  public boolean hasRoom(long bytes) {
    return free() - bytes >= limits.freeDisk();
  }

  private long free() {
    try {
      FileStore disk = Files.getFileStore(contents.of("0".repeat(64)).getParent().getParent());
      return disk.getUsableSpace();
    } catch (IOException e) {
      return Long.MAX_VALUE;
    }
  }

  private Optional<String> insert(Connection on, Upload upload, Upload.Announced announced)
      throws SQLException {
    String payer = announced.owner().isEmpty() ? announced.address() : announced.owner();
    long count = Sql.number(on, "SELECT count(*) FROM nodley_uploads WHERE payer = ?", payer);
    long own = Sql.number(on, "SELECT sum(size) FROM nodley_uploads WHERE payer = ?", payer);
    long all = Sql.number(on, "SELECT sum(size) FROM nodley_uploads");
    if (count >= limits.uploadsPerOwner()) {
      return Optional.of(
          count + " files wait to be submitted already; submit some of them, or remove them.");
    }
    if (own + upload.size() > limits.perOwner()) {
      return Optional.of(
          "With this file more would wait to be submitted than may; submit some, or remove them.");
    }
    if (all + upload.size() > limits.inAll()) {
      return Optional.of("Too many files wait to be submitted at the moment; try again later.");
    }
    Sql.run(
        on,
        "INSERT INTO nodley_uploads (id, form, field, owner, payer, name, size, ends_at)"
            + " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        upload.id(),
        upload.form(),
        upload.field(),
        upload.owner(),
        payer,
        upload.name(),
        upload.size(),
        upload.endsAt().toEpochMilli());
    return Optional.empty();
  }

  /** Returns an upload that nothing has taken over and whose time is not over. */
  public Optional<Upload> find(String id) {
    return known(id).filter(upload -> upload.endsAt().isAfter(clock.instant()));
  }

  private Optional<Upload> known(String id) {
    return database.read(on -> Sql.first(on, Uploads::read, COLUMNS + " WHERE id = ?", id));
  }

  private static Upload read(ResultSet row) throws SQLException {
    return new Upload(
        row.getString(1),
        row.getString(2),
        row.getString(3),
        row.getString(4),
        row.getString(5),
        row.getLong(6),
        Instant.ofEpochMilli(row.getLong(7)),
        row.getString(8),
        row.getString(9),
        row.getString(10));
  }

  /** Returns how many bytes of an upload are there. */
  public long offset(Upload upload) throws IOException {
    return upload.isComplete() ? upload.size() : file(upload).length();
  }

  private WaitingFile file(Upload upload) {
    return waiting.computeIfAbsent(upload.id(), id -> new WaitingFile(contents.waiting(id)));
  }

  /**
   * Adds bytes to an upload, which is complete when all are there. Another request that still adds
   * to it ends.
   *
   * @param offset how many bytes there are so far
   * @return the upload as it is then
   * @throws UploadException if the bytes do not fit, or there is no room
   * @throws IOException of the stream; what came until then is there, unless it has a checksum
   */
  public Upload append(Upload upload, long offset, InputStream in, Optional<Checksum> checksum)
      throws IOException {
    if (upload.isComplete()) {
      if (offset != upload.size()) {
        throw new UploadException.WrongOffset(offset, upload.size());
      }
      if (in.read() >= 0) {
        throw new UploadException.TooMuch(upload.size());
      }
      return upload;
    }
    WaitingFile file = file(upload);
    long end;
    try {
      end = file.append(offset, upload.size(), in, checksum);
    } catch (IOException e) {
      if (free() <= Math.max(limits.freeDisk() / 2, LITTLE) && !(e instanceof UploadException)) {
        throw new UploadException.NoRoom();
      }
      throw e;
    }
    return end == upload.size() ? complete(upload, file) : upload;
  }

  /** Completes an upload whose bytes are all there, as when the process ended just before that. */
  public Upload completeIfWhole(Upload upload) throws IOException {
    boolean whole = !upload.isComplete() && offset(upload) == upload.size();
    return whole ? complete(upload, file(upload)) : upload;
  }

  /**
   * Puts the bytes among the contents. Nobody writes to them from here on: what a content is named
   * by must stay true of it.
   */
  private Upload complete(Upload upload, WaitingFile file) throws IOException {
    return file.sealed(
        () -> {
          // Somebody else may have asked at the same moment.
          Upload now = known(upload.id()).orElseThrow(UploadException.Gone::new);
          return now.isComplete() ? now : completed(now, file);
        });
  }

  private Upload completed(Upload upload, WaitingFile file) throws IOException {
    if (upload.size() == 0) {
      Files.write(file.path(), new byte[0]);
    }
    scan.check(file.path());
    String sha256 = Contents.digest(file.path());
    String type = MediaTypes.of(file.path(), upload.name());
    needs.readLock().lock();
    try {
      contents.put(file.path(), sha256);
      if (!writer.write(on -> record(on, upload, sha256, type))) {
        throw new UploadException.Gone();
      }
    } finally {
      needs.readLock().unlock();
    }
    file.remove();
    waiting.remove(upload.id());
    return upload.complete(sha256, type);
  }

  private boolean record(Connection on, Upload upload, String sha256, String type)
      throws SQLException {
    Sql.run(
        on,
        "INSERT INTO nodley_files (sha256, size, made_at) VALUES (?, ?, ?)"
            + " ON CONFLICT (sha256) DO NOTHING",
        sha256,
        upload.size(),
        Times.now());
    return Sql.run(
            on,
            "UPDATE nodley_uploads SET sha256 = ?, type = ? WHERE id = ?",
            sha256,
            type,
            upload.id())
        > 0;
  }

  /** Ends an upload; its bytes are gone, unless others have the same content. */
  public void remove(Upload upload) throws IOException {
    writer.write(on -> Sql.run(on, "DELETE FROM nodley_uploads WHERE id = ?", upload.id()));
    WaitingFile file = waiting.remove(upload.id());
    (file == null ? new WaitingFile(contents.waiting(upload.id())) : file).remove();
    if (upload.isComplete()) {
      sweepNeedless();
    }
  }

  /**
   * Takes an upload over, in the transaction of the record that has it from then on.
   *
   * @return false if it is gone, or something else has taken it over
   */
  public static boolean take(Connection on, String id, String sha256) throws SQLException {
    return Sql.run(on, "DELETE FROM nodley_uploads WHERE id = ? AND sha256 = ?", id, sha256) > 0;
  }

  /**
   * Keeps uploads as long as the draft whose values name them, in the transaction of the draft;
   * what it names no longer is kept as long as any.
   *
   * @param owner whose uploads they are
   */
  public static void keepForDraft(
      Connection on, String draft, Set<String> ids, String owner, Instant endsAt)
      throws SQLException {
    List<String> before =
        Sql.list(
            on, row -> row.getString(1), "SELECT id FROM nodley_uploads WHERE draft = ?", draft);
    for (String id : before) {
      if (!ids.contains(id)) {
        Sql.run(on, "UPDATE nodley_uploads SET draft = '' WHERE id = ?", id);
      }
    }
    for (String id : ids) {
      Sql.run(
          on,
          "UPDATE nodley_uploads SET draft = ?, ends_at = max(ends_at, ?)"
              + " WHERE id = ? AND (owner = ? OR draft = ?)",
          draft,
          endsAt.toEpochMilli(),
          id,
          owner,
          draft);
    }
  }

  /** Has the uploads of a draft that is over swept; a record may have taken some over before. */
  public static void giveUpForDraft(Connection on, String draft) throws SQLException {
    Sql.run(on, "UPDATE nodley_uploads SET ends_at = 0, draft = '' WHERE draft = ?", draft);
  }

  /** Returns the uploads of an owner that nothing has taken over yet, the oldest first. */
  public List<Upload> of(String owner) {
    return database.read(
        on -> Sql.list(on, Uploads::read, COLUMNS + " WHERE owner = ? ORDER BY ends_at", owner));
  }

  /** Removes all uploads of an owner. */
  public void removeAll(String owner) throws IOException {
    for (Upload upload : of(owner)) {
      remove(upload);
    }
  }

  /** Removes what nothing takes over in time, and contents that nothing needs any more. */
  public void sweep() throws IOException {
    List<String> over =
        writer.write(
            on ->
                Sql.list(
                    on,
                    row -> row.getString(1),
                    "DELETE FROM nodley_uploads WHERE ends_at <= ? RETURNING id",
                    clock.millis()));
    for (String id : over) {
      WaitingFile file = waiting.remove(id);
      (file == null ? new WaitingFile(contents.waiting(id)) : file).remove();
    }
    sweepNeedless();
  }

  /**
   * Removes bytes on disk that no row knows: left by a process that ended between the two. Looks at
   * all files.
   */
  public void sweepStrays() throws IOException {
    sweepWaiting();
    if (!needs.writeLock().tryLock()) {
      return;
    }
    try {
      Set<String> known =
          new HashSet<>(
              database.read(
                  on -> Sql.list(on, row -> row.getString(1), "SELECT sha256 FROM nodley_files")));
      for (Path file : contents.all()) {
        String name = file.getFileName().toString();
        if (!known.contains(name) && Files.isRegularFile(file)) {
          LOG.info("Removed {} from files: no record and no upload needs it.", name);
          Files.delete(file);
        }
      }
    } finally {
      needs.writeLock().unlock();
    }
  }

  private void sweepWaiting() throws IOException {
    Set<String> known =
        new HashSet<>(
            database.read(
                on -> Sql.list(on, row -> row.getString(1), "SELECT id FROM nodley_uploads")));
    for (String name : contents.allWaiting()) {
      int dot = name.indexOf('.');
      String id = dot < 0 ? name : name.substring(0, dot);
      if (!known.contains(id) && find(id).isEmpty()) {
        new WaitingFile(contents.waiting(id)).remove();
      }
    }
    waiting.keySet().removeIf(id -> !known.contains(id) && find(id).isEmpty());
  }

  private void sweepNeedless() throws IOException {
    // Most times there are none, and the writer need not look.
    boolean any =
        database.read(
                on ->
                    Sql.number(
                        on, "SELECT EXISTS (SELECT 1 FROM nodley_files WHERE " + NEEDLESS + ")"))
            > 0;
    // A backup may hold the lock for long; whoever waited for it would hold up all uploads.
    if (!any || !needs.writeLock().tryLock()) {
      return;
    }
    try {
      List<String> needless =
          writer.write(
              on ->
                  Sql.list(
                      on,
                      row -> row.getString(1),
                      "DELETE FROM nodley_files WHERE " + NEEDLESS + " RETURNING sha256"));
      for (String sha256 : needless) {
        contents.remove(sha256);
      }
    } finally {
      needs.writeLock().unlock();
    }
  }

  /** Does something while no content is removed. */
  public <T> T whileKept(IoWork<T> work) throws IOException {
    needs.readLock().lock();
    try {
      return work.run();
    } finally {
      needs.readLock().unlock();
    }
  }

  /** Work with files. */
  public interface IoWork<T> {
    T run() throws IOException;
  }
}
