package nodley.core.expression;

import java.util.Optional;
import nodley.core.expression.Lexer.Token;
import nodley.core.name.Near;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * A node with its static type and its position; checks that the type fits where the node is used.
 *
 * @param offset in UTF-16 units from the start of the expression
 */
record Typed(Node node, ExpressionType kind, int offset) {

  /** Refuses what is no condition. */
  Typed asCondition() throws BadExpression {
    asOne();
    if (!kind.isLike(ExpressionType.BOOLEAN)) {
      throw new BadExpression(
          offset, "Type mismatch: expected true or false, found " + kind.words() + ".");
    }
    return this;
  }

  /** Refuses what is no number, to the right or left of an operator. */
  void asNumber(Token operator) throws BadExpression {
    asOne();
    if (!kind.isNumber()) {
      throw new BadExpression(
          offset, "`" + operator.text() + "` takes numbers, not " + kind.words() + ".");
    }
  }

  /** Refuses the values of all rows where one value belongs. */
  void asOne() throws BadExpression {
    if (kind.many()) {
      throw new BadExpression(
          offset, "This is a list, with a value for each row; use sum, min, max or count.");
    }
  }

  static void compare(Token operator, Typed left, Typed right) throws BadExpression {
    left.asOne();
    right.asOne();
    if (!left.kind().isLike(right.kind())) {
      throw new BadExpression(
          right.offset(),
          left.kind().capital()
              + " cannot be compared with "
              + right.kind().words()
              + "."
              + hint(left, right));
    }
    boolean equality = operator.text().equals("=") || operator.text().equals("!=");
    boolean fits =
        left.kind().isOrdered() || equality && left.kind().base() == ExpressionType.Base.BOOLEAN;
    if (!fits) {
      throw new BadExpression(
          operator.offset(),
          "`" + operator.text() + "` does not go with " + left.kind().words() + ".");
    }
    right.asOptionOf(left.kind());
    left.asOptionOf(right.kind());
  }

  private static String hint(Typed left, Typed right) {
    boolean text =
        right.kind().base() == ExpressionType.Base.TEXT
            || left.kind().base() == ExpressionType.Base.TEXT;
    boolean date =
        left.kind().base() == ExpressionType.Base.DATE
            || right.kind().base() == ExpressionType.Base.DATE;
    return text && date ? " A date is written date(\"2027-03-01\")." : "";
  }

  /** A choice compared with a text that it never can have is a slip of the pen. */
  void asOptionOf(ExpressionType choice) throws BadExpression {
    if (!choice.options().isEmpty()
        && node instanceof Node.Literal(Value.Text(String text))
        && !choice.options().contains(text)) {
      Optional<String> near = Near.to(text, choice.options());
      throw BadExpression.unknown(
          offset,
          "\""
              + Wellformed.of(text)
              + "\" is not one of the options: "
              + String.join(", ", choice.options().stream().distinct().limit(12).toList())
              + ".",
          near);
    }
  }
}
