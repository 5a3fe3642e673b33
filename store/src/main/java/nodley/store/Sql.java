package nodley.store;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * The few shapes in which SQL is run here; values are always bound, never written into the text.
 */
final class Sql {

  private Sql() {}

  /** Reads one row. */
  interface RowReader<T> {
    T read(ResultSet row) throws SQLException;
  }

  /** An identifier as SQL text. Names of forms and fields hold no quotes, by their grammar. */
  static String quoted(String name) {
    return "\"" + name.replace("\"", "\"\"") + "\"";
  }

  static <T> List<T> list(Connection on, RowReader<T> reader, String sql, Object... bound)
      throws SQLException {
    try (PreparedStatement statement = on.prepareStatement(sql)) {
      bind(statement, bound);
      try (ResultSet rows = statement.executeQuery()) {
        List<T> list = new ArrayList<>();
        while (rows.next()) {
          list.add(reader.read(rows));
        }
        return list;
      }
    }
  }

  static <T> Optional<T> first(Connection on, RowReader<T> reader, String sql, Object... bound)
      throws SQLException {
    return list(on, reader, sql, bound).stream().findFirst();
  }

  static long number(Connection on, String sql, Object... bound) throws SQLException {
    return first(on, row -> row.getLong(1), sql, bound).orElse(0L);
  }

  /** Runs a statement and gives the number of rows that it changed. */
  static int run(Connection on, String sql, Object... bound) throws SQLException {
    try (PreparedStatement statement = on.prepareStatement(sql)) {
      bind(statement, bound);
      return statement.executeUpdate();
    }
  }

  private static void bind(PreparedStatement statement, Object... bound) throws SQLException {
    for (int i = 0; i < bound.length; i++) {
      statement.setObject(i + 1, bound[i]);
    }
  }
}
