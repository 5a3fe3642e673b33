package nodley.core.expression;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.Lexer.Sort;
import nodley.core.expression.Lexer.Token;
import nodley.core.name.Near;
import nodley.core.pattern.BadPattern;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Dates;
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
 * sum        = product *(("+" | "-") product)
 * product    = sign *(("*" | "/") sign)
 * sign       = "-" sign | primary
 * primary    = literal | "today" | "now" | "mode" | "caller" "." word
 *            | function "(" expression *("," expression) ")" | name *("." name)
 *            | "(" expression ")"
 * literal    = number | text | "true" | "false" | "date" "(" text ")"
 * </pre>
 */
final class Parser {

  /** An expression has at most this many operators, names, literals and calls. */
  static final int MAX_NODES = 200;

  /** An expression has at most this many characters. */
  static final int MAX_LENGTH = 4_000;

  private static final int MAX_DEPTH = 100;
  private static final int MAX_PLACES = 15;
  private static final Set<String> WORDS =
      Set.of(
          "if", "then", "else", "and", "or", "not", "in", "has", "is", "blank", "true", "false",
          "today", "now");
  private static final List<String> COMPARING = List.of("=", "!=", "<", "<=", ">", ">=");

  private final List<Token> tokens;
  private final Names names;

  /** What stands in place of a name, in the rule of a part. */
  private final Map<String, Typed> given;

  private final Set<String> reads = new LinkedHashSet<>();
  private boolean server;
  private boolean clock;
  private int at;
  private int nodes;
  private int depth;

  /** A node with what it comes to, and where it began. */
  record Typed(Node node, Kind kind, int offset) {}

  private Parser(List<Token> tokens, Names names, Map<String, Typed> given) {
    this.tokens = tokens;
    this.names = names;
    this.given = given;
  }

  static Expression parse(String source, Names names, Map<String, Expression> given)
      throws BadExpression {
    if (source.length() > MAX_LENGTH) {
      throw new BadExpression(
          MAX_LENGTH, "An expression has at most " + MAX_LENGTH + " characters.");
    }
    Map<String, Typed> inside = new java.util.HashMap<>();
    given.forEach((name, it) -> inside.put(name, new Typed(it.root(), it.kind(), 0)));
    var parser = new Parser(Lexer.tokens(source), names, inside);
    if (parser.peek().sort() == Sort.END) {
      throw new BadExpression(0, "The expression is empty.");
    }
    Typed typed = parser.expression();
    if (parser.peek().sort() != Sort.END) {
      throw parser.unexpected("The expression should end here");
    }
    for (Expression expression : given.values()) {
      parser.reads.addAll(expression.reads());
      parser.server |= expression.isForServer();
      parser.clock |= expression.readsClock();
    }
    return new Expression(
        source, typed.node(), typed.kind(), parser.reads, parser.server, parser.clock);
  }

  private Typed expression() throws BadExpression {
    if (++depth > MAX_DEPTH) {
      throw new BadExpression(
          peek().offset(), "An expression is nested at most " + MAX_DEPTH + " deep.");
    }
    Typed result = peek().is("if") ? choice() : or();
    depth--;
    return result;
  }

  private Typed choice() throws BadExpression {
    int start = next().offset();
    Typed condition = bool(expression());
    expect("then");
    Typed then = expression();
    expect("else");
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
    Kind kind = then.kind().base() == Kind.Base.DECIMAL ? then.kind() : otherwise.kind();
    return made(
        new Node.If(condition.node(), then.node(), otherwise.node()),
        kind.base() == Kind.Base.TEXT ? Kind.TEXT : kind,
        start);
  }

  private Typed or() throws BadExpression {
    Typed left = and();
    while (peek().is("or")) {
      next();
      Typed right = bool(and());
      left = pair("or", bool(left), right, Kind.BOOLEAN);
    }
    return left;
  }

