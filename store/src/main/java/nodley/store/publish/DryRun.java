package nodley.store.publish;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import nodley.store.form.PublishedForm;
import nodley.store.form.Snapshot;
import nodley.store.schema.Table;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Computes what a publish would do, without blocking the writer. Where tables do not change, stored
 * records are validated in place. Where they do, they are copied into a temporary database and
 * migrated there; that needs as much temporary disk space as the tables have.
 */
public final class DryRun {

  /** Nodley's own tables that a migration reads and writes. */
  private static final List<String> COPIED =
      List.of("nodley_forms", "nodley_retired", "nodley_renames");

  /** Those that it writes only. */
  private static final List<String> EMPTY =
      List.of("nodley_versions", "nodley_record_files", "nodley_removed");

  private final Database database;

  public DryRun(Database database) {
    this.database = database;
  }

  /** What publishing these would come to, as things are at one moment. */
  FormPublisher.Outcome of(Snapshot before, Snapshot next, List<PublishedForm> changed) {
    List<PublishedForm> kept =
        changed.stream().filter(form -> before.forms().containsKey(form.name())).toList();
    if (kept.isEmpty()) {
      return FormPublisher.Outcome.REVISED;
    }
    List<String> reshaped = new ArrayList<>();
    for (PublishedForm form : kept) {
      if (!Table.alike(before.forms().get(form.name()).form(), form.form())) {
        reshaped.add(form.name());
      }
    }
    if (reshaped.isEmpty()) {
      return database.snapshot(on -> outcome(on, before, next, kept));
    }
    return database.scratch(
        on -> {
          copy(on, reshaped);
          return outcome(on, before, next, kept);
        });
  }

  private static FormPublisher.Outcome outcome(
      Connection on, Snapshot before, Snapshot next, List<PublishedForm> changed)
      throws SQLException {
    return FormMigration.of(on, before, next, changed)
        .tellConsequences()
        .judge(RecordRevalidation.ALL);
  }

  /** The tables of these forms with all that is in them; those of others are found as they are. */
  private static void copy(Connection on, List<String> forms) throws SQLException {
    for (String table : COPIED) {
      make(on, Catalog.Kind.TABLE, table);
      fill(on, table);
    }
    for (String table : EMPTY) {
      make(on, Catalog.Kind.TABLE, table);
    }
    for (String form : forms) {
      for (String table : Catalog.under(on, Database.KEPT, Catalog.Kind.TABLE, form)) {
        make(on, Catalog.Kind.TABLE, table);
        fill(on, table);
        make(on, Catalog.Kind.INDEX, table);
      }
    }
  }

  private static void fill(Connection on, String table) throws SQLException {
    String name = Sql.quoted(table);
    Sql.run(on, "INSERT INTO main." + name + " SELECT * FROM " + Database.KEPT + "." + name);
  }

  /** Makes the table of a name, or the indexes on it, as they are in the file. */
  private static void make(Connection on, Catalog.Kind kind, String table) throws SQLException {
    for (String sql : Catalog.declarations(on, Database.KEPT, kind, table)) {
      Sql.run(on, sql);
    }
  }
}
