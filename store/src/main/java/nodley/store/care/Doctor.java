package nodley.store.care;

import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import nodley.store.common.StoreException;
import nodley.store.common.Times;
import nodley.store.folder.DataFolder;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.schema.Column;
import nodley.store.schema.Columns;
import nodley.store.schema.Schema;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.FullText;
import nodley.store.sqlite.Sql;
import nodley.store.upload.Contents;

/**
 * Checks the integrity of a data folder: SQLite's own check, references, tables against their
 * forms, unique indexes, free space and the clock. Reads only, so the service may be running. Takes
 * as long as reading the whole file.
 */
public final class Doctor {

  /** Clocks may differ by this much before it is worth a word. */
  private static final Duration SLACK = Duration.ofMinutes(1);

  private static final int MAX_TOLD = 20;
  private static final long MEBI = 1 << 20;

  private final List<Finding> findings = new ArrayList<>();

  /**
   * What one look came to.
   *
   * @param what was looked at
   * @param isWell false if somebody should do something
   */
  public record Finding(String what, boolean isWell, String detail) {}

  private interface Look {
    /** What is wrong; nothing if all is well. */
    List<String> at(Connection on) throws SQLException, IOException;
  }

  private Doctor() {}

  /**
   * Looks at everything.
   *
   * @throws StoreException.BadFolder if there is no data to look at
   */
  public static List<Finding> look(Path folder, Clock clock) {
    Path file = folder.resolve(DataFolder.FILE);
    if (!Files.isRegularFile(file)) {
      throw new StoreException.BadFolder(
          "There is no data in " + folder + ". Name the data folder with --data.", null);
    }
    var doctor = new Doctor();
    try (Connection on = Database.readOnly(file)) {
      doctor.all(on, file, clock);
    } catch (SQLException e) {
      doctor.findings.add(new Finding("file", false, "it cannot be read: " + e.getMessage()));
    }
    return List.copyOf(doctor.findings);
  }

  private void all(Connection on, Path file, Clock clock) {
    look(on, "data version", "version " + Schema.VERSION, Doctor::version);
    look(on, "integrity", "every page and index is sound", Doctor::integrity);
    look(on, "references", "every one leads to a record", Doctor::references);
    look(on, "forms and tables", "every field has its column", Doctor::tables);
    look(on, "unique indexes", "each is there, and holds", Doctor::uniques);
    look(on, "words", "every record can be found by them", Doctor::words);
    look(on, "files", "each is there, and unchanged", connection -> files(connection, file, clock));
    look(on, "disk", "there is room", _ -> disk(file));
    look(on, "clock", "nothing was saved in the future", connection -> clock(connection, clock));
  }

  private void look(Connection on, String what, String well, Look look) {
    try {
      List<String> wrong = look.at(on);
      findings.add(
          new Finding(what, wrong.isEmpty(), wrong.isEmpty() ? well : String.join("; ", wrong)));
    } catch (SQLException | IOException | StoreException e) {
      findings.add(new Finding(what, false, "it cannot be looked at: " + e.getMessage()));
    }
  }

  private static List<String> version(Connection on) throws SQLException {
    long version = Catalog.version(on);
    return version == Schema.VERSION
        ? List.of()
        : List.of("it is " + version + ", and this Nodley's is " + Schema.VERSION);
  }

  private static List<String> integrity(Connection on) throws SQLException {
    return Catalog.damage(on, MAX_TOLD);
  }

  private static List<String> references(Connection on) throws SQLException {
    return Catalog.brokenReferences(on).stream()
        .map(it -> it.table() + " refers to no " + it.referred() + " in " + it.rows())
        .toList();
  }

  private static List<String> tables(Connection on) throws SQLException {
    List<String> wrong = new ArrayList<>();
    for (Table table : tablesOf(on)) {
      List<String> there = Columns.names(on, table.plainName()).stream().map(Sql::quoted).toList();
      for (Column column : table.columns()) {
        if (!there.contains(column.name())) {
          wrong.add(table.plainName() + " has no column " + column.path());
        }
      }
    }
    return wrong;
  }

  private static List<String> uniques(Connection on) throws SQLException {
    List<String> wrong = new ArrayList<>();
    for (Table table : tablesOf(on)) {
      for (UniqueIndex index : table.uniques()) {
        if (!UniqueIndex.columnsIn(on, index.plainName()).equals(index.columns())) {
          wrong.add("the index " + index.plainName() + " is not there as the form has it");
        }
        // NOT INDEXED asks the data, not the index that may be wrong.
        long twice =
            Sql.number(
                on,
                "SELECT count(*) FROM (SELECT 1 FROM "
                    + table.name()
                    + " NOT INDEXED"
                    + index.columns().stream()
                        .map(column -> column + " IS NOT NULL")
                        .collect(Collectors.joining(" AND ", " WHERE ", " GROUP BY "))
                    + String.join(", ", index.columns())
                    + " HAVING count(*) > 1)");
        if (twice > 0) {
          wrong.add(twice + " values of " + index.plainName() + " stand more than once");
        }
      }
    }
    return wrong;
  }

