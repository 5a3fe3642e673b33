package nodley.store.record;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import nodley.core.form.Form;
import nodley.core.submission.Context;
import nodley.core.submission.Submission;
import nodley.core.submission.UniqueKey;
import nodley.store.common.StoreException;
import nodley.store.common.StoredRecord;
import nodley.store.delivery.Caused;
import nodley.store.delivery.Deliveries;
import nodley.store.form.PublishedForm;
import nodley.store.schema.Rename;
import nodley.store.schema.Table;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.ErrorCodes;
import nodley.store.sqlite.Sql;
import nodley.store.unique.TakenKeys;

/**
 * The records that somebody removed, which can be put back for a while. Their rows are kept as
 * text, their versions and files where they are; what the log of attempts and kept answers had of
 * them is gone. Thread-safe; writing blocks until the commit.
 */
public final class RemovedRecords {

  private static final String OF_RECORD = " WHERE form = ? AND record_id = ?";

  private static final String COLUMNS =
      "SELECT number, record_id, removed_at, removed_by, owner, version FROM nodley_removed";

  private final Database database;
  private final BatchWriter writer;
  private final WordIndex wordIndex;
  private final Deliveries deliveries;
  private final Consumer<PublishedForm> isCurrent;
  private final BiConsumer<String, String> written;

  /**
   * A removed record.
   *
   * @param number counts up: those removed later have a higher one
   * @param by who removed it; empty for nobody known
   * @param owner whose it was; empty for nobody's
   * @param last what it was
   */
  public record Removed(
      long number, String id, Instant at, String by, String owner, Version last) {}

  RemovedRecords(
      Database database,
      BatchWriter writer,
      WordIndex wordIndex,
      Deliveries deliveries,
      Consumer<PublishedForm> isCurrent,
      BiConsumer<String, String> written) {
    this.database = database;
    this.writer = writer;
    this.wordIndex = wordIndex;
    this.deliveries = deliveries;
    this.isCurrent = isCurrent;
    this.written = written;
  }

  /** Keeps a record that is about to be removed, in the caller's transaction. */
  static void keep(Connection on, Form form, StoredRecord record, String by) throws SQLException {
    Versions.keep(on, form, record);
    RecordFiles.setAside(on, form, record.id());
    Sql.run(
        on,
        "INSERT INTO nodley_removed (form, record_id, removed_at, removed_by, owner, version,"
            + " tables) VALUES (?, ?, ?, ?, ?, ?, ?)",
        form.name(),
        record.id(),
        Clock.systemUTC().millis(),
        by,
        record.owner(),
        record.version(),
        RemovedRows.of(on, form, record.id()).toJson());
  }

  /**
   * Returns some that were removed, the latest first.
   *
   * @param owner whose alone; empty for everybody's
   * @param before only those with a lower number
   */
  public List<Removed> list(Form form, Optional<String> owner, long before, int limit) {
    String whose = owner.isPresent() ? " AND owner = ?" : "";
    Object[] bound =
        Stream.of(Stream.of(form.name(), before), owner.stream(), Stream.of(limit))
            .flatMap(it -> it)
            .toArray();
    return database.snapshot(
        on ->
            with(
                on,
                form.name(),
                Sql.list(
                    on,
                    RemovedRecords::read,
                    COLUMNS
                        + " WHERE form = ? AND number < ?"
                        + whose
                        + " ORDER BY number DESC LIMIT ?",
                    bound)));
  }

  /** Returns one; empty if there is none of this id. */
  public Optional<Removed> find(Form form, String id) {
    return database.snapshot(
        on ->
            with(
                    on,
                    form.name(),
                    Sql.list(on, RemovedRecords::read, COLUMNS + OF_RECORD, form.name(), id))
                .stream()
                .findFirst());
  }

  /** A removed record and all its versions, the latest first. */
  public record WithVersions(String id, Instant at, List<Version> versions) {}

  /** Returns what was removed of a person's, by form. */
  public Map<String, List<WithVersions>> ofPerson(String person) {
    return database.snapshot(
        on -> {
          Map<String, List<WithVersions>> all = new TreeMap<>();
          for (RecordId it : some(on, "owner = ?", Integer.MAX_VALUE, person)) {
            Entry entry =
                Sql.first(on, RemovedRecords::read, COLUMNS + OF_RECORD, it.form(), it.id())
                    .orElseThrow();
            all.computeIfAbsent(it.form(), _ -> new ArrayList<>())
                .add(
                    new WithVersions(
                        it.id(),
                        entry.at(),
                        Versions.kept(on, it.form(), it.id(), Long.MAX_VALUE, Integer.MAX_VALUE)));
          }
          return all;
        });
  }

