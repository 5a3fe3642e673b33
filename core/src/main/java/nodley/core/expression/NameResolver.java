package nodley.core.expression;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import nodley.core.expression.Lexer.Token;
import nodley.core.expression.Lexer.TokenType;
import nodley.core.name.Near;
import nodley.core.value.Wellformed;

/**
 * Resolves names to typed nodes while an expression is parsed, and records which fields it reads.
 * Order: parameters of a part, fields of the innermost scope, of outer scopes, then {@code mode}
 * and {@code caller}, which a field shadows. One instance per parse; not thread-safe.
 */
final class NameResolver {

  private final Cursor cursor;
  private final Names names;

  /** What stands in place of a name, in the rule of a part. */
  private final Map<String, Typed> given;

  private final Set<Expression.Read> reads = new LinkedHashSet<>();
  private boolean beyond;
  private boolean mode;

  NameResolver(Cursor cursor, Names names, Map<String, Typed> given) {
    this.cursor = cursor;
    this.names = names;
    this.given = given;
  }

  /** The fields that have been named. */
  Set<Expression.Read> reads() {
    return reads;
  }

  /** True if it reaches through a record, or asks who sends. */
  boolean asksBeyond() {
    return beyond;
  }

  boolean readsMode() {
    return mode;
  }

  /** A field wins over {@code mode} and {@code caller}, so that forms can have fields so named. */
  Typed name(Token token) throws BadExpression {
    String word = token.text();
    Typed parameter = given.get(word);
    if (parameter != null) {
      return cursor.made(parameter.node(), parameter.kind(), token.offset());
    }
    int up = 0;
    for (Optional<Names> scope = Optional.of(names);
        scope.isPresent();
        scope = scope.get().outer(), up++) {
      Optional<Names.Found> found = scope.get().find(word);
      if (found.isPresent()) {
        return path(token, up, found.get());
      }
    }
    if (word.equals("mode")) {
      mode = true;
      return cursor.made(
          new Node.Given("mode"),
          new ExpressionType(ExpressionType.Base.TEXT, false, List.of("add", "edit")),
          token.offset());
    }
    if (word.equals("caller")) {
      return caller(token);
    }
    if (word.equals("form") && cursor.peek().is(".")) {
      return ofForm();
    }
    throw unknown(token, "There is no field");
  }

  /** A field of the form itself, though something nearer has its name: {@code form.category}. */
  private Typed ofForm() throws BadExpression {
    cursor.expect(".");
    Token token = cursor.next();
    int up = 0;
    Names form = names;
    for (; form.outer().isPresent(); up++) {
      form = form.outer().get();
    }
    Optional<Names.Found> found = form.find(token.text());
    if (found.isPresent()) {
      return path(token, up, found.get());
    }
    throw BadExpression.unknown(
        token.offset(),
        "The form has no field `" + Wellformed.of(token.text()) + "`.",
        Near.to(token.text(), form.all()));
  }

  /** Refuses what is the same on both sides because it hides a field of the form that was meant. */
  void checkSides(Token operator, Typed left, Typed right) throws BadExpression {
    if (!(left.node() instanceof Node.Get(int up, Path path, var _))
        || !left.node().equals(right.node())) {
      return;
    }
    Names near = names;
    for (int i = 0; i < up; i++) {
      near = near.outer().orElseThrow();
    }
    boolean hides =
        Stream.iterate(near.outer(), Optional::isPresent, it -> it.get().outer())
            .anyMatch(it -> it.get().find(path.names().getFirst()).isPresent());
    if (hides) {
      String name = String.join(".", path.names());
      throw new BadExpression(
          operator.offset(),
          "`%s` is that of the option or row on both sides; the form's own is `form.%s`."
              .formatted(name, name));
    }
  }

  private BadExpression unknown(Token token, String what) {
    Set<String> known = new LinkedHashSet<>(given.keySet());
    for (Optional<Names> scope = Optional.of(names);
        scope.isPresent();
        scope = scope.get().outer()) {
      known.addAll(scope.get().all());
    }
    return BadExpression.unknown(
        token.offset(),
        what + " `" + Wellformed.of(token.text()) + "`.",
        Near.to(token.text(), known));
  }

