package nodley.store.schema;

/** The step from data version 14 to 15: deliveries. */
final class From14 {

  /** The columns of a delivery after its number and its id. */
  static final String COLUMNS =
      """
        outlet TEXT NOT NULL,
        form TEXT NOT NULL,
        record_id TEXT NOT NULL,
        record_version INTEGER NOT NULL,
        change TEXT NOT NULL,
        attempt TEXT NOT NULL,
        body TEXT NOT NULL,
        is_brief INTEGER NOT NULL,
        made_at INTEGER NOT NULL,
        state TEXT NOT NULL,
        tries INTEGER NOT NULL,
        since INTEGER NOT NULL,
        next_at INTEGER NOT NULL,
        ended_at INTEGER NOT NULL,
        answer TEXT NOT NULL
      """;

  /**
   * What outlets are to be told, in the order in which it was accepted, and what became of it. The
   * body is encrypted where nothing of it is to be kept. An outlet that is switched off is in the
   * second table.
   */
  static final String DELIVERIES =
      """
      CREATE TABLE nodley_deliveries (
        number INTEGER PRIMARY KEY AUTOINCREMENT,
        id TEXT NOT NULL UNIQUE,
      """
          + COLUMNS
          + """
          );
          CREATE INDEX nodley_deliveries_due ON nodley_deliveries (outlet, next_at, number)
            WHERE state = 'waiting';
          CREATE INDEX nodley_deliveries_of_record
            ON nodley_deliveries (outlet, form, record_id, number) WHERE state = 'waiting';
          CREATE INDEX nodley_deliveries_state ON nodley_deliveries (state, number);
          CREATE INDEX nodley_deliveries_ended ON nodley_deliveries (ended_at) WHERE ended_at > 0;
          CREATE INDEX nodley_deliveries_record ON nodley_deliveries (form, record_id);
          CREATE INDEX nodley_deliveries_attempt ON nodley_deliveries (attempt);
          CREATE TABLE nodley_outlets_off (
            outlet TEXT NOT NULL PRIMARY KEY,
            since INTEGER NOT NULL,
            why TEXT NOT NULL
          );
          """;

  private From14() {}
}
