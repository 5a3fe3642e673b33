package nodley.store.record;

import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.function.BinaryOperator;
import nodley.core.file.RecordNames;
import nodley.core.form.Type;
import nodley.core.value.Numbers;
import nodley.store.schema.Column;
import nodley.store.schema.Table;
import nodley.store.sqlite.EngineSql;

/**
 * Translates a condition into SQL that is true at least wherever the condition is. Indexes then
 * narrow what is read, and the core evaluates the condition on the rest. Left to the core:
 * everything that SQLite computes otherwise (sums of decimals, letter case, moments). Values are
 * bound, never part of the SQL text.
 *
 * @param sql as it stands in WHERE
 * @param bound the values of its question marks
 */
record ConditionSql(String sql, List<Object> bound) {

  /** A side of a comparison. */
  private record Side(String sql, List<Object> bound, SqlType sort) {}

  private enum SqlType {
    TEXT,
    NUMBER,
    TRUTH,
    DATE,
    TIME
  }

  /**
   * Narrows down the records of a table.
   *
   * @param tree a condition, as {@code Expression.toJson} gives it
   * @return nothing if SQLite can say nothing of it
   */
  static Optional<ConditionSql> of(Object tree, Table table) {
    if (head(tree).equals("and")) {
      Optional<ConditionSql> left = of(item(tree, 1), table);
      Optional<ConditionSql> right = of(item(tree, 2), table);
      return left.isPresent() && right.isPresent()
          ? joined(left, "AND", right)
          : left.or(() -> right);
    }
    if (head(tree).equals("or")) {
      return joined(of(item(tree, 1), table), "OR", of(item(tree, 2), table));
    }
    return exactly(tree, table);
  }

  /** SQL that comes to true, false or NULL just where the condition comes to true, false, blank. */
  private static Optional<ConditionSql> exactly(Object tree, Table table) {
    return switch (head(tree)) {
      case "and", "or" ->
          joined(
              exactly(item(tree, 1), table),
              head(tree).toUpperCase(Locale.ROOT),
              exactly(item(tree, 2), table));
      case "not" ->
          exactly(item(tree, 1), table).map(it -> new ConditionSql("NOT " + it.sql, it.bound));
      case "=", "!=", "<", "<=", ">", ">=" -> compared(tree, table);
      case "in" -> isIn(tree, table);
      case "blank" ->
          isConfirmedAt(item(tree, 1), table)
              ? Optional.of(new ConditionSql("(\"confirmed__at\" = '')", List.of()))
              : side(item(tree, 1), table)
                  .map(it -> new ConditionSql("(" + it.sql + " IS NULL)", it.bound));
      case "has" -> has(tree, table);
      default ->
          side(tree, table)
              .filter(it -> it.sort == SqlType.TRUTH)
              .map(it -> new ConditionSql(it.sql, it.bound));
    };
  }

  private static Optional<ConditionSql> joined(
      Optional<ConditionSql> left, String word, Optional<ConditionSql> right) {
    BinaryOperator<ConditionSql> join =
        (a, b) ->
            new ConditionSql("(" + a.sql + " " + word + " " + b.sql + ")", both(a.bound, b.bound));
    return left.flatMap(a -> right.map(b -> join.apply(a, b)));
  }

  private static Optional<ConditionSql> compared(Object tree, Table table) {
    Optional<Side> left = side(item(tree, 1), table);
    Optional<Side> right = side(item(tree, 2), table);
    if (left.isEmpty() || right.isEmpty() || left.get().sort != right.get().sort) {
      return Optional.empty();
    }
    String operator = head(tree).equals("!=") ? "<>" : head(tree);
    return Optional.of(
        new ConditionSql(
            "(" + left.get().sql + " " + operator + " " + right.get().sql + ")",
            both(left.get().bound, right.get().bound)));
  }

  private static Optional<ConditionSql> isIn(Object tree, Table table) {
    Optional<Side> left = side(item(tree, 1), table);
    List<Object> bound = new ArrayList<>();
    left.ifPresent(it -> bound.addAll(it.bound));
    List<?> list = (List<?>) item(tree, 2);
    for (Object literal : list) {
      Optional<Side> side = side(literal, table);
      if (left.isEmpty() || side.isEmpty() || side.get().sort != left.get().sort) {
        return Optional.empty();
      }
      bound.addAll(side.get().bound);
    }
    String marks = String.join(", ", Collections.nCopies(list.size(), "?"));
    return left.map(it -> new ConditionSql("(" + it.sql + " IN (" + marks + "))", bound));
  }

  private static Optional<ConditionSql> has(Object tree, Table table) {
    Optional<Column> column =
        column(item(tree, 1), table).filter(it -> it.field().type() == Type.CHOICES);
    return item(tree, 2) instanceof String option && column.isPresent()
        ? Optional.of(
            new ConditionSql(
                "(CASE WHEN "
                    + column.get().name()
                    + " IS NULL THEN NULL ELSE "
                    + EngineSql.contains(column.get().name())
                    + " END)",
                List.of(option)))
        : Optional.empty();
  }

  private static Optional<Side> side(Object tree, Table table) {
    return switch (tree) {
      case String text -> Optional.of(new Side("?", List.of(text), SqlType.TEXT));
      case Boolean yes -> Optional.of(new Side("?", List.of(yes ? 1 : 0), SqlType.TRUTH));
      case Number number -> Optional.of(new Side("?", List.of(bound(number)), SqlType.NUMBER));
      case List<?> list when list.getFirst().equals("date") ->
          Optional.of(new Side("?", List.of(list.get(1)), SqlType.DATE));
      default ->
          column(tree, table)
              .flatMap(column -> sort(column).map(it -> new Side(column.name(), List.of(), it)));
    };
  }

  private static boolean isConfirmedAt(Object tree, Table table) {
    return tree.equals(List.of("get", 0, RecordNames.CONFIRMED_AT))
        && table.fields().find(RecordNames.CONFIRMED_AT).isEmpty();
  }

  private static Object bound(Number number) {
    BigDecimal exact = new BigDecimal(number.toString());
    return Numbers.isInteger(exact) ? (Object) exact.longValue() : exact.doubleValue();
  }

  /** The column that a part of a condition stands for. */
  private static Optional<Column> column(Object tree, Table table) {
    if (!head(tree).equals("get") || !Integer.valueOf(0).equals(item(tree, 1))) {
      return Optional.empty();
    }
    List<?> path = ((List<?>) tree).subList(2, ((List<?>) tree).size());
    return table.columns().stream()
        .filter(column -> column.placed().path().equals(path))
        .findFirst();
  }

  private static Optional<SqlType> sort(Column column) {
    return Optional.ofNullable(
        switch (column.field().type()) {
          case TEXT, EMAIL, URL, PHONE, CHOICE, RECORD -> SqlType.TEXT;
          case INTEGER, DECIMAL -> SqlType.NUMBER;
          case BOOLEAN -> SqlType.TRUTH;
          case DATE -> SqlType.DATE;
          case TIME -> SqlType.TIME;
          default -> null;
        });
  }

  private static String head(Object tree) {
    return tree instanceof List<?> list && list.getFirst() instanceof String word ? word : "";
  }

  private static Object item(Object tree, int index) {
    return ((List<?>) tree).get(index);
  }

  private static List<Object> both(List<Object> a, List<Object> b) {
    List<Object> both = new ArrayList<>(a);
    both.addAll(b);
    return both;
  }
}
