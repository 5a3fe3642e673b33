package nodley.core.expression;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.value.Value;

/**
 * A condition or computed value: parsed, type-checked, ready to evaluate. Evaluation always ends
 * and never fails, except with {@link LookupUnavailable}. Immutable; thread-safe.
 */
public final class Expression {

  private final String source;
  private final Node root;
  private final ExpressionType kind;
  private final List<Read> reads;
  private final boolean beyond;
  private final boolean clock;
  private final boolean mode;

  /**
   * A field that an expression reads.
   *
   * @param up how many scopes outwards
   * @param onPages false if pages do not have it
   */
  public record Read(int up, Path path, boolean onPages) {

    /** Returns the names of the fields that it reads, each once. */
    public List<String> names() {
      return path.names();
    }

    /** The path, with a leading {@code ^} for each scope further out. */
    @Override
    public String toString() {
      return "^".repeat(up) + path;
    }
  }

  Expression(
      String source,
      Node root,
      ExpressionType kind,
      Collection<Read> reads,
      boolean beyond,
      boolean clock,
      boolean mode) {
    this.source = source;
    this.root = root;
    this.kind = kind;
    this.reads = reads.stream().sorted(Comparator.comparing(Read::toString)).toList();
    this.beyond = beyond;
    this.clock = clock;
    this.mode = mode;
  }

  /**
   * Reads an expression.
   *
   * @throws BadExpression if it has an error: the first one
   */
  public static Expression read(String source, Names names) throws BadExpression {
    return Parser.parse(source, names, Map.of());
  }

  /**
   * The condition that a record is added: {@code mode = "add"}, whatever a form's fields are
   * called.
   */
  public static Expression onAdd() {
    return Parser.onAdd();
  }

  /**
   * Reads an expression that must come to true or false.
   *
   * @throws BadExpression if it has an error: the first one
   */
  public static Expression condition(String source, Names names) throws BadExpression {
    Expression expression = read(source, names);
    if (expression.kind().base() != ExpressionType.Base.BOOLEAN || expression.kind().many()) {
      throw new BadExpression(
          0, "Type mismatch: expected true or false, found " + expression.kind().words() + ".");
    }
    return expression;
  }

  /**
   * Reads the rule of a part.
   *
   * @param given what stands in place of its parameters
   * @throws BadExpression if it has an error: the first one
   */
  public static Expression read(String source, Names names, Map<String, Expression> given)
      throws BadExpression {
    return Parser.parse(source, names, given);
  }

  /** The condition that this one and another both hold. */
  public Expression and(Expression other) {
    return Parser.and(this, other);
  }

  /** What it comes to; a hidden, unread or missing field is blank to it. */
  public Value value(EvaluationContext context) throws LookupUnavailable {
    return root.in(context);
  }

  /** True if it comes to true; blank is not true. */
  public boolean holds(EvaluationContext context) throws LookupUnavailable {
    return value(context) instanceof Value.Bool bool && bool.value();
  }

  /** True if it comes to false; blank is not false. */
  public boolean fails(EvaluationContext context) throws LookupUnavailable {
    return value(context) instanceof Value.Bool bool && !bool.value();
  }

  /** The text as it was written. */
  public String source() {
    return source;
  }

  /** Returns the type of its result. */
  public ExpressionType kind() {
    return kind;
  }

  /** The fields it reads, each once. */
  public List<Read> reads() {
    return reads;
  }

  /** True if only the server can decide it: it asks beyond, or reads what no page has. */
  public boolean isForServer() {
    return beyond || readsUnseen();
  }

  /** True if it asks for more than the form's own values: through a record, or who sends. */
  public boolean asksBeyond() {
    return beyond;
  }

  private boolean readsUnseen() {
    return reads.stream().anyMatch(read -> !read.onPages());
  }

  /** True if it reads {@code today} or {@code now}. */
  public boolean readsClock() {
    return clock;
  }

  /** True if it asks whether a record is added or edited. */
  public boolean readsMode() {
    return mode;
  }

  /**
   * Whether it holds, if the mode alone decides that.
   *
   * @param current {@code add} or {@code edit}
   */
  public Optional<Boolean> holdsIn(String current) {
    if (!reads.isEmpty() || beyond || clock) {
      return Optional.empty();
    }
    try {
      return Optional.of(holds(new ModeContext(current)));
    } catch (LookupUnavailable e) {
      throw new IllegalStateException("nothing was asked", e);
    }
  }

  /** The tree as the page runs it. */
  public Object toJson() {
    Object tree = root.toJson();
    return readsUnseen() ? PageExpression.of(tree) : tree;
  }

  Node root() {
    return root;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Expression it && source.equals(it.source) && root.equals(it.root);
  }

  @Override
  public int hashCode() {
    return source.hashCode();
  }

  @Override
  public String toString() {
    return source;
  }
}
