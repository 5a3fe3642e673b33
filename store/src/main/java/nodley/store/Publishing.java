package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Consumer;
import nodley.core.form.Form;

/** One publish, in one transaction: the text, and the tables of all forms that it changes. */
final class Publishing {

  private final Writer writer;

  /** The latest edition that was given to a form. */
  private final AtomicInteger editions;

  /**
   * Publishes by a writer.
   *
   * @param edition the latest that was ever given, to forms that are gone too
   */
  Publishing(Writer writer, int edition) {
    this.writer = writer;
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
  record Written(Snapshot snapshot, Forms.Outcome outcome) {}

  /** Undoes what was only tried, and takes along what it came to. */
  private static final class Previewed extends RuntimeException {
    private static final long serialVersionUID = 1;
    private final transient Forms.Outcome outcome;

    Previewed(Forms.Outcome outcome) {
      super("Nothing was published.");
      this.outcome = outcome;
    }
  }

  /**
   * Writes what changed, and lets the tables of all forms follow that mean something else.
   *
   * @param then is told what is published, once it is kept
   */
  Written publish(
      Snapshot before,
      Snapshot after,
      Forms.Manner manner,
      Writing writing,
      Consumer<Snapshot> then) {
    Map<String, PublishedForm> forms = new TreeMap<>(after.forms());
    List<PublishedForm> changed = new ArrayList<>();
    for (PublishedForm form : after.forms().values()) {
      PublishedForm earlier = before.forms().get(form.name());
      boolean same =
          earlier != null
              && earlier.form().equals(form.form())
              && earlier.revision() == form.revision();
      if (!same) {
        PublishedForm next =
            new PublishedForm(
                form.form(),
                form.revision(),
                editions.incrementAndGet(),
                form.text(),
                form.format(),
                form.languages());
        forms.put(form.name(), next);
        changed.add(next);
      }
    }
    Snapshot next = new Snapshot(forms, after.texts(), after.shared());
    try {
      return writer.writeAlone(
          connection -> {
            Forms.Outcome outcome = follow(connection, before, next, changed);
            if (manner == Forms.Manner.PREVIEW) {
              throw new Previewed(outcome);
            }
            if (!outcome.objections().isEmpty()) {
              throw new StoreException.StandsAgainst(outcome.objections(), false);
            }
            if (!outcome.fallsShort().isEmpty() && manner != Forms.Manner.FORCE_RULES) {
              throw new StoreException.StandsAgainst(outcome.fallsShort(), true);
            }
            writing.run(connection);
            Sql.run(
                connection,
                "INSERT INTO nodley_settings (name, value) VALUES ('edition', ?)"
                    + " ON CONFLICT (name) DO UPDATE SET value = excluded.value",
                Integer.toString(editions.get()));
            return new Written(next, outcome);
          },
          () -> then.accept(next));
    } catch (Previewed e) {
      return new Written(next, e.outcome);
    }
  }

  private static Forms.Outcome follow(
      Connection connection, Snapshot before, Snapshot next, List<PublishedForm> changed)
      throws SQLException {
    List<Following> all = new ArrayList<>();
    for (PublishedForm form : changed) {
      Optional<Form> earlier =
          Optional.ofNullable(before.forms().get(form.name())).map(PublishedForm::form);
      all.add(Following.follow(connection, form, earlier));
      Sql.run(
          connection,
          "INSERT INTO nodley_forms (name, revision, edition) VALUES (?, ?, ?)"
              + " ON CONFLICT (name) DO UPDATE SET revision = excluded.revision,"
              + " edition = excluded.edition",
          form.name(),
          form.revision(),
          form.edition());
    }
    List<TableChange> changes = new ArrayList<>();
    List<StoreException.Objection> objections = new ArrayList<>();
    List<StoreException.Objection> fallsShort = new ArrayList<>();
    for (Following form : all) {
      form.judge(next.forms());
      changes.addAll(form.changes());
      objections.addAll(form.objections());
      fallsShort.addAll(form.shortfalls());
    }
    return new Forms.Outcome(Forms.Change.REVISED, changes, objections, fallsShort);
  }
}
