package nodley.core.form;

import java.util.List;
import java.util.Optional;
import nodley.core.expression.Expression;

/**
 * No two records keep the same values here, taken together; in rows, no two rows, of whatever
 * records. What is blank is never the same.
 *
 * @param rows the names that lead to the rows that it is about; empty for the form itself
 * @param paths of the values, from there: each a name, behind those of the groups around it
 * @param at the path of the field that its error stands at
 * @param ofForm true if {@code when} was written at the form, and sees its fields
 * @param ignoreCase compare texts by Unicode case folding, so that Ann@… and ann@… are the same
 * @param when it counts only while this holds
 * @param early false if it is answered at submission only
 * @param hold true if a page in which the value was found free sets it aside until it is sent
 * @param in a column of somebody else's table, in which the value must not be either
 * @param alternatives true if values near a taken one that are free are told with it
 */
public record Unique(
    List<String> rows,
    List<List<String>> paths,
    List<String> at,
    boolean ofForm,
    boolean ignoreCase,
    Optional<Expression> when,
    boolean early,
    boolean hold,
    boolean alternatives,
    Optional<SourceColumn> in) {

  /** True if it is about more than one value. */
  public boolean isTogether() {
    return paths.size() > 1;
  }

  /** The dotted paths as one text, such as {@code vessel+arrives}. */
  public String name() {
    if (!isTogether() && paths.getFirst().size() == 1) {
      return paths.getFirst().getFirst();
    }
    return String.join("+", paths.stream().map(path -> String.join(".", path)).toList());
  }
}