  private Typed and() throws BadExpression {
    Typed left = not();
    while (peek().is("and")) {
      next();
      Typed right = bool(not());
      left = pair("and", bool(left), right, Kind.BOOLEAN);
    }
    return left;
  }

  private Typed not() throws BadExpression {
    if (!peek().is("not")) {
      return comparison();
    }
    int start = next().offset();
    descend();
    Typed of = bool(not());
    depth--;
    return made(new Node.Not(of.node()), Kind.BOOLEAN, start);
  }

  private Typed comparison() throws BadExpression {
    Typed left = sum();
    Token token = peek();
    if (token.sort() == Sort.SIGN && COMPARING.contains(token.text())) {
      next();
      Typed right = sum();
      compare(token, left, right);
      if (peek().sort() == Sort.SIGN && COMPARING.contains(peek().text())) {
        throw unexpected("Comparisons do not chain; join them with `and`");
      }
      return pair(token.text(), left, right, Kind.BOOLEAN);
    }
    if (token.is("in")) {
      next();
      return in(left);
    }
    if (token.is("has")) {
      next();
      Typed right = sum();
      if (left.kind().base() != Kind.Base.CHOICES || left.kind().many()) {
        throw new BadExpression(left.offset(), "Only choices can `has` an option.");
      }
      if (right.kind().base() != Kind.Base.TEXT || right.kind().many()) {
        throw new BadExpression(right.offset(), "`has` asks for one option, a text.");
      }
      checkOption(left.kind(), right);
      return pair("has", left, right, Kind.BOOLEAN);
    }
    if (token.is("is")) {
      next();
      boolean not = peek().is("not");
      if (not) {
        next();
      }
      expect("blank");
      Typed blank = made(new Node.IsBlank(left.node()), Kind.BOOLEAN, left.offset());
      return not ? made(new Node.Not(blank.node()), Kind.BOOLEAN, left.offset()) : blank;
    }
    return left;
  }

  private void compare(Token operator, Typed left, Typed right) throws BadExpression {
    one(left);
    one(right);
    if (!left.kind().isLike(right.kind())) {
      throw new BadExpression(
          right.offset(),
          left.kind().words()
              + " cannot be compared with "
              + right.kind().words()
              + "."
              + hint(left, right));
    }
    boolean equality = operator.text().equals("=") || operator.text().equals("!=");
    boolean fits = left.kind().isOrdered() || equality && left.kind().base() == Kind.Base.BOOLEAN;
    if (!fits) {
      throw new BadExpression(
          operator.offset(),
          "`" + operator.text() + "` does not go with " + left.kind().words() + ".");
    }
    checkOption(left.kind(), right);
    checkOption(right.kind(), left);
  }

  private static String hint(Typed left, Typed right) {
    boolean text = right.kind().base() == Kind.Base.TEXT || left.kind().base() == Kind.Base.TEXT;
    boolean date = left.kind().base() == Kind.Base.DATE || right.kind().base() == Kind.Base.DATE;
    return text && date ? " A date is written date(\"2027-03-01\")." : "";
  }

  /** A choice compared with a text that it never can have is a slip of the pen. */
  private static void checkOption(Kind kind, Typed other) throws BadExpression {
    if (!kind.options().isEmpty()
        && other.node() instanceof Node.Literal(Value.Text(String text))
        && !kind.options().contains(text)) {
      Optional<String> near = Near.to(text, kind.options());
      throw BadExpression.unknown(
          other.offset(),
          "\""
              + Wellformed.of(text)
              + "\" is not one of the options: "
              + String.join(", ", kind.options().stream().limit(12).toList())
              + ".",
          near);
    }
  }