  /** Returns the owner of a removed record; empty if there is none of this id. */
  static Optional<String> owner(Connection on, Form form, String id) throws SQLException {
    return Sql.first(
        on,
        row -> row.getString(1),
        "SELECT owner FROM nodley_removed" + OF_RECORD,
        form.name(),
        id);
  }

  /** A row without what it was. */
  private record Entry(long number, String id, Instant at, String by, String owner, long version) {}

  private static Entry read(ResultSet row) throws SQLException {
    return new Entry(
        row.getLong(1),
        row.getString(2),
        Instant.ofEpochMilli(row.getLong(3)),
        row.getString(4),
        row.getString(5),
        row.getLong(6));
  }

  private static List<Removed> with(Connection on, String form, List<Entry> entries)
      throws SQLException {
    List<Removed> all = new ArrayList<>();
    for (Entry it : entries) {
      Optional<Version> last =
          Versions.kept(on, form, it.id(), it.version() + 1, 1).stream().findFirst();
      last.ifPresent(
          version ->
              all.add(new Removed(it.number(), it.id(), it.at(), it.by(), it.owner(), version)));
    }
    return all;
  }

  /**
   * Puts a record back as it was, at its version. It is not judged anew, but what is unique stays
   * so, and what it refers to must be there.
   *
   * @param caused what outlets are to be told of it
   * @throws StoreException.NoSuchRecord if none of this id was removed, or not lately
   * @throws StoreException.CannotPutBack if something is in the way
   * @throws StoreException.FormChanged if the form has been published anew since
   */
  public StoredRecord putBack(PublishedForm published, String id, Caused caused) {
    Form form = published.form();
    return writer.writeAlone(
        on -> {
          isCurrent.accept(published);
          String owner = owner(on, form, id).orElseThrow(() -> new StoreException.NoSuchRecord(id));
          checkAlone(on, form, owner);
          String tables =
              Sql.first(
                      on,
                      row -> row.getString(1),
                      "SELECT tables FROM nodley_removed" + OF_RECORD,
                      form.name(),
                      id)
                  .orElseThrow();
          insert(on, form, RemovedRows.of(tables));
          StoredRecord record =
              RecordReader.find(on, form, id)
                  .orElseThrow(() -> new StoreException.NoSuchRecord(id));
          guard(on, form, record);
          wordIndex.add(form);
          RecordFiles.putBack(on, form, id);
          Versions.drop(on, form, id, record.version());
          Sql.run(on, "DELETE FROM nodley_removed" + OF_RECORD, form.name(), id);
          deliveries.add(on, caused.of(record));
          writer.afterCommit(() -> written.accept(form.name(), id));
          return record;
        },
        () -> {});
  }

  /**
   * Where there may be one record only, of the form or of a person, it is the first one's place.
   */
  private static void checkAlone(Connection on, Form form, String owner) throws SQLException {
    boolean another =
        form.isOne()
            ? RecordReader.first(on, form).isPresent()
            : form.isOneEach()
                && !owner.isEmpty()
                && !RecordReader.owned(on, form, owner).isEmpty();
    if (another) {
      throw new StoreException.CannotPutBack(StoreException.InTheWay.ANOTHER_RECORD, List.of());
    }
  }

  private static void insert(Connection on, Form form, RemovedRows rows) throws SQLException {
    List<String> missing = rows.missing(on, form.name());
    if (!missing.isEmpty()) {
      throw new StoreException.CannotPutBack(StoreException.InTheWay.MISSING, missing);
    }
    List<String> taken = rows.taken(on, form);
    if (!taken.isEmpty()) {
      throw new StoreException.CannotPutBack(StoreException.InTheWay.TAKEN, taken);
    }
    Optional<String> gone;
    try {
      gone = rows.insert(on);
    } catch (SQLException e) {
      if (!ErrorCodes.isConstraint(e)) {
        throw e;
      }
      // A value of a type that its field had once, and has no longer.
      gone = Optional.of("");
    }
    if (gone.isPresent()) {
      throw new StoreException.CannotPutBack(
          StoreException.InTheWay.FORM, gone.stream().filter(it -> !it.isEmpty()).toList());
    }
  }

