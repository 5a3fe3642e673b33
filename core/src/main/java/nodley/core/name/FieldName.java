package nodley.core.name;

import java.util.Locale;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * The names that fields may have, and the marks of options: {@code callSign} or {@code call_sign}.
 */
public final class FieldName {

  /** How many characters a name has at most. */
  public static final int LONGEST = 40;

  /** A small letter, then letters and digits, with single underscores between them. */
  public static final String PATTERN = "[a-z][A-Za-z0-9]*(_[A-Za-z0-9]+)*";

  private static final Pattern LEGAL = Pattern.compile(PATTERN);

  /** Nodley's own, JavaScript's, and the two that SQLite keeps for the number of a row. */
  private static final Set<String> BARRED =
      Set.of("id", "form", "version", "revision", "constructor", "prototype", "rowid", "oid");

  /** The columns that a table has besides those of fields; their names have no case. */
  private static final Set<String> COLUMNS =
      Set.of(
          "created_at",
          "updated_at",
          "updated_by",
          "record_number",
          "row_id",
          "record_id",
          "row_number",
          "outer_row");

  /** What follows a field's name in the column for its text without case. */
  private static final String FOLDED = "_folded";

  private FieldName() {}

  /** True if it is written as a name is, whatever it means. */
  public static boolean isWrittenSo(String name) {
    return name.length() <= LONGEST && LEGAL.matcher(name).matches();
  }

  /** True if the name is in use already. */
  public static boolean isBarred(String name) {
    String small = name.toLowerCase(Locale.ROOT);
    return BARRED.contains(name) || COLUMNS.contains(small) || small.endsWith(FOLDED);
  }
}
