package nodley.core.submission;

import java.util.List;
import nodley.core.form.Unique;
import nodley.core.value.Value;

/**
 * The values of one {@code unique} in one submission, which no other record may have.
 *
 * @param rows indexes of the rows that it is in, the outermost first; empty outside rows
 * @param values one for each path of the unique, none of them blank
 */
public record UniqueKey(Unique unique, List<Integer> rows, List<Value> values) {}
