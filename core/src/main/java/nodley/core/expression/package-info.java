/**
 * The one small language for conditions and computed values: typed when a form is published, total
 * when it runs. {@link nodley.core.expression.Parser} reads it against the names in reach, {@link
 * nodley.core.expression.Expression} is the outcome.
 */
package nodley.core.expression;
