package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Form;
import nodley.core.form.Type;

/**
 * The tables of one form on their way to its next revision, within one transaction: what changes,
 * and what stands against it.
 */
final class Following {

  /** So many records are named where some do not fit. */
  static final int MAX_NAMED = 50;

  private final Connection on;
  private final PublishedForm published;
  private final Optional<Form> earlier;
  private final List<Rename> renames = new ArrayList<>();
  private final List<TableChange> changes = new ArrayList<>();
  private final List<StoreException.Objection> objections = new ArrayList<>();
  private final List<StoreException.Objection> shortfalls = new ArrayList<>();

  private Following(Connection on, PublishedForm published, Optional<Form> earlier) {
    this.on = on;
    this.published = published;
    this.earlier = earlier;
  }

  /** Brings the tables to the form, in the transaction of the connection. */
  static Following follow(Connection on, PublishedForm published, Optional<Form> earlier)
      throws SQLException {
    Following following = new Following(on, published, earlier);
    if (earlier.isPresent()) {
      new Renames(following).follow(earlier.get());
    }
    for (Table shape : Table.of(published.form())) {
      new FormTable(following, shape).follow();
    }
    new Retired(following).follow();
    if (earlier.isEmpty() || following.changes.stream().anyMatch(it -> it.kind().changesTexts())) {
      FullText.build(on, published.form());
    }
    return following;
  }

  /**
   * Looks for kept records that fall short of tighter rules.
   *
   * @param forms all there are, once their tables have followed
   */
  void judge(Map<String, PublishedForm> forms) throws SQLException {
    if (form().isOne()) {
      checkOne();
    }
    if (earlier.isPresent() && objections.isEmpty()) {
      new Shortfalls(this, forms).find(earlier.get());
    }
  }

  /** A form that is to have one record must not have more. */
  private void checkOne() throws SQLException {
    String table = Sql.quoted(form().name());
    long count = Sql.number(on, "SELECT count(*) FROM " + table);
    if (count > 1) {
      object(
          "",
          "`records: one` is for a form that has one record at most.",
          Sql.list(
              on,
              row -> row.getString(1),
              "SELECT \"id\" FROM " + table + " ORDER BY \"id\" LIMIT ?",
              MAX_NAMED),
          count);
    }
  }

  List<TableChange> changes() {
    return changes;
  }

  List<StoreException.Objection> objections() {
    return objections;
  }

  List<StoreException.Objection> shortfalls() {
    return shortfalls;
  }

  Connection on() {
    return on;
  }

  Form form() {
    return published.form();
  }

  int revision() {
    return published.revision();
  }

  /** True if the form is published for the first time, so that all there is, is new. */
  boolean isNew() {
    return earlier.isEmpty();
  }

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
    return live.isPresent() ? live : Retired.type(on, form().name(), dotted);
  }

  /** The earlier form's table of this name, as it was then. */
  Optional<Table> tableBefore(String plainName) {
    return earlier.stream()
        .flatMap(form -> Table.of(form).stream())
        .filter(table -> table.plainName().equals(plainName))
        .findFirst();
  }

  Optional<Form> earlier() {
    return earlier;
  }

  void changed(String field, TableChange.Kind kind, String detail) {
    changes.add(new TableChange(form().name(), field, kind, detail));
  }

  void object(String field, String detail, List<String> records, long count) {
    objections.add(new StoreException.Objection(form().name(), field, detail, records, count));
  }

  void fallsShort(StoreException.Objection shortfall) {
    shortfalls.add(shortfall);
  }
}
