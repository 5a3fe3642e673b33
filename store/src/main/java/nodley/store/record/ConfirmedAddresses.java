package nodley.store.record;

import java.time.Instant;
import java.util.Optional;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import nodley.core.form.Form;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.common.Times;
import nodley.store.delivery.Caused;
import nodley.store.delivery.Confirmations;
import nodley.store.delivery.Deliveries;
import nodley.store.form.PublishedForm;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The addresses of records, which whoever has a link that was mailed there confirms. Of several who
 * do so at once, one does. Thread-safe; writing blocks until the commit.
 */
public final class ConfirmedAddresses {

  private final Database database;
  private final BatchWriter writer;
  private final Deliveries deliveries;
  private final Consumer<PublishedForm> isCurrent;
  private final BiConsumer<String, String> written;

  /**
   * Opens those of a store.
   *
   * @param isCurrent throws {@link StoreException.FormChanged} for a form that has been published
   *     anew; on the writer's thread
   * @param written is told of the form and id of each record whose address is confirmed, after the
   *     commit
   */
  ConfirmedAddresses(
      Database database,
      BatchWriter writer,
      Deliveries deliveries,
      Consumer<PublishedForm> isCurrent,
      BiConsumer<String, String> written) {
    this.database = database;
    this.writer = writer;
    this.deliveries = deliveries;
    this.isCurrent = isCurrent;
    this.written = written;
  }

  /** Returns the link of a code that was mailed; empty if it is not the latest of its record. */
  public Optional<Confirmations.Link> link(String code) {
    return database.read(connection -> Confirmations.find(connection, code));
  }

  /**
   * Writes that the address of a record is confirmed. Its version stays as it is.
   *
   * @param code of the link that was mailed there
   * @param now when that is
   * @param caused what outlets are to be told of it
   * @return the record; empty if the link is not good now
   * @throws StoreException.FormChanged if the form has been published anew since
   */
  public Optional<StoredRecord> confirm(
      PublishedForm published, String code, Instant now, Caused caused) {
    Form form = published.form();
    return writer.write(
        connection -> {
          isCurrent.accept(published);
          Optional<Confirmations.Link> link =
              Confirmations.find(connection, code)
                  .filter(it -> it.form().equals(form.name()))
                  .filter(it -> it.isGoodAt(now));
          if (link.isEmpty()) {
            return Optional.empty();
          }
          String id = link.get().record();
          String moment = Times.of(now);
          Confirmations.confirm(connection, link.get(), moment);
          Sql.run(
              connection,
              "UPDATE " + Sql.quoted(form.name()) + " SET \"confirmed__at\" = ? WHERE \"id\" = ?",
              moment,
              id);
          Optional<StoredRecord> record = RecordReader.find(connection, form, id);
          if (record.isPresent()) {
            deliveries.add(connection, caused.of(record.get()));
            writer.afterCommit(() -> written.accept(form.name(), id));
          }
          return record;
        });
  }

  /**
   * Mails another link for the address of a record that is not confirmed.
   *
   * @param code of the link that has ended, which is no longer known then
   * @param caused the mail
   * @return false if the link is not the latest of its record, or its address is confirmed
   */
  public boolean askAgain(PublishedForm published, String code, Caused caused) {
    Form form = published.form();
    return writer.write(
        connection -> {
          isCurrent.accept(published);
          Optional<Confirmations.Link> link =
              Confirmations.find(connection, code)
                  .filter(it -> it.confirmedAt().isEmpty() && it.form().equals(form.name()));
          if (link.isEmpty()) {
            return false;
          }
          Optional<StoredRecord> record = RecordReader.find(connection, form, link.get().record());
          if (record.isPresent()) {
            deliveries.add(connection, caused.of(record.get()));
          }
          return record.isPresent();
        });
  }
}
