package nodley.store.schema;

import java.sql.Connection;
import java.sql.SQLException;
import nodley.store.sqlite.Sql;

/** The step from data version 15 to 16: addresses that are confirmed. */
final class From15 {

  /** The links by which addresses of records are confirmed, one for each record. */
  static final String CONFIRMATIONS =
      """
      CREATE TABLE nodley_confirmations (
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        code TEXT NOT NULL UNIQUE,
        ends_at INTEGER NOT NULL,
        confirmed_at TEXT NOT NULL DEFAULT '',
        PRIMARY KEY (form, record_id)
      );
      CREATE INDEX nodley_confirmations_open ON nodley_confirmations (form, ends_at)
        WHERE confirmed_at = '';
      """;

  private From15() {}

  /** Migrates the table of a form, in the caller's transaction. */
  static void migrate(Connection connection, String form) throws SQLException {
    Sql.run(
        connection,
        "ALTER TABLE "
            + Sql.quoted(form)
            + " ADD COLUMN \"confirmed__at\" TEXT NOT NULL DEFAULT ''");
  }
}
