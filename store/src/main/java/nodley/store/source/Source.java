package nodley.store.source;

import java.sql.Connection;
import java.sql.Date;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Time;
import java.sql.Timestamp;
import java.sql.Types;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import nodley.core.form.Choice;
import nodley.core.form.SourceColumn;
import nodley.core.form.SourceOptions;
import nodley.core.value.Value;
import nodley.core.value.Values;
import org.apache.commons.dbcp2.BasicDataSource;

/**
 * A database of somebody else's: whether a column has a value, and rows as options. Only reads, on
 * connections that cannot write, each question within a set time. Opening needs no connection.
 * Thread-safe; a question blocks.
 */
public final class Source implements AutoCloseable {

  private static final int CONNECTIONS = 8;
  private static final Duration IDLE = Duration.ofMinutes(1);

  /** Rows that are looked at for those that {@code where} holds for. */
  private static final int MOST_ROWS = 20_000;

  private static final int FETCHED_AT_ONCE = 500;

  /** Behind the value and the label. */
  private static final int FIRST_MARK = 3;

  private static final Set<Integer> NUMBERS =
      Set.of(
          Types.TINYINT,
          Types.SMALLINT,
          Types.INTEGER,
          Types.BIGINT,
          Types.NUMERIC,
          Types.DECIMAL,
          Types.REAL,
          Types.FLOAT,
          Types.DOUBLE);

  private static final Pattern NUMBER = Pattern.compile("-?[0-9]{1,40}(\\.[0-9]{1,40})?");

  private final BasicDataSource connections;
  private final Dialect dialect;
  private final Map<List<String>, Map<String, Integer>> tables = new ConcurrentHashMap<>();

  /**
   * Opens a database.
   *
   * @param url a JDBC address of PostgreSQL, MariaDB or SQLite
   * @param time how long a question may take
   * @throws IllegalArgumentException if the address is of another database
   */
  public Source(String url, String user, String password, Duration time) {
    dialect = Dialect.of(url);
    if (dialect == null) {
      throw new IllegalArgumentException(
          "an address begins with jdbc:postgresql:, jdbc:mariadb: or jdbc:sqlite:");
    }
    connections = new BasicDataSource();
    connections.setUrl(url);
    if (!user.isEmpty()) {
      connections.setUsername(user);
      connections.setPassword(password);
    }
    dialect.properties().forEach(connections::addConnectionProperty);
    dialect.timeouts(time.toMillis()).forEach(connections::addConnectionProperty);
    if (dialect != Dialect.SQLITE) {
      // SQLite's are opened so that they cannot write, and not told so afterwards.
      connections.setDefaultReadOnly(true);
    }
    connections.setDefaultAutoCommit(false);
    connections.setRollbackOnReturn(true);
    connections.setMaxTotal(CONNECTIONS);
    connections.setMaxIdle(CONNECTIONS);
    connections.setMinIdle(0);
    connections.setMaxWait(time);
    connections.setDefaultQueryTimeout(time);
    connections.setMinEvictableIdle(IDLE);
    connections.setDurationBetweenEvictionRuns(IDLE);
    connections.setTestOnBorrow(true);
    connections.setValidationQueryTimeout(time);
    connections.setPoolPreparedStatements(true);
    connections.setMaxOpenPreparedStatements(CONNECTIONS * 10);
  }

  private interface Question<T> {
    T ask(Connection connection) throws SQLException;
  }

  /**
   * Reads what has no method here.
   *
   * @param <E> why it may fail, beside the database
   */
  public interface Reading<T, E extends Exception> {

    /** Reads by a connection that cannot write, and that is lent only until this returns. */
    T read(Connection connection) throws E, SQLException;
  }

  /**
   * Lends a connection. Each of its statements takes no longer than a question may.
   *
   * @throws E what the reading throws
   */
  public <T, E extends Exception> T read(Reading<T, E> reading) throws SourceException, E {
    try (Connection connection = connections.getConnection()) {
      return reading.read(connection);
    } catch (SQLException e) {
      throw new SourceException(why(e), e);
    }
  }

