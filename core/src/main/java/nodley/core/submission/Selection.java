package nodley.core.submission;

import java.util.Optional;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.Expression;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Values;

/** Selects records of a form by a condition, such as {@code where} of a list. */
public final class Selection {

  private final Expression condition;
  private final EvaluationContext around;

  /**
   * Selects the records for which a condition is true.
   *
   * @param lookups reads the records that the condition refers to
   */
  public Selection(Form form, Expression condition, Context context, Lookups lookups) {
    this.condition = condition;
    Request request = Request.of(form, Input.NOTHING, context, lookups, Optional.empty());
    this.around = FieldStates.of(request).context(request);
  }

  /** Returns true if the condition is true for a record; false if a lookup is unavailable. */
  public boolean holds(Values record) {
    try {
      return condition.holds(new OptionContext(record, around, false));
    } catch (LookupUnavailable e) {
      return false;
    }
  }
}
