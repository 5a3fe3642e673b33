package nodley.store.delivery;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import nodley.store.sqlite.BatchWriter;
import nodley.store.sqlite.Database;
import nodley.store.sqlite.Sql;

/**
 * Which outlets are switched off, and how each stands. An outlet that nobody has heard of is on.
 * Thread-safe.
 */
public final class OutletStates {

  private final Database database;
  private final BatchWriter writer;
  private final Clock clock;
  private final Deliveries deliveries;

  OutletStates(Database database, BatchWriter writer, Clock clock, Deliveries deliveries) {
    this.database = database;
    this.writer = writer;
    this.clock = clock;
    this.deliveries = deliveries;
  }

  /**
   * How an outlet stands.
   *
   * @param oldest when the first of those was made that wait
   * @param failed how many were given up, of those that are kept
   * @param offSince since when it is switched off; empty if it is on
   * @param why why it is off; empty if it is on
   */
  public record Standing(
      long waiting,
      Optional<Instant> oldest,
      long failed,
      Optional<Instant> offSince,
      String why) {}

  /** Returns how an outlet stands. */
  public Standing standing(String outlet) {
    return database.snapshot(
        on -> {
          Optional<Off> off = off(on, outlet);
          return new Standing(
              count(on, "state = 'waiting'", outlet),
              Sql.first(
                      on,
                      row -> row.getLong(1),
                      "SELECT made_at FROM nodley_deliveries WHERE outlet = ? AND state ="
                          + " 'waiting' ORDER BY number LIMIT 1",
                      outlet)
                  .map(Instant::ofEpochMilli),
              count(on, "state = 'failed'", outlet),
              off.map(it -> Instant.ofEpochMilli(it.since())),
              off.map(Off::why).orElse(""));
        });
  }

  /** Counts those of a state, which the index of that state serves. */
  private static long count(Connection on, String state, String outlet) throws SQLException {
    return Sql.number(
        on, "SELECT count(*) FROM nodley_deliveries WHERE " + state + " AND outlet = ?", outlet);
  }

  private record Off(long since, String why) {}

  private static Optional<Off> off(Connection on, String outlet) throws SQLException {
    return Sql.first(
        on,
        row -> new Off(row.getLong(1), row.getString(2)),
        "SELECT since, why FROM nodley_outlets_off WHERE outlet = ?",
        outlet);
  }

  /** True if an outlet is switched off: what is for it waits. */
  public boolean isOff(String outlet) {
    return database.read(on -> off(on, outlet)).isPresent();
  }

  /** Switches an outlet off; it stays so until somebody switches it on. */
  public void switchOff(String outlet, String why) {
    writer.write(
        on ->
            Sql.run(
                on,
                "INSERT INTO nodley_outlets_off (outlet, since, why) VALUES (?, ?, ?)"
                    + " ON CONFLICT (outlet) DO NOTHING",
                outlet,
                clock.millis(),
                why));
  }

  /** Switches an outlet on again, and has all that waits for it sent. */
  public void switchOn(String outlet) {
    writer.write(on -> Sql.run(on, "DELETE FROM nodley_outlets_off WHERE outlet = ?", outlet));
    deliveries.hurry(outlet);
  }
}
