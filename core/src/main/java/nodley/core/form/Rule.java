package nodley.core.form;

import java.util.List;
import java.util.Optional;
import nodley.core.expression.Expression;

/**
 * A condition over several fields.
 *
 * @param must what must not come to false
 * @param at the path of the field that its error stands at; empty for the form as a whole
 * @param say the sentence of its error
 */
public record Rule(Expression must, List<String> at, Optional<Sentence> say) {
  public Rule {
    at = List.copyOf(at);
  }
}
