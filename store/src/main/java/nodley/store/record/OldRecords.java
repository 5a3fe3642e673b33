package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import nodley.core.form.Form;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Confirmations;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Sql;

/**
 * Records that are older than their form keeps them ({@code keep-for}), or whose address nobody has
 * confirmed in time. The old ones are found by their ids, which begin with the time at which they
 * were added. Thread-safe; writing blocks until the commit.
 */
public final class OldRecords {

  private static final String OLDER = " WHERE \"id\" > ? AND \"id\" < ?";

  private final BatchWriter writer;
  private final RecordRemoval removal;

  /**
   * What came of removing some.
   *
   * @param removed as they were
   * @param last the id of the last one that was looked at; empty if there are no more
   */
  public record Swept(List<StoredRecord> removed, Optional<String> last) {}

  /** Opens the records of a store. */
  OldRecords(BatchWriter writer, RecordRemoval removal) {
    this.writer = writer;
    this.removal = removal;
  }

  /**
   * Removes some of the records that were added before a moment, the oldest first; those that
   * others refer to stay.
   *
   * @param after the id of the last one that was looked at; empty for none
   * @param most how many are looked at, with one commit
   */
  public Swept remove(PublishedForm published, Instant before, String after, int most) {
    Form form = published.form();
    return writer.writeAlone(
        on -> {
          List<StoredRecord> old =
              RecordReader.read(
                  on,
                  form,
                  Table.of(form).getFirst().select() + OLDER + " ORDER BY \"id\" LIMIT ?",
                  after,
                  first(before),
                  most);
          List<StoredRecord> removed = new ArrayList<>();
          for (StoredRecord record : old) {
            if (removal.removeUnlessReferred(on, form, record)) {
              removed.add(record);
            }
          }
          return new Swept(
              removed, old.size() < most ? Optional.empty() : Optional.of(old.getLast().id()));
        },
        () -> {});
  }

  /**
   * Removes some of the records whose address nobody has confirmed before a moment; those that
   * others refer to stay, and are not looked at again.
   *
   * @param most how many are looked at, with one commit
   */
  public List<StoredRecord> removeUnconfirmed(PublishedForm published, Instant before, int most) {
    Form form = published.form();
    return writer.writeAlone(
        on -> {
          List<StoredRecord> removed = new ArrayList<>();
          for (Confirmations.Link link : Confirmations.ended(on, form.name(), before, most)) {
            Optional<StoredRecord> record = RecordReader.find(on, form, link.record());
            if (record.isPresent() && removal.removeUnlessReferred(on, form, record.get())) {
              removed.add(record.get());
            } else {
              Confirmations.drop(on, form.name(), link.record());
            }
          }
          return removed;
        },
        () -> {});
  }

  /** Returns how many records of a form were added before a moment. */
  public static long count(Connection on, Form form, Instant before) throws SQLException {
    return Sql.number(
        on, "SELECT count(*) FROM " + Sql.quoted(form.name()) + OLDER, "", first(before));
  }

  /**
   * The first id that can be made at a moment. Before 1970 none can: such a moment would be a
   * number below zero, whose digits come after those of all ids.
   */
  static String first(Instant moment) {
    long millis = Math.max(0, moment.toEpochMilli());
    return new UUID(millis << 16 | 0x7000, 0).toString();
  }
}
