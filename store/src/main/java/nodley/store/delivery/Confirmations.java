package nodley.store.delivery;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import nodley.store.sqlite.Sql;

/**
 * The links by which addresses of records are confirmed: the latest of each record. All in the
 * caller's transaction.
 */
public final class Confirmations {

  private static final String SELECT =
      "SELECT form, record_id, code, ends_at, confirmed_at FROM nodley_confirmations";

  private static final String OF_RECORD = " WHERE form = ? AND record_id = ?";

  private Confirmations() {}

  /**
   * A link.
   *
   * @param code the id of the delivery that mails it
   * @param endsAt until when it is good
   * @param confirmedAt RFC 3339, UTC; empty until the address is confirmed
   */
  public record Link(String form, String record, String code, Instant endsAt, String confirmedAt) {

    /** True if the address can be confirmed by it at a moment. */
    public boolean isGoodAt(Instant now) {
      return confirmedAt.isEmpty() && now.isBefore(endsAt);
    }
  }

  /** Asks for a confirmation; an earlier link of the record is not good any more. */
  static void ask(Connection on, Outgoing outgoing, String code, Instant endsAt)
      throws SQLException {
    drop(on, outgoing.form(), outgoing.record());
    Sql.run(
        on,
        "INSERT INTO nodley_confirmations (form, record_id, code, ends_at) VALUES (?, ?, ?, ?)",
        outgoing.form(),
        outgoing.record(),
        code,
        endsAt.toEpochMilli());
  }

  /** Forgets the link of a record. */
  public static void drop(Connection on, String form, String record) throws SQLException {
    Sql.run(on, "DELETE FROM nodley_confirmations" + OF_RECORD, form, record);
  }

  /** Returns the link of a code; empty if it is not the latest of its record. */
  public static Optional<Link> find(Connection on, String code) throws SQLException {
    return Sql.first(on, Confirmations::read, SELECT + " WHERE code = ?", code);
  }

  /** Writes that an address is confirmed. */
  public static void confirm(Connection on, Link link, String now) throws SQLException {
    Sql.run(
        on, "UPDATE nodley_confirmations SET confirmed_at = ? WHERE code = ?", now, link.code());
  }

  /** Returns the links of a form that ended before a moment without a confirmation. */
  public static List<Link> ended(Connection on, String form, Instant before, int most)
      throws SQLException {
    return Sql.list(
        on,
        Confirmations::read,
        SELECT + " WHERE form = ? AND confirmed_at = '' AND ends_at < ? ORDER BY ends_at LIMIT ?",
        form,
        before.toEpochMilli(),
        most);
  }

  private static Link read(ResultSet row) throws SQLException {
    return new Link(
        row.getString(1),
        row.getString(2),
        row.getString(3),
        Instant.ofEpochMilli(row.getLong(4)),
        row.getString(5));
  }
}
