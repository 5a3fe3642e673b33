package nodley.core.expression;

import java.util.List;

/**
 * The static type of an expression: what the type checker knows of a value before there is one.
 * Immutable. Two types that differ in {@code options} alone are of the same base, and can be
 * compared with each other.
 *
 * @param many true for the values of one field over all rows, as in {@code sum(crew.fee)}
 * @param options the only texts that a choice can have; empty if they are not known
 */
public record ExpressionType(Base base, boolean many, List<String> options) {

  /** The types of the language; fields of several types are one text to it. */
  public enum Base {
    TEXT("text"),
    INTEGER("a whole number"),
    DECIMAL("a number"),
    BOOLEAN("true or false"),
    DATE("a date"),
    TIME("a time"),
    DATETIME("a date with time"),
    CHOICES("several options"),
    GROUP("a group"),
    ROWS("rows"),
    /** Behind a form that is not known here, as when a file is read alone. */
    ANYTHING("anything");

    private final String words;

    Base(String words) {
      this.words = words;
    }
  }

  public ExpressionType {
    options = List.copyOf(options);
  }

  /** A single value of a type. */
  public static ExpressionType of(Base base) {
    return new ExpressionType(base, false, List.of());
  }

  static final ExpressionType TEXT = of(Base.TEXT);
  static final ExpressionType INTEGER = of(Base.INTEGER);
  static final ExpressionType DECIMAL = of(Base.DECIMAL);
  static final ExpressionType BOOLEAN = of(Base.BOOLEAN);
  static final ExpressionType DATE = of(Base.DATE);

  static final ExpressionType ANYTHING = of(Base.ANYTHING);

  /** The same, over all rows. */
  public ExpressionType overRows() {
    return new ExpressionType(base, true, options);
  }

  boolean isNumber() {
    return base == Base.INTEGER || base == Base.DECIMAL || base == Base.ANYTHING;
  }

  boolean isOrdered() {
    return switch (base) {
      case TEXT, INTEGER, DECIMAL, DATE, TIME, DATETIME, ANYTHING -> true;
      case BOOLEAN, CHOICES, GROUP, ROWS -> false;
    };
  }

  /** True if a value of this kind can stand where the other is wanted. */
  public boolean fits(ExpressionType wanted) {
    return isLike(wanted);
  }

  /** True if values of both can be compared, or stand in for each other. */
  boolean isLike(ExpressionType other) {
    boolean same = base == other.base || base == Base.ANYTHING || other.base == Base.ANYTHING;
    return many == other.many && (same || isNumber() && other.isNumber());
  }

  /** In words that a sentence begins with. */
  String capital() {
    String words = words();
    return Character.toUpperCase(words.charAt(0)) + words.substring(1);
  }

  /** In words, for an error. */
  public String words() {
    return many ? base.words + " of each row" : base.words;
  }
}
