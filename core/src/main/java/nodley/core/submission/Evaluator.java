package nodley.core.submission;

import nodley.core.expression.EvaluationContext;
import nodley.core.expression.Expression;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Condition;
import nodley.core.value.Value;

/**
 * Evaluates expressions and conditions of fields within one submission. If a lookup is unavailable,
 * the field is reported as open, and nothing is thrown.
 */
record Evaluator(Request request, Problems problems) {

  /**
   * Returns whether a condition of a field is true.
   *
   * @param otherwise what is returned if a lookup is unavailable
   */
  boolean holds(Condition condition, FieldState state, boolean otherwise) {
    if (condition.when().isEmpty()) {
      return condition.always();
    }
    try {
      return condition.holds(context(state.siblings));
    } catch (LookupUnavailable e) {
      problems.leaveOpen(state);
      return otherwise;
    }
  }

  /** Returns the value of an expression of a field; null if a lookup is unavailable. */
  Value value(Expression expression, FieldState state) {
    return value(expression, state, context(state.siblings));
  }

  /** The same where the expression can read more than the fields around it. */
  Value value(Expression expression, FieldState state, EvaluationContext context) {
    try {
      return expression.value(context);
    } catch (LookupUnavailable e) {
      problems.leaveOpen(state);
      return null;
    }
  }

  /** Returns what expressions of these siblings can read. */
  EvaluationContext context(FieldStates siblings) {
    return siblings.context(request);
  }
}
