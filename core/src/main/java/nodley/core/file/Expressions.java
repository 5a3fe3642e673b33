package nodley.core.file;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.BadExpression;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Condition;

/**
 * Parses the expressions of a section against the names that are in scope, and reports their errors
 * at their lines.
 */
record Expressions(Section keys, Errors errors, Names names) {

  /** Words that older YAML took for true or false, and that name no field. */
  private static final Set<String> NEARLY = Set.of("yes", "no", "on", "off");

  /** What {@code editable} says of a value that is given once: short for {@code mode = "add"}. */
  private static final String ON_ADD = "on-add";

  /** A condition: true, false, or an expression. */
  Condition condition(String key, boolean otherwise) {
    Node node = keys.node(key).orElse(null);
    if (node == null) {
      return Condition.of(otherwise);
    }
    if (node instanceof Node.Scalar scalar && scalar.type() == Node.Scalar.ScalarType.BOOLEAN) {
      return Condition.of(scalar.text().equalsIgnoreCase("true"));
    }
    boolean written =
        node instanceof Node.Scalar(Place _, String text, Node.Scalar.ScalarType type, var _)
            && type == Node.Scalar.ScalarType.TEXT
            && !NEARLY.contains(text);
    if (!written) {
      keys.wrongType(key, node, "true or false, or an expression");
      return Condition.of(otherwise);
    }
    if (key.equals("editable") && Section.textOf(node).filter(ON_ADD::equals).isPresent()) {
      return Condition.when(Expression.onAdd());
    }
    return of(key, ExpressionType.of(ExpressionType.Base.BOOLEAN))
        .map(Condition::when)
        .orElse(Condition.of(otherwise));
  }

  /** An expression that must come to this. */
  Optional<Expression> of(String key, ExpressionType wanted) {
    return of(key, wanted, Map.of());
  }

  Optional<Expression> of(String key, ExpressionType wanted, Map<String, Expression> given) {
    Node node = keys.node(key).orElse(null);
    if (node == null) {
      return Optional.empty();
    }
    if (!(node instanceof Node.Scalar scalar) || scalar.type() == Node.Scalar.ScalarType.NULL) {
      keys.wrongType(key, node, "an expression");
      return Optional.empty();
    }
    return of(scalar, keys.pointer(key), wanted, given);
  }

  Optional<Expression> of(
      Node.Scalar scalar, String pointer, ExpressionType wanted, Map<String, Expression> given) {
    try {
      Expression expression = Expression.read(scalar.text(), names, given);
      Optional<String> misfit = misfit(expression.kind(), wanted);
      misfit.ifPresent(detail -> errors.add(scalar.place(), pointer, "bad-expression", detail));
      return misfit.isPresent() ? Optional.empty() : Optional.of(expression);
    } catch (BadExpression e) {
      errors.add(
          scalar.at(e.offset()),
          pointer,
          e.isUnknownName() ? "unknown-name" : "bad-expression",
          e.getMessage(),
          e.suggestion());
      return Optional.empty();
    }
  }

  private static Optional<String> misfit(ExpressionType kind, ExpressionType wanted) {
    if (wanted.base() == ExpressionType.Base.ANYTHING) {
      return Optional.empty();
    }
    boolean whole =
        wanted.base() == ExpressionType.Base.INTEGER && kind.base() == ExpressionType.Base.DECIMAL;
    if (kind.fits(wanted) && !whole) {
      return Optional.empty();
    }
    return Optional.of(
        "Type mismatch: expected "
            + wanted.words()
            + ", found "
            + kind.words()
            + "."
            + (whole ? " Use round(…)." : ""));
  }
}
