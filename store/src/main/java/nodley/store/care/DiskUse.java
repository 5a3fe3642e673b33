package nodley.store.care;

import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import nodley.store.common.StoreException;
import nodley.store.common.Times;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * How much of the disk a data folder takes, and how fast that grows. Sizes are in bytes.
 *
 * @param free what is left of the disk
 * @param total how large the disk is
 * @param database of the database, with what is not yet taken over into it
 * @param files of the contents of files
 * @param log of the log of attempts, which is bounded; a part of the database
 * @param records how many there are, of all forms
 * @param acceptedInWeek how many submissions were accepted in the last seven days
 * @param grownInWeek an estimate: files of the last seven days, and for each submission that was
 *     accepted since what a record takes in the database on an average
 */
public record DiskUse(
    long free,
    long total,
    long database,
    long files,
    long log,
    long records,
    long acceptedInWeek,
    long grownInWeek) {

  private static final Duration WEEK = Duration.ofDays(7);

  /**
   * Measures a folder.
   *
   * @param forms the names of the forms that have tables
   * @param log the size of the log of attempts
   * @throws StoreException.Unavailable if the disk does not tell
   */
  public static DiskUse of(
      Path folder, Database database, List<String> forms, long log, Instant now) {
    try {
      FileStore disk = Files.getFileStore(folder);
      long free = disk.getUsableSpace();
      long total = disk.getTotalSpace();
      long kept = 0;
      for (String end : List.of("", "-wal", "-shm")) {
        Path file = folder.resolve(DataFolder.FILE + end);
        kept += Files.exists(file) ? Files.size(file) : 0;
      }
      long size = kept;
      return database.snapshot(on -> read(on, free, total, size, forms, log, now));
    } catch (IOException e) {
      throw new StoreException.Unavailable("The disk does not tell how full it is.", e);
    }
  }

  private static DiskUse read(
      Connection on, long free, long total, long size, List<String> forms, long log, Instant now)
      throws SQLException {
    long records = 0;
    for (String form : forms) {
      records += Sql.number(on, "SELECT count(*) FROM " + Sql.quoted(form));
    }
    Instant since = now.minus(WEEK);
    long accepted =
        Sql.number(
            on,
            "SELECT count(*) FROM nodley_attempts WHERE at >= ? AND verdict = 'accepted'",
            since.toEpochMilli());
    long filed =
        Sql.number(
            on,
            "SELECT coalesce(sum(size), 0) FROM nodley_files WHERE made_at >= ?",
            Times.of(since));
    long each = records == 0 ? 0 : Math.max(0, size - log) / records;
    return new DiskUse(
        free,
        total,
        size,
        Sql.number(on, "SELECT coalesce(sum(size), 0) FROM nodley_files"),
        log,
        records,
        accepted,
        filed + accepted * each);
  }
}
