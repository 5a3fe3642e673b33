package nodley.begin;

import java.util.List;
import java.util.Optional;

/**
 * What a database says of a table or view, in the words of no database in particular.
 *
 * @param name the table, as it is written there
 * @param columns in their order
 * @param unique what is unique there, the primary key among it
 * @param references what columns refer to other tables
 * @param checks conditions on rows, in SQL: what stands inside {@code CHECK (…)}
 */
record TableDescription(
    String name,
    List<Column> columns,
    List<Unique> unique,
    List<Reference> references,
    List<String> checks) {

  /**
   * A column.
   *
   * @param type the type of a field that holds its values; empty if it is text, of which the name
   *     may say more
   * @param length how many characters it holds at most; empty if that is not bounded
   * @param decimals digits behind the decimal point; empty if that is not bounded
   * @param key true if it belongs to the primary key
   * @param filled true if it is declared {@code NOT NULL}
   * @param written its default, in SQL; empty if there is none
   * @param options the values of an enumerated type; empty for any other
   * @param leftOut why no field can hold its values; empty if one can
   * @param said what else is said of it
   */
  record Column(
      String name,
      Optional<String> type,
      Optional<Integer> length,
      Optional<Integer> decimals,
      boolean key,
      boolean filled,
      Optional<String> written,
      List<String> options,
      Optional<String> leftOut,
      Optional<String> said) {

    static final String GENERATED = "the database generates it.";
    static final String BYTES = "it holds bytes (see `type: file`).";

    /** A column of text, with nothing known of it but its name. */
    static Column named(String name) {
      return new Column(
          name,
          Optional.empty(),
          Optional.empty(),
          Optional.empty(),
          false,
          false,
          Optional.empty(),
          List.of(),
          Optional.empty(),
          Optional.empty());
    }

    Column withType(Optional<String> type, Optional<Integer> length, Optional<Integer> decimals) {
      return new Column(name, type, length, decimals, key, filled, written, options, leftOut, said);
    }

    Column withOptions(List<String> options) {
      return new Column(name, type, length, decimals, key, filled, written, options, leftOut, said);
    }

    Column leftOut(String why) {
      return new Column(
          name, type, length, decimals, key, filled, written, options, Optional.of(why), said);
    }

    Column saying(String what) {
      return new Column(
          name, type, length, decimals, key, filled, written, options, leftOut, Optional.of(what));
    }

    /** With what the database has of it beside its type. */
    Column declared(boolean key, boolean filled, String written) {
      return new Column(
          name,
          type,
          length,
          decimals,
          key,
          filled,
          Optional.ofNullable(written).filter(it -> !it.isBlank()),
          options,
          leftOut,
          said);
    }
  }

  /**
   * Columns that have each combination of values once.
   *
   * @param columns their names; empty where an expression stands in place of one
   * @param ignoreCase true if small and capital letters count as the same
   * @param partial true if only some rows count
   */
  record Unique(List<Optional<String>> columns, boolean ignoreCase, boolean partial) {}

  /** Columns whose values are a key of another table. */
  record Reference(List<String> columns, String table) {}
}
