package nodley.core.form;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.Expression;

/**
 * A condition over several fields.
 *
 * @param must what must not come to false
 * @param at the path of the field that its error stands at; empty for the form as a whole
 * @param say the sentence of its error
 * @param with what the parameters of a part stand for, which the sentence may name
 */
public record Rule(
    Expression must, List<String> at, Optional<Sentence> say, Map<String, Expression> with) {
  public Rule {
    at = List.copyOf(at);
    with = Map.copyOf(with);
  }

  /** The same with another sentence. */
  public Rule saying(Optional<Sentence> other) {
    return new Rule(must, at, other, with);
  }
}
