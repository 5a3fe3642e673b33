package nodley.store.sqlite;

import java.util.Arrays;
import java.util.stream.Collectors;

/**
 * Pieces of SQL that each engine writes in its own way: what is in a JSON text, and the order of
 * rows (sqlite.org/json1.html, sqlite.org/rowidtable.html). Columns are passed as they stand in
 * SQL, members by their name or dotted path.
 */
public final class EngineSql {

  private EngineSql() {}

  /** The text of a member; NULL if there is none. */
  public static String member(String column, String member) {
    return column + " ->> " + path(member);
  }

  /** An object without some members. */
  public static String without(String column, String... members) {
    return "json_remove(" + column + ", " + paths(members) + ")";
  }

  /**
   * An object with a member, added or replaced.
   *
   * @param value a text in quotes, or {@link #emptyObject}
   */
  public static String with(String object, String member, String value) {
    return "json_set(" + object + ", " + path(member) + ", " + value + ")";
  }

  /** An object without members, as the value of a member. */
  public static String emptyObject() {
    return "json('{}')";
  }

  /** An array of objects, each of them without some members. */
  public static String eachWithout(String column, String... members) {
    return "(SELECT json_group_array(json("
        + without("value", members)
        + ")) FROM json_each("
        + column
        + "))";
  }

  /** A condition that an array has an element, which is bound. */
  public static String contains(String column) {
    return "EXISTS (SELECT 1 FROM json_each(" + column + ") WHERE value = ?)";
  }

  /** A condition that a column's value is among the elements of an array, which is bound. */
  public static String isAmong(String column) {
    return column + " IN (SELECT value FROM json_each(?))";
  }

  /** The number that hexadecimal digits say, up to 15 of them (JSON5 knows such numbers). */
  public static String hexadecimal(String digits) {
    return "('0x' || " + digits + ") ->> '$'";
  }

  /** The length of a text in bytes of UTF-8. */
  public static String bytes(String column) {
    return "octet_length(" + column + ")";
  }

  /** A number that grows from row to row of a table, in the order in which they were added. */
  public static String rowOrder(String table) {
    return table + ".rowid";
  }

  private static String paths(String... members) {
    return Arrays.stream(members).map(EngineSql::path).collect(Collectors.joining(", "));
  }

  private static String path(String member) {
    return "'$." + member + "'";
  }
}
