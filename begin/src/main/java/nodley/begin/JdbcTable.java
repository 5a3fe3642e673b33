package nodley.begin;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import nodley.begin.TableDescription.Column;
import nodley.begin.TableDescription.Reference;
import nodley.begin.TableDescription.Unique;

/**
 * Reads what PostgreSQL and MariaDB say of their tables: by JDBC's {@link DatabaseMetaData}, and by
 * their catalogues for what that lacks (values of enumerated types, collations, checks).
 */
final class JdbcTable {

  /** Longer than this is no bound that anybody set. */
  private static final int LONGEST = 100_000;

  private static final int MOST_DIGITS = 1_000;

  private static final Pattern LITERAL = Pattern.compile("'((?:[^']|'')*)'");

  /** An expression that an index has in place of a column: of small letters. */
  private static final Pattern LOWER =
      Pattern.compile("lower\\(\\(?\"?([A-Za-z_]\\w*)\"?\\)?(?:::text)?\\)");

  private static final String[] KINDS = {
    "TABLE", "BASE TABLE", "PARTITIONED TABLE", "FOREIGN TABLE", "VIEW", "MATERIALIZED VIEW"
  };

  private final Connection connection;
  private final DatabaseMetaData about;
  private final boolean postgres;

  /** The schema and the table. Of MariaDB, a schema is what JDBC calls a catalogue. */
  private final String schema;

  private final String table;

  private JdbcTable(Connection connection, String schema, String table) throws SQLException {
    this.connection = connection;
    this.about = connection.getMetaData();
    this.postgres = isPostgres(connection);
    this.schema = schema;
    this.table = table;
  }

  /** Returns the names of tables and views; with their schema, where that is not the usual one. */
  static List<List<String>> names(Connection connection) throws SQLException {
    boolean postgres = isPostgres(connection);
    String usual = usual(connection, postgres);
    List<List<String>> names = new ArrayList<>();
    try (ResultSet row =
        connection
            .getMetaData()
            // Of MariaDB, an address without a database has those of all.
            .getTables(
                postgres ? connection.getCatalog() : usual.isEmpty() ? null : usual,
                null,
                "%",
                KINDS)) {
      while (row.next()) {
        String schema = row.getString(postgres ? "TABLE_SCHEM" : "TABLE_CAT");
        String name = row.getString("TABLE_NAME");
        names.add(schema.equals(usual) ? List.of(name) : List.of(schema, name));
      }
    }
    return names;
  }

  private static boolean isPostgres(Connection connection) throws SQLException {
    return connection.getMetaData().getDatabaseProductName().equals("PostgreSQL");
  }

  private static String usual(Connection connection, boolean postgres) throws SQLException {
    String usual = postgres ? connection.getSchema() : connection.getCatalog();
    return usual == null ? "" : usual;
  }

  /**
   * Reads one.
   *
   * @param table one of {@link #names}
   */
  static TableDescription read(Connection connection, List<String> table) throws SQLException {
    String schema = table.size() > 1 ? table.getFirst() : usual(connection, isPostgres(connection));
    return new JdbcTable(connection, schema, table.getLast()).read();
  }

  private TableDescription read() throws SQLException {
    return new TableDescription(table, columns(), unique(), references(), checks());
  }

  private String catalog() throws SQLException {
    return postgres ? connection.getCatalog() : schema;
  }

  private String schemaPattern() {
    return postgres ? escaped(schema) : null;
  }

  /** JDBC takes some names for patterns. */
  private String escaped(String name) {
    return name.replace("\\", "\\\\").replace("_", "\\_").replace("%", "\\%");
  }

