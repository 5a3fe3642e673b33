package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Predicate;
import java.util.stream.Stream;
import nodley.core.file.FormFileException;
import nodley.core.file.Format;
import nodley.core.file.TextsFile;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.store.common.StoreException;
import nodley.store.common.Times;
import nodley.store.form.Forms;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.FullText;
import nodley.store.sqlite.Sql;

/**
 * Publishes forms and what they share, and removes them. All forms are read against each other
 * first; if one of them would become invalid, or stored records conflict with it, nothing is
 * changed. Thread-safe: one publish at a time, in a transaction of its own; records can be read and
 * written until that transaction, which takes as long as its tables are changed.
 */
public final class FormPublisher {

  private final Database database;
  private final BatchWriter writer;
  private final AtomicReference<Snapshot> current;
  private final PublishTransaction transactions;

  /** What became of a publish. */
  public enum Change {
    NEW,
    REVISED,
    UNCHANGED;

    /** Returns the word for it in replies. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }
  }

  /** A published form, and what became of it. */
  public record Published(PublishedForm form, Outcome outcome) {}

  /**
   * What publishing did, or would do.
   *
   * @param changes to the tables, of all forms that it touches
   * @param objections why it cannot be done; empty once it is
   * @param fallsShort the kept records that tighter rules now refuse, until they are changed
   */
  public record Outcome(
      Change change,
      List<TableChange> changes,
      List<StoreException.Objection> objections,
      List<StoreException.Objection> fallsShort) {

    static final Outcome UNCHANGED = new Outcome(Change.UNCHANGED, List.of(), List.of(), List.of());

    /** Nothing that was kept is another than before. */
    static final Outcome REVISED = new Outcome(Change.REVISED, List.of(), List.of(), List.of());

    private Outcome as(Change other) {
      return new Outcome(other, changes, objections, fallsShort);
    }

    /** The same, with violations and dropped options that were found before. */
    Outcome with(Outcome before) {
      List<TableChange> all = new ArrayList<>(changes);
      before.changes.stream()
          .filter(it -> it.kind() == TableChange.Kind.OPTION_DROPPED)
          .forEach(all::add);
      return new Outcome(
          change,
          all,
          objections,
          Stream.concat(before.fallsShort.stream(), fallsShort.stream()).toList());
    }
  }

  /** How something is to be published. */
  public enum Manner {
    /** Rejected if stored records violate a new rule. */
    CAREFUL,
    /** Tighter rules are put in force for what is submitted from then on. */
    FORCE_RULES,
    /** Nothing is changed; told is what would be. */
    PREVIEW
  }

  /**
   * Opens what publishes a store's forms, and reads all of them that this build has not read yet.
   *
   * @param current what is published now; this puts the next snapshot there
   * @param build the build of Nodley; empty if another that reads differently may be named the same
   * @throws StoreException.BadFolder if a form cannot be read
   */
  public FormPublisher(
      Database database,
      BatchWriter writer,
      AtomicReference<Snapshot> current,
      Optional<String> build) {
    this.database = database;
    this.writer = writer;
    this.current = current;
    this.transactions =
        new PublishTransaction(writer, database, database.read(PublishTransaction::edition));
    read(build);
    indexWords();
  }

  /**
   * Reads all forms before anybody is served, so that a newer Nodley tells at once what it cannot
   * read; what this very build has read before is read as it is asked for.
   */
  private void read(Optional<String> build) {
    boolean before =
        build.isPresent()
            && build.equals(
                database.read(
                    on ->
                        Sql.first(
                            on,
                            row -> row.getString(1),
                            "SELECT value FROM nodley_settings WHERE name = 'read_by'")));
    if (before) {
      return;
    }
    current.get().readAll();
    build.ifPresent(
        name ->
            writer.write(
                on ->
                    Sql.run(
                        on,
                        "INSERT INTO nodley_settings (name, value) VALUES ('read_by', ?)"
                            + " ON CONFLICT (name) DO UPDATE SET value = excluded.value",
                        name)));
  }

