package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.time.Period;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Retention;
import nodley.core.form.Type;
import nodley.store.record.OldRecords;
import nodley.store.schema.Column;
import nodley.store.schema.Table;
import nodley.store.sqlite.EngineSql;
import nodley.store.sqlite.Sql;

/**
 * Warnings about a form file that is valid: what its author may not have meant. Counting options
 * reads all records, so a dry run does that only.
 */
final class Hints {

  /** Maximum number of dropped options that are counted. */
  private static final int MOST_OPTIONS = 20;

  private Hints() {}

  /** Tells of each field that is gone which new one it may have become. */
  static List<TableChange> renames(List<TableChange> changes, Form earlier, Form form) {
    List<TableChange> told = new ArrayList<>();
    for (TableChange change : changes) {
      Optional<String> now =
          change.kind() == TableChange.Kind.RETIRED
              ? renamed(change.field(), changes, earlier, form)
              : Optional.empty();
      told.add(
          now.map(
                  name ->
                      change.saying(
                          change.detail()
                              + " If `%s` is what it is called now, let that say `was: %s`."
                                  .formatted(name, last(change.field()))))
              .orElse(change));
    }
    return told;
  }

  /** The one new field of the same type beside one that is gone. */
  private static Optional<String> renamed(
      String gone, List<TableChange> changes, Form earlier, Form form) {
    Optional<Type> type = earlier.fields().find(path(gone)).map(Field::type);
    List<String> alike =
        changes.stream()
            .filter(change -> change.kind() == TableChange.Kind.ADDED)
            .map(TableChange::field)
            .filter(field -> outer(field).equals(outer(gone)))
            .filter(field -> form.fields().find(path(field)).map(Field::type).equals(type))
            .toList();
    return alike.size() == 1 ? Optional.of(last(alike.getFirst())) : Optional.empty();
  }

  private static List<String> path(String dotted) {
    return List.of(dotted.split("\\."));
  }

  private static String outer(String dotted) {
    return dotted.substring(0, Math.max(0, dotted.lastIndexOf('.')));
  }

  private static String last(String dotted) {
    return dotted.substring(dotted.lastIndexOf('.') + 1);
  }

  /** Options that were offered before, are not now, and are kept by some records. */
  static List<TableChange> droppedOptions(Connection on, Form earlier, Form form)
      throws SQLException {
    List<TableChange> dropped = new ArrayList<>();
    for (Table table : Table.of(form)) {
      for (Column column : table.columns()) {
        String path = table.pathOf(column);
        Field before = earlier.fields().find(path(path)).orElse(null);
        Field now = column.field();
        boolean chosen =
            before != null
                && before.type() == now.type()
                && (now.type() == Type.CHOICE || now.type() == Type.CHOICES);
        if (chosen) {
          for (String option : gone(before, now)) {
            long count = kept(on, table, column, option);
            if (count > 0) {
              dropped.add(
                  new TableChange(
                      form.name(),
                      path,
                      TableChange.Kind.OPTION_DROPPED,
                      "\"%s\" is offered no longer; %s it until it is changed."
                          .formatted(
                              option,
                              count == 1
                                  ? "1 record has it, and keeps"
                                  : count + " records have it, and keep")));
            }
          }
        }
      }
    }
    return dropped;
  }

  /**
   * Tells after what time records are removed from now on, and how many are as old already; nothing
   * if it was the same before.
   */
  static List<TableChange> removalByAge(
      Connection on, Optional<Form> earlier, Form form, Instant now) throws SQLException {
    Optional<Period> keepFor = form.retention().keepFor();
    if (keepFor.isEmpty()
        || earlier.map(it -> it.retention().keepFor()).equals(Optional.of(keepFor))) {
      return List.of();
    }
    long old = OldRecords.count(on, form, form.retention().oldest(now).orElseThrow());
    String those =
        old == 0
            ? "none is so old yet."
            : old == 1
                ? "1 is as old already, and is removed soon after this is published."
                : old + " are as old already, and are removed soon after this is published.";
    return List.of(
        new TableChange(
            form.name(),
            "",
            TableChange.Kind.REMOVED_BY_AGE,
            "Records are removed "
                + Retention.words(keepFor.get())
                + " after they were added; "
                + those));
  }

  private static List<String> gone(Field before, Field now) {
    return before.options().choices().stream()
        .filter(Choice::offered)
        .map(Choice::value)
        .filter(value -> now.options().find(value).filter(Choice::offered).isEmpty())
        .limit(MOST_OPTIONS)
        .toList();
  }

  private static long kept(Connection on, Table table, Column column, String option)
      throws SQLException {
    String has =
        column.field().type() == Type.CHOICE
            ? column.name() + " = ?"
            : EngineSql.contains(column.name());
    return Sql.number(
        on,
        "SELECT count(DISTINCT " + table.key() + ") FROM " + table.name() + " WHERE " + has,
        option);
  }
}
