package nodley.store;

import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;

/** Nodley's own tables. Names of forms have no underscore, so these never meet a form's table. */
final class Schema {

  /** Counts up when the tables here change; kept in SQLite's user_version. */
  private static final int VERSION = 1;

  private static final String TABLES =
      """
      CREATE TABLE nodley_forms (
        name TEXT NOT NULL PRIMARY KEY,
        revision INTEGER NOT NULL
      ) STRICT;
      CREATE TABLE nodley_revisions (
        form TEXT NOT NULL REFERENCES nodley_forms (name),
        revision INTEGER NOT NULL,
        format TEXT NOT NULL,
        text TEXT NOT NULL,
        published_at TEXT NOT NULL,
        PRIMARY KEY (form, revision)
      ) STRICT;
      CREATE TABLE nodley_folder (
        file TEXT NOT NULL PRIMARY KEY,
        digest TEXT NOT NULL
      ) STRICT;
      CREATE TABLE nodley_keys (
        name TEXT NOT NULL PRIMARY KEY,
        digest TEXT NOT NULL UNIQUE
      ) STRICT;
      CREATE TABLE nodley_sessions (
        digest TEXT NOT NULL PRIMARY KEY,
        key_name TEXT NOT NULL REFERENCES nodley_keys (name) ON DELETE CASCADE,
        expires_at INTEGER NOT NULL
      ) STRICT;
      """;

  private Schema() {}

  static void bringUp(Connection connection) throws SQLException {
    long version = Sql.number(connection, "PRAGMA user_version");
    if (version > VERSION) {
      throw new StoreException.BadFolder(
          "The data was written by a newer Nodley (data version "
              + version
              + "; this one reads up to "
              + VERSION
              + "). Use that version, or another data folder.",
          null);
    }
    if (version == 0) {
      try (Statement statement = connection.createStatement()) {
        statement.execute("BEGIN IMMEDIATE");
        for (String table : TABLES.split(";\\s*")) {
          if (!table.isBlank()) {
            statement.execute(table);
          }
        }
        statement.execute("PRAGMA user_version = " + VERSION);
        statement.execute("COMMIT");
      }
    }
  }
}