  /** Data of an earlier Nodley has no index of words. */
  private void indexWords() {
    Set<String> indexed = database.read(FullText::forms);
    for (PublishedForm form : current.get().forms().values()) {
      if (!indexed.contains(form.name())) {
        writer.writeAlone(
            connection -> {
              FormTable.indexWords(connection, form.form());
              return form;
            },
            () -> {});
      }
    }
  }

  /**
   * Publishes a form: its text is kept as the next revision and its tables follow, in one
   * transaction.
   *
   * @param form what the text was read as, against {@link Forms#registry}
   * @throws StoreException.MigrationConflict if kept records do not fit; nothing is changed
   * @throws StoreException.Breaks if other forms could not be read any more; nothing is changed
   */
  public synchronized Published publish(Form form, String text, Format format, Manner manner) {
    return publish(form, text, format, manner, _ -> true);
  }

  /**
   * The same, if the text that is published now is the one that its author has seen.
   *
   * @param known whether that is so; asked only if there is one
   * @throws StoreException.Republished if it is not; nothing is changed
   */
  public synchronized Published publish(
      Form form, String text, Format format, Manner manner, Predicate<String> known) {
    Optional<PublishedForm> earlier = published(form.name());
    if (earlier.filter(it -> !known.test(it.text())).isPresent()) {
      throw new StoreException.Republished("revision " + earlier.get().revision());
    }
    if (earlier.filter(it -> it.text().equals(text) && it.format() == format).isPresent()) {
      return new Published(earlier.get(), Outcome.UNCHANGED);
    }
    Snapshot before = current.get();
    int revision = earlier.map(PublishedForm::revision).orElse(0) + 1;
    int edition = earlier.map(PublishedForm::edition).orElse(0);
    var source = new PublishedForm.Source(form.name(), revision, edition, format, text);
    Snapshot after = before.with(source);
    PublishTransaction.Written written =
        transactions.publish(
            before, after, manner, connection -> keep(connection, source), this::published);
    return new Published(
        written.snapshot().forms().get(form.name()),
        written.outcome().as(earlier.isEmpty() ? Change.NEW : Change.REVISED));
  }

  /** Keeps the text of a form as its next revision. */
  static void keep(Connection on, PublishedForm.Source form) throws SQLException {
    Sql.run(
        on,
        "INSERT INTO nodley_revisions (form, revision, format, text, published_at)"
            + " VALUES (?, ?, ?, ?, ?)",
        form.name(),
        form.revision(),
        form.format().name(),
        form.text(),
        Times.now());
  }

  /** Stores the text of a shared file in the caller's transaction, in place of an earlier one. */
  static void keep(Connection on, Forms.SharedText text) throws SQLException {
    Sql.run(
        on,
        "INSERT INTO nodley_shared (kind, name, format, text) VALUES (?, ?, ?, ?)"
            + " ON CONFLICT (kind, name) DO UPDATE SET format = excluded.format,"
            + " text = excluded.text",
        text.kind().name(),
        text.name(),
        text.format().name(),
        text.text());
  }

  /**
   * Publishes several files at once: all of them, in one transaction, or none. They may refer to
   * each other in any order.
   *
   * @throws StoreException.BadFiles if some have errors; nothing is changed
   * @throws StoreException.MigrationConflict if kept records do not fit; nothing is changed
   * @throws StoreException.Breaks if other forms could not be read any more; nothing is changed
   */
  public synchronized PublishBatch.Outcome publish(List<PublishBatch.File> files, Manner manner) {
    return new PublishBatch(current.get(), files).publish(transactions, manner, this::published);
  }

  /**
   * Removes a form with its tables, its history and its texts.
   *
   * @param withRecords false if it is to stay where it has records
   * @return false if there is none of this name
   * @throws StoreException.HasRecords if it has records that are to stay; nothing is changed
   * @throws StoreException.Breaks if other forms refer to it; nothing is changed
   */
  public synchronized boolean remove(String name, boolean withRecords) {
    Snapshot before = current.get();
    if (!before.forms().containsKey(name)) {
      return false;
    }
    transactions.publish(
        before,
        before.without(name),
        Manner.CAREFUL,
        connection -> FormTable.drop(connection, name, withRecords),
        this::published);
    return true;
  }