  private static List<String> words(Connection on) throws SQLException {
    List<String> wrong = new ArrayList<>();
    for (PublishedForm form : Snapshot.load(on).forms().values()) {
      String indexed = FullText.entries(form.name());
      // Those beyond the last one are put in when the data is opened.
      long missing =
          Sql.number(
              on,
              "SELECT count(*) FROM "
                  + Sql.quoted(form.name())
                  + " WHERE \"record_number\" < (SELECT max(id) FROM "
                  + indexed
                  + ") AND \"record_number\" NOT IN (SELECT id FROM "
                  + indexed
                  + ")");
      if (missing > 0) {
        wrong.add(missing + " records of " + form.name() + " are not in the index of words");
      }
    }
    return wrong;
  }

  /**
   * Rows against the disk, and the disk against rows; reads every file. While the service runs a
   * content is there a moment before its row, and goes a moment after it.
   */
  private static List<String> files(Connection on, Path database, Clock clock)
      throws SQLException, IOException {
    Contents contents = new Contents(database.toAbsolutePath().getParent());
    List<String> wrong = new ArrayList<>();
    List<Path> there = contents.all();
    Set<String> known =
        new LinkedHashSet<>(
            Sql.list(on, row -> row.getString(1), "SELECT sha256 FROM nodley_files ORDER BY 1"));
    for (String sha256 : known) {
      Path file = contents.of(sha256);
      if (!Files.isRegularFile(file)) {
        if (isKnown(on, sha256)) {
          wrong.add(sha256 + " is missing" + ofRecord(on, sha256));
        }
      } else if (!Contents.digest(file).equals(sha256)) {
        wrong.add(sha256 + " has another content than it had" + ofRecord(on, sha256));
      }
    }
    Instant lately = clock.instant().minus(SLACK);
    for (Path file : there) {
      String name = file.getFileName().toString();
      if (!known.contains(name)
          && Files.exists(file)
          && Files.getLastModifiedTime(file).toInstant().isBefore(lately)) {
        wrong.add(name + " is there, and nothing knows of it");
      }
    }
    return wrong.size() <= MAX_TOLD
        ? wrong
        : Stream.concat(
                wrong.stream().limit(MAX_TOLD), Stream.of(wrong.size() - MAX_TOLD + " more"))
            .toList();
  }

  private static boolean isKnown(Connection on, String sha256) throws SQLException {
    return Sql.number(on, "SELECT count(*) FROM nodley_files WHERE sha256 = ?", sha256) > 0;
  }

  private static String ofRecord(Connection on, String sha256) throws SQLException {
    return Sql.first(
            on,
            row ->
                " (%s, of %s %s)".formatted(row.getString(1), row.getString(2), row.getString(3)),
            "SELECT name, form, record_id FROM nodley_record_files WHERE sha256 = ? LIMIT 1",
            sha256)
        .orElse("");
  }

  private static List<Table> tablesOf(Connection on) throws SQLException {
    return Snapshot.load(on).forms().values().stream()
        .flatMap(form -> Table.of(form.form()).stream())
        .toList();
  }

  private static List<String> disk(Path file) throws IOException {
    FileStore disk = Files.getFileStore(file);
    long free = disk.getUsableSpace();
    long data = Files.size(file);
    // A backup, or the rebuilding of a table, takes as much again.
    return free > data + MEBI
        ? List.of()
        : List.of(
            free / MEBI
                + " MiB are free, and the data has "
                + data / MEBI
                + ": make room, at least as much");
  }

  private static List<String> clock(Connection on, Clock clock) throws SQLException {
    List<String> wrong = new ArrayList<>();
    Instant latest = clock.instant().plus(SLACK);
    for (PublishedForm form : Snapshot.load(on).forms().values()) {
      long ahead =
          Sql.number(
              on,
              "SELECT count(*) FROM " + Sql.quoted(form.name()) + " WHERE \"updated_at\" > ?",
              Times.of(latest));
      if (ahead > 0) {
        wrong.add(ahead + " records of " + form.name() + " were saved later than now");
      }
    }
    return wrong;
  }
}
