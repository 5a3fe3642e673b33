package nodley.core.expression;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.expression.Lexer.Token;
import nodley.core.expression.Lexer.TokenType;
import nodley.core.name.Near;
import nodley.core.value.DateUnit;
import nodley.core.value.Numbers;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * Reads an expression and checks its types, by recursive descent. The grammar, loosest first:
 *
 * <pre>
 * expression = "if" expression "then" expression "else" expression | or
 * or         = and *("or" and)
 * and        = not *("and" not)
 * not        = "not" not | comparison
 * comparison = sum [("=" | "!=" | "<" | "<=" | ">" | ">=" | "has") sum
 *                  | "in" "[" literal *("," literal) "]" | "is" ["not"] "blank"]
 * sum        = product *(("+" | "-") product [unit])
 * product    = sign *(("*" | "/") sign)
 * sign       = "-" sign | primary
 * primary    = literal | "today" | "now" | "mode" | "caller" "." word
 *            | function "(" expression *("," expression) ")" | name *("." name)
 *            | "(" expression ")"
 * unit       = "day" | "days" | "week" | "weeks" | "month" | "months" | "year" | "years"
 * literal    = number | text | "true" | "false" | "date" "(" text ")"
 * </pre>
 */
final class Parser {

  /** An expression has at most this many characters. */
  static final int MAX_LENGTH = 4_000;

  private static final Set<String> WORDS =
      Set.of(
          "if", "then", "else", "and", "or", "not", "in", "has", "is", "blank", "true", "false",
          "today", "now");
  private static final List<String> COMPARING = List.of("=", "!=", "<", "<=", ">", ">=");

  private final Cursor cursor;
  private final NameResolver names;
  private final CallChecker calls;
  private boolean clock;

  private Parser(Cursor cursor, NameResolver names) {
    this.cursor = cursor;
    this.names = names;
    this.calls = new CallChecker(cursor);
  }

  /** See {@link Expression#onAdd}. */
  static Expression onAdd() {
    try {
      return parse("mode = \"add\"", Names.NONE, Map.of());
    } catch (BadExpression e) {
      throw new IllegalStateException("there is nothing wrong with it", e);
    }
  }

  /** See {@link Expression#and}. */
  static Expression and(Expression left, Expression right) {
    try {
      Expression both = parse("left and right", Names.NONE, Map.of("left", left, "right", right));
      return new Expression(
          "(" + left.source() + ") and (" + right.source() + ")",
          both.root(),
          both.kind(),
          both.reads(),
          both.asksBeyond(),
          both.readsClock(),
          both.readsMode());
    } catch (BadExpression e) {
      throw new IllegalStateException("two conditions have one that both hold", e);
    }
  }

  static Expression parse(String source, Names names, Map<String, Expression> given)
      throws BadExpression {
    if (source.length() > MAX_LENGTH) {
      throw new BadExpression(
          MAX_LENGTH, "An expression has at most " + MAX_LENGTH + " characters.");
    }
    Map<String, Typed> inside = new HashMap<>();
    given.forEach((name, it) -> inside.put(name, new Typed(it.root(), it.kind(), 0)));
    Cursor cursor = new Cursor(Lexer.tokens(source));
    var parser = new Parser(cursor, new NameResolver(cursor, names, inside));
    if (cursor.isAtEnd()) {
      throw new BadExpression(0, "The expression is empty.");
    }
    Typed typed = parser.expression();
    if (!cursor.isAtEnd()) {
      throw cursor.unexpected("The expression should end here");
    }
    Set<Expression.Read> reads = new LinkedHashSet<>(parser.names.reads());
    boolean beyond = parser.names.asksBeyond();
    boolean clock = parser.clock;
    boolean mode = parser.names.readsMode();
    for (Expression expression : given.values()) {
      reads.addAll(expression.reads());
      beyond |= expression.asksBeyond();
      clock |= expression.readsClock();
      mode |= expression.readsMode();
    }
    return new Expression(source, typed.node(), typed.kind(), reads, beyond, clock, mode);
  }

  private Typed expression() throws BadExpression {
    cursor.descend();
    Typed result = cursor.peek().is("if") ? choice() : or();
    cursor.ascend();
    return result;
  }

  private Typed choice() throws BadExpression {
    int start = cursor.next().offset();
    Typed condition = expression().asCondition();
    cursor.expect("then");
    Typed then = expression();
    cursor.expect("else");
    Typed otherwise = expression();
    if (!then.kind().isLike(otherwise.kind())) {
      throw new BadExpression(
          otherwise.offset(),
          "`then` gives "
              + then.kind().words()
              + ", so `else` cannot give "
              + otherwise.kind().words()
              + ".");
    }
    ExpressionType kind =
        then.kind().base() == ExpressionType.Base.DECIMAL ? then.kind() : otherwise.kind();
    return cursor.made(
        new Node.If(condition.node(), then.node(), otherwise.node()),
        kind.base() == ExpressionType.Base.TEXT ? ExpressionType.TEXT : kind,
        start);
  }

