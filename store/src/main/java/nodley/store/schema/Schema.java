package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import nodley.store.attempt.AttemptIndex;
import nodley.store.common.StoreException;
import nodley.store.folder.DataFolder;
import nodley.store.sqlite.Catalog;
import nodley.store.sqlite.FullText;
import nodley.store.sqlite.Sql;

/**
 * Nodley's own tables, and their numbered migrations. Opening an older folder runs the steps that
 * it lacks, each in one transaction; a newer one is refused. Names have underscores, which names of
 * forms cannot have, so that the two never meet.
 */
public final class Schema {

  /** Counts up when the tables here change; kept in SQLite's user_version. */
  public static final int VERSION = 19;

  private static final String TABLES =
      """
      CREATE TABLE nodley_forms (
        name TEXT NOT NULL PRIMARY KEY,
        revision INTEGER NOT NULL,
        edition INTEGER NOT NULL DEFAULT 1
      );
      CREATE TABLE nodley_revisions (
        form TEXT NOT NULL REFERENCES nodley_forms (name),
        revision INTEGER NOT NULL,
        format TEXT NOT NULL,
        text TEXT NOT NULL,
        published_at TEXT NOT NULL,
        PRIMARY KEY (form, revision)
      );
      CREATE TABLE nodley_shared (
        kind TEXT NOT NULL,
        name TEXT NOT NULL,
        format TEXT NOT NULL,
        text TEXT NOT NULL,
        PRIMARY KEY (kind, name)
      );
      CREATE TABLE nodley_folder (
        file TEXT NOT NULL PRIMARY KEY,
        digest TEXT NOT NULL
      );
      CREATE TABLE nodley_keys (
        name TEXT NOT NULL PRIMARY KEY,
        digest TEXT NOT NULL UNIQUE
      );
      CREATE TABLE nodley_sessions (
        digest TEXT NOT NULL PRIMARY KEY,
        key_name TEXT NOT NULL REFERENCES nodley_keys (name) ON DELETE CASCADE,
        expires_at INTEGER NOT NULL
      );
      """;

  /** What a key is good for, and its last use; names in lists stand apart by spaces. */
  private static final String KEY_RIGHTS =
      """
      ALTER TABLE nodley_keys ADD COLUMN roles TEXT NOT NULL DEFAULT '';
      ALTER TABLE nodley_keys ADD COLUMN forms TEXT NOT NULL DEFAULT '';
      ALTER TABLE nodley_keys ADD COLUMN until TEXT NOT NULL DEFAULT '';
      ALTER TABLE nodley_keys ADD COLUMN made_at TEXT NOT NULL DEFAULT '';
      ALTER TABLE nodley_keys ADD COLUMN used_on TEXT NOT NULL DEFAULT '';
      ALTER TABLE nodley_keys ADD COLUMN used_from TEXT NOT NULL DEFAULT '';
      """;

  /** Every version of a record but the current one, which its table has. */
  private static final String VERSIONS =
      """
      CREATE TABLE nodley_versions (
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        version INTEGER NOT NULL,
        revision INTEGER NOT NULL,
        made_at TEXT NOT NULL,
        made_by TEXT NOT NULL,
        record TEXT NOT NULL,
        PRIMARY KEY (form, record_id, version)
      ) CLUSTERED;
      """;

  /** What this data folder is set to, and the answers given under an idempotency key. */
  private static final String ANSWERS =
      """
      CREATE TABLE nodley_settings (
        name TEXT NOT NULL PRIMARY KEY,
        value TEXT NOT NULL
      );
      CREATE TABLE nodley_answers (
        caller TEXT NOT NULL,
        form TEXT NOT NULL,
        key TEXT NOT NULL,
        digest TEXT NOT NULL,
        answer TEXT NOT NULL,
        expires_at INTEGER NOT NULL,
        PRIMARY KEY (caller, form, key)
      ) CLUSTERED;
      CREATE INDEX nodley_answers_expiry ON nodley_answers (expires_at);
      """;