  private List<Column> columns() throws SQLException {
    List<String> keys = new ArrayList<>();
    try (ResultSet row = about.getPrimaryKeys(catalog(), postgres ? schema : null, table)) {
      while (row.next()) {
        keys.add(row.getString("COLUMN_NAME"));
      }
    }
    List<Column> columns = new ArrayList<>();
    try (ResultSet row = about.getColumns(catalog(), schemaPattern(), escaped(table), "%")) {
      while (row.next()) {
        columns.add(column(row, keys));
      }
    }
    List<Column> whole = new ArrayList<>();
    for (Column column : columns) {
      whole.add(column.options().isEmpty() ? column : column.withOptions(options(column)));
    }
    return whole;
  }

  private static Column column(ResultSet row, List<String> keys) throws SQLException {
    String name = row.getString("COLUMN_NAME");
    int type = row.getInt("DATA_TYPE");
    String typeName = row.getString("TYPE_NAME");
    int size = row.getInt("COLUMN_SIZE");
    int digits = row.getInt("DECIMAL_DIGITS");
    Column column =
        typed(Column.named(name), type, typeName.toLowerCase(Locale.ROOT), size, digits)
            .declared(
                keys.contains(name),
                row.getInt("NULLABLE") == DatabaseMetaData.columnNoNulls,
                row.getString("COLUMN_DEF"));
    return "YES".equals(row.getString("IS_GENERATEDCOLUMN"))
        ? column.leftOut(Column.GENERATED)
        : column;
  }

  private static Column typed(Column column, int type, String typeName, int size, int digits) {
    if (typeName.startsWith("enum") || typeName.startsWith("set")) {
      // Its values are read later; until then its type stands for them.
      return typeName.startsWith("enum")
          ? column.withOptions(List.of(typeName))
          : column.saying("There its type is set: several of its values at once.");
    }
    return switch (type) {
      case Types.BOOLEAN, Types.BIT -> of(column, "boolean");
      case Types.TINYINT, Types.SMALLINT, Types.INTEGER, Types.BIGINT -> of(column, "integer");
      case Types.REAL, Types.FLOAT, Types.DOUBLE -> of(column, "decimal");
      case Types.NUMERIC, Types.DECIMAL ->
          column.withType(
              Optional.of("decimal"),
              Optional.empty(),
              Optional.of(digits).filter(_ -> size > 0 && size <= MOST_DIGITS));
      case Types.DATE -> of(column, typeName.equals("year") ? "integer" : "date");
      case Types.TIME, Types.TIME_WITH_TIMEZONE -> of(column, "time");
      case Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE -> of(column, "datetime");
      case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB ->
          column.leftOut(Column.BYTES);
      case Types.VARCHAR, Types.CHAR, Types.NVARCHAR, Types.NCHAR ->
          column
              .withType(
                  Optional.empty(),
                  Optional.of(size).filter(it -> it > 0 && it <= LONGEST),
                  Optional.empty())
              .withOptions(isBuiltIn(typeName) ? List.of() : List.of(typeName));
      case Types.LONGVARCHAR, Types.LONGNVARCHAR, Types.CLOB -> column;
      default -> column.saying("There its type is " + typeName + ".");
    };
  }

  /** PostgreSQL tells of an enumerated type as of a text, under the name of that type. */
  private static boolean isBuiltIn(String typeName) {
    return typeName.matches("(var|bp|long)?(n?char|text|varchar2?)|name|citext|n?varchar.*|char.*");
  }

  private static Column of(Column column, String type) {
    return column.withType(Optional.of(type), Optional.empty(), Optional.empty());
  }

  private List<String> options(Column column) throws SQLException {
    if (postgres) {
      return texts(
          "SELECT e.enumlabel FROM pg_attribute a JOIN pg_enum e ON e.enumtypid = a.atttypid"
              + " JOIN pg_class c ON c.oid = a.attrelid"
              + " JOIN pg_namespace n ON n.oid = c.relnamespace"
              + " WHERE n.nspname = ? AND c.relname = ? AND a.attname = ?"
              + " ORDER BY e.enumsortorder",
          schema,
          table,
          column.name());
    }
    List<String> options = new ArrayList<>();
    for (String written :
        texts(
            "SELECT column_type FROM information_schema.columns"
                + " WHERE table_schema = ? AND table_name = ? AND column_name = ?",
            schema,
            table,
            column.name())) {
      Matcher literal = LITERAL.matcher(written);
      while (written.startsWith("enum") && literal.find()) {
        options.add(literal.group(1).replace("''", "'"));
      }
    }
    return options;
  }