  /**
   * Publishes a list, a part, a theme or texts; the forms that use it follow, in one transaction.
   *
   * @throws FormFileException if it has errors
   * @throws StoreException.MigrationConflict if kept records do not fit; nothing is changed
   * @throws StoreException.Breaks if forms that use it could not be read any more
   */
  public Outcome share(Forms.SharedText text, Manner manner) throws FormFileException {
    return share(text, manner, _ -> true);
  }

  /**
   * The same, if the text that is published now is the one that its author has seen.
   *
   * @param known whether that is so; asked only if there is one
   * @throws StoreException.Republished if it is not; nothing is changed
   */
  public synchronized Outcome share(Forms.SharedText text, Manner manner, Predicate<String> known)
      throws FormFileException {
    Snapshot before = current.get();
    Optional<Forms.SharedText> earlier = shared(text.kind(), text.name());
    if (earlier.filter(it -> !known.test(it.text())).isPresent()) {
      throw new StoreException.Republished("text");
    }
    if (earlier.equals(Optional.of(text))) {
      return Outcome.UNCHANGED;
    }
    check(before, text);
    PublishTransaction.Written written =
        transactions.publish(
            before,
            before.with(text),
            manner,
            connection -> keep(connection, text),
            this::published);
    return written.outcome().as(earlier.isEmpty() ? Change.NEW : Change.REVISED);
  }

  /**
   * Removes a list, a part, a theme or texts.
   *
   * @return false if there is none of this name
   * @throws StoreException.Breaks if forms use it
   */
  public synchronized boolean unshare(Forms.Kind kind, String name) {
    Snapshot before = current.get();
    Optional<Forms.SharedText> text = shared(kind, name);
    if (text.isEmpty()) {
      return false;
    }
    try {
      transactions.publish(
          before,
          before.without(text.get()),
          Manner.CAREFUL,
          connection ->
              Sql.run(
                  connection,
                  "DELETE FROM nodley_shared WHERE kind = ? AND name = ?",
                  kind.name(),
                  name),
          this::published);
    } catch (FormFileException e) {
      throw new IllegalStateException("what was shared before can be read", e);
    }
    return true;
  }

  /** Texts of a form are read against it as it is; all others by themselves. */
  private static void check(Snapshot before, Forms.SharedText text) throws FormFileException {
    TextsFile.Name name = Snapshot.nameOf(text).orElse(null);
    boolean ofForm = name != null && !name.isOfService();
    PublishedForm form = ofForm ? before.forms().get(name.form()) : null;
    if (ofForm && form == null) {
      throw new StoreException.NoForm(name.form());
    }
    if (form != null) {
      TextsFile.read(text.text(), text.format(), form.form(), name.language(), before.registry());
    } else {
      Snapshot.with(before.shared(), text);
    }
  }

  /** To be told of each record that was added or edited, after its commit. */
  public void wrote(String form, String id) {
    transactions.wrote(form, id);
  }

  private Optional<PublishedForm> published(String form) {
    return Optional.ofNullable(current.get().forms().get(form));
  }

  private Optional<Forms.SharedText> shared(Forms.Kind kind, String name) {
    return Optional.ofNullable(current.get().texts().get(Snapshot.key(kind, name)));
  }

  private void published(Snapshot next) {
    current.set(next);
  }

  /** The fields that a form has no longer, whose values are still kept; the latest first. */
  public List<RetiredField> retired(String form) {
    return database.snapshot(connection -> RetiredFields.list(connection, form));
  }

  /**
   * Forgets a field that a form has no longer: its column with all values, also in earlier versions
   * of records.
   *
   * @param path its dotted path, or that of a group or rows around it
   * @return what was forgotten; nothing if there is nothing retired of this name
   * @throws StoreException.StillThere if the form has it
   */
  public synchronized List<RetiredField> forget(Form form, String path) {
    List<String> names = List.of(path.split("\\."));
    if (form.fields().find(names).filter(FormPublisher::isKept).isPresent()) {
      throw new StoreException.StillThere(form.name(), path);
    }
    return writer.writeAlone(
        connection -> RetiredFields.forget(connection, form.name(), names), () -> {});
  }

  private static boolean isKept(Field field) {
    return field.isKept() || !field.type().isScalar();
  }
}
