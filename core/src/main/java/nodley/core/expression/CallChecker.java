package nodley.core.expression;

import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;
import nodley.core.expression.Lexer.Token;
import nodley.core.expression.Lexer.TokenType;
import nodley.core.name.Near;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * Checks the calls of functions while an expression is parsed: how many arguments, of which types,
 * and the type of the result.
 */
record CallChecker(Cursor cursor) {

  private static final int MAX_PLACES = 15;

  /** A call of a function with arguments that have been read. */
  Typed of(Token token, List<Typed> arguments) throws BadExpression {
    if (token.text().equals("round")) {
      return round(token, arguments);
    }
    if (token.text().equals("matches")) {
      return matches(token, arguments);
    }
    Function function =
        Function.of(token.text())
            .orElseThrow(
                () ->
                    BadExpression.unknown(
                        token.offset(),
                        "There is no function `" + Wellformed.of(token.text()) + "`.",
                        Near.to(token.text(), Function.WORDS)));
    ExpressionType kind =
        switch (function) {
          case LENGTH -> takes(token, arguments, ExpressionType.INTEGER, ExpressionType.Base.TEXT);
          case LOWER, UPPER, SLUG ->
              takes(token, arguments, ExpressionType.TEXT, ExpressionType.Base.TEXT);
          case YEAR -> takes(token, arguments, ExpressionType.INTEGER, ExpressionType.Base.DATE);
          case DAYS ->
              takes(
                  token,
                  arguments,
                  ExpressionType.INTEGER,
                  ExpressionType.Base.DATE,
                  ExpressionType.Base.DATE);
          case COUNT -> counted(arguments);
          case SUM, MIN, MAX -> gathered(token, function, arguments);
        };
    return cursor.made(
        new Node.Call(function, arguments.stream().map(Typed::node).toList()),
        kind,
        token.offset());
  }

  private ExpressionType takes(
      Token token, List<Typed> arguments, ExpressionType result, ExpressionType.Base... wanted)
      throws BadExpression {
    if (arguments.size() != wanted.length) {
      throw new BadExpression(
          token.offset(),
          "`"
              + token.text()
              + "` takes "
              + wanted.length
              + (wanted.length == 1 ? " value." : " values."));
    }
    for (int i = 0; i < wanted.length; i++) {
      Typed argument = arguments.get(i);
      if (!argument.kind().isLike(ExpressionType.of(wanted[i]))) {
        throw new BadExpression(
            argument.offset(),
            "`"
                + token.text()
                + "` takes "
                + ExpressionType.of(wanted[i]).words()
                + ", not "
                + argument.kind().words()
                + ".");
      }
    }
    return result;
  }

  private ExpressionType counted(List<Typed> arguments) throws BadExpression {
    for (Typed argument : arguments) {
      ExpressionType kind = argument.kind();
      boolean fits =
          kind.many()
              || kind.base() == ExpressionType.Base.ROWS
              || kind.base() == ExpressionType.Base.CHOICES;
      if (!fits && arguments.size() == 1) {
        throw new BadExpression(
            argument.offset(), "`count` counts rows, choices, or values: count(a, b, c).");
      }
    }
    return ExpressionType.INTEGER;
  }

  private ExpressionType gathered(Token token, Function function, List<Typed> arguments)
      throws BadExpression {
    ExpressionType kind = null;
    for (Typed argument : arguments) {
      ExpressionType own = ExpressionType.of(argument.kind().base());
      boolean fits =
          own.isNumber()
              || function != Function.SUM
                  && (own.base() == ExpressionType.Base.DATE
                      || own.base() == ExpressionType.Base.TIME
                      || own.base() == ExpressionType.Base.DATETIME);
      if (!fits || kind != null && !kind.isLike(own)) {
        throw new BadExpression(
            argument.offset(),
            "`"
                + token.text()
                + "` takes numbers"
                + (function == Function.SUM ? "" : ", or dates, all of one kind")
                + ", not "
                + argument.kind().words()
                + ".");
      }
      kind = kind == null || own.base() == ExpressionType.Base.DECIMAL ? own : kind;
    }
    return kind;
  }

  Typed date(Token token) throws BadExpression {
    Token text = cursor.next();
    Optional<Value> date =
        text.type() == TokenType.TEXT
            ? Dates.read(text.text()).map(Value.Date::new)
            : Optional.empty();
    if (date.isEmpty()) {
      throw new BadExpression(
          text.offset(), "A date is written date(\"2027-03-01\"), years 0001 to 9999.");
    }
    cursor.expect(")");
    return cursor.made(new Node.Literal(date.get()), ExpressionType.DATE, token.offset());
  }

  private Typed round(Token token, List<Typed> arguments) throws BadExpression {
    int places = 0;
    if (arguments.size() == 2) {
      boolean right =
          arguments.get(1).node() instanceof Node.Literal(Value.Number(BigDecimal number))
              && Numbers.isInteger(number)
              && number.signum() >= 0
              && number.intValue() <= MAX_PLACES;
      if (!right) {
        throw new BadExpression(
            arguments.get(1).offset(), "`round` takes a number of places from 0 to 15.");
      }
      places =
          ((Value.Number) ((Node.Literal) arguments.get(1).node()).value()).number().intValue();
    } else if (arguments.size() != 1) {
      throw new BadExpression(token.offset(), "`round` takes a number, and a number of places.");
    }
    arguments.getFirst().asNumber(token);
    return cursor.made(
        new Node.Round(arguments.getFirst().node(), places),
        places == 0 ? ExpressionType.INTEGER : ExpressionType.DECIMAL,
        token.offset());
  }

  private Typed matches(Token token, List<Typed> arguments) throws BadExpression {
    if (arguments.size() != 2
        || !(arguments.get(1).node() instanceof Node.Literal(Value.Text(String text)))) {
      throw new BadExpression(
          token.offset(), "`matches` takes a text and a pattern: matches(code, \"[A-Z]+\").");
    }
    if (!arguments.getFirst().kind().isLike(ExpressionType.TEXT)) {
      throw new BadExpression(
          arguments.getFirst().offset(),
          "`matches` takes a text, not " + arguments.getFirst().kind().words() + ".");
    }
    try {
      return cursor.made(
          new Node.Matches(arguments.getFirst().node(), IRegexp.of(text)),
          ExpressionType.BOOLEAN,
          token.offset());
    } catch (BadPattern e) {
      throw new BadExpression(
          arguments.get(1).offset() + 1 + Math.min(e.offset(), text.length()),
          "The pattern goes wrong: " + e.getMessage() + ".");
    }
  }
}