  private List<String> texts(String sql, String... given) throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(sql)) {
      for (int i = 0; i < given.length; i++) {
        statement.setString(i + 1, given[i]);
      }
      List<String> texts = new ArrayList<>();
      try (ResultSet row = statement.executeQuery()) {
        while (row.next()) {
          texts.add(row.getString(1));
        }
      }
      return texts;
    }
  }

  private List<Unique> unique() throws SQLException {
    Map<String, Map<Integer, String>> columns = new LinkedHashMap<>();
    Map<String, Boolean> partial = new HashMap<>();
    try (ResultSet row =
        about.getIndexInfo(catalog(), postgres ? schema : null, table, true, true)) {
      while (row.next()) {
        String index = row.getString("INDEX_NAME");
        if (index != null) {
          columns
              .computeIfAbsent(index, _ -> new TreeMap<>())
              .put(row.getInt("ORDINAL_POSITION"), row.getString("COLUMN_NAME"));
          partial.put(index, row.getString("FILTER_CONDITION") != null);
        }
      }
    }
    List<String> folded = folded();
    return columns.entrySet().stream()
        .map(it -> unique(List.copyOf(it.getValue().values()), folded, partial.get(it.getKey())))
        .toList();
  }

  private static Unique unique(List<String> told, List<String> folded, boolean partial) {
    List<Optional<String>> columns = new ArrayList<>();
    boolean ignoreCase = false;
    for (String column : told) {
      String plain = column.replaceAll("^\"|\"$", "");
      Matcher lower = LOWER.matcher(column);
      if (lower.matches()) {
        columns.add(Optional.of(lower.group(1)));
        ignoreCase = true;
      } else {
        columns.add(Optional.of(plain).filter(it -> !it.contains("(")));
        ignoreCase |= folded.contains(plain);
      }
    }
    return new Unique(columns, ignoreCase, partial);
  }

  /** The columns whose values are the same whatever their case. */
  private List<String> folded() throws SQLException {
    return texts(
        "SELECT column_name FROM information_schema.columns"
            + " WHERE table_schema = ? AND table_name = ? AND "
            + (postgres ? "udt_name = 'citext'" : "collation_name LIKE '%!_ci' ESCAPE '!'"),
        schema,
        table);
  }

  private List<Reference> references() throws SQLException {
    Map<String, Map<Integer, String>> columns = new LinkedHashMap<>();
    Map<String, String> tables = new HashMap<>();
    try (ResultSet row = about.getImportedKeys(catalog(), postgres ? schema : null, table)) {
      while (row.next()) {
        String key = row.getString("FK_NAME");
        columns
            .computeIfAbsent(key, _ -> new TreeMap<>())
            .put(row.getInt("KEY_SEQ"), row.getString("FKCOLUMN_NAME"));
        tables.put(key, row.getString("PKTABLE_NAME"));
      }
    }
    return columns.entrySet().stream()
        .map(it -> new Reference(List.copyOf(it.getValue().values()), tables.get(it.getKey())))
        .toList();
  }

  private List<String> checks() throws SQLException {
    String sql =
        postgres
            ? "SELECT pg_get_expr(k.conbin, k.conrelid) FROM pg_constraint k"
                + " JOIN pg_class c ON c.oid = k.conrelid"
                + " JOIN pg_namespace n ON n.oid = c.relnamespace"
                + " WHERE k.contype = 'c' AND n.nspname = ? AND c.relname = ? ORDER BY k.conname"
            : "SELECT check_clause FROM information_schema.check_constraints"
                + " WHERE constraint_schema = ? AND table_name = ? ORDER BY constraint_name";
    return texts(sql, schema, table);
  }
}
