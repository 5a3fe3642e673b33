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
  Value in(EvaluationContext scene);

  Object toJson();

  /** True if it comes to nothing; a field of rows, if it does in every row. */
  default boolean isBlankIn(EvaluationContext scene) {
    return in(scene) == Value.BLANK;
  }

  /** Adds what it stands for: a field of rows for its value in each row. */
  default void addTo(List<Value> values, EvaluationContext scene) {
    values.add(in(scene));
  }

  record Literal(Value value) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
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
    public Value in(EvaluationContext scene) {
      return switch (what) {
        case "today" -> new Value.Date(scene.today());
        case "now" -> new Value.Moment(scene.now());
        default -> new Value.Text(scene.mode());
      };
    }

    @Override
    public Object toJson() {
      return List.of(what);
    }
  }

  record Caller(String what) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return scene.caller(what);
    }

    @Override
    public Object toJson() {
      return List.of("caller", what);
    }
  }

  /** A field; {@code many} if it stands for its values in all rows. */
  record Get(int up, Path path, boolean many) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return scene.get(up, path);
    }

    @Override
    public boolean isBlankIn(EvaluationContext scene) {
      if (!many) {
        return in(scene) == Value.BLANK;
      }
      List<Value> values = new ArrayList<>();
      scene.each(up, path, values);
      return values.stream().allMatch(Value::isBlank);
    }

    @Override
    public void addTo(List<Value> values, EvaluationContext scene) {
      if (many) {
        scene.each(up, path, values);
      } else {
        values.add(in(scene));
      }
    }

    @Override
    public Object toJson() {
      return array(many ? "each" : "get", up, path.names());
    }
  }

  /** A field that no page has: a page leaves what depends on it to the service. */
  record Kept(Get field) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return field.in(scene);
    }

    @Override
    public boolean isBlankIn(EvaluationContext scene) {
      return field.isBlankIn(scene);
    }

    @Override
    public void addTo(List<Value> values, EvaluationContext scene) {
      field.addTo(values, scene);
    }

    @Override
    public Object toJson() {
      return PageExpression.KEPT;
    }
  }

  /** A field of the record that another expression gives the id of. */
  record Through(Node record, String form, List<String> path) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return record.in(scene) instanceof Value.Text(String id)
          ? scene.through(form, id, path)
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("through", record.toJson(), form, path);
    }
  }

  record Not(Node of) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return of.in(scene) instanceof Value.Bool(boolean yes) ? Value.Bool.of(!yes) : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("not", of.toJson());
    }
  }

  record Minus(Node of) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return of.in(scene) instanceof Value.Number(BigDecimal number)
          ? new Value.Number(number.negate())
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("minus", of.toJson());
    }
  }

  record Pair(Operator operator, Node left, Node right) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      Value first = left.in(scene);
      return operator.decides(first) ? first : operator.of(first, right.in(scene));
    }

    @Override
    public Object toJson() {
      return List.of(operator.word(), left.toJson(), right.toJson());
    }
  }

  record In(Node of, List<Value> list) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      Value value = of.in(scene);
      return value == Value.BLANK ? value : Value.Bool.of(list.contains(value));
    }

    @Override
    public Object toJson() {
      return List.of("in", of.toJson(), list.stream().map(it -> new Literal(it).toJson()).toList());
    }
  }

  record IsBlank(Node of) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return Value.Bool.of(of.isBlankIn(scene));
    }

    @Override
    public Object toJson() {
      return List.of("blank", of.toJson());
    }
  }

  record If(Node condition, Node then, Node otherwise) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return condition.in(scene) instanceof Value.Bool(boolean yes)
          ? (yes ? then : otherwise).in(scene)
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("if", condition.toJson(), then.toJson(), otherwise.toJson());
    }
  }

  record Call(Function function, List<Node> arguments) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      List<Value> values = new ArrayList<>();
      for (Node argument : arguments) {
        argument.addTo(values, scene);
      }
      return function.of(values);
    }

    @Override
    public Object toJson() {
      return array(function.word(), arguments.stream().map(Node::toJson).toList());
    }
  }

  record Matches(Node of, IRegexp pattern) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return of.in(scene) instanceof Value.Text(String text)
          ? Value.Bool.of(pattern.matches(text))
          : Value.BLANK;
    }

    @Override
    public Object toJson() {
      return List.of("matches", of.toJson(), pattern.browser());
    }
  }

  record Round(Node of, int places) implements Node {
    @Override
    public Value in(EvaluationContext scene) {
      return of.in(scene) instanceof Value.Number(BigDecimal number)
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