  private Typed or() throws BadExpression {
    Typed left = and();
    while (cursor.peek().is("or")) {
      cursor.next();
      Typed right = and().asCondition();
      left = pair("or", left.asCondition(), right, ExpressionType.BOOLEAN);
    }
    return left;
  }

  private Typed and() throws BadExpression {
    Typed left = not();
    while (cursor.peek().is("and")) {
      cursor.next();
      Typed right = not().asCondition();
      left = pair("and", left.asCondition(), right, ExpressionType.BOOLEAN);
    }
    return left;
  }

  private Typed not() throws BadExpression {
    if (!cursor.peek().is("not")) {
      return comparison();
    }
    int start = cursor.next().offset();
    cursor.descend();
    Typed of = not().asCondition();
    cursor.ascend();
    return cursor.made(new Node.Not(of.node()), ExpressionType.BOOLEAN, start);
  }

  private Typed comparison() throws BadExpression {
    Typed left = sum();
    Token token = cursor.peek();
    if (token.type() == TokenType.SIGN && COMPARING.contains(token.text())) {
      cursor.next();
      if (token.text().equals("=") && cursor.peek().is("=")) {
        throw new BadExpression(token.offset(), "`==` is not an operator. Use `=`.");
      }
      Typed right = sum();
      Typed.compare(token, left, right);
      names.checkSides(token, left, right);
      if (cursor.peek().type() == TokenType.SIGN && COMPARING.contains(cursor.peek().text())) {
        throw cursor.unexpected("Comparisons do not chain; join them with `and`");
      }
      return pair(token.text(), left, right, ExpressionType.BOOLEAN);
    }
    if (token.is("in")) {
      cursor.next();
      return in(left);
    }
    if (token.is("has")) {
      cursor.next();
      Typed right = sum();
      if (left.kind().base() != ExpressionType.Base.CHOICES || left.kind().many()) {
        throw new BadExpression(left.offset(), "Only choices can `has` an option.");
      }
      if (right.kind().base() != ExpressionType.Base.TEXT || right.kind().many()) {
        throw new BadExpression(right.offset(), "`has` asks for one option, a text.");
      }
      right.asOptionOf(left.kind());
      return pair("has", left, right, ExpressionType.BOOLEAN);
    }
    if (token.is("is")) {
      cursor.next();
      boolean not = cursor.peek().is("not");
      if (not) {
        cursor.next();
      }
      cursor.expect("blank");
      Typed blank =
          cursor.made(new Node.IsBlank(left.node()), ExpressionType.BOOLEAN, left.offset());
      return not
          ? cursor.made(new Node.Not(blank.node()), ExpressionType.BOOLEAN, left.offset())
          : blank;
    }
    return left;
  }

  private Typed in(Typed left) throws BadExpression {
    left.asOne();
    cursor.expect("[");
    List<Value> list = new ArrayList<>();
    do {
      Typed item = sign();
      if (!(item.node() instanceof Node.Literal(Value value))) {
        throw new BadExpression(item.offset(), "A list holds literals, such as [\"a\", \"b\"].");
      }
      if (!item.kind().isLike(left.kind())) {
        throw new BadExpression(
            item.offset(), left.kind().capital() + " is never " + item.kind().words() + ".");
      }
      item.asOptionOf(left.kind());
      list.add(value);
    } while (cursor.took(","));
    cursor.expect("]");
    return cursor.made(
        new Node.In(left.node(), List.copyOf(list)), ExpressionType.BOOLEAN, left.offset());
  }

  private Typed sum() throws BadExpression {
    Typed left = product();
    while (cursor.peek().is("+") || cursor.peek().is("-")) {
      Token operator = cursor.next();
      Typed right = product();
      Token unit = cursor.peek();
      boolean hasUnit = unit.type() == TokenType.WORD && !WORDS.contains(unit.text());
      left =
          hasUnit || left.kind().base() == ExpressionType.Base.DATE
              ? moved(operator, left, right, hasUnit ? unit(cursor.next()) : DateUnit.DAYS)
              : arithmetic(operator, left, right);
    }
    return left;
  }

  /** A date and how far it is moved. */
  private Typed moved(Token operator, Typed date, Typed count, DateUnit unit) throws BadExpression {
    date.asOne();
    count.asOne();
    if (!date.kind().isLike(ExpressionType.DATE)) {
      throw new BadExpression(
          operator.offset(), "Only a date is moved by days, weeks, months or years.");
    }
    if (count.kind().base() != ExpressionType.Base.INTEGER
        && count.kind().base() != ExpressionType.Base.ANYTHING) {
      throw new BadExpression(
          count.offset(),
          "A date is moved by a whole number of days, weeks, months or years, as in `today + 3"
              + " months`; days(a, b) gives the days between two.");
    }
    Typed all =
        unit.size() == 1
            ? count
            : pair(
                "*",
                count,
                cursor.made(
                    new Node.Literal(new Value.Number(BigDecimal.valueOf(unit.size()))),
                    ExpressionType.INTEGER,
                    count.offset()),
                ExpressionType.INTEGER);
    return pair(
        (unit.isInMonths() ? "month" : "day") + operator.text(), date, all, ExpressionType.DATE);
  }

