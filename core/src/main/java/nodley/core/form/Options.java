package nodley.core.form;

import java.util.List;
import java.util.Optional;
import nodley.core.expression.Expression;

/**
 * What a field offers.
 *
 * @param choices in order; for a reference they are the records of another form, and none here
 * @param list the name of the list that they come from
 * @param where which of them are offered, by the option's own marks or fields and by other fields
 */
public record Options(List<Choice> choices, Optional<String> list, Optional<Expression> where) {

  public static final Options NONE = new Options(List.of(), Optional.empty(), Optional.empty());

  public Options {
    choices = List.copyOf(choices);
  }

  public Optional<Choice> find(String value) {
    for (int i = 0; i < choices.size(); i++) {
      if (choices.get(i).value().equals(value)) {
        return Optional.of(choices.get(i));
      }
    }
    return Optional.empty();
  }
}
