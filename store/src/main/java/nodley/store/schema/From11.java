package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import nodley.store.sqlite.Sql;

/** The step from data version 11 to 12: people, sessions of people, and whose a record is. */
final class From11 {

  /**
   * The people who sign in here, the links by which they set a password, and sessions: of people,
   * of whoever holds a key, or of people whom an issuer has signed in.
   */
  static final String PEOPLE =
      """
      CREATE TABLE nodley_people (
        id TEXT NOT NULL PRIMARY KEY,
        name TEXT NOT NULL,
        name_key TEXT NOT NULL UNIQUE,
        email TEXT NOT NULL,
        email_key TEXT UNIQUE,
        roles TEXT NOT NULL,
        password TEXT NOT NULL,
        made_at TEXT NOT NULL,
        signed_in_at TEXT NOT NULL DEFAULT ''
      );
      CREATE TABLE nodley_links (
        digest TEXT NOT NULL PRIMARY KEY,
        person TEXT NOT NULL REFERENCES nodley_people (id) ON DELETE CASCADE,
        ends_at INTEGER NOT NULL
      );
      CREATE INDEX nodley_links_person ON nodley_links (person);
      CREATE TABLE nodley_sessions_next (
        digest TEXT NOT NULL PRIMARY KEY,
        id TEXT NOT NULL UNIQUE,
        key_name TEXT REFERENCES nodley_keys (name) ON DELETE CASCADE,
        person TEXT REFERENCES nodley_people (id) ON DELETE CASCADE,
        begun_at INTEGER NOT NULL,
        used_at INTEGER NOT NULL,
        address TEXT NOT NULL
      );
      INSERT INTO nodley_sessions_next
        SELECT digest, lower(hex(randomblob(8))), key_name, NULL,
          expires_at - 12 * 3600000, expires_at - 12 * 3600000, '' FROM nodley_sessions;
      DROP TABLE nodley_sessions;
      ALTER TABLE nodley_sessions_next RENAME TO nodley_sessions;
      CREATE INDEX nodley_sessions_key ON nodley_sessions (key_name);
      CREATE INDEX nodley_sessions_person ON nodley_sessions (person);
      CREATE TABLE nodley_issued_sessions (
        session TEXT NOT NULL PRIMARY KEY REFERENCES nodley_sessions (id) ON DELETE CASCADE,
        issuer TEXT NOT NULL,
        person TEXT NOT NULL,
        name TEXT NOT NULL,
        email TEXT NOT NULL,
        roles TEXT NOT NULL,
        id_token TEXT NOT NULL
      );
      CREATE INDEX nodley_issued_sessions_person ON nodley_issued_sessions (person);
      """;

  private From11() {}

  /** Migrates the tables of a form, in the caller's transaction. */
  static void migrate(Connection connection, String form) throws SQLException {
    giveOwners(connection, form);
    renameGuards(connection, form);
  }

  /**
   * Gives the columns that say whether a unique counts a name that no field can have; before, it
   * was that of a field {@code X_when}.
   */
  private static void renameGuards(Connection connection, String form) throws SQLException {
    List<String> texts =
        Sql.list(
            connection,
            row -> row.getString(1),
            "SELECT text FROM nodley_revisions WHERE form = ? ORDER BY revision DESC LIMIT 1",
            form);
    for (String table : Columns.tables(connection, form)) {
      for (String column : Columns.names(connection, table)) {
        String name = column.substring(column.lastIndexOf('.') + 1);
        // The file names each field, and no such column.
        boolean isField = texts.stream().anyMatch(it -> it.contains(name));
        if (column.endsWith("_when") && !isField) {
          Sql.run(
              connection,
              "ALTER TABLE %s RENAME COLUMN %s TO %s"
                  .formatted(
                      Sql.quoted(table),
                      Sql.quoted(column),
                      Sql.quoted(column.replaceFirst("_when$", UniqueIndex.WHEN))));
        }
      }
    }
  }

  /** Says who added each record, as far as it is known; nobody's owner was kept before. */
  private static void giveOwners(Connection connection, String form) throws SQLException {
    String table = Sql.quoted(form);
    Sql.run(
        connection,
        "ALTER TABLE " + table + " ADD COLUMN \"created__by\" TEXT NOT NULL DEFAULT ''");
    Sql.run(
        connection, "ALTER TABLE " + table + " ADD COLUMN \"owner__id\" TEXT NOT NULL DEFAULT ''");
    Sql.run(
        connection,
        "UPDATE "
            + table
            + " SET \"created__by\" = CASE WHEN \"version\" = 1 THEN \"updated_by\" ELSE"
            + " coalesce((SELECT made_by FROM nodley_versions v WHERE v.form = ?"
            + " AND v.record_id = "
            + table
            + ".\"id\" AND v.version = 1), '') END",
        form);
  }
}
