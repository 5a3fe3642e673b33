package nodley.core.expression;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.List;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * Node of an expression tree: it evaluates, and writes itself as JSON for the page, as an array
 * whose first item is its kind. Every operation is total: where it is not defined, its value is
 * blank.
 */
sealed interface Node {

  /** What it comes to. */
  Value in(EvaluationContext context);

  /**
   * Returns it as the page evaluates it: a text, a number, or an array that begins with its kind.
   */
  Object toJson();

  /** True if it comes to nothing; a field of rows, if it does in every row. */
  default boolean isBlankIn(EvaluationContext context) {
    return in(context) == Value.BLANK;
  }

  /** Adds what it stands for: a field of rows for its value in each row. */
  default void addTo(List<Value> values, EvaluationContext context) {
    values.add(in(context));
  }

  /** A value that is written out. */
  record Literal(Value value) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return value;
    }

    @Override
    public Object toJson() {
      return value instanceof Value.Date
          ? List.of("date", value.shown())
          : value.isBlank() ? "" : value.toJson();
    }
  }

  /** {@code today}, {@code now}, {@code mode}. */
  record Given(String what) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return switch (what) {
        case "today" -> new Value.Date(context.today());
        case "now" -> new Value.Moment(context.now());
        default -> new Value.Text(context.mode());
      };
    }

    @Override
    public Object toJson() {
      return List.of(what);
    }
  }

  /** What is known of whoever sends, such as {@code caller.name}; blank for strangers. */
  record Caller(String what) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return context.caller(what);
    }

    @Override
    public Object toJson() {
      return List.of("caller", what);
    }
  }

  /** A field; {@code many} if it stands for its values in all rows. */
  record Get(int up, Path path, boolean many) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return context.get(up, path);
    }

    @Override
    public boolean isBlankIn(EvaluationContext context) {
      if (!many) {
        return in(context) == Value.BLANK;
      }
      List<Value> values = new ArrayList<>();
      context.each(up, path, values);
      return values.stream().allMatch(Value::isBlank);
    }

    @Override
    public void addTo(List<Value> values, EvaluationContext context) {
      if (many) {
        context.each(up, path, values);
      } else {
        values.add(in(context));
      }
    }

    @Override
    public Object toJson() {
      return array(many ? "each" : "get", up, path.names());
    }
  }

  /** A field that no page has: a page leaves what depends on it to the service. */
  record Kept(Node field) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return field.in(context);
    }

    @Override
    public boolean isBlankIn(EvaluationContext context) {
      return field.isBlankIn(context);
    }

    @Override
    public void addTo(List<Value> values, EvaluationContext context) {
      field.addTo(values, context);
    }

    @Override
    public Object toJson() {
      return PageExpression.KEPT;
    }
  }

  /** A field of the record that another expression gives the id of. */
  record Through(Node record, String form, List<String> path) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return record.in(context) instanceof Value.Text(String id)
          ? context.through(form, id, path)
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("through", record.toJson(), form, path);
    }
  }

  /** True for false, and false for true; blank for anything else. */
  record Not(Node of) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return of.in(context) instanceof Value.Bool(boolean yes) ? Value.Bool.of(!yes) : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("not", of.toJson());
    }
  }

  /** The number with the other sign; blank for what is no number. */
  record Minus(Node of) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return of.in(context) instanceof Value.Number(BigDecimal number)
          ? new Value.Number(number.negate())
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("minus", of.toJson());
    }
  }

  /** An operator between two values. The second is not evaluated where the first decides. */
  record Pair(Operator operator, Node left, Node right) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      Value first = left.in(context);
      return operator.decides(first) ? first : operator.of(first, right.in(context));
    }

    @Override
    public Object toJson() {
      return List.of(operator.word(), left.toJson(), right.toJson());
    }
  }

  /** Whether a value is one of a list; blank where the value is. */
  record In(Node of, List<Value> list) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      Value value = of.in(context);
      return value == Value.BLANK ? value : Value.Bool.of(list.contains(value));
    }

    @Override
    public Object toJson() {
      return List.of("in", of.toJson(), list.stream().map(it -> new Literal(it).toJson()).toList());
    }
  }

  /** Whether there is no value. */
  record IsBlank(Node of) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return Value.Bool.of(of.isBlankIn(context));
    }

    @Override
    public Object toJson() {
      return List.of("blank", of.toJson());
    }
  }

  /** One of two values, by a condition; blank where the condition is neither true nor false. */
  record If(Node condition, Node then, Node otherwise) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return condition.in(context) instanceof Value.Bool(boolean yes)
          ? (yes ? then : otherwise).in(context)
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("if", condition.toJson(), then.toJson(), otherwise.toJson());
    }
  }

  /** A function of values. */
  record Call(Function function, List<Node> arguments) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      List<Value> values = new ArrayList<>();
      for (Node argument : arguments) {
        argument.addTo(values, context);
      }
      return function.of(values);
    }

    @Override
    public Object toJson() {
      return array(function.word(), arguments.stream().map(Node::toJson).toList());
    }
  }

  /** Whether a text as a whole matches a pattern (RFC 9485); blank for what is no text. */
  record Matches(Node of, IRegexp pattern) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return of.in(context) instanceof Value.Text(String text)
          ? Value.Bool.of(pattern.matches(text))
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("matches", of.toJson(), pattern.browser());
    }
  }

  /** A number of so many decimal places; halves go to the even digit. */
  record Round(Node of, int places) implements Node {
    @Override
    public Value in(EvaluationContext context) {
      return of.in(context) instanceof Value.Number(BigDecimal number)
          ? new Value.Number(number.setScale(places, RoundingMode.HALF_EVEN))
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("round", of.toJson(), places);
    }
  }

  private static List<Object> array(String what, List<?> rest) {
    List<Object> array = new ArrayList<>();
    array.add(what);
    array.addAll(rest);
    return array;
  }

  private static List<Object> array(String what, int number, List<?> rest) {
    List<Object> array = array(what, List.of(number));
    array.addAll(rest);
    return array;
  }

  /** Number literals keep to what a JSON number carries everywhere. */
  static boolean isWritable(BigDecimal number) {
    return Numbers.isPrecise(number);
  }
}
