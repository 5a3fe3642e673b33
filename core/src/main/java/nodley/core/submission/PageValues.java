package nodley.core.submission;

import java.util.Set;
import nodley.core.value.Values;

/**
 * What was typed, for a page that shows it again: tidied, and as it was sent where it could not be
 * read. What the form's rules leave out just now is there, too, so that it is not lost when they
 * ask for it again; secrets are not.
 *
 * @param hidden the names of the fields, outside of groups and rows, that are left out
 */
public record PageValues(Values values, Set<String> hidden) {
  public PageValues {
    hidden = Set.copyOf(hidden);
  }
}
