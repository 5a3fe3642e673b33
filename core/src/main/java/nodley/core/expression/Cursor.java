package nodley.core.expression;

import java.util.List;
import nodley.core.expression.Lexer.Token;
import nodley.core.expression.Lexer.TokenType;
import nodley.core.value.Wellformed;

/**
 * Cursor over the tokens of one expression. Limits the number of its parts and their nesting, so
 * that parsing ends.
 */
final class Cursor {

  private static final int MAX_NODES = 200;
  private static final int MAX_DEPTH = 100;

  private final List<Token> tokens;
  private int at;
  private int nodes;
  private int depth;

  Cursor(List<Token> tokens) {
    this.tokens = tokens;
  }

  Typed made(Node node, ExpressionType kind, int offset) throws BadExpression {
    if (++nodes > MAX_NODES) {
      throw new BadExpression(offset, "An expression has at most " + MAX_NODES + " parts.");
    }
    return new Typed(node, kind, offset);
  }

  void descend() throws BadExpression {
    if (++depth > MAX_DEPTH) {
      throw new BadExpression(
          peek().offset(), "An expression is nested at most " + MAX_DEPTH + " deep.");
    }
  }

  Token peek() {
    return tokens.get(at);
  }

  Token next() {
    Token token = tokens.get(at);
    if (token.type() != TokenType.END) {
      at++;
    }
    return token;
  }

  boolean took(String sign) {
    if (!peek().is(sign)) {
      return false;
    }
    next();
    return true;
  }

  void expect(String sign) throws BadExpression {
    if (!took(sign)) {
      throw unexpected("`" + sign + "` should stand here");
    }
  }

  BadExpression unexpected(String wanted) {
    Token token = peek();
    String found =
        switch (token.type()) {
          case END -> ", but the expression ends.";
          case TEXT -> ", not a text.";
          default -> ", not `" + Wellformed.of(token.text()) + "`.";
        };
    return new BadExpression(token.offset(), wanted + found);
  }

  void ascend() {
    depth--;
  }

  boolean isAtEnd() {
    return peek().type() == TokenType.END;
  }

  /** What is wrong with the token that was taken last. */
  BadExpression unexpectedBefore(String wanted) {
    at--;
    return unexpected(wanted);
  }

  /** Where the token stands that was taken last. */
  int offsetBefore() {
    return tokens.get(at - 1).offset();
  }
}
