package nodley.core.file;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.name.Near;
import nodley.core.submission.Literal;
import nodley.core.value.Raw;
import nodley.core.value.Value;

/**
 * Reads where a value comes from: {@code default}, {@code suggest}, {@code compute}, {@code kept},
 * {@code prefill}, {@code was}.
 */
record SourceReader(Section keys, Errors errors, SymbolTable names) {

  /** A text that begins like this is meant as an expression. */
  private static final Pattern EXPRESSION =
      Pattern.compile("(if\\s|caller\\.|(lower|upper|slug)\\s*\\().*", Pattern.DOTALL);

  Field.Source read(Field field) {
    ExpressionType kind =
        field.type().isScalar()
            ? FieldNames.kind(field.type(), List.of())
            : ExpressionType.of(ExpressionType.Base.TEXT);
    Expressions expressions = new Expressions(keys, errors, names);
    Optional<Expression> suggest =
        FieldKeys.has("suggest", field.type()) ? expressions.of("suggest", kind) : Optional.empty();
    Optional<Expression> compute =
        FieldKeys.has("compute", field.type()) ? expressions.of("compute", kind) : Optional.empty();
    boolean kept = !FieldKeys.has("kept", field.type()) || keys.bool("kept").orElse(true);
    Field.Source source =
        new Field.Source(
            Optional.empty(),
            Optional.empty(),
            suggest,
            compute,
            kept,
            keys.bool("masked").orElse(false),
            FieldKeys.has("prefill", field.type()) && keys.bool("prefill").orElse(false),
            keys.text("was"));
    if (compute.isPresent()) {
      for (String key : List.of("default", "suggest", "editable")) {
        if (keys.has(key)) {
          keys.bad(
              key,
              "bad-value",
              "`" + key + "` is not allowed with `compute`: the value is always the computed one.");
        }
      }
    }
    return FieldKeys.has("default", field.type()) && keys.has("default")
        ? first(field, expressions, kind, source)
        : source;
  }

  private Field.Source first(
      Field field, Expressions expressions, ExpressionType kind, Field.Source source) {
    Node node = keys.node("default").orElseThrow();
    if (field.type() == Type.CHOICES && node instanceof Node.Sequence(Place _, var items)) {
      List<Raw> texts = new ArrayList<>();
      items.forEach(item -> Section.textOf(item).map(Raw.Text::new).ifPresent(texts::add));
      return source.beginning(literal(field, new Raw.Many(texts)), Optional.empty());
    }
    if (!(node instanceof Node.Scalar scalar) || scalar.type() == Node.Scalar.ScalarType.NULL) {
      keys.wrongType("default", node, "one value");
      return source;
    }
    if (field.type() == Type.RECORD) {
      keys.bad("default", "bad-value", "A reference to a record has no default.");
      return source;
    }
    Literal literal = Literal.read(field, scalar.text());
    return isExpression(field, scalar, literal)
        ? source.beginning(Optional.empty(), expressions.of("default", kind))
        : source.beginning(literal(field, new Raw.Text(scalar.text())), Optional.empty());
  }

  /**
   * What reads as a value of the field is one; a text is one unless it says it is an expression.
   */
  private boolean isExpression(Field field, Node.Scalar scalar, Literal literal) {
    if (scalar.type() != Node.Scalar.ScalarType.TEXT) {
      return false;
    }
    if (isLoneWord(scalar.text())) {
      return false;
    }
    boolean texts =
        field.type().isWritten() || field.type() == Type.CHOICE || field.type() == Type.CHOICES;
    if (!texts) {
      return literal.fault().isPresent();
    }
    boolean named = names.find(scalar.text()).isPresent() && !field.name().equals(scalar.text());
    boolean option =
        field.options().source().isPresent() || field.options().find(scalar.text()).isPresent();
    return !option && (named || EXPRESSION.matcher(scalar.text()).matches());
  }

  /** One word that names nothing is a slip of a value rather than of an expression. */
  private boolean isLoneWord(String text) {
    return text.matches("[A-Za-z0-9]+")
        && !List.of("today", "now", "mode").contains(text)
        && names.find(text).isEmpty()
        && names.outer().flatMap(outer -> outer.find(text)).isEmpty()
        && Near.to(text, List.of("today", "now")).isEmpty();
  }

  /** A first value must itself be one that the field accepts. */
  private Optional<Value> literal(Field field, Raw raw) {
    Literal literal = Literal.read(field, raw);
    literal.fault().ifPresent(fault -> keys.bad("default", "bad-value", fault));
    return literal.fault().isPresent() ? Optional.empty() : Optional.of(literal.value());
  }
}
