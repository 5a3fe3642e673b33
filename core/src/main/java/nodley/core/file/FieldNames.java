package nodley.core.file;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Choice;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;

/**
 * Symbol table of a form that is already read, and through its references of other forms: for
 * expressions about its records.
 *
 * @param known tells which fields can be named; the others are as if they were not there
 */
record FieldNames(Fields fields, FormRegistry registry, Predicate<Field> known) implements Names {

  /** All of them. */
  FieldNames(Fields fields, FormRegistry registry) {
    this(fields, registry, _ -> true);
  }

  @Override
  public Optional<Found> find(String name) {
    return fields.find(name).filter(known).map(this::found);
  }

  private Found found(Field field) {
    Optional<Names> inside =
        field.refersTo().isPresent()
            ? ofForm(field.refersTo().get(), registry, known)
            : field.type().isScalar()
                ? Optional.empty()
                : Optional.of(new FieldNames(field.fields(), registry, known));
    return new Found(
        kind(field.type(), field.options().choices().stream().map(Choice::value).toList()),
        fields.position(field.name()),
        inside,
        field.refersTo(),
        field.isSecret(),
        field.isOnPages() && !field.access().isForSome());
  }

  /** The names behind a reference; nothing where the form is not known. */
  static Optional<Names> ofForm(String form, FormRegistry registry) {
    return ofForm(form, registry, _ -> true);
  }

  private static Optional<Names> ofForm(
      String form, FormRegistry registry, Predicate<Field> known) {
    return registry.form(form).map(it -> new FieldNames(it.fields(), registry, known));
  }

  /** What an expression takes a type for. */
  static ExpressionType kind(Type type, Collection<String> options) {
    ExpressionType.Base base =
        switch (type) {
          case TEXT, EMAIL, URL, PHONE, SECRET, CHOICE, RECORD, FILE -> ExpressionType.Base.TEXT;
          case INTEGER -> ExpressionType.Base.INTEGER;
          case DECIMAL -> ExpressionType.Base.DECIMAL;
          case BOOLEAN -> ExpressionType.Base.BOOLEAN;
          case DATE -> ExpressionType.Base.DATE;
          case TIME -> ExpressionType.Base.TIME;
          case DATETIME -> ExpressionType.Base.DATETIME;
          case CHOICES -> ExpressionType.Base.CHOICES;
          case GROUP -> ExpressionType.Base.GROUP;
          case ROWS -> ExpressionType.Base.ROWS;
        };
    boolean closed = type == Type.CHOICE || type == Type.CHOICES;
    return new ExpressionType(base, false, closed ? List.copyOf(options) : List.of());
  }

  @Override
  public Collection<String> all() {
    return fields.stream().filter(known).map(Field::name).toList();
  }

  @Override
  public Optional<Names> outer() {
    return Optional.empty();
  }
}
