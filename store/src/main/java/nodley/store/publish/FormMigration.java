package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import nodley.core.form.Form;
import nodley.core.form.Type;
import nodley.store.common.StoreException;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.schema.Rename;
import nodley.store.schema.Table;
import nodley.store.sqlite.Sql;

/**
 * Migrates the tables of one form to its next revision and collects changes, conflicts (it cannot
 * be done) and violations (stored records break the new rules). Runs on the writer thread, in the
 * caller's transaction. Tables are altered even if there are conflicts: the caller must then roll
 * back, as it does for a preview.
 */
final class FormMigration {

  /** Maximum number of records that a conflict names. */
  static final int MAX_NAMED = 50;

  private final Connection on;
  private final PublishedForm published;
  private final Optional<Form> earlier;
  private final List<Rename> renames = new ArrayList<>();
  private final List<TableChange> changes = new ArrayList<>();
  private final List<StoreException.Objection> objections = new ArrayList<>();
  private final List<StoreException.Objection> violations = new ArrayList<>();

  private FormMigration(Connection on, PublishedForm published, Optional<Form> earlier) {
    this.on = on;
    this.published = published;
    this.earlier = earlier;
  }

  /**
   * Brings the tables of all forms that change to what they are to be, in the transaction of the
   * connection, and notes which revision they follow.
   */
  static All of(Connection on, Snapshot before, Snapshot next, List<PublishedForm> changed)
      throws SQLException {
    List<FormMigration> all = new ArrayList<>();
    for (PublishedForm form : changed) {
      Optional<Form> earlier =
          Optional.ofNullable(before.forms().get(form.name())).map(PublishedForm::form);
      FormMigration migration = new FormMigration(on, form, earlier);
      if (!migration.isAlike()) {
        migration.follow();
      }
      all.add(migration);
    }
    return new All(on, next, all);
  }

  /** The fields that are not for everybody, whose words are not searched. */
  private static Set<List<String>> forSome(Form form) {
    return form.everyField().stream()
        .filter(it -> it.field().access().isForSome())
        .map(Form.Placed::path)
        .collect(Collectors.toSet());
  }

  /** Several forms that change at once; one may refer to another. */
  record All(Connection on, Snapshot next, List<FormMigration> forms) {

    /** Notes what the tables follow from now on, and the words of texts that are there anew. */
    void note() throws SQLException {
      for (FormMigration migration : forms) {
        Sql.run(
            on,
            "INSERT INTO nodley_forms (name, revision, edition) VALUES (?, ?, ?)"
                + " ON CONFLICT (name) DO UPDATE SET revision = excluded.revision,"
                + " edition = excluded.edition",
            migration.form().name(),
            migration.revision(),
            migration.published.edition());
        if (migration.isNew()
            || !forSome(migration.form())
                .equals(migration.earlier.map(FormMigration::forSome).orElse(Set.of()))
            || migration.changes.stream().anyMatch(it -> it.kind().changesTexts())) {
          FormTable.indexWords(on, migration.form());
        }
      }
    }

    /**
     * Tells, besides what changes, what is left of dropped options, and which records go by age.
     */
    All tellConsequences() throws SQLException {
      for (FormMigration migration : forms) {
        if (migration.earlier.isPresent()) {
          migration.changes.addAll(
              Hints.droppedOptions(on, migration.earlier.get(), migration.form()));
        }
        migration.changes.addAll(
            Hints.removalByAge(on, migration.earlier, migration.form(), Instant.now()));
      }
      return this;
    }

    /** Returns changes, conflicts, and which of these records violate the new rules. */
    FormPublisher.Outcome judge(RecordRevalidation.Some records) throws SQLException {
      List<TableChange> changes = new ArrayList<>();
      List<StoreException.Objection> objections = new ArrayList<>();
      List<StoreException.Objection> fallsShort = new ArrayList<>();
      for (FormMigration migration : forms) {
        migration.judge(next.forms(), records);
        changes.addAll(migration.changes);
        objections.addAll(migration.objections);
        fallsShort.addAll(migration.violations);
      }
      return new FormPublisher.Outcome(
          FormPublisher.Change.REVISED, changes, objections, fallsShort);
    }
  }

  private boolean isAlike() {
    return earlier.filter(it -> Table.alike(it, form())).isPresent();
  }

