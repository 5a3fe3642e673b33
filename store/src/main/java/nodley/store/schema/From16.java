package nodley.store.schema;

/** The step from data version 16 to 17: removed records that can be put back, fewer indexes. */
final class From16 {

  /**
   * Removed records, the latest last. {@code tables} has the rows of a record by table, and each
   * row its columns; its versions and files stay where those of records are.
   */
  static final String REMOVED =
      """
      CREATE TABLE nodley_removed (
        number INTEGER NOT NULL PRIMARY KEY AUTOINCREMENT,
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        removed_at INTEGER NOT NULL,
        removed_by TEXT NOT NULL,
        owner TEXT NOT NULL,
        version INTEGER NOT NULL,
        tables TEXT NOT NULL,
        UNIQUE (form, record_id)
      );
      CREATE INDEX nodley_removed_at ON nodley_removed (removed_at);
      """;

  /**
   * Each delivery is in as few indexes as can be, since it is written with its record: those that
   * wait, and the few that failed, are found by indexes of their own.
   */
  static final String DELIVERY_INDEXES =
      """
      DROP INDEX nodley_deliveries_of_record;
      DROP INDEX nodley_deliveries_state;
      CREATE INDEX nodley_deliveries_failed ON nodley_deliveries (outlet, number)
        WHERE state = 'failed';
      """;

  private From16() {}
}
