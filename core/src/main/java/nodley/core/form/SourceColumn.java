package nodley.core.form;

import java.util.List;

/**
 * A column of a database that is there already, which the settings of the service name.
 *
 * @param source the name under which the settings have the database
 * @param table the name of the table, or of its schema and the table
 * @param column the name of the column
 */
public record SourceColumn(String source, List<String> table, String column) {

  public SourceColumn {
    table = List.copyOf(table);
  }

  /** Another column of the same table. */
  public SourceColumn beside(String other) {
    return new SourceColumn(source, table, other);
  }

  /** The table as it is written in form files. */
  public String tableName() {
    return source + "." + String.join(".", table);
  }

  @Override
  public String toString() {
    return tableName() + "." + column;
  }
}
