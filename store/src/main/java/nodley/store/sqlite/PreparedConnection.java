package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.SequencedMap;
import org.apache.commons.dbcp2.DelegatingConnection;

/**
 * A connection that caches its prepared statements, at most 500. For one user at a time. Preparing
 * a statement costs more than running it, and a general statement pool costs as much again.
 */
final class PreparedConnection extends DelegatingConnection<Connection> {

  /** A form needs some twenty. */
  private static final int STATEMENTS = 500;

  private final SequencedMap<String, PreparedStatement> kept = new LinkedHashMap<>(16, 0.75f, true);

  PreparedConnection(Connection connection) {
    super(connection);
  }

  /** A statement of one's own until it is given back; one that is in use is never given twice. */
  PreparedStatement take(String sql) throws SQLException {
    PreparedStatement statement = kept.remove(sql);
    return statement == null ? getInnermostDelegate().prepareStatement(sql) : statement;
  }

  void giveBack(String sql, PreparedStatement statement) throws SQLException {
    PreparedStatement other = kept.put(sql, statement);
    if (other != null) {
      other.close();
    }
    if (kept.size() > STATEMENTS) {
      kept.pollFirstEntry().getValue().close();
    }
  }

  @Override
  public void close() throws SQLException {
    for (PreparedStatement statement : kept.values()) {
      statement.close();
    }
    super.close();
  }
}
