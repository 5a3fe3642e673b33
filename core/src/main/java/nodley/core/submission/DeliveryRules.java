package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import nodley.core.expression.Expression;
import nodley.core.form.DeliveryRule;
import nodley.core.form.Form;
import nodley.core.value.Values;

/** Picks the outlets that are told of a change. Stateless. */
public final class DeliveryRules {

  private DeliveryRules() {}

  /**
   * Returns the rules of a form that a change of a record falls under.
   *
   * @param values the record's after the change; before it, where it is removed
   * @param context of the submission
   */
  public static List<DeliveryRule> of(
      Form form, DeliveryRule.Change change, Values values, Context context, Lookups lookups) {
    List<DeliveryRule> rules = new ArrayList<>();
    for (DeliveryRule rule : form.deliveries()) {
      Optional<Expression> when = rule.when().when();
      if (rule.on().contains(change)
          && (when.isEmpty()
              ? rule.when().always()
              : new Selection(form, when.get(), context, lookups).holds(values))) {
        rules.add(rule);
      }
    }
    return rules;
  }
}
