package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import nodley.store.common.StoreException;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Column;
import nodley.store.schema.Table;
import nodley.store.sqlite.Sql;

/** Finds the records that refer to one, in the caller's transaction. */
final class Referrers {

  /** No more are told. */
  private static final int MOST = 50;

  private Referrers() {}

  /**
   * Returns some of the records that refer to a record, over all forms; reads one index for each
   * field that can refer to it.
   *
   * @param all the forms that there are
   * @param form the name of the record's form
   */
  static List<StoreException.Referrer> of(
      Connection connection, Collection<PublishedForm> all, String form, String id)
      throws SQLException {
    List<StoreException.Referrer> found = new ArrayList<>();
    for (PublishedForm other : all) {
      for (Table table : Table.of(other.form())) {
        for (Column column : table.columns()) {
          if (column.references().equals(form)) {
            found.addAll(
                Sql.list(
                    connection,
                    row ->
                        new StoreException.Referrer(
                            other.name(), table.pathOf(column), row.getString(1)),
                    "SELECT DISTINCT "
                        + table.key()
                        + " FROM "
                        + table.name()
                        + " WHERE "
                        + column.name()
                        + " = ? LIMIT "
                        + MOST,
                    id));
          }
        }
      }
    }
    return found.stream().limit(MOST).toList();
  }
}