  /**
   * Asks.
   *
   * @param none the answer where no row can have a value that is asked about
   */
  private <T> T ask(T none, Question<T> question) throws SourceException {
    try (Connection connection = connections.getConnection()) {
      return question.ask(connection);
    } catch (SQLException e) {
      if (dialect.isNoSuchValue(e)) {
        return none;
      }
      throw new SourceException(why(e), e);
    }
  }

  /** What an operator is told, without what the driver says of addresses and users. */
  private static String why(SQLException e) {
    String state = String.valueOf(e.getSQLState());
    return state.startsWith("08") || state.equals("null")
        ? "it cannot be reached"
        : "it answered with SQLSTATE " + state;
  }

  /**
   * Returns the columns of a table with their types as of {@link Types}; empty if there is none
   * that may be read.
   *
   * @param table its name, or the names of its schema and itself
   */
  public Optional<Map<String, Integer>> columns(List<String> table) throws SourceException {
    Optional<Map<String, Integer>> found =
        ask(Optional.empty(), connection -> columns(connection, table));
    found.ifPresentOrElse(it -> tables.put(table, it), () -> tables.remove(table));
    return found;
  }

  private Optional<Map<String, Integer>> columns(Connection connection, List<String> table)
      throws SQLException {
    try (PreparedStatement query =
            connection.prepareStatement("SELECT * FROM " + from(table) + " WHERE 1 = 0");
        ResultSet none = query.executeQuery()) {
      ResultSetMetaData about = none.getMetaData();
      Map<String, Integer> columns = new LinkedHashMap<>();
      for (int i = 1; i <= about.getColumnCount(); i++) {
        columns.put(about.getColumnName(i), about.getColumnType(i));
      }
      return Optional.of(columns);
    } catch (SQLException e) {
      if (connection.isValid(1)) {
        return Optional.empty();
      }
      throw e;
    }
  }

  private Map<String, Integer> known(Connection connection, List<String> table)
      throws SQLException {
    Map<String, Integer> known = tables.get(table);
    if (known == null) {
      known = columns(connection, table).orElseThrow(() -> gone(table));
      tables.put(table, known);
    }
    return known;
  }

  private static SQLException gone(List<String> table) {
    return new SQLException("no table " + String.join(".", table), "42S02");
  }

  private String from(List<String> table) {
    return String.join(".", table.stream().map(dialect::quoted).toList());
  }

  /** Returns whether a column has a value in some row. */
  public boolean has(SourceColumn column, Value value, boolean ignoreCase) throws SourceException {
    String text = value.shown();
    return ask(
        false,
        connection -> {
          if (!canBe(text, known(connection, column.table()), column.column())) {
            return false;
          }
          String name = dialect.quoted(column.column());
          String equal = ignoreCase ? "LOWER(" + name + ") = LOWER(?)" : name + " = ?";
          try (PreparedStatement query =
              connection.prepareStatement(
                  "SELECT 1 FROM " + from(column.table()) + " WHERE " + equal + " LIMIT 1")) {
            query.setString(1, text);
            try (ResultSet row = query.executeQuery()) {
              return row.next();
            }
          }
        });
  }

  /** Some databases compare a number with the digits that a text begins with. */
  private static boolean canBe(String text, Map<String, Integer> columns, String column)
      throws SQLException {
    Integer type = columns.get(column);
    if (type == null) {
      throw new SQLException("no column " + column, "42S22");
    }
    return !NUMBERS.contains(type) || NUMBER.matcher(text).matches();
  }

  /** Returns the option of a value, with what {@code where} reads as its marks. */
  public Optional<Choice> option(SourceOptions options, String value) throws SourceException {
    SourceColumn column = options.value();
    return ask(
        Optional.empty(),
        connection -> {
          if (!canBe(value, known(connection, column.table()), column.column())) {
            return Optional.empty();
          }
          try (PreparedStatement query =
              connection.prepareStatement(
                  select(connection, options)
                      + " WHERE "
                      + dialect.quoted(column.column())
                      + " = ? LIMIT 1")) {
            query.setString(1, value);
            try (ResultSet row = query.executeQuery()) {
              return row.next() ? Optional.of(choice(row)) : Optional.empty();
            }
          }
        });
  }

