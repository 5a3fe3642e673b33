package nodley.core.expression;

import java.util.ArrayList;
import java.util.List;
import nodley.core.pattern.IRegexp;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/** The tree of an expression, and how it is written for the page: an array, its first item what. */
sealed interface Node {

  Object toJson();

  record Literal(Value value) implements Node {
    @Override
    public Object toJson() {
      return value instanceof Value.Date ? List.of("date", value.shown()) : value.toJson();
    }
  }

  /** {@code today}, {@code now}, {@code mode}. */
  record Given(String what) implements Node {
    @Override
    public Object toJson() {
      return List.of(what);
    }
  }

  record Caller(String what) implements Node {
    @Override
    public Object toJson() {
      return List.of("caller", what);
    }
  }

  /** A field; {@code many} if it stands for its values in all rows. */
  record Get(int up, Path path, boolean many) implements Node {
    @Override
    public Object toJson() {
      return array(many ? "each" : "get", up, path.names());
    }
  }

  /** A field of the record that another expression gives the id of. */
  record Through(Node record, String form, List<String> path) implements Node {
    @Override
    public Object toJson() {
      return List.of("through", record.toJson(), form, path);
    }
  }

  record Not(Node of) implements Node {
    @Override
    public Object toJson() {
      return List.of("not", of.toJson());
    }
  }

  record Minus(Node of) implements Node {
    @Override
    public Object toJson() {
      return List.of("minus", of.toJson());
    }
  }

  record Pair(Operator operator, Node left, Node right) implements Node {
    @Override
    public Object toJson() {
      return List.of(operator.word(), left.toJson(), right.toJson());
    }
  }

  record In(Node of, List<Value> list) implements Node {
    @Override
    public Object toJson() {
      return List.of("in", of.toJson(), list.stream().map(it -> new Literal(it).toJson()).toList());
    }
  }

  record IsBlank(Node of) implements Node {
    @Override
    public Object toJson() {
      return List.of("blank", of.toJson());
    }
  }

  record If(Node condition, Node then, Node otherwise) implements Node {
    @Override
    public Object toJson() {
      return List.of("if", condition.toJson(), then.toJson(), otherwise.toJson());
    }
  }

  record Call(Function function, List<Node> arguments) implements Node {
    @Override
    public Object toJson() {
      return array(function.word(), arguments.stream().map(Node::toJson).toList());
    }
  }

  record Matches(Node of, IRegexp pattern) implements Node {
    @Override
    public Object toJson() {
      return List.of("matches", of.toJson(), pattern.browser());
    }
  }

  record Round(Node of, int places) implements Node {
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
  static boolean isWritable(java.math.BigDecimal number) {
    return Numbers.isPrecise(number);
  }
}
