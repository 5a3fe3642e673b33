package nodley.core.file;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.expression.BadExpression;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Sentence;
import nodley.core.form.Type;

/**
 * What several forms share: {@code NAME.part.yaml}. Either a set of fields, for a group or rows:
 *
 * <pre>
 * part: contact
 * fields:
 *   email: { type: email, required: true }
 *   phone: { type: phone }
 * </pre>
 *
 * or a rule with parameters and its own sentence, which may name them:
 *
 * <pre>
 * part: in-order
 * takes: { earlier: date, later: date }
 * must: later > earlier
 * say: "{label} must come after {earlier}."
 * </pre>
 */
public final class PartFile {

  private static final String NAME = "[a-z][a-z0-9-]{0,39}";
  private static final List<String> KINDS =
      List.of("text", "integer", "decimal", "boolean", "date", "time", "datetime");

  private final String name;
  private final Node fields;
  private final RulePart rule;

  /** A rule whose parameters a form fills in. */
  record RulePart(Map<String, ExpressionType> takes, Node.Scalar must, Optional<Sentence> say) {}

  private PartFile(String name, Node fields, RulePart rule) {
    this.name = name;
    this.fields = fields;
    this.rule = rule;
  }

  /**
   * Reads a part, and judges it as far as it can be judged alone.
   *
   * @param expected the name it must have, where its place has given it one already
   * @throws FormFileException with all that is wrong
   */
  public static PartFile read(
      String text, Format format, Optional<String> expected, FormRegistry registry)
      throws FormFileException {
    var errors = new Errors();
    Section file = SharedFile.open(text, format, "part", NAME, expected, errors);
    file.allow("A part", List.of("part", "fields", "takes", "must", "say"));
    PartFile part;
    if (file.has("fields") == file.has("must")) {
      file.missing("A part has `fields`, or it has `must` with a rule; not both.");
      throw errors.thrown();
    }
    String name = file.text("part").orElse("");
    if (file.has("fields")) {
      Node fields = file.node("fields").orElseThrow();
      for (String key : List.of("takes", "say")) {
        if (file.has(key)) {
          file.bad(key, "unknown-key", "`" + key + "` belongs to a part that is a rule.");
        }
      }
      SymbolTable symbols = SymbolTable.of("", fields, registry);
      new FieldsReader(new ReaderContext("", errors, registry, symbols), symbols, 1)
          .read(file, "fields");
      part = new PartFile(name, fields, null);
    } else {
      part = new PartFile(name, null, rule(file, errors));
    }
    if (!errors.isEmpty()) {
      throw errors.thrown();
    }
    return part;
  }

  private static RulePart rule(Section file, Errors errors) {
    Map<String, ExpressionType> takes = new LinkedHashMap<>();
    file.section("takes")
        .ifPresent(
            section ->
                section
                    .entries()
                    .forEach(
                        entry ->
                            section
                                .word(entry.key(), KINDS.toArray(String[]::new))
                                .flatMap(Type::of)
                                .ifPresent(
                                    type ->
                                        takes.put(entry.key(), FieldNames.kind(type, List.of())))));
    new Expressions(file, errors, new ExpressionTypeNames(takes, Optional.empty()))
        .of("must", ExpressionType.of(ExpressionType.Base.BOOLEAN));
    Optional<Sentence> say =
        new SayReader(file, errors, new ExpressionTypeNames(takes, Optional.empty()))
            .sentence("say");
    return file.node("must").orElseThrow() instanceof Node.Scalar must
        ? new RulePart(takes, must, say)
        : null;
  }

  /** Returns the name of the part. */
  public String name() {
    return name;
  }

  Optional<Node> fields() {
    return Optional.ofNullable(fields);
  }

  Optional<RulePart> rule() {
    return Optional.ofNullable(rule);
  }

  /** The rule with a form's expressions in place of its parameters. */
  static Optional<Expression> must(
      RulePart rule, Map<String, Expression> given, Errors errors, Place use, String pointer) {
    try {
      return Optional.of(Expression.read(rule.must().text(), Names.NONE, given));
    } catch (BadExpression e) {
      errors.add(use, pointer, "bad-expression", "The part does not fit here: " + e.getMessage());
      return Optional.empty();
    }
  }
}