  private String select(Connection connection, SourceOptions options) throws SQLException {
    List<String> columns = new ArrayList<>(List.of(options.value().column(), options.label()));
    columns.addAll(options.marks());
    // What is no column is a field of the form.
    columns.retainAll(known(connection, options.value().table()).keySet());
    return "SELECT "
        + String.join(", ", columns.stream().map(dialect::quoted).toList())
        + " FROM "
        + from(options.value().table());
  }

  /**
   * Returns the options whose label contains some words, whatever their case; those that begin with
   * them first, else in their order.
   *
   * @param offered which of them count; as many rows are looked at as one question may
   * @param most how many are wanted
   */
  public List<Choice> search(
      SourceOptions options, String words, Predicate<Choice> offered, int most)
      throws SourceException {
    String label = "LOWER(" + dialect.quoted(options.label()) + ")";
    String part = words.strip().toLowerCase(Locale.ROOT).replaceAll("([!%_])", "!$1");
    String like = label + " LIKE ? ESCAPE '!'";
    String query =
        (part.isEmpty() ? "" : " WHERE " + like)
            + " ORDER BY "
            + (part.isEmpty() ? "" : "CASE WHEN " + like + " THEN 0 ELSE 1 END, ")
            + dialect.quoted(options.sort())
            + " LIMIT "
            + (options.marks().isEmpty() ? most : MOST_ROWS);
    return ask(
        List.of(),
        connection -> {
          try (PreparedStatement rows =
              connection.prepareStatement(select(connection, options) + query)) {
            rows.setFetchSize(FETCHED_AT_ONCE);
            if (!part.isEmpty()) {
              rows.setString(1, "%" + part + "%");
              rows.setString(2, part + "%");
            }
            return choices(rows, offered, most);
          }
        });
  }

  private static List<Choice> choices(PreparedStatement rows, Predicate<Choice> offered, int most)
      throws SQLException {
    List<Choice> found = new ArrayList<>();
    try (ResultSet row = rows.executeQuery()) {
      while (found.size() < most && row.next()) {
        Choice choice = choice(row);
        if (!choice.value().isEmpty() && offered.test(choice)) {
          found.add(choice);
        }
      }
    }
    return found;
  }

  private static Choice choice(ResultSet row) throws SQLException {
    ResultSetMetaData about = row.getMetaData();
    Map<String, Value> marks = new LinkedHashMap<>();
    for (int i = FIRST_MARK; i <= about.getColumnCount(); i++) {
      marks.put(about.getColumnName(i), value(row, i, about.getColumnType(i)));
    }
    String value = text(row, 1);
    String label = text(row, 2);
    return new Choice(value, label.isEmpty() ? value : label, true, new Values(marks));
  }

  private static String text(ResultSet row, int column) throws SQLException {
    String text = row.getString(column);
    return text == null ? "" : text;
  }

  private static Value value(ResultSet row, int column, int type) throws SQLException {
    if (row.getObject(column) == null) {
      return Value.BLANK;
    }
    if (NUMBERS.contains(type)) {
      return new Value.Number(row.getBigDecimal(column));
    }
    return switch (type) {
      case Types.BOOLEAN, Types.BIT -> Value.Bool.of(row.getBoolean(column));
      case Types.DATE -> {
        Date date = row.getDate(column);
        yield new Value.Date(date.toLocalDate());
      }
      case Types.TIME -> {
        Time time = row.getTime(column);
        yield new Value.Time(time.toLocalTime());
      }
      case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE -> {
        Timestamp moment = row.getTimestamp(column);
        yield new Value.Moment(moment.toInstant());
      }
      default -> {
        String text = text(row, column);
        yield text.isEmpty() ? Value.BLANK : new Value.Text(text);
      }
    };
  }

  @Override
  public void close() {
    try {
      connections.close();
    } catch (SQLException e) {
      // They are gone already.
    }
  }
}
