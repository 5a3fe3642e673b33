package nodley.core.submission;

import java.util.List;
import nodley.core.form.Unique;
import nodley.core.value.Value;

/**
 * What a submission wants for itself alone.
 *
 * @param rows the numbers of the rows that it stands in, the outermost first; empty outside rows
 * @param values one for each path of the unique, none of them blank
 */
public record UniqueKey(Unique unique, List<Integer> rows, List<Value> values) {}