  /** The log. What it is searched by are columns; the rest is one account. */
  private static final String ATTEMPTS =
      """
      CREATE TABLE nodley_attempts (
        number INTEGER NOT NULL PRIMARY KEY,
        id TEXT NOT NULL UNIQUE,
        form TEXT NOT NULL,
        revision INTEGER NOT NULL,
        mode TEXT NOT NULL,
        at INTEGER NOT NULL,
        micros INTEGER NOT NULL,
        waited INTEGER NOT NULL,
        record TEXT NOT NULL,
        verdict TEXT NOT NULL,
        problem TEXT NOT NULL,
        errors TEXT NOT NULL,
        account TEXT NOT NULL
      );
      CREATE INDEX nodley_attempts_form ON nodley_attempts (form, number);
      """;

  /** What attempts are found by; of each form in their order. */
  private static final String ATTEMPT_INDEX =
      """
      CREATE TABLE nodley_attempt_index (
        term TEXT NOT NULL,
        form TEXT NOT NULL,
        attempt INTEGER NOT NULL,
        PRIMARY KEY (term, form, attempt)
      ) CLUSTERED;
      """;

  /** Fields that their form has no longer, whose columns are still there. */
  private static final String RETIRED =
      """
      CREATE TABLE nodley_retired (
        form TEXT NOT NULL,
        field TEXT NOT NULL,
        type TEXT NOT NULL,
        revision INTEGER NOT NULL,
        retired_at TEXT NOT NULL,
        PRIMARY KEY (form, field)
      ) CLUSTERED;
      """;

  /** Unique values that are set aside for an open page. */
  private static final String HOLDS =
      """
      CREATE TABLE nodley_holds (
        form TEXT NOT NULL,
        name TEXT NOT NULL,
        value TEXT NOT NULL,
        page TEXT NOT NULL,
        address TEXT NOT NULL,
        ends_at INTEGER NOT NULL,
        PRIMARY KEY (form, name, value)
      ) CLUSTERED;
      CREATE INDEX nodley_holds_page ON nodley_holds (page);
      CREATE INDEX nodley_holds_end ON nodley_holds (ends_at);
      """;

  /** What fields were called, the earliest first, so that a way back finds their values. */
  private static final String RENAMES =
      """
      CREATE TABLE nodley_renames (
        number INTEGER NOT NULL PRIMARY KEY,
        form TEXT NOT NULL,
        was TEXT NOT NULL,
        now TEXT NOT NULL
      );
      """;

  /** What a removed record leaves behind is found by the record; an answer begins with its id. */
  private static final String BY_RECORD =
      """
      CREATE INDEX nodley_attempts_record ON nodley_attempts (record) WHERE record <> '';
      CREATE INDEX nodley_answers_record ON nodley_answers (form, substr(answer, 8, 36));
      """;

  /** The operator's log, to which entries are only added. */
  private static final String OPERATOR_LOG =
      """
      CREATE TABLE nodley_log (
        number INTEGER NOT NULL PRIMARY KEY,
        at INTEGER NOT NULL,
        who TEXT NOT NULL,
        what TEXT NOT NULL,
        subject TEXT NOT NULL,
        origin TEXT NOT NULL
      );
      CREATE TRIGGER nodley_log_is_not_changed BEFORE UPDATE ON nodley_log
      BEGIN SELECT raise(ABORT, 'entries of the log are not changed'); END;
      CREATE TRIGGER nodley_log_is_not_shortened BEFORE DELETE ON nodley_log
      BEGIN SELECT raise(ABORT, 'entries of the log are not removed'); END;
      """;

  private static final String FROM_1 =
      """
      ALTER TABLE nodley_forms ADD COLUMN edition INTEGER NOT NULL DEFAULT 1;
      CREATE TABLE nodley_shared (
        kind TEXT NOT NULL,
        name TEXT NOT NULL,
        format TEXT NOT NULL,
        text TEXT NOT NULL,
        PRIMARY KEY (kind, name)
      );
      """;

  private Schema() {}

  /** True if a file has the tables that every version of Nodley makes. */
  public static boolean isThere(Connection connection) throws SQLException {
    return Catalog.hasTables(
        connection, List.of("nodley_forms", "nodley_revisions", "nodley_keys"));
  }

