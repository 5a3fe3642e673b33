package nodley.core.expression;

/** What stands between two values. */
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
  DAYS_BACK("day-");

  private final String word;

  Operator(String word) {
    this.word = word;
  }

  /** As it is written; for dates with {@code day} before it, so that the page can tell. */
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
}