  private static DateUnit unit(Token token) throws BadExpression {
    return DateUnit.of(token.text())
        .orElseThrow(
            () ->
                BadExpression.unknown(
                    token.offset(),
                    "After a sum may stand days, weeks, months or years, not `"
                        + Wellformed.of(token.text())
                        + "`.",
                    Near.to(token.text(), DateUnit.WORDS)));
  }

  private Typed product() throws BadExpression {
    Typed left = sign();
    while (cursor.peek().is("*") || cursor.peek().is("/")) {
      Token operator = cursor.next();
      left = arithmetic(operator, left, sign());
    }
    return left;
  }

  private Typed arithmetic(Token operator, Typed left, Typed right) throws BadExpression {
    left.asNumber(operator);
    right.asNumber(operator);
    boolean whole =
        !operator.is("/")
            && left.kind().base() == ExpressionType.Base.INTEGER
            && right.kind().base() == ExpressionType.Base.INTEGER;
    return pair(
        operator.text(), left, right, whole ? ExpressionType.INTEGER : ExpressionType.DECIMAL);
  }

  private Typed sign() throws BadExpression {
    if (!cursor.peek().is("-")) {
      return primary();
    }
    Token minus = cursor.next();
    cursor.descend();
    Typed of = sign();
    cursor.ascend();
    of.asNumber(minus);
    Node node =
        of.node() instanceof Node.Literal(Value.Number(BigDecimal number))
            ? new Node.Literal(new Value.Number(number.negate()))
            : new Node.Minus(of.node());
    return cursor.made(node, of.kind(), minus.offset());
  }

  private Typed primary() throws BadExpression {
    Token token = cursor.next();
    return switch (token.type()) {
      case NUMBER -> numeral(token);
      case TEXT -> literal(Value.text(standard(token)), ExpressionType.TEXT, token);
      case WORD -> word(token);
      case SIGN -> {
        if (!token.is("(")) {
          throw cursor.unexpectedBefore("A value should stand here");
        }
        Typed inside = expression();
        cursor.expect(")");
        yield new Typed(inside.node(), inside.kind(), token.offset());
      }
      case END -> throw new BadExpression(token.offset(), "The expression ends too early.");
    };
  }

  private static String standard(Token token) throws BadExpression {
    if (!Wellformed.is(token.text())) {
      throw new BadExpression(token.offset(), "A text holds no NUL and no half of a character.");
    }
    return token.text();
  }

  private Typed numeral(Token token) throws BadExpression {
    BigDecimal number =
        Numbers.read(token.text())
            .filter(Node::isWritable)
            .orElseThrow(
                () ->
                    new BadExpression(
                        token.offset(), "A number has at most 15 significant digits."));
    return literal(
        new Value.Number(number),
        number.scale() <= 0 ? ExpressionType.INTEGER : ExpressionType.DECIMAL,
        token);
  }

  private Typed literal(Value value, ExpressionType kind, Token token) throws BadExpression {
    return cursor.made(new Node.Literal(value), kind, token.offset());
  }

  private Typed word(Token token) throws BadExpression {
    String word = token.text();
    if (cursor.peek().is("(") && !WORDS.contains(word)) {
      return call(token);
    }
    return switch (word) {
      case "true", "false" ->
          literal(new Value.Bool(word.equals("true")), ExpressionType.BOOLEAN, token);
      case "today" -> {
        clock = true;
        yield cursor.made(new Node.Given("today"), ExpressionType.DATE, token.offset());
      }
      case "now" -> {
        clock = true;
        yield cursor.made(
            new Node.Given("now"), ExpressionType.of(ExpressionType.Base.DATETIME), token.offset());
      }
      default -> {
        if (WORDS.contains(word)) {
          throw cursor.unexpectedBefore("A value should stand here");
        }
        yield names.name(token);
      }
    };
  }

  private Typed call(Token token) throws BadExpression {
    cursor.next();
    if (token.text().equals("date")) {
      return calls.date(token);
    }
    List<Typed> arguments = new ArrayList<>();
    do {
      arguments.add(expression());
    } while (cursor.took(","));
    cursor.expect(")");
    return calls.of(token, arguments);
  }

  private Typed pair(String operator, Typed left, Typed right, ExpressionType kind)
      throws BadExpression {
    return cursor.made(
        new Node.Pair(Operator.of(operator), left.node(), right.node()), kind, left.offset());
  }
}
