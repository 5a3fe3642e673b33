package nodley.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.SequencedMap;
import org.apache.commons.dbcp2.DelegatingConnection;

/**
 * A connection that keeps its statements prepared, for one user at a time. To prepare one costs
 * more than to run it; and a pool of statements costs as much again, for it has many users in mind.
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
