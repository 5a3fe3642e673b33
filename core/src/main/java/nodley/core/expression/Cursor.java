package nodley.core.expression;

import java.util.List;
import nodley.core.expression.Lexer.Token;
import nodley.core.expression.Lexer.TokenType;
import nodley.core.value.Wellformed;

/**
 * Cursor over the tokens of one expression. Limits the number of its parts to 200 and their nesting
 * to 100, so that parsing ends and needs a bounded stack. Confined to one parse.
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

  /**
   * Counts a new node.
   *
   * @throws BadExpression if the expression has too many
   */
  Typed made(Node node, ExpressionType kind, int offset) throws BadExpression {
    if (++nodes > MAX_NODES) {
      throw new BadExpression(offset, "An expression has at most " + MAX_NODES + " parts.");
    }
    return new Typed(node, kind, offset);
  }

  /**
   * Enters what is nested; each call needs an {@link #ascend} after it.
   *
   * @throws BadExpression if it is nested too deep
   */
  void descend() throws BadExpression {
    if (++depth > MAX_DEPTH) {
      throw new BadExpression(
          peek().offset(), "An expression is nested at most " + MAX_DEPTH + " deep.");
    }
  }

  /** Returns the next token without taking it; at the end, one of type END. */
  Token peek() {
    return tokens.get(at);
  }

  /** Takes the next token; the END is never taken. */
  Token next() {
    Token token = tokens.get(at);
    if (token.type() != TokenType.END) {
      at++;
    }
    return token;
  }

  /** Takes the next token if it is this sign or keyword. */
  boolean took(String sign) {
    if (!peek().is(sign)) {
      return false;
    }
    next();
    return true;
  }

  /** Takes the next token, which must be this sign. */
  void expect(String sign) throws BadExpression {
    if (!took(sign)) {
      throw unexpected("`" + sign + "` should stand here");
    }
  }

  /** Returns the error that the next token is not what was wanted, as its sentence begins. */
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
