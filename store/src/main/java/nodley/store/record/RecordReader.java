package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.store.common.StoredRecord;
import nodley.store.schema.ColumnLayout;
import nodley.store.schema.Table;
import nodley.store.sqlite.Sql;

/**
 * Reads records with their rows, in the caller's transaction and by the tables of its form: one
 * statement for the record and one for each table of rows, whatever the number of records.
 */
public final class RecordReader {

  /** Records that are in memory at once when all are gone over. */
  private static final int AT_A_TIME = 500;

  private RecordReader() {}

  /** Returns a record as it is in the caller's transaction. */
  public static Optional<StoredRecord> find(Connection connection, Form form, String id)
      throws SQLException {
    return read(connection, form, Table.of(form).getFirst().select() + " WHERE \"id\" = ?", id)
        .stream()
        .findFirst();
  }

  /** What is done with a record. */
  public interface Each {
    void take(StoredRecord record) throws SQLException;
  }

  /** Goes over every record of a form, as it is kept, some hundreds at a time. */
  public static void each(Connection connection, Form form, Each each) throws SQLException {
    String sql = Table.of(form).getFirst().select() + " WHERE \"id\" > ? ORDER BY \"id\" LIMIT ?";
    List<StoredRecord> some = read(connection, form, sql, "", AT_A_TIME);
    while (!some.isEmpty()) {
      for (StoredRecord record : some) {
        each.take(record);
      }
      some = read(connection, form, sql, some.getLast().id(), AT_A_TIME);
    }
  }

  /** Runs a query for records and reads their rows as well: one query for each table of rows. */
  static List<StoredRecord> read(Connection connection, Form form, String sql, Object... bound)
      throws SQLException {
    return RowsTables.fill(connection, form, Sql.list(connection, reader(form), sql, bound));
  }

  /** The same, in portions, until no more are wanted. */
  static void readPortions(
      Connection connection,
      Form form,
      int size,
      Sql.Portion<StoredRecord> portion,
      String sql,
      Object... bound)
      throws SQLException {
    Sql.portions(
        connection,
        reader(form),
        size,
        bare -> portion.take(RowsTables.fill(connection, form, bare)),
        sql,
        bound);
  }

  private static Sql.RowReader<StoredRecord> reader(Form form) {
    ColumnLayout layout = Table.of(form).getFirst().layout();
    return row ->
        new StoredRecord(
            row.getString(1),
            row.getInt(2),
            row.getLong(3),
            row.getString(4),
            row.getString(5),
            row.getString(6),
            row.getString(7),
            row.getString(8),
            row.getString(9),
            layout.read(row));
  }

  /** Returns the first record of a form by its id; empty if there is none. */
  static Optional<StoredRecord> first(Connection connection, Form form) throws SQLException {
    return read(connection, form, Table.of(form).getFirst().select() + " LIMIT 1").stream()
        .findFirst();
  }

  /** Returns the records that a person owns, the first one first. */
  static List<StoredRecord> owned(Connection on, Form form, String person) throws SQLException {
    return read(
        on,
        form,
        Table.of(form).getFirst().select() + " WHERE \"owner__id\" = ? ORDER BY \"id\"",
        person);
  }

  /** The only record of a form, or of a person; nothing where there may be many. */
  static Optional<StoredRecord> only(Connection connection, Form form, String person)
      throws SQLException {
    if (form.isOne()) {
      return first(connection, form);
    }
    return form.isOneEach() && !person.isEmpty()
        ? owned(connection, form, person).stream().findFirst()
        : Optional.empty();
  }

  /** Returns whether a form has a record. */
  static boolean exists(Connection connection, String form, String id) throws SQLException {
    return Sql.number(
            connection, "SELECT count(*) FROM " + Sql.quoted(form) + " WHERE \"id\" = ?", id)
        > 0;
  }
}
