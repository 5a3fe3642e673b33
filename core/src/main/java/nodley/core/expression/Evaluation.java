package nodley.core.expression;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.text.Normalizer;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.value.Letters;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * Runs an expression. Blank meets blank: every operator on a blank value is blank, but for {@code
 * and}, {@code or}, {@code not} (Kleene's three values) and {@code is blank}.
 */
record Evaluation(Scene scene) {

  /** A quotient has this many places after the point, the last one rounded half-even. */
  private static final int QUOTIENT_PLACES = 20;

  private static final int FEW_PLACES = 4;

  private static final int MAX_SLUG = 60;
  private static final Pattern MARKS = Pattern.compile("\\p{M}+");
  private static final Pattern OTHERS = Pattern.compile("[^a-z0-9]+");

  Value of(Node node) {
    // Those that stand most often come first: the types are tried in this order.
    return switch (node) {
      case Node.Get get -> scene.get(get.up(), get.path());
      case Node.Pair pair -> pair(pair);
      case Node.Literal(Value value) -> value;
      case Node.Call call -> call(call);
      case Node.Given(String what) ->
          switch (what) {
            case "today" -> new Value.Date(scene.today());
            case "now" -> new Value.Moment(scene.now());
            default -> new Value.Text(scene.mode());
          };
      case Node.Caller(String what) -> scene.caller(what);
      case Node.Through(Node record, String form, List<String> path) ->
          of(record) instanceof Value.Text(String id) ? scene.through(form, id, path) : Value.BLANK;
      case Node.Not(Node inner) ->
          of(inner) instanceof Value.Bool(boolean yes) ? Value.Bool.of(!yes) : Value.BLANK;
      case Node.Minus(Node inner) ->
          of(inner) instanceof Value.Number(BigDecimal number)
              ? new Value.Number(number.negate())
              : Value.BLANK;
      case Node.In(Node inner, List<Value> list) -> {
        Value value = of(inner);
        yield value.isBlank() ? Value.BLANK : Value.Bool.of(list.contains(value));
      }
      case Node.IsBlank(Node inner) -> Value.Bool.of(isBlank(inner));
      case Node.If(Node condition, Node then, Node otherwise) ->
          of(condition) instanceof Value.Bool(boolean yes)
              ? of(yes ? then : otherwise)
              : Value.BLANK;
      case Node.Matches(Node inner, var pattern) ->
          of(inner) instanceof Value.Text(String text)
              ? Value.Bool.of(pattern.matches(text))
              : Value.BLANK;
      case Node.Round(Node inner, int places) ->
          of(inner) instanceof Value.Number(BigDecimal number)
              ? new Value.Number(number.setScale(places, RoundingMode.HALF_EVEN))
              : Value.BLANK;
    };
  }

  private boolean isBlank(Node node) {
    return node instanceof Node.Get get && get.many()
        ? scene.each(get.up(), get.path()).stream().allMatch(Value::isBlank)
        : of(node).isBlank();
  }

  private Value pair(Node.Pair pair) {
    Value left = of(pair.left());
    Operator operator = pair.operator();
    if (operator == Operator.AND) {
      return isFalse(left) ? left : both(left, of(pair.right()), false);
    }
    if (operator == Operator.OR) {
      return isTrue(left) ? left : both(left, of(pair.right()), true);
    }
    Value right = of(pair.right());
    if (left.isBlank() || right.isBlank()) {
      return Value.BLANK;
    }
    return switch (operator) {
      case HAS ->
          Value.Bool.of(
              left instanceof Value.Chosen(List<String> options)
                  && options.contains(right.shown()));
      case DAYS_ON -> days(left, right, 1);
      case DAYS_BACK -> days(left, right, -1);
      case EQUAL -> Value.Bool.of(left.equals(right));
      case UNEQUAL -> Value.Bool.of(!left.equals(right));
      case LESS -> Value.Bool.of(Value.compare(left, right) < 0);
      case AT_MOST -> Value.Bool.of(Value.compare(left, right) <= 0);
      case MORE -> Value.Bool.of(Value.compare(left, right) > 0);
      case AT_LEAST -> Value.Bool.of(Value.compare(left, right) >= 0);
      default ->
          left instanceof Value.Number(BigDecimal a) && right instanceof Value.Number(BigDecimal b)
              ? arithmetic(operator, a, b)
              : Value.BLANK;
    };
  }

  private static boolean isTrue(Value value) {
    return value instanceof Value.Bool(boolean yes) && yes;
  }

  private static boolean isFalse(Value value) {
    return value instanceof Value.Bool(boolean yes) && !yes;
  }

  /** The rest of {@code and} and {@code or}: the right side decides, unless the left was blank. */
  private static Value both(Value left, Value right, boolean decisive) {
    boolean decides = right instanceof Value.Bool(boolean yes) && yes == decisive;
    return decides || !left.isBlank() ? right : Value.BLANK;
  }

  private static Value arithmetic(Operator operator, BigDecimal left, BigDecimal right) {
    return switch (operator) {
      case PLUS -> new Value.Number(left.add(right));
      case MINUS -> new Value.Number(left.subtract(right));
      case TIMES -> new Value.Number(left.multiply(right));
      default -> right.signum() == 0 ? Value.BLANK : new Value.Number(quotient(left, right));
    };
  }

  /** Most quotients end after a few places; to find that out costs less than to work out all. */
  private static BigDecimal quotient(BigDecimal left, BigDecimal right) {
    BigDecimal few = left.divide(right, FEW_PLACES, RoundingMode.DOWN);
    return few.multiply(right).compareTo(left) == 0
        ? few
        : left.divide(right, QUOTIENT_PLACES, RoundingMode.HALF_EVEN);
  }

  private static Value days(Value date, Value days, int sign) {
    if (!(date instanceof Value.Date(LocalDate from))
        || !(days instanceof Value.Number(BigDecimal count))
        || !Numbers.isInteger(count)) {
      return Value.BLANK;
    }
    try {
      LocalDate moved = from.plusDays(sign * count.longValue());
      return moved.getYear() < 1 || moved.getYear() > 9999 ? Value.BLANK : new Value.Date(moved);
    } catch (DateTimeException | ArithmeticException e) {
      return Value.BLANK;
    }
  }

  private Value call(Node.Call call) {
    return switch (call.function()) {
      case COUNT -> count(call.arguments());
      case SUM -> sum(call.arguments());
      case MIN -> extreme(call.arguments(), -1);
      case MAX -> extreme(call.arguments(), 1);
      case DAYS ->
          of(call.arguments().get(0)) instanceof Value.Date(LocalDate from)
                  && of(call.arguments().get(1)) instanceof Value.Date(LocalDate to)
              ? whole(ChronoUnit.DAYS.between(from, to))
              : Value.BLANK;
      case YEAR ->
          of(call.arguments().getFirst()) instanceof Value.Date(LocalDate date)
              ? whole(date.getYear())
              : Value.BLANK;
      case LENGTH, LOWER, UPPER, SLUG ->
          of(call.arguments().getFirst()) instanceof Value.Text(String text)
              ? written(call.function(), text)
              : Value.BLANK;
    };
  }

  private static Value whole(long number) {
    return new Value.Number(BigDecimal.valueOf(number));
  }

  private static Value written(Function function, String text) {
    return switch (function) {
      case LENGTH -> whole(text.codePointCount(0, text.length()));
      case LOWER -> new Value.Text(Letters.lower(text));
      case UPPER -> new Value.Text(Letters.upper(text));
      default -> slug(text);
    };
  }

  private static Value slug(String text) {
    String bare = MARKS.matcher(Normalizer.normalize(text, Normalizer.Form.NFKD)).replaceAll("");
    String joined = OTHERS.matcher(Letters.lower(bare)).replaceAll("-");
    int start = joined.startsWith("-") ? 1 : 0;
    String cut = joined.substring(start, Math.min(joined.length(), start + MAX_SLUG));
    String slug = cut.endsWith("-") ? cut.substring(0, cut.length() - 1) : cut;
    return slug.isEmpty() ? Value.BLANK : new Value.Text(slug);
  }

  /** Rows and choices count what they hold; other values count one each, unless blank. */
  private Value count(List<Node> arguments) {
    long count = 0;
    for (Node argument : arguments) {
      for (Value value : all(argument)) {
        count +=
            switch (value) {
              case Value.Blank _ -> 0;
              case Value.Chosen(List<String> options) -> options.size();
              case Value.Rows(var rows) -> rows.size();
              default -> 1;
            };
      }
    }
    return whole(count);
  }

  private Value sum(List<Node> arguments) {
    BigDecimal sum = BigDecimal.ZERO;
    for (Node argument : arguments) {
      for (Value value : all(argument)) {
        if (value instanceof Value.Number(BigDecimal number)) {
          sum = sum.add(number);
        }
      }
    }
    return new Value.Number(sum);
  }

  private Value extreme(List<Node> arguments, int sign) {
    Optional<Value> found = Optional.empty();
    for (Node argument : arguments) {
      for (Value value : all(argument)) {
        if (!value.isBlank() && (found.isEmpty() || Value.compare(value, found.get()) * sign > 0)) {
          found = Optional.of(value);
        }
      }
    }
    return found.orElse(Value.BLANK);
  }

  private List<Value> all(Node argument) {
    return argument instanceof Node.Get get && get.many()
        ? scene.each(get.up(), get.path())
        : new ArrayList<>(List.of(of(argument)));
  }
}
