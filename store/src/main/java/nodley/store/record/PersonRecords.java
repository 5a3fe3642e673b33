package nodley.store.record;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.form.Retention;
import nodley.core.submission.Context;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.store.attempt.Attempts;
import nodley.store.common.StoredRecord;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Column;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * The records that a person owns, to be handed out or forgotten. Thread-safe; writing blocks until
 * the commit.
 */
public final class PersonRecords {

  private static final int MOST_VERSIONS = 10_000;

  private static final String OWNED = " WHERE \"owner__id\" = ?";

  private final Database database;
  private final BatchWriter writer;
  private final Forms forms;
  private final Attempts attempts;
  private final WordIndex wordIndex;
  private final RecordRemoval removal;

  /** A record and all its versions, the latest first, which is the record as it is. */
  public record Owned(StoredRecord record, List<Version> versions) {}

  /**
   * What became of a person's records.
   *
   * @param referred those that were to go, and stay because records of others refer to them
   */
  public record Forgotten(int removed, int blanked, int kept, int referred) {}

  PersonRecords(
      Database database,
      BatchWriter writer,
      Forms forms,
      Attempts attempts,
      WordIndex wordIndex,
      RecordRemoval removal) {
    this.database = database;
    this.writer = writer;
    this.forms = forms;
    this.attempts = attempts;
    this.wordIndex = wordIndex;
    this.removal = removal;
  }

  /** Returns what a person owns, by form; forms of which they own nothing are left out. */
  public Map<PublishedForm, List<Owned>> owned(String person) {
    Map<PublishedForm, List<Owned>> all = new LinkedHashMap<>();
    for (PublishedForm form : forms.all()) {
      List<Owned> owned =
          database.snapshot(
              on -> {
                List<Owned> some = new ArrayList<>();
                for (StoredRecord record : RecordReader.owned(on, form.form(), person)) {
                  some.add(
                      new Owned(
                          record,
                          Versions.of(on, form.form(), record, Long.MAX_VALUE, MOST_VERSIONS)));
                }
                return some;
              });
      if (!owned.isEmpty()) {
        all.put(form, owned);
      }
    }
    return all;
  }

  /**
   * Does with a person's records what their forms say, in one commit: removes them, or makes some
   * of their fields blank, in versions too. Those that stay are nobody's; nothing tells the
   * person's name as who added, edited or sent something.
   *
   * @param names what the person has been called in records
   */
  public Forgotten forget(String person, Set<String> names) {
    return writer.writeAlone(
        on -> {
          int blanked = 0;
          int kept = 0;
          int removed = 0;
          List<PublishedForm> toRemove = new ArrayList<>();
          for (PublishedForm form : forms.all()) {
            switch (form.form().retention().forgetting()) {
              case REMOVE -> toRemove.add(form);
              case BLANK -> {
                for (StoredRecord record : RecordReader.owned(on, form.form(), person)) {
                  blank(on, form.form(), record);
                  blanked++;
                }
              }
              case KEEP ->
                  kept +=
                      (int)
                          Sql.number(
                              on,
                              "SELECT count(*) FROM " + Sql.quoted(form.name()) + OWNED,
                              person);
            }
          }
          int round;
          do {
            // What refers to others of theirs goes first, and then those can go.
            round = 0;
            for (PublishedForm form : toRemove) {
              for (StoredRecord record : RecordReader.owned(on, form.form(), person)) {
                round += removal.removeUnlessReferred(on, form.form(), record) ? 1 : 0;
              }
            }
            removed += round;
          } while (round > 0);
          int referred = 0;
          for (PublishedForm form : toRemove) {
            referred += RecordReader.owned(on, form.form(), person).size();
          }
          for (PublishedForm form : forms.all()) {
            forgetNames(on, form.form(), person, names);
          }
          removed += RemovedRecords.forgetPerson(on, person, names);
          return new Forgotten(removed, blanked, kept, referred);
        },
        () -> {});
  }

  private void blank(Connection on, Form form, StoredRecord record) throws SQLException {
    List<String> blanked = form.retention().blanked();
    Map<String, Value> left = new LinkedHashMap<>(record.values().byName());
    blanked.forEach(left::remove);
    Values values = new Values(left).ofRow(record.values().row());
    List<UniqueKey> keys = Submission.keys(form, values, Context.add(Clock.systemUTC()));
    Table table = Table.of(form).getFirst();
    Row row = new Row(table, values);
    row.guard(keys, List.of());
    row.leaveBlankSecrets();
    for (Column column : table.columns()) {
      if (column.field().isSecret() && blanked.contains(column.placed().path().getFirst())) {
        row.put(column.name(), null);
      }
    }
    Sql.run(on, row.update("id"), row.bound(record.id()));
    RowsTables.replace(on, form, record.id(), values, keys);
    wordIndex.change(on, form, record.id(), record.values(), values);
    for (String name : blanked) {
      Versions.forget(on, form.name(), record.id(), List.of(name));
      RecordFiles.forget(on, form.name(), record.id(), name);
    }
    removal.forgetValues(on, form, record.id());
  }

  private void forgetNames(Connection on, Form form, String person, Set<String> names)
      throws SQLException {
    String table = Sql.quoted(form.name());
    Sql.run(on, "UPDATE " + table + " SET \"owner__id\" = ''" + OWNED, person);
    boolean withValues = form.retention().forgetting() != Retention.Forgetting.KEEP;
    for (String name : names) {
      for (String column : List.of("\"created__by\"", "\"updated_by\"")) {
        Sql.run(on, "UPDATE %s SET %s = '' WHERE %s = ?".formatted(table, column, column), name);
      }
      Sql.run(
          on,
          "UPDATE nodley_versions SET made_by = '' WHERE form = ? AND made_by = ?",
          form.name(),
          name);
      attempts.forgetSender(on, form.name(), name, withValues);
    }
  }
}