  /**
   * Creates Nodley's tables, or migrates those of an earlier version step by step, in one
   * transaction.
   *
   * @throws StoreException.BadFolder if a newer Nodley wrote the data, or another program
   */
  public static void bringUp(Connection connection) throws SQLException {
    long version = Catalog.version(connection);
    if (version > VERSION) {
      throw new StoreException.BadFolder(
          "The data was written by a newer Nodley (data version "
              + version
              + "; this one reads up to "
              + VERSION
              + "). Use that version, or another data folder.",
          null);
    }
    if (version == 0 ? !Catalog.isEmpty(connection) : !isThere(connection)) {
      throw new StoreException.BadFolder(
          "The file " + DataFolder.FILE + " there is a database, but not of Nodley's.", null);
    }
    // A table that others refer to is made anew only while nobody looks at references.
    Catalog.checkReferences(connection, false);
    Sql.run(connection, "BEGIN IMMEDIATE");
    if (version == 0) {
      Catalog.run(
          connection,
          TABLES
              + VERSIONS
              + ANSWERS
              + ATTEMPTS
              + RETIRED
              + HOLDS
              + RENAMES
              + ATTEMPT_INDEX
              + BY_RECORD
              + OPERATOR_LOG
              + KEY_RIGHTS
              + From11.PEOPLE
              + From12.FILES
              + From13.DRAFTS
              + From14.DELIVERIES
              + From15.CONFIRMATIONS
              + From16.REMOVED
              + From16.DELIVERY_INDEXES
              + From17.DELIVERY_INDEXES
              + From18.deliveries());
    } else {
      bringUp(connection, version);
    }
    Catalog.setVersion(connection, VERSION);
    Sql.run(connection, "COMMIT");
    Catalog.checkReferences(connection, true);
  }

  private static void bringUp(Connection connection, long version) throws SQLException {
    if (version < 2) {
      Catalog.run(connection, FROM_1);
    }
    if (version < 3) {
      Catalog.run(connection, VERSIONS + ANSWERS);
      for (String form : forms(connection)) {
        Sql.run(
            connection,
            "ALTER TABLE "
                + Sql.quoted(form)
                + " ADD COLUMN \"updated_by\" TEXT NOT NULL DEFAULT ''");
      }
    }
    if (version < 4) {
      Catalog.run(connection, ATTEMPTS);
    }
    if (version < 5) {
      Catalog.run(connection, RETIRED);
    }
    if (version < 6) {
      Catalog.run(connection, HOLDS);
    }
    if (version < 7) {
      for (String form : forms(connection)) {
        From6.migrate(connection, form);
      }
    }
    if (version < 8) {
      Catalog.run(connection, RENAMES);
      for (String form : forms(connection)) {
        From7.migrate(connection, form);
        // Made anew at start, in a way that older programs can read.
        FullText.drop(connection, form);
      }
    }
    if (version < 9) {
      Catalog.run(connection, ATTEMPT_INDEX);
      AttemptIndex.addAll(connection);
    }
    if (version < 10) {
      Catalog.run(connection, BY_RECORD + OPERATOR_LOG);
    }
    if (version < 11) {
      // A key that there is already was good for everything.
      Catalog.run(connection, KEY_RIGHTS + "UPDATE nodley_keys SET roles = 'admin';");
    }
    if (version < 12) {
      Catalog.run(connection, From11.PEOPLE);
      for (String form : forms(connection)) {
        From11.migrate(connection, form);
      }
    }
    if (version < 13) {
      Catalog.run(connection, From12.FILES);
    }
    if (version < 14) {
      Catalog.run(connection, From13.DRAFTS);
    }
    if (version < 15) {
      Catalog.run(connection, From14.DELIVERIES);
    }
    if (version < 16) {
      Catalog.run(connection, From15.CONFIRMATIONS);
      for (String form : forms(connection)) {
        From15.migrate(connection, form);
      }
    }
    if (version < 17) {
      Catalog.run(connection, From16.REMOVED + From16.DELIVERY_INDEXES);
    }
    if (version < 18) {
      Catalog.run(connection, From17.DELIVERY_INDEXES);
    }
    if (version < 19) {
      Catalog.run(connection, From18.deliveries());
    }
  }

  private static List<String> forms(Connection connection) throws SQLException {
    return Sql.list(connection, row -> row.getString(1), "SELECT name FROM nodley_forms");
  }
}
