package nodley.store.source;

import java.sql.SQLException;
import java.util.Map;
import java.util.Set;

/**
 * What differs between the databases that can be looked into.
 *
 * <p>SQLite takes a name in double quotes that no column has for a text, so that its names stand in
 * backticks.
 */
enum Dialect {
  POSTGRESQL(
      "jdbc:postgresql:",
      "\"",
      // Bound texts take the type of the column that they are compared with, so that its index
      // serves.
      Map.of("stringtype", "unspecified", "ApplicationName", "nodley")),
  MARIADB("jdbc:mariadb:", "`", Map.of()),
  SQLITE("jdbc:sqlite:", "`", Map.of("open_mode", "1"));

  /** The class of SQLSTATE: ISO/IEC 9075-2, table 38. */
  private static final String DATA_EXCEPTION = "22";

  /**
   * A text has characters that the column's charset lacks: ER_CANT_AGGREGATE_2COLLATIONS and on.
   */
  private static final Set<Integer> MIXED_COLLATIONS = Set.of(1267, 1270, 1271);

  private final String prefix;
  private final String quote;
  private final Map<String, String> properties;

  Dialect(String prefix, String quote, Map<String, String> properties) {
    this.prefix = prefix;
    this.quote = quote;
    this.properties = properties;
  }

  /** Returns the dialect of a JDBC address; null if there is none. */
  static Dialect of(String url) {
    for (Dialect dialect : values()) {
      if (url.startsWith(dialect.prefix)) {
        return dialect;
      }
    }
    return null;
  }

  String quoted(String name) {
    return quote + name.replace(quote, quote + quote) + quote;
  }

  Map<String, String> properties() {
    return properties;
  }

  /**
   * True if the database says that a value cannot be in a column, as of another type or charset.
   */
  boolean isNoSuchValue(SQLException e) {
    return String.valueOf(e.getSQLState()).startsWith(DATA_EXCEPTION)
        || this == MARIADB && MIXED_COLLATIONS.contains(e.getErrorCode());
  }

  /** Returns the settings that end a connection that hangs, by the driver's names. */
  Map<String, String> timeouts(long millis) {
    String seconds = Long.toString(Math.max(1, millis / 1_000));
    return switch (this) {
      case POSTGRESQL ->
          Map.of("connectTimeout", seconds, "socketTimeout", seconds, "loginTimeout", seconds);
      case MARIADB ->
          Map.of("connectTimeout", Long.toString(millis), "socketTimeout", Long.toString(millis));
      case SQLITE -> Map.of("busy_timeout", Long.toString(millis));
    };
  }
}
