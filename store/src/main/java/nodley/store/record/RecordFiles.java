package nodley.store.record;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Form;
import nodley.core.value.FileRef;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.schema.Rename;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;
import nodley.store.upload.Uploads;

/**
 * Which files records have, and which their earlier versions have: as long as one of them does, the
 * content stays on disk. Written in the transaction of the record, on the connection of the caller.
 */
public final class RecordFiles {

  private static final String OF_RECORD = " WHERE form = ? AND record_id = ?";

  private final Connection on;
  private final String form;
  private final String record;
  private final Set<String> gone = new TreeSet<>();

  private RecordFiles(Connection on, String form, String record) {
    this.on = on;
    this.form = form;
    this.record = record;
  }

  /**
   * Takes over the uploads in the values of a new record.
   *
   * @param values as they were written, with the identities of their rows
   * @return dotted paths of fields whose upload is gone; nothing may be kept then
   */
  static Set<String> add(Connection on, Form form, String record, Values values)
      throws SQLException {
    if (!form.fields().hasFiles()) {
      return Set.of();
    }
    RecordFiles files = new RecordFiles(on, form.name(), record);
    files.add(form.fields(), "", values);
    return files.gone;
  }

  /** The same for an edited record: what it had belongs to its earlier versions from now on. */
  static Set<String> replace(Connection on, Form form, String record, Values values)
      throws SQLException {
    if (!form.fields().hasFiles()) {
      return Set.of();
    }
    Sql.run(on, "UPDATE nodley_record_files SET is_current = 0" + OF_RECORD, form.name(), record);
    Set<String> gone = add(on, form, record, values);
    // A version needs a content once, and what the record has as well is there anyway.
    Sql.run(
        on,
        "DELETE FROM nodley_record_files AS old"
            + OF_RECORD
            + " AND is_current = 0 AND EXISTS (SELECT 1 FROM nodley_record_files AS own"
            + " WHERE own.form = old.form AND own.record_id = old.record_id"
            + " AND own.field = old.field AND own.sha256 = old.sha256 AND "
            + EngineSql.rowOrder("own")
            + " <> "
            + EngineSql.rowOrder("old")
            + " AND (own.is_current = 1 OR "
            + EngineSql.rowOrder("own")
            + " < "
            + EngineSql.rowOrder("old")
            + "))",
        form.name(),
        record);
    return gone;
  }

  private void add(Fields fields, String outer, Values values) throws SQLException {
    for (Field field : fields) {
      String path = outer + field.name();
      switch (values.get(field.name())) {
        case Value.Group(Values inside) -> add(field.fields(), path + ".", inside);
        case Value.Rows(List<Values> rows) -> {
          for (Values row : rows) {
            add(field.fields(), path + ".", row);
          }
        }
        case Value.Files(List<FileRef> files, boolean _) -> {
          for (int i = 0; i < files.size(); i++) {
            add(path, values.row(), i, files.get(i));
          }
        }
        default -> {
          // It has no files.
        }
      }
    }
  }

  private void add(String path, long row, int number, FileRef file) throws SQLException {
    Optional<String> upload = file.upload();
    if (upload.isPresent() && !Uploads.take(on, upload.get(), file.sha256())) {
      gone.add(path);
      return;
    }
    Sql.run(
        on,
        "INSERT INTO nodley_record_files (form, record_id, field, row_id, file_number, is_current,"
            + " name, type, size, sha256) VALUES (?, ?, ?, ?, ?, 1, ?, ?, ?, ?)",
        form,
        record,
        path,
        row == 0 ? null : row,
        number,
        file.name(),
        file.type(),
        file.size(),
        file.sha256());
  }

  /** Finds a file that a record has in a field, or an earlier version of it. */
  static Optional<FileRef> find(
      Connection on, String form, String record, String field, String sha256) throws SQLException {
    return Sql.first(
        on,
        RecordFiles::read,
        "SELECT name, type, size, sha256 FROM nodley_record_files"
            + OF_RECORD
            + " AND field = ? AND sha256 = ? ORDER BY is_current DESC LIMIT 1",
        form,
        record,
        field,
        sha256);
  }

  private static FileRef read(ResultSet row) throws SQLException {
    return FileRef.stored(row.getString(1), row.getString(2), row.getLong(3), row.getString(4));
  }

  /** A record takes its files with it. */
  static void remove(Connection on, String form, String id) throws SQLException {
    Sql.run(on, "DELETE FROM nodley_record_files" + OF_RECORD, form, id);
  }

  /** The files of a removed record that can be put back are neither its own nor its versions'. */
  static void setAside(Connection on, Form form, String id) throws SQLException {
    Sql.run(
        on,
        "UPDATE nodley_record_files SET is_current = -1" + OF_RECORD + " AND is_current = 1",
        form.name(),
        id);
  }

  /** Makes them its own again. */
  static void putBack(Connection on, Form form, String id) throws SQLException {
    Sql.run(
        on,
        "UPDATE nodley_record_files SET is_current = 1" + OF_RECORD + " AND is_current = -1",
        form.name(),
        id);
  }

  /** Forgets the files of a field of one record, in its versions too. */
  static void forget(Connection on, String form, String id, String field) throws SQLException {
    Sql.run(
        on,
        "DELETE FROM nodley_record_files" + OF_RECORD + OF_FIELD,
        form,
        id,
        field,
        field.length() + 1,
        field + ".");
  }

  private static final String OF_FIELD = " AND (field = ? OR substr(field, 1, ?) = ?)";

  /** Forgets the files of a field of all records, in their versions too. */
  public static void forget(Connection on, String form, List<String> path) throws SQLException {
    String field = String.join(".", path);
    Sql.run(
        on,
        "DELETE FROM nodley_record_files WHERE form = ?" + OF_FIELD,
        form,
        field,
        field.length() + 1,
        field + ".");
  }

  /** Puts the files of a field under its new name. */
  public static void rename(Connection on, String form, Rename rename) throws SQLException {
    String from = String.join(".", rename.from());
    String to = String.join(".", rename.to());
    Sql.run(
        on,
        "UPDATE nodley_record_files SET field = ? || substr(field, ?) WHERE form = ?" + OF_FIELD,
        to,
        from.length() + 1,
        form,
        from,
        from.length() + 1,
        from + ".");
  }
}