  /** Works out anew what is unique without regard to case, or on a condition. */
  private static void guard(Connection on, Form form, StoredRecord record) throws SQLException {
    List<UniqueKey> keys = Submission.keys(form, record.values(), Context.add(Clock.systemUTC()));
    Row row = new Row(Table.of(form).getFirst(), record.values());
    row.guard(keys, List.of());
    row.leaveBlankSecrets();
    try {
      Sql.run(on, row.update("id"), row.bound(record.id()));
      RowsTables.replace(on, form, record.id(), record.values(), keys);
    } catch (SQLException e) {
      if (!ErrorCodes.isConstraint(e)) {
        throw e;
      }
      Set<String> taken = new TreeSet<>();
      for (int key : TakenKeys.of(on, form, keys, Optional.of(record.id()))) {
        keys.get(key).unique().paths().forEach(it -> taken.add(String.join(".", it)));
      }
      throw new StoreException.CannotPutBack(StoreException.InTheWay.TAKEN, List.copyOf(taken));
    }
  }

  /**
   * Forgets one for good.
   *
   * @throws StoreException.NoSuchRecord if there is none of this id
   */
  public void forget(Form form, String id) {
    writer.writeAlone(
        on -> {
          if (owner(on, form, id).isEmpty()) {
            throw new StoreException.NoSuchRecord(id);
          }
          forget(on, form.name(), id);
          return id;
        },
        () -> {});
  }

  private static void forget(Connection on, String form, String id) throws SQLException {
    Versions.remove(on, form, id);
    RecordFiles.remove(on, form, id);
    Sql.run(on, "DELETE FROM nodley_removed" + OF_RECORD, form, id);
  }

  /**
   * Forgets some that were removed before a moment.
   *
   * @return how many; no more than {@code most}, with one commit
   */
  public int forgetRemovedBefore(Instant before, int most) {
    return forgetAll("removed_at < ?", most, before.toEpochMilli());
  }

  /** Forgets some of a form that were added before a moment. */
  public int forgetAddedBefore(Form form, Instant before, int most) {
    return forgetAll("form = ? AND record_id < ?", most, form.name(), OldRecords.first(before));
  }

  private int forgetAll(String which, int most, Object... bound) {
    // Hardly ever there is one, and the writer has other things to do.
    return database.read(on -> some(on, which, 1, bound)).isEmpty()
        ? 0
        : writer.writeAlone(
            on -> {
              List<RecordId> some = some(on, which, most, bound);
              for (RecordId one : some) {
                forget(on, one.form(), one.id());
              }
              return some.size();
            },
            () -> {});
  }

  private record RecordId(String form, String id) {}

  private static List<RecordId> some(Connection on, String which, int most, Object... bound)
      throws SQLException {
    return Sql.list(
        on,
        row -> new RecordId(row.getString(1), row.getString(2)),
        "SELECT form, record_id FROM nodley_removed WHERE " + which + " LIMIT " + most,
        bound);
  }

  /** Forgets what a person owned, and who they were in what others did, in a transaction. */
  static int forgetPerson(Connection on, String person, Set<String> names) throws SQLException {
    List<RecordId> owned = some(on, "owner = ?", Integer.MAX_VALUE, person);
    for (RecordId one : owned) {
      forget(on, one.form(), one.id());
    }
    for (String name : names) {
      Sql.run(on, "UPDATE nodley_removed SET removed_by = '' WHERE removed_by = ?", name);
    }
    if (!names.isEmpty()) {
      Sql.runWith(
          on,
          tables -> RemovedRows.of(tables.toString()).withoutNames(names).toJson(),
          "UPDATE nodley_removed SET tables = " + Sql.FUNCTION + "(tables)");
    }
    return owned.size();
  }

  /** Puts what is kept of a field under its new name. */
  public static void rename(Connection on, String form, Rename rename) throws SQLException {
    change(on, form, rows -> rows.renamed(form, rename));
  }

  /** Leaves out what is kept of a field. */
  public static void forget(Connection on, String form, List<String> path) throws SQLException {
    change(on, form, rows -> rows.without(form, path));
  }

  private static void change(Connection on, String form, UnaryOperator<RemovedRows> change)
      throws SQLException {
    Sql.runWith(
        on,
        tables -> change.apply(RemovedRows.of(tables.toString())).toJson(),
        "UPDATE nodley_removed SET tables = " + Sql.FUNCTION + "(tables) WHERE form = ?",
        form);
  }
}
