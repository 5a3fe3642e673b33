package nodley.store.access;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import nodley.store.sqlite.Sql;

/** Counts who may do everything: with nobody left, nobody could give that right any more. */
final class Admins {

  private static final String IS_ADMIN =
      " AND instr(' ' || roles || ' ', ' " + Roles.ADMIN + " ') > 0";

  private Admins() {}

  /** Returns true if there is a good key of an admin, or an admin with a password, but these. */
  static boolean areThereBesides(Connection on, Clock clock, String keyName, String personId)
      throws SQLException {
    LocalDate today = clock.instant().atZone(ZoneOffset.UTC).toLocalDate();
    long keys =
        Sql.number(
            on,
            "SELECT count(*) FROM nodley_keys WHERE name <> ? AND forms = ''"
                + " AND (until = '' OR until >= ?)"
                + IS_ADMIN,
            keyName,
            today.toString());
    long people =
        Sql.number(
            on,
            "SELECT count(*) FROM nodley_people WHERE id <> ? AND password <> ''" + IS_ADMIN,
            personId);
    return keys + people > 0;
  }
}
