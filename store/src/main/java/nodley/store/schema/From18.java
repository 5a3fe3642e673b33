package nodley.store.schema;

import nodley.store.sqlite.EngineSql;

/**
 * The step from data version 18 to 19: what numbers a delivery is the part of its id that ids sort
 * by, so that it is found by its id without an index, and each one that is written changes fewer
 * pages.
 */
final class From18 {

  /** What {@link nodley.store.common.Ids#order} says of an id. */
  private static final String ORDER =
      EngineSql.hexadecimal("substr(id, 1, 8) || substr(id, 10, 4) || substr(id, 16, 3)");

  private From18() {}

  /** Returns the statements that number deliveries anew. */
  static String deliveries() {
    return """
    CREATE TABLE nodley_deliveries_anew (
      number INTEGER NOT NULL PRIMARY KEY,
      id TEXT NOT NULL,
      %s);
    INSERT INTO nodley_deliveries_anew
      SELECT %s, id, outlet, form, record_id, record_version, change, attempt, body,
        is_brief, made_at, state, tries, since, next_at, ended_at, answer
      FROM nodley_deliveries ORDER BY number;
    DROP TABLE nodley_deliveries;
    ALTER TABLE nodley_deliveries_anew RENAME TO nodley_deliveries;
    CREATE INDEX nodley_deliveries_due ON nodley_deliveries (outlet, next_at)
      WHERE state = 'waiting';
    CREATE INDEX nodley_deliveries_failed ON nodley_deliveries (outlet) WHERE state = 'failed';
    CREATE INDEX nodley_deliveries_ended ON nodley_deliveries (ended_at) WHERE ended_at > 0;
    CREATE INDEX nodley_deliveries_record ON nodley_deliveries (form, record_id);
    """
        .formatted(From14.COLUMNS, ORDER);
  }
}