  private Typed in(Typed left) throws BadExpression {
    one(left);
    expect("[");
    List<Value> list = new ArrayList<>();
    do {
      Typed item = sign();
      if (!(item.node() instanceof Node.Literal(Value value))) {
        throw new BadExpression(item.offset(), "A list holds literals, such as [\"a\", \"b\"].");
      }
      if (!item.kind().isLike(left.kind())) {
        throw new BadExpression(
            item.offset(), left.kind().words() + " is never " + item.kind().words() + ".");
      }
      checkOption(left.kind(), item);
      list.add(value);
    } while (took(","));
    expect("]");
    return made(new Node.In(left.node(), List.copyOf(list)), Kind.BOOLEAN, left.offset());
  }

  private Typed sum() throws BadExpression {
    Typed left = product();
    while (peek().is("+") || peek().is("-")) {
      Token operator = next();
      Typed right = product();
      if (left.kind().base() == Kind.Base.DATE
          && !left.kind().many()
          && right.kind().base() == Kind.Base.INTEGER
          && !right.kind().many()) {
        left = pair("day" + operator.text(), left, right, Kind.DATE);
      } else if (left.kind().base() == Kind.Base.DATE) {
        throw new BadExpression(
            right.offset(),
            "To a date only a whole number of days can be added; days(a, b) gives the days"
                + " between two.");
      } else {
        left = arithmetic(operator, left, right);
      }
    }
    return left;
  }

  private Typed product() throws BadExpression {
    Typed left = sign();
    while (peek().is("*") || peek().is("/")) {
      Token operator = next();
      left = arithmetic(operator, left, sign());
    }
    return left;
  }

  private Typed arithmetic(Token operator, Typed left, Typed right) throws BadExpression {
    number(left, operator);
    number(right, operator);
    boolean whole =
        !operator.is("/")
            && left.kind().base() == Kind.Base.INTEGER
            && right.kind().base() == Kind.Base.INTEGER;
    return pair(operator.text(), left, right, whole ? Kind.INTEGER : Kind.DECIMAL);
  }

  private Typed sign() throws BadExpression {
    if (!peek().is("-")) {
      return primary();
    }
    Token minus = next();
    descend();
    Typed of = sign();
    depth--;
    number(of, minus);
    Node node =
        of.node() instanceof Node.Literal(Value.Number(BigDecimal number))
            ? new Node.Literal(new Value.Number(number.negate()))
            : new Node.Minus(of.node());
    return made(node, of.kind(), minus.offset());
  }

