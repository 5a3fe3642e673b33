package nodley.core.expression;

import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.LocalDate;
import java.time.Period;
import java.util.List;
import java.util.function.IntFunction;
import nodley.core.value.Dates;
import nodley.core.value.Numbers;
import nodley.core.value.Value;

/**
 * The binary operators of the expression language, with the types that they take and give.
 * Evaluation is exact for numbers, never fails, and gives blank where an operand is blank and the
 * operator has no meaning for that.
 */
enum Operator {
  AND("and"),
  OR("or"),
  EQUAL("="),
  UNEQUAL("!="),
  LESS("<"),
  AT_MOST("<="),
  MORE(">"),
  AT_LEAST(">="),
  PLUS("+"),
  MINUS("-"),
  TIMES("*"),
  OVER("/"),
  HAS("has"),
  /** A date and a number of days. */
  DAYS_ON("day+"),
  DAYS_BACK("day-"),
  /** A date and a number of months; a month that is too short ends on its last day. */
  MONTHS_ON("month+"),
  MONTHS_BACK("month-");

  /** A quotient has this many places after the point, the last one rounded half-even. */
  private static final int QUOTIENT_PLACES = 20;

  private static final int FEW_PLACES = 4;

  /** More days than there are between the first date and the last. */
  private static final BigDecimal FURTHEST = BigDecimal.valueOf(4_000_000);

  private final String word;

  Operator(String word) {
    this.word = word;
  }

  /**
   * As it is written; for dates with {@code day} or {@code month} before it, so that the page can
   * tell.
   */
  String word() {
    return word;
  }

  static Operator of(String word) {
    for (Operator operator : values()) {
      if (operator.word.equals(word)) {
        return operator;
      }
    }
    throw new IllegalArgumentException(word);
  }

  /** True of {@code and} and {@code or}, which may do without their right side. */
  final boolean isLogical() {
    return this == AND || this == OR;
  }

  /** True if the left side is the outcome, and the right one need not be worked out. */
  boolean decides(Value left) {
    return this == AND ? isFalse(left) : this == OR && isTrue(left);
  }

  /** What comes of both; for all but {@code and} and {@code or} it is blank if one of them is. */
  Value of(Value left, Value right) {
    if (isLogical()) {
      return decides(right) || left != Value.BLANK ? right : Value.BLANK;
    }
    return left == Value.BLANK || right == Value.BLANK ? Value.BLANK : known(left, right);
  }

  /** The same, neither of them blank. */
  private Value known(Value left, Value right) {
    return switch (this) {
      case EQUAL -> Value.Bool.of(left.equals(right));
      case UNEQUAL -> Value.Bool.of(!left.equals(right));
      case LESS -> Value.Bool.of(Value.compare(left, right) < 0);
      case AT_MOST -> Value.Bool.of(Value.compare(left, right) <= 0);
      case MORE -> Value.Bool.of(Value.compare(left, right) > 0);
      case AT_LEAST -> Value.Bool.of(Value.compare(left, right) >= 0);
      case HAS ->
          Value.Bool.of(
              left instanceof Value.Chosen(List<String> options)
                  && options.contains(right.shown()));
      case DAYS_ON -> moved(left, right, count -> Period.ofDays(count));
      case DAYS_BACK -> moved(left, right, count -> Period.ofDays(-count));
      case MONTHS_ON -> moved(left, right, count -> Period.ofMonths(count));
      case MONTHS_BACK -> moved(left, right, count -> Period.ofMonths(-count));
      default ->
          left instanceof Value.Number(BigDecimal a) && right instanceof Value.Number(BigDecimal b)
              ? of(a, b)
              : Value.BLANK;
    };
  }

  private Value of(BigDecimal left, BigDecimal right) {
    return switch (this) {
      case PLUS -> new Value.Number(left.add(right));
      case MINUS -> new Value.Number(left.subtract(right));
      case TIMES -> new Value.Number(left.multiply(right));
      case OVER -> right.signum() == 0 ? Value.BLANK : new Value.Number(quotient(left, right));
      default -> Value.BLANK;
    };
  }

  private static boolean isTrue(Value value) {
    return value instanceof Value.Bool bool && bool.value();
  }

  private static boolean isFalse(Value value) {
    return value instanceof Value.Bool bool && !bool.value();
  }

  /** Most quotients end after a few places; to find that out costs less than to work out all. */
  private static BigDecimal quotient(BigDecimal left, BigDecimal right) {
    BigDecimal few = left.divide(right, FEW_PLACES, RoundingMode.DOWN);
    return few.multiply(right).compareTo(left) == 0
        ? few
        : left.divide(right, QUOTIENT_PLACES, RoundingMode.HALF_EVEN);
  }

  private static Value moved(Value date, Value by, IntFunction<Period> period) {
    if (!(date instanceof Value.Date(LocalDate from))
        || !(by instanceof Value.Number(BigDecimal count))
        || !Numbers.isInteger(count)
        || count.abs().compareTo(FURTHEST) > 0) {
      return Value.BLANK;
    }
    return Dates.moved(from, period.apply(count.intValue()))
        .<Value>map(Value.Date::new)
        .orElse(Value.BLANK);
  }
}
