package nodley.core.submission;

import java.util.List;
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
    return form.deliveries().stream()
        .filter(it -> it.on().contains(change))
        .filter(
            it ->
                it.when()
                    .when()
                    .map(when -> new Selection(form, when, context, lookups).holds(values))
                    .orElse(it.when().always()))
        .toList();
  }
}
