package nodley.core.expression;

import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import nodley.core.value.Value;

/** A condition or a computed value, typed and ready to run. It always ends, and never fails. */
public final class Expression {

  private final String source;
  private final Node root;
  private final Kind kind;
  private final Set<String> reads;
  private final List<Path> paths;
  private final boolean server;
  private final boolean clock;

  /**
   * A field that an expression reads.
   *
   * @param up how many scopes outwards
   */
  public record Path(int up, List<String> names) {
    private static Path of(String read) {
      int up = read.lastIndexOf('^') + 1;
      return new Path(up, Stream.of(read.substring(up).split("\\.")).map(String::intern).toList());
    }
  }

  Expression(
      String source, Node root, Kind kind, Set<String> reads, boolean server, boolean clock) {
    this.source = source;
    this.root = root;
    this.kind = kind;
    this.reads = Collections.unmodifiableSet(new TreeSet<>(reads));
    this.paths = this.reads.stream().map(Path::of).toList();
    this.server = server;
    this.clock = clock;
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
   * Reads the rule of a part.
   *
   * @param given what stands in place of its parameters
   * @throws BadExpression if it has an error: the first one
   */
  public static Expression read(String source, Names names, Map<String, Expression> given)
      throws BadExpression {
    return Parser.parse(source, names, given);
  }

  /** What it comes to; a hidden, unread or missing field is blank to it. */
  public Value value(Scene scene) throws Unanswered {
    return new Evaluation(scene).of(root);
  }

  /** True if it comes to true; blank is not true. */
  public boolean holds(Scene scene) throws Unanswered {
    return value(scene) instanceof Value.Bool(boolean yes) && yes;
  }

  /** True if it comes to false; blank is not false. */
  public boolean fails(Scene scene) throws Unanswered {
    return value(scene) instanceof Value.Bool(boolean yes) && !yes;
  }

  /** The text as it was written. */
  public String source() {
    return source;
  }

  public Kind kind() {
    return kind;
  }

  /** The fields it reads, by path; a leading {@code ^} for each scope further out. */
  public Set<String> reads() {
    return reads;
  }

  /** The same, taken apart. */
  public List<Path> paths() {
    return paths;
  }

  /** True if only the server can decide it: it reaches through a record, or asks who sends. */
  public boolean isForServer() {
    return server;
  }

  /** True if it reads {@code today} or {@code now}. */
  public boolean readsClock() {
    return clock;
  }

  /** The tree as the page runs it. */
  public Object toJson() {
    return root.toJson();
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
