package nodley.store.record;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.file.RecordNames;
import nodley.store.common.StoredRecord;
import nodley.store.schema.Column;
import nodley.store.schema.Table;

/**
 * A query for records of a form: which ones, in which order, from where on.
 *
 * @param words what words in the record's texts must begin with, whatever their case; may be empty
 * @param where a condition that picks them
 * @param order by which columns, the first one first; newest first among equals
 * @param after the keys of the record after which the page begins, as a page gave them
 * @param limit how many at most, from 1 up
 * @param owner whose records alone are listed; empty for everybody's
 */
public record Listing(
    String words,
    Optional<Where> where,
    List<Order> order,
    Optional<List<Object>> after,
    int limit,
    Optional<String> owner) {

  /**
   * A condition.
   *
   * @param tree as {@code Expression.toJson} gives it, to narrow down what is read
   * @param holds whether it holds for a record, which decides
   */
  public record Where(Object tree, Predicate<StoredRecord> holds) {}

  /**
   * One column of the order; what is blank comes before everything, or last if it is descending.
   *
   * @param path of a field, or one of {@link RecordNames#own}
   */
  public record Order(List<String> path, boolean descending) {

    /** The column of a name that is no field. */
    private String own() {
      return switch (path.getFirst()) {
        case RecordNames.CREATED_AT -> "\"created_at\"";
        case RecordNames.UPDATED_AT -> "\"updated_at\"";
        case RecordNames.CONFIRMED_AT -> "\"confirmed__at\"";
        default -> throw new IllegalArgumentException("no field or column " + path);
      };
    }

    /** What a record has there, as a cursor keeps it. */
    Object key(Table table, StoredRecord record) {
      Optional<Column> field = table.find(path);
      if (field.isPresent()) {
        return field.get().toSql(record.values().at(path));
      }
      return switch (path.getFirst()) {
        case RecordNames.CREATED_AT -> record.createdAt();
        case RecordNames.UPDATED_AT -> record.updatedAt();
        default -> record.confirmedAt();
      };
    }
  }

  /** The newest ones. */
  public static Listing newest(String words, int limit) {
    return new Listing(
        words, Optional.empty(), List.of(), Optional.empty(), limit, Optional.empty());
  }

  /** The same from another place on. */
  public Listing after(List<Object> keys) {
    return new Listing(words, where, order, Optional.of(keys), limit, owner);
  }

  /** The same of one owner's records; of everybody's if it is empty. */
  public Listing ownedBy(Optional<String> owner) {
    return new Listing(words, where, order, after, limit, owner);
  }

  /** The SQL of the columns that it is ordered by, the id last. */
  List<Ordered> columns(Table table) {
    List<Ordered> columns = new ArrayList<>();
    for (Order each : order) {
      Optional<String> field = table.find(each.path()).map(Column::name);
      columns.add(new Ordered(field.orElseGet(each::own), each.descending(), field.isPresent()));
    }
    columns.add(new Ordered("\"id\"", true, false));
    return columns;
  }

  /**
   * A column as SQL orders by it: to SQLite NULL is less than everything.
   *
   * @param mayBeNull false where no NULL is, so that an index can be entered at a key
   */
  record Ordered(String name, boolean descending, boolean mayBeNull) {

    String sql() {
      return name + (descending ? " DESC" : "");
    }

    /** What comes after a key in this column alone. */
    String beyond(Object key) {
      if (key == null) {
        return descending ? "0" : name + " IS NOT NULL";
      }
      if (!descending) {
        return name + " > ?";
      }
      return mayBeNull ? "(" + name + " < ? OR " + name + " IS NULL)" : name + " < ?";
    }

    /** A key that what comes after it cannot lie before, for an index to begin at; or nothing. */
    Optional<String> from(Object key) {
      if (key == null || descending && mayBeNull) {
        return Optional.empty();
      }
      return Optional.of(name + (descending ? " <= ?" : " >= ?"));
    }

    String same(Object key) {
      return key == null ? name + " IS NULL" : name + " = ?";
    }
  }
}
