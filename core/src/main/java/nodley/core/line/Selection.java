package nodley.core.line;

import java.util.Optional;
import nodley.core.expression.Expression;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Form;
import nodley.core.value.Values;

/** Picks records of a form by a condition. */
public final class Selection {

  private final Expression condition;
  private final EvaluationContext around;

  public Selection(Form form, Expression condition, Context context, Lookups facts) {
    this.condition = condition;
    this.around = new Course(form, context, facts, Optional.empty()).scene();
  }

  /** True if it holds for a record; what cannot be asked now does not hold. */
  public boolean holds(Values record) {
    try {
      return condition.holds(new OptionContext(record, around));
    } catch (LookupUnavailable e) {
      return false;
    }
  }
}