  private Typed caller(Token token) throws BadExpression {
    cursor.expect(".");
    Token what = cursor.next();
    beyond = true;
    return switch (what.text()) {
      case "name", "email" ->
          cursor.made(new Node.Caller(what.text()), ExpressionType.TEXT, token.offset());
      case "roles" ->
          cursor.made(
              new Node.Caller("roles"),
              ExpressionType.of(ExpressionType.Base.CHOICES),
              token.offset());
      default ->
          throw BadExpression.unknown(
              what.offset(),
              "A caller has a name, an email and roles.",
              Near.to(what.text(), List.of("name", "email", "roles")));
    };
  }

  private Typed path(Token first, int up, Names.Found found) throws BadExpression {
    List<String> path = new ArrayList<>(List.of(first.text()));
    List<Integer> places = new ArrayList<>(List.of(found.place()));
    Names.Found here = found;
    boolean many = false;
    while (cursor.peek().is(".")) {
      if (here.refersTo().isPresent()) {
        Typed record =
            cursor.made(
                new Node.Get(up, new Path(path, places), many), here.kind(), first.offset());
        if (many) {
          throw new BadExpression(
              first.offset(), "An expression cannot reach through the records of all rows.");
        }
        read(new Path(path, places), up, here);
        return through(record, here);
      }
      cursor.next();
      Token part = cursor.next();
      if (here.inside().isEmpty() || part.type() != TokenType.WORD) {
        throw new BadExpression(
            part.offset(),
            "`" + path.getLast() + "` is " + here.kind().words() + ", without fields.");
      }
      many |= here.kind().base() == ExpressionType.Base.ROWS;
      here = inside(here, part);
      path.add(part.text());
      places.add(here.place());
    }
    Path whole = new Path(path, places);
    read(whole, up, here);
    ExpressionType kind = many ? here.kind().overRows() : here.kind();
    Node.Get field = new Node.Get(up, whole, many);
    return cursor.made(here.onPages() ? field : new Node.Kept(field), kind, first.offset());
  }

  private void read(Path path, int up, Names.Found found) throws BadExpression {
    if (found.secret()) {
      throw new BadExpression(
          cursor.offsetBefore(),
          "`"
              + path.names().getLast()
              + "` is a secret, and no expression reads it; see `repeats`.");
    }
    reads.add(new Expression.Read(up, path, found.onPages()));
  }

  private Names.Found inside(Names.Found here, Token part) throws BadExpression {
    Names fields = here.inside().orElseThrow();
    return fields
        .find(part.text())
        .orElseThrow(
            () ->
                BadExpression.unknown(
                    part.offset(),
                    "There is no `" + Wellformed.of(part.text()) + "` in it.",
                    Near.to(part.text(), fields.all())));
  }

  /** Through a record into another form; behind a record there, through that one too. */
  private Typed through(Typed record, Names.Found found) throws BadExpression {
    beyond = true;
    Names.Found here = found;
    List<String> path = new ArrayList<>();
    Typed so = record;
    boolean onPages = true;
    while (cursor.peek().is(".")) {
      cursor.next();
      Token part = cursor.next();
      if (part.type() != TokenType.WORD) {
        throw cursor.unexpectedBefore("A name should stand here");
      }
      if (here.refersTo().isPresent() && !path.isEmpty()) {
        so =
            cursor.made(
                new Node.Through(so.node(), form(found), List.copyOf(path)),
                here.kind(),
                part.offset());
        found = here;
        path.clear();
      }
      if (here.inside().isEmpty()) {
        if (here.refersTo().isEmpty()) {
          throw new BadExpression(part.offset(), "This name has no fields.");
        }
        // The other form is not known here, as when a file is read alone: its service will know.
        path.add(part.text());
        while (cursor.took(".")) {
          path.add(cursor.next().text());
        }
        return cursor.made(
            new Node.Through(so.node(), form(found), List.copyOf(path)),
            ExpressionType.ANYTHING,
            record.offset());
      }
      if (here.kind().base() == ExpressionType.Base.ROWS) {
        throw new BadExpression(
            part.offset(), "An expression cannot reach into the rows of another record.");
      }
      here = inside(here, part);
      if (here.secret()) {
        throw new BadExpression(part.offset(), "A secret cannot be reached.");
      }
      onPages &= here.onPages();
      path.add(part.text());
    }
    Node.Through through = new Node.Through(so.node(), form(found), List.copyOf(path));
    return cursor.made(onPages ? through : new Node.Kept(through), here.kind(), record.offset());
  }

  private static String form(Names.Found found) {
    return found.refersTo().orElseThrow();
  }
}
