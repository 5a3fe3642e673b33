package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import nodley.core.form.Form;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.record.RecordReader;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * One publish in one transaction: stores the texts and migrates the tables of all forms that
 * change. Runs alone in its commit, on the writer thread.
 */
public final class PublishTransaction {

  private final BatchWriter writer;
  private final DryRun dryRun;

  /** The latest edition that was given to a form. */
  private final AtomicInteger editions;

  /** What is written while a dry run looks at what is kept; nothing is noted without one. */
  private volatile Optional<Set<Changed>> noted = Optional.empty();

  /** A record that was added or edited. */
  private record Changed(String form, String id) {}

  /**
   * Publishes by a writer.
   *
   * @param edition the latest that was ever given, to forms that are gone too
   */
  public PublishTransaction(BatchWriter writer, Database database, int edition) {
    this.writer = writer;
    this.dryRun = new DryRun(database);
    this.editions = new AtomicInteger(edition);
  }

  /** The latest edition that was ever given in a data folder. */
  static int edition(Connection on) throws SQLException {
    return (int)
        Sql.number(
            on,
            "SELECT max(coalesce((SELECT max(edition) FROM nodley_forms), 0),"
                + " coalesce((SELECT CAST(value AS INTEGER) FROM nodley_settings"
                + " WHERE name = 'edition'), 0))");
  }

  /** Keeps the text itself. */
  interface Writing {
    void run(Connection connection) throws SQLException;
  }

  /** What is published from now on, and what became of it. */
  record Written(Snapshot snapshot, FormPublisher.Outcome outcome) {}

  /**
   * To be told of each record that was added or edited, after its commit, on the writer's thread.
   */
  void wrote(String form, String id) {
    noted.ifPresent(records -> records.add(new Changed(form, id)));
  }

  /**
   * Writes what changed, and lets the tables of all forms follow that mean something else. All that
   * is kept is looked at beside the writer; in its turn only what was written meanwhile.
   *
   * @param then is told what is published, once it is kept
   */
  Written publish(
      Snapshot before,
      Snapshot after,
      FormPublisher.Manner manner,
      Writing writing,
      Consumer<Snapshot> then) {
    Map<String, PublishedForm> forms = new TreeMap<>(after.forms());
    List<PublishedForm> changed = new ArrayList<>();
    for (PublishedForm form : after.forms().values()) {
      PublishedForm earlier = before.forms().get(form.name());
      boolean same =
          earlier == form
              || earlier != null
                  && earlier.form().equals(form.form())
                  && earlier.revision() == form.revision();
      if (!same) {
        PublishedForm next = form.withEdition(editions.incrementAndGet());
        forms.put(form.name(), next);
        changed.add(next);
      }
    }
    Snapshot next = new Snapshot(forms, after.texts(), after.shared());
    Set<Changed> meanwhile = ConcurrentHashMap.newKeySet();
    noted = Optional.of(meanwhile);
    try {
      FormPublisher.Outcome tried = dryRun.of(before, next, changed);
      if (manner == FormPublisher.Manner.PREVIEW) {
        return new Written(next, tried);
      }
      check(tried, manner);
      return writer.writeAlone(
          connection -> {
            FormMigration.All all = FormMigration.of(connection, before, next, changed);
            FormPublisher.Outcome done =
                all.judge((on, form, each) -> read(on, form, meanwhile, each));
            check(done, manner);
            all.note();
            writing.run(connection);
            for (PublishedForm form : changed) {
              FileTables.follow(connection, form.form());
            }
            Sql.run(
                connection,
                "INSERT INTO nodley_settings (name, value) VALUES ('edition', ?)"
                    + " ON CONFLICT (name) DO UPDATE SET value = excluded.value",
                Integer.toString(editions.get()));
            return new Written(next, done.with(tried));
          },
          () -> then.accept(next));
    } finally {
      noted = Optional.empty();
    }
  }

  private static void check(FormPublisher.Outcome outcome, FormPublisher.Manner manner) {
    if (!outcome.objections().isEmpty()) {
      throw new StoreException.MigrationConflict(outcome.objections(), false);
    }
    if (!outcome.fallsShort().isEmpty() && manner != FormPublisher.Manner.FORCE_RULES) {
      throw new StoreException.MigrationConflict(outcome.fallsShort(), true);
    }
  }

  private static void read(Connection on, Form form, Set<Changed> written, RecordReader.Each each)
      throws SQLException {
    for (Changed one : written) {
      Optional<StoredRecord> record =
          one.form().equals(form.name()) ? RecordReader.find(on, form, one.id()) : Optional.empty();
      if (record.isPresent()) {
        each.take(record.get());
      }
    }
  }
}
