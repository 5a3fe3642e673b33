package nodley.core.form;

import java.util.Optional;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.Expression;
import nodley.core.expression.LookupUnavailable;

/**
 * Decides whether a field is required, shown or editable: always, never, or where an expression
 * holds. Immutable; evaluating it costs what its expression costs.
 *
 * @param always what holds where there is no expression
 */
public record Condition(boolean always, Optional<Expression> when) {

  public static final Condition ALWAYS = new Condition(true, Optional.empty());
  public static final Condition NEVER = new Condition(false, Optional.empty());

  /** A condition that always holds, or never. */
  public static Condition of(boolean always) {
    return always ? ALWAYS : NEVER;
  }

  /** A condition that holds where an expression is true. */
  public static Condition when(Expression expression) {
    return new Condition(false, Optional.of(expression));
  }

  /**
   * True if it holds for some values.
   *
   * @throws LookupUnavailable if it reads a record that cannot be read now
   */
  public boolean holds(EvaluationContext context) throws LookupUnavailable {
    return when.isPresent() ? when.get().holds(context) : always;
  }

  /** A condition that holds where both do. */
  public Condition and(Condition other) {
    if (isAlways() || other.isNever()) {
      return other;
    }
    if (isNever() || other.isAlways()) {
      return this;
    }
    return when(when.orElseThrow().and(other.when.orElseThrow()));
  }

  /** True if it cannot be decided on a page. */
  public boolean isForServer() {
    return when.isPresent() && when.get().isForServer();
  }

  /** True if it holds whatever the values are. */
  public boolean isAlways() {
    return always && when.isEmpty();
  }

  /** True if it holds for no values. */
  public boolean isNever() {
    return !always && when.isEmpty();
  }

  /** True if it never holds in this mode, whatever the values are. */
  public boolean isNever(Mode mode) {
    return isNever() || when.flatMap(it -> it.holdsIn(mode.word())).filter(it -> !it).isPresent();
  }

  /** True, false, or the expression's tree. */
  public Object toJson() {
    return when.<Object>map(Expression::toJson).orElse(always);
  }
}
