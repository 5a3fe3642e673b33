package nodley.store.unique;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import nodley.core.form.Form;
import nodley.core.submission.UniqueKey;
import nodley.store.schema.Table;
import nodley.store.schema.UniqueIndex;
import nodley.store.sqlite.Sql;

/**
 * Looks up which unique values stored records have: all keys of a submission in one statement, by
 * the unique indexes, in the caller's transaction. Stateless; what it finds can be out of date as
 * soon as the transaction ends, so the index decides in the end.
 */
public final class TakenKeys {

  /** Keys that are asked about in one statement. */
  private static final int KEYS_PER_QUERY = 100;

  private TakenKeys() {}

  /**
   * Returns the indexes of the keys that another record has, in one query for each 100 keys.
   *
   * @param except id of the edited record, whose own values do not count
   */
  public static Set<Integer> of(
      Connection connection, Form form, List<UniqueKey> uniqueKeys, Optional<String> except)
      throws SQLException {
    Set<Integer> taken = new TreeSet<>();
    List<Table> tables = Table.of(form);
    // SQLite limits the terms of a compound SELECT (500) and the bound values.
    for (int from = 0; from < uniqueKeys.size(); from += KEYS_PER_QUERY) {
      int to = Math.min(uniqueKeys.size(), from + KEYS_PER_QUERY);
      var sql = new StringBuilder();
      List<Object> bound = new ArrayList<>();
      for (int i = from; i < to; i++) {
        UniqueIndex index = index(tables, uniqueKeys.get(i));
        sql.append(i == from ? "" : " UNION ALL ").append(index.question());
        bound.add(i);
        bound.addAll(index.bound(uniqueKeys.get(i)));
        bound.add(except.orElse(""));
      }
      taken.addAll(Sql.list(connection, row -> row.getInt(1), sql.toString(), bound.toArray()));
    }
    return taken;
  }

  /** Returns the unique index of a key. Every unique of a published form has one. */
  static UniqueIndex index(Form form, UniqueKey uniqueKey) {
    return index(Table.of(form), uniqueKey);
  }

  private static UniqueIndex index(List<Table> tables, UniqueKey uniqueKey) {
    for (Table table : tables) {
      for (UniqueIndex index : table.uniques()) {
        if (index.unique().equals(uniqueKey.unique())) {
          return index;
        }
      }
    }
    throw new IllegalStateException("no index for " + uniqueKey.unique().name());
  }
}