  private void follow() throws SQLException {
    if (earlier.isPresent()) {
      new Renames(this).follow(earlier.get());
    }
    for (Table shape : Table.of(form())) {
      new FormTable(this, shape).follow();
    }
    new RetiredFields(this).follow();
    if (earlier.isPresent()) {
      List<TableChange> told = Hints.renames(changes, earlier.get(), form());
      changes.clear();
      changes.addAll(told);
    }
  }

  private void judge(Map<String, PublishedForm> forms, RecordRevalidation.Some records)
      throws SQLException {
    if (form().isOne()) {
      checkCount(1, "`records: one` is for a form that has one record at most.");
    }
    if (form().isKeepingNone()) {
      checkCount(0, "`records: none` is for a form that has no records: remove them first.");
    }
    List<String> more = form().isOneEach() ? ownersOfMore() : List.of();
    if (!more.isEmpty()) {
      object(
          "",
          "`records: one-each` is for a form of which each person has one record at most; these are"
              + " of people who have more.",
          more,
          more.size());
    }
    if (earlier.isPresent() && objections.isEmpty()) {
      new RecordRevalidation(this, forms).find(earlier.get(), records);
    }
  }

  /** The ids of records whose owners have an earlier one, too. */
  List<String> ownersOfMore() throws SQLException {
    String table = Sql.quoted(form().name());
    return Sql.list(
        on,
        row -> row.getString(1),
        "SELECT \"id\" FROM %s r WHERE \"owner__id\" <> '' AND EXISTS (SELECT 1 FROM %s WHERE"
                .formatted(table, table)
            + " \"owner__id\" = r.\"owner__id\" AND \"id\" < r.\"id\") ORDER BY \"id\" LIMIT ?",
        MAX_NAMED);
  }

  /** A form that is to have so many records must not have more. */
  private void checkCount(int most, String objection) throws SQLException {
    String table = Sql.quoted(form().name());
    long count = Sql.number(on, "SELECT count(*) FROM " + table);
    if (count > most) {
      object(
          "",
          objection,
          Sql.list(
              on,
              row -> row.getString(1),
              "SELECT \"id\" FROM " + table + " ORDER BY \"id\" LIMIT ?",
              MAX_NAMED),
          count);
    }
  }

  /** Returns the connection of the caller's transaction. */
  Connection on() {
    return on;
  }

  /** Returns the form in its next revision. */
  Form form() {
    return published.form();
  }

  /** Returns the number of the next revision. */
  int revision() {
    return published.revision();
  }

  /** True if the form is published for the first time, so that all there is, is new. */
  boolean isNew() {
    return earlier.isEmpty();
  }

  /** Returns the fields that get another name. */
  List<Rename> renames() {
    return renames;
  }

  /** The path that a field had before. */
  List<String> before(List<String> path) {
    List<String> before = path;
    for (Rename rename : renames.reversed()) {
      before = rename.back(before);
    }
    return before;
  }

  /** What the values of a field were kept as until now; nothing if it is new. */
  Optional<Type> typeBefore(String dotted) throws SQLException {
    List<String> path = before(List.of(dotted.split("\\.")));
    Optional<Type> live =
        earlier
            .flatMap(form -> form.fields().find(path))
            .filter(field -> field.isKept())
            .map(field -> field.type());
    return live.isPresent() ? live : RetiredFields.type(on, form().name(), dotted);
  }

  /** The earlier form's table of this name, as it was then. */
  Optional<Table> tableBefore(String plainName) {
    return earlier.stream()
        .flatMap(form -> Table.of(form).stream())
        .filter(table -> table.plainName().equals(plainName))
        .findFirst();
  }

  /** Returns the form in its current revision; empty for a new form. */
  Optional<Form> earlier() {
    return earlier;
  }

  /**
   * Reports a change of the tables.
   *
   * @param field dotted path
   * @param detail a sentence for the developer
   */
  void changed(String field, TableChange.Kind kind, String detail) {
    changes.add(new TableChange(form().name(), field, kind, detail));
  }

  /**
   * Reports a conflict: the revision cannot be published.
   *
   * @param records ids of some records that conflict
   * @param count how many there are
   */
  void object(String field, String detail, List<String> records, long count) {
    objections.add(new StoreException.Objection(form().name(), field, detail, records, count));
  }

  /** Reports records that violate a new rule. */
  void fallsShort(StoreException.Objection violation) {
    violations.add(violation);
  }
}
