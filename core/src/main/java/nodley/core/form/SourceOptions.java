package nodley.core.form;

import java.util.List;

/**
 * Options that are rows of a table of somebody else's.
 *
 * @param value the column whose value is kept
 * @param label the column that people read
 * @param sort the column by which they are in order
 * @param marks the columns that {@code where} reads
 */
public record SourceOptions(SourceColumn value, String label, String sort, List<String> marks) {

  public SourceOptions {
    marks = List.copyOf(marks);
  }
}
