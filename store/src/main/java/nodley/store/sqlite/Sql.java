package nodley.store.sqlite;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import org.sqlite.Function;
import org.sqlite.SQLiteConnection;
import org.sqlite.core.Codes;

/**
 * Runs SQL: queries for lists, single rows and numbers, statements. Values are always bound and
 * never part of the SQL text; names are, in quotation marks ({@link #quoted}). Statements are
 * prepared once for each connection. On the thread and in the transaction of the caller.
 */
public final class Sql {

  private Sql() {}

  /** Reads one row. */
  public interface RowReader<T> {
    T read(ResultSet row) throws SQLException;
  }

  /** An identifier as SQL text. Names of forms and fields hold no quotes, by their grammar. */
  public static String quoted(String name) {
    return "\"" + name.replace("\"", "\"\"") + "\"";
  }

  /** Runs a query and reads all its rows. Values are bound in their order. */
  public static <T> List<T> list(Connection on, RowReader<T> reader, String sql, Object... bound)
      throws SQLException {
    return with(
        on,
        sql,
        statement -> {
          bind(statement, bound);
          try (ResultSet rows = statement.executeQuery()) {
            List<T> list = new ArrayList<>();
            while (rows.next()) {
              list.add(reader.read(rows));
            }
            return list;
          }
        });
  }

  /** Takes some rows; false if no more are wanted. */
  public interface Portion<T> {
    boolean take(List<T> rows) throws SQLException;
  }

  /**
   * Runs one statement and passes its rows on in portions, until no more are wanted. Other
   * statements may run on the connection meanwhile.
   */
  public static <T> void portions(
      Connection on, RowReader<T> reader, int size, Portion<T> portion, String sql, Object... bound)
      throws SQLException {
    with(
        on,
        sql,
        statement -> {
          bind(statement, bound);
          try (ResultSet rows = statement.executeQuery()) {
            List<T> taken = new ArrayList<>();
            boolean wanted = true;
            while (wanted && rows.next()) {
              taken.add(reader.read(rows));
              if (taken.size() == size) {
                wanted = portion.take(taken);
                taken = new ArrayList<>();
              }
            }
            return wanted && portion.take(taken);
          }
        });
  }

  private interface Use<T> {
    T of(PreparedStatement statement) throws SQLException;
  }

  /** Uses a statement, which a connection may have prepared already. */
  private static <T> T with(Connection on, String sql, Use<T> use) throws SQLException {
    if (!(on instanceof PreparedConnection prepared)) {
      try (PreparedStatement statement = on.prepareStatement(sql)) {
        return use.of(statement);
      }
    }
    PreparedStatement statement = prepared.take(sql);
    boolean fine = false;
    try {
      T outcome = use.of(statement);
      fine = true;
      return outcome;
    } finally {
      if (fine) {
        prepared.giveBack(sql, statement);
      } else {
        // It has stopped halfway, and would stand in the way of a rollback.
        statement.close();
      }
    }
  }

  /** Runs a statement that nothing is bound to, such as one that begins a transaction. */
  static void execute(Connection on, String sql) throws SQLException {
    with(on, sql, PreparedStatement::execute);
  }

  /**
   * Runs a query and returns its first row; empty if there is none. Reads all rows, so the query
   * should have one.
   */
  public static <T> Optional<T> first(
      Connection on, RowReader<T> reader, String sql, Object... bound) throws SQLException {
    return list(on, reader, sql, bound).stream().findFirst();
  }

  /**
   * Runs a query and returns the number in the first column of its first row; 0 if there is none or
   * it is NULL.
   */
  public static long number(Connection on, String sql, Object... bound) throws SQLException {
    return first(on, row -> row.getLong(1), sql, bound).orElse(0L);
  }

  /** Runs a statement and gives the number of rows that it changed. */
  public static int run(Connection on, String sql, Object... bound) throws SQLException {
    return with(
        on,
        sql,
        statement -> {
          bind(statement, bound);
          return statement.executeUpdate();
        });
  }

  /** How many rows have been inserted, changed and deleted on a connection since it was opened. */
  static long changes(Connection on) throws SQLException {
    return on.unwrap(SQLiteConnection.class).getDatabase().total_changes();
  }

  /** The name under which SQL of the writer can call a function of ours. */
  public static final String FUNCTION = "nodley_own";

  private static final ScopedValue<UnaryOperator<Object>> CALLED = ScopedValue.newInstance();

  /** Lets SQL on a connection call {@link #FUNCTION}; done once, for SQLite forgets none in use. */
  static void addFunction(Connection on) throws SQLException {
    Function.create(on.unwrap(SQLiteConnection.class), FUNCTION, new Own());
  }

  /**
   * Runs a statement that calls {@link #FUNCTION}: text and numbers come in and go out; NULL does
   * not come in, and null goes out as NULL.
   */
  public static void runWith(
      Connection on, UnaryOperator<Object> function, String sql, Object... bound)
      throws SQLException {
    ScopedValue.where(CALLED, function).call(() -> run(on, sql, bound));
  }

  /** A function of one argument, as SQLite calls it, on the thread that runs the statement. */
  private static final class Own extends Function {

    @Override
    protected void xFunc() throws SQLException {
      Object given =
          switch (value_type(0)) {
            case Codes.SQLITE_INTEGER -> (Object) value_long(0);
            case Codes.SQLITE_FLOAT -> value_double(0);
            case Codes.SQLITE_NULL -> null;
            default -> value_text(0);
          };
      switch (given == null ? null : CALLED.get().apply(given)) {
        case null -> result();
        case Integer number -> result(number);
        case Long number -> result(number);
        case Double number -> result(number);
        case Object other -> result(other.toString());
      }
    }
  }

  private static void bind(PreparedStatement statement, Object... bound) throws SQLException {
    for (int i = 0; i < bound.length; i++) {
      statement.setObject(i + 1, bound[i]);
    }
  }
}
