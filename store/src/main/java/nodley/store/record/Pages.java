package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.store.common.StoredRecord;
import nodley.store.schema.Table;
import nodley.store.sqlite.FullText;
import nodley.store.sqlite.ReadBudget;

/**
 * Reads one page of records by keyset pagination: from the keys of the last record on, so that
 * every page costs the same.
 */
final class Pages {

  /** Records that are in memory at once while a condition is tried on them. */
  private static final int PORTION = 500;

  /** Maximum number of records that are scanned for one page; then the page ends, not full. */
  private static final int MOST = 50_000;

  private final Form form;
  private final Table table;
  private final Listing listing;
  private final List<Listing.Ordered> order;

  Pages(Form form, Listing listing) {
    this.form = form;
    this.table = Table.of(form).getFirst();
    this.listing = listing;
    this.order = listing.columns(table);
  }

  /** By one statement, however many records are looked at: what it sorts, it sorts once. */
  Records.Page read(Connection on) throws SQLException {
    int most = listing.where().isEmpty() ? listing.limit() + 1 : MOST;
    var page = new Gathered();
    Statement statement = statement(most);
    RecordReader.readPortions(
        on, form, Math.min(PORTION, most), page::take, statement.sql(), statement.bound());
    return new Records.Page(
        page.found, page.looked < most && !page.ended ? Optional.empty() : page.after);
  }

  /** What was found so far, and from where the next page goes on. */
  private final class Gathered {
    private final List<StoredRecord> found = new ArrayList<>();
    private Optional<List<Object>> after = listing.after();
    private int looked;

    /** True if there is more than this page has. */
    private boolean ended;

    boolean take(List<StoredRecord> portion) {
      for (StoredRecord record : portion) {
        looked++;
        if (listing.where().isEmpty() || listing.where().get().holds().test(record)) {
          if (found.size() == listing.limit()) {
            ended = true;
            return false;
          }
          found.add(record);
        }
        after = Optional.of(keys(record));
        if (ReadBudget.isOver()) {
          // What was found until the time is over is a page; the next one goes on from here.
          ended = true;
          return false;
        }
      }
      return true;
    }
  }

  private record Statement(String sql, Object... bound) {}

  private Statement statement(int size) {
    Optional<List<Object>> after = listing.after();
    List<String> where = new ArrayList<>();
    List<Object> bound = new ArrayList<>();
    boolean words = !listing.words().isBlank();
    boolean onlyWords =
        words
            && listing.where().isEmpty()
            && listing.order().isEmpty()
            && listing.owner().isEmpty();
    if (onlyWords) {
      // Numbers of records go up as their ids do, so the index itself has them in this order.
      where.add(FullText.newest(form, after.isPresent()));
      bound.add(FullText.bound(listing.words()));
      after.ifPresent(keys -> bound.add(keys.getLast()));
      bound.add(size);
    } else {
      after.ifPresent(keys -> beyond(keys, where, bound));
      listing
          .where()
          .flatMap(it -> ConditionSql.of(it.tree(), table))
          .ifPresent(
              it -> {
                where.add(it.sql());
                bound.addAll(it.bound());
              });
      listing
          .owner()
          .ifPresent(
              owner -> {
                where.add("\"owner__id\" = ?");
                bound.add(owner);
              });
      if (words) {
        where.add(FullText.condition(form));
        bound.add(FullText.bound(listing.words()));
      }
    }
    bound.add(size);
    return new Statement(
        table.select()
            + (where.isEmpty() ? "" : " WHERE " + String.join(" AND ", where))
            + " ORDER BY "
            + String.join(", ", order.stream().map(Listing.Ordered::sql).toList())
            + " LIMIT ?",
        bound.toArray());
  }

  private void beyond(List<Object> keys, List<String> where, List<Object> bound) {
    order
        .getFirst()
        .from(keys.getFirst())
        .ifPresent(
            from -> {
              where.add(from);
              bound.add(keys.getFirst());
            });
    where.add(beyond(keys, 0, bound));
  }

  /** What comes after these keys: beyond the first, or the same there and after the rest. */
  private String beyond(List<Object> keys, int from, List<Object> bound) {
    Object key = keys.get(from);
    Listing.Ordered column = order.get(from);
    String beyond = column.beyond(key);
    if (key != null) {
      bound.add(key);
    }
    if (from == order.size() - 1) {
      return beyond;
    }
    if (key != null) {
      bound.add(key);
    }
    return "("
        + beyond
        + " OR ("
        + column.same(key)
        + " AND "
        + beyond(keys, from + 1, bound)
        + "))";
  }

  private List<Object> keys(StoredRecord record) {
    List<Object> keys = new ArrayList<>();
    for (Listing.Order each : listing.order()) {
      keys.add(each.key(table, record));
    }
    keys.add(record.id());
    return keys;
  }
}