  private Typed primary() throws BadExpression {
    Token token = next();
    return switch (token.sort()) {
      case NUMBER -> numeral(token);
      case TEXT -> literal(new Value.Text(standard(token)), Kind.TEXT, token);
      case WORD -> word(token);
      case SIGN -> {
        if (!token.is("(")) {
          at--;
          throw unexpected("A value should stand here");
        }
        Typed inside = expression();
        expect(")");
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
        new Value.Number(number), number.scale() <= 0 ? Kind.INTEGER : Kind.DECIMAL, token);
  }

  private Typed literal(Value value, Kind kind, Token token) throws BadExpression {
    return made(new Node.Literal(value), kind, token.offset());
  }

  private Typed word(Token token) throws BadExpression {
    String word = token.text();
    if (peek().is("(") && !WORDS.contains(word)) {
      return call(token);
    }
    return switch (word) {
      case "true", "false" -> literal(new Value.Bool(word.equals("true")), Kind.BOOLEAN, token);
      case "today" -> {
        clock = true;
        yield made(new Node.Given("today"), Kind.DATE, token.offset());
      }
      case "now" -> {
        clock = true;
        yield made(new Node.Given("now"), Kind.of(Kind.Base.DATETIME), token.offset());
      }
      default -> {
        if (WORDS.contains(word)) {
          at--;
          throw unexpected("A value should stand here");
        }
        yield name(token);
      }
    };
  }

  /** A field wins over {@code mode} and {@code caller}, so that forms can have fields so named. */
  private Typed name(Token token) throws BadExpression {
    String word = token.text();
    Typed parameter = given.get(word);
    if (parameter != null) {
      return made(parameter.node(), parameter.kind(), token.offset());
    }
    int up = 0;
    for (Optional<Names> scope = Optional.of(names);
        scope.isPresent();
        scope = scope.get().outer(), up++) {
      Optional<Names.Found> found = scope.get().find(word);
      if (found.isPresent()) {
        return path(token, up, found.get());
      }
    }
    if (word.equals("mode")) {
      return made(
          new Node.Given("mode"),
          new Kind(Kind.Base.TEXT, false, List.of("add", "edit")),
          token.offset());
    }
    if (word.equals("caller")) {
      return caller(token);
    }
    throw unknown(token, "There is no field");
  }

  private BadExpression unknown(Token token, String what) {
    Set<String> known = new LinkedHashSet<>(given.keySet());
    for (Optional<Names> scope = Optional.of(names);
        scope.isPresent();
        scope = scope.get().outer()) {
      known.addAll(scope.get().all());
    }
    return BadExpression.unknown(
        token.offset(),
        what + " `" + Wellformed.of(token.text()) + "`.",
        Near.to(token.text(), known));
  }

  private Typed caller(Token token) throws BadExpression {
    expect(".");
    Token what = next();
    server = true;
    return switch (what.text()) {
      case "name", "email" -> made(new Node.Caller(what.text()), Kind.TEXT, token.offset());
      case "roles" -> made(new Node.Caller("roles"), Kind.of(Kind.Base.CHOICES), token.offset());
      default ->
          throw BadExpression.unknown(
              what.offset(),
              "A caller has a name, an email and roles.",
              Near.to(what.text(), List.of("name", "email", "roles")));
    };
  }

  private Typed path(Token first, int up, Names.Found found) throws BadExpression {
    List<String> path = new ArrayList<>(List.of(first.text()));
    Names.Found here = found;
    boolean many = false;
    while (peek().is(".")) {
      if (here.refersTo().isPresent()) {
        Typed record = made(new Node.Get(up, List.copyOf(path), many), here.kind(), first.offset());
        if (many) {
          throw new BadExpression(
              first.offset(), "An expression cannot reach through the records of all rows.");
        }
        read(path, up, here);
        return through(record, here);
      }
      next();
      Token part = next();
      if (here.inside().isEmpty() || part.sort() != Sort.WORD) {
        throw new BadExpression(
            part.offset(),
            "`" + path.getLast() + "` is " + here.kind().words() + ", without fields.");
      }
      many |= here.kind().base() == Kind.Base.ROWS;
      here = inside(here, part);
      path.add(part.text());
    }
    read(path, up, here);
    Kind kind = many ? here.kind().overRows() : here.kind();
    return made(new Node.Get(up, List.copyOf(path), many), kind, first.offset());
  }

  private void read(List<String> path, int up, Names.Found found) throws BadExpression {
    if (found.secret()) {
      throw new BadExpression(
          tokens.get(at - 1).offset(),
          "`" + path.getLast() + "` is a secret, and no expression reads it; see `repeats`.");
    }
    reads.add("^".repeat(up) + String.join(".", path));
  }

  private Names.Found inside(Names.Found here, Token part) throws BadExpression {
    Names fields = here.inside().orElseThrow();
    return fields
        .find(part.text())
        .orElseThrow(
            () ->
                BadExpression.unknown(
                    part.offset(),
                    "There is no `" + Wellformed.of(part.text()) + "` in it.",
                    Near.to(part.text(), fields.all())));
  }

  /** Through a record into another form; behind a record there, through that one too. */
  private Typed through(Typed record, Names.Found found) throws BadExpression {
    server = true;
    Names.Found here = found;
    List<String> path = new ArrayList<>();
    Typed so = record;
    while (peek().is(".")) {
      next();
      Token part = next();
      if (part.sort() != Sort.WORD) {
        at--;
        throw unexpected("A name should stand here");
      }
      if (here.refersTo().isPresent() && !path.isEmpty()) {
        so =
            made(
                new Node.Through(so.node(), form(found), List.copyOf(path)),
                here.kind(),
                part.offset());
        found = here;
        path.clear();
      }
      if (here.inside().isEmpty()) {
        if (here.refersTo().isEmpty()) {
          throw new BadExpression(part.offset(), "There is nothing behind this name.");
        }
        // The other form is not known here, as when a file is read alone: its service will know.
        path.add(part.text());
        while (took(".")) {
          path.add(next().text());
        }
        return made(
            new Node.Through(so.node(), form(found), List.copyOf(path)),
            Kind.ANYTHING,
            record.offset());
      }
      if (here.kind().base() == Kind.Base.ROWS) {
        throw new BadExpression(
            part.offset(), "An expression cannot reach into the rows of another record.");
      }
      here = inside(here, part);
      if (here.secret()) {
        throw new BadExpression(part.offset(), "A secret cannot be reached.");
      }
      path.add(part.text());
    }
    return made(
        new Node.Through(so.node(), form(found), List.copyOf(path)), here.kind(), record.offset());
  }

  private static String form(Names.Found found) {
    return found.refersTo().orElseThrow();
  }

  private Typed call(Token token) throws BadExpression {
    String word = token.text();
    next();
    if (word.equals("date")) {
      return date(token);
    }
    List<Typed> arguments = new ArrayList<>();
    do {
      arguments.add(expression());
    } while (took(","));
    expect(")");
    if (word.equals("round")) {
      return round(token, arguments);
    }
    if (word.equals("matches")) {
      return matches(token, arguments);
    }
    Function function =
        Function.of(word)
            .orElseThrow(
                () ->
                    BadExpression.unknown(
                        token.offset(),
                        "There is no function `" + Wellformed.of(word) + "`.",
                        Near.to(word, Function.WORDS)));
    Kind kind =
        switch (function) {
          case LENGTH -> takes(token, arguments, Kind.INTEGER, Kind.Base.TEXT);
          case LOWER, UPPER, SLUG -> takes(token, arguments, Kind.TEXT, Kind.Base.TEXT);
          case YEAR -> takes(token, arguments, Kind.INTEGER, Kind.Base.DATE);
          case DAYS -> takes(token, arguments, Kind.INTEGER, Kind.Base.DATE, Kind.Base.DATE);
          case COUNT -> counted(token, arguments);
          case SUM, MIN, MAX -> gathered(token, function, arguments);
        };
    return made(
        new Node.Call(function, arguments.stream().map(Typed::node).toList()),
        kind,
        token.offset());
  }

  private Kind takes(Token token, List<Typed> arguments, Kind result, Kind.Base... wanted)
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
      if (!argument.kind().isLike(Kind.of(wanted[i]))) {
        throw new BadExpression(
            argument.offset(),
            "`"
                + token.text()
                + "` takes "
                + Kind.of(wanted[i]).words()
                + ", not "
                + argument.kind().words()
                + ".");
      }
    }
    return result;
  }

  private Kind counted(Token token, List<Typed> arguments) throws BadExpression {
    for (Typed argument : arguments) {
      Kind kind = argument.kind();
      boolean fits =
          kind.many() || kind.base() == Kind.Base.ROWS || kind.base() == Kind.Base.CHOICES;
      if (!fits && arguments.size() == 1) {
        throw new BadExpression(
            argument.offset(), "`count` counts rows, choices, or values: count(a, b, c).");
      }
    }
    return Kind.INTEGER;
  }

  private Kind gathered(Token token, Function function, List<Typed> arguments)
      throws BadExpression {
    Kind kind = null;
    for (Typed argument : arguments) {
      Kind own = Kind.of(argument.kind().base());
      boolean fits =
          own.isNumber()
              || function != Function.SUM
                  && (own.base() == Kind.Base.DATE
                      || own.base() == Kind.Base.TIME
                      || own.base() == Kind.Base.DATETIME);
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
      kind = kind == null || own.base() == Kind.Base.DECIMAL ? own : kind;
    }
    return kind;
  }

  private Typed date(Token token) throws BadExpression {
    Token text = next();
    Optional<Value> date =
        text.sort() == Sort.TEXT ? Dates.read(text.text()).map(Value.Date::new) : Optional.empty();
    if (date.isEmpty()) {
      throw new BadExpression(
          text.offset(), "A date is written date(\"2027-03-01\"), years 0001 to 9999.");
    }
    expect(")");
    return literal(date.get(), Kind.DATE, token);
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
    number(arguments.getFirst(), token);
    return made(
        new Node.Round(arguments.getFirst().node(), places),
        places == 0 ? Kind.INTEGER : Kind.DECIMAL,
        token.offset());
  }

  private Typed matches(Token token, List<Typed> arguments) throws BadExpression {
    if (arguments.size() != 2
        || !(arguments.get(1).node() instanceof Node.Literal(Value.Text(String text)))) {
      throw new BadExpression(
          token.offset(), "`matches` takes a text and a pattern: matches(code, \"[A-Z]+\").");
    }
    if (!arguments.getFirst().kind().isLike(Kind.TEXT)) {
      throw new BadExpression(
          arguments.getFirst().offset(),
          "`matches` takes a text, not " + arguments.getFirst().kind().words() + ".");
    }
    try {
      return made(
          new Node.Matches(arguments.getFirst().node(), IRegexp.of(text)),
          Kind.BOOLEAN,
          token.offset());
    } catch (BadPattern e) {
      throw new BadExpression(
          arguments.get(1).offset() + 1 + Math.min(e.offset(), text.length()),
          "The pattern goes wrong: " + e.getMessage() + ".");
    }
  }

  private Typed bool(Typed typed) throws BadExpression {
    one(typed);
    if (!typed.kind().isLike(Kind.BOOLEAN)) {
      throw new BadExpression(
          typed.offset(), "A condition should stand here, not " + typed.kind().words() + ".");
    }
    return typed;
  }

  private void number(Typed typed, Token operator) throws BadExpression {
    one(typed);
    if (!typed.kind().isNumber()) {
      throw new BadExpression(
          typed.offset(),
          "`" + operator.text() + "` takes numbers, not " + typed.kind().words() + ".");
    }
  }

  private static void one(Typed typed) throws BadExpression {
    if (typed.kind().many()) {
      throw new BadExpression(
          typed.offset(), "This stands for the values of all rows; use sum, min, max or count.");
    }
  }

  private Typed pair(String operator, Typed left, Typed right, Kind kind) throws BadExpression {
    return made(new Node.Pair(operator, left.node(), right.node()), kind, left.offset());
  }

  private Typed made(Node node, Kind kind, int offset) throws BadExpression {
    if (++nodes > MAX_NODES) {
      throw new BadExpression(offset, "An expression has at most " + MAX_NODES + " parts.");
    }
    return new Typed(node, kind, offset);
  }

  private void descend() throws BadExpression {
    if (++depth > MAX_DEPTH) {
      throw new BadExpression(
          peek().offset(), "An expression is nested at most " + MAX_DEPTH + " deep.");
    }
  }

  private Token peek() {
    return tokens.get(at);
  }

  private Token next() {
    Token token = tokens.get(at);
    if (token.sort() != Sort.END) {
      at++;
    }
    return token;
  }

  private boolean took(String sign) {
    if (!peek().is(sign)) {
      return false;
    }
    next();
    return true;
  }

  private void expect(String sign) throws BadExpression {
    if (!took(sign)) {
      throw unexpected("`" + sign + "` should stand here");
    }
  }

  private BadExpression unexpected(String wanted) {
    Token token = peek();
    String found =
        switch (token.sort()) {
          case END -> ", but the expression ends.";
          case TEXT -> ", not a text.";
          default -> ", not `" + Wellformed.of(token.text()) + "`.";
        };
    return new BadExpression(token.offset(), wanted + found);
  }
}
