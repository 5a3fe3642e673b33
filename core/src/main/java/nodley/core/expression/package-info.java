/**
 * The expression language for conditions and computed values: type-checked when a form is
 * published, total when evaluated. {@link nodley.core.expression.Parser} parses it against a symbol
 * table; {@link nodley.core.expression.Expression} is the result.
 */
package nodley.core.expression;
