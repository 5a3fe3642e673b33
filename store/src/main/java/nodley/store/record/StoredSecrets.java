package nodley.store.record;

import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The secrets of records, of which digests alone are kept; nothing else reads them. Thread-safe;
 * writing blocks until the commit.
 */
public final class StoredSecrets {

  private final Database database;
  private final BatchWriter writer;

  StoredSecrets(Database database, BatchWriter writer) {
    this.database = database;
    this.writer = writer;
  }

  /**
   * The digest of a secret, which is read by nothing else; nothing if the field is blank or the
   * record is gone.
   */
  public Optional<String> digest(Form form, String id, List<String> path) {
    Table table = Table.of(form).getFirst();
    return database
        .read(
            connection ->
                Sql.list(
                    connection,
                    row -> Optional.ofNullable(row.getString(1)),
                    "SELECT "
                        + table.column(path).name()
                        + " FROM "
                        + table.name()
                        + " WHERE \"id\" = ?",
                    id))
        .stream()
        .flatMap(Optional::stream)
        .findFirst();
  }

  /**
   * Puts another digest of the same secret in a record's field, unless somebody has changed it
   * since. That is no edit: the record's version stays.
   */
  public void renew(Form form, String id, List<String> path, String before, String after) {
    Table table = Table.of(form).getFirst();
    String column = table.column(path).name();
    writer.write(
        connection ->
            Sql.run(
                connection,
                "UPDATE "
                    + table.name()
                    + " SET "
                    + column
                    + " = ? WHERE \"id\" = ? AND "
                    + column
                    + " = ?",
                after,
                id,
                before));
  }
}
