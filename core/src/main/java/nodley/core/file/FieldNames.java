package nodley.core.file;

import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.expression.Kind;
import nodley.core.expression.Names;
import nodley.core.form.Choice;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.form.Type;

/**
 * The names of a form's fields, and behind its references those of others: for expressions about
 * its records, and for those that reach through one.
 *
 * @param known tells which fields can be named; the others are as if they were not there
 */
record FieldNames(Fields fields, Surroundings surroundings, Predicate<Field> known)
    implements Names {

  /** All of them. */
  FieldNames(Fields fields, Surroundings surroundings) {
    this(fields, surroundings, _ -> true);
  }

  @Override
  public Optional<Found> find(String name) {
    return fields.find(name).filter(known).map(this::found);
  }

  private Found found(Field field) {
    Optional<Names> inside =
        field.refersTo().isPresent()
            ? ofForm(field.refersTo().get(), surroundings, known)
            : field.type().isScalar()
                ? Optional.empty()
                : Optional.of(new FieldNames(field.fields(), surroundings, known));
    return new Found(
        kind(field.type(), field.options().choices().stream().map(Choice::value).toList()),
        fields.position(field.name()),
        inside,
        field.refersTo(),
        field.isSecret(),
        field.isOnPages());
  }

  /** The names behind a reference; nothing where the form is not known. */
  static Optional<Names> ofForm(String form, Surroundings surroundings) {
    return ofForm(form, surroundings, _ -> true);
  }

  private static Optional<Names> ofForm(
      String form, Surroundings surroundings, Predicate<Field> known) {
    return surroundings.form(form).map(it -> new FieldNames(it.fields(), surroundings, known));
  }

  /** What an expression takes a type for. */
  static Kind kind(Type type, Collection<String> options) {
    Kind.Base base =
        switch (type) {
          case TEXT, EMAIL, URL, PHONE, SECRET, CHOICE, RECORD, FILE -> Kind.Base.TEXT;
          case INTEGER -> Kind.Base.INTEGER;
          case DECIMAL -> Kind.Base.DECIMAL;
          case BOOLEAN -> Kind.Base.BOOLEAN;
          case DATE -> Kind.Base.DATE;
          case TIME -> Kind.Base.TIME;
          case DATETIME -> Kind.Base.DATETIME;
          case CHOICES -> Kind.Base.CHOICES;
          case GROUP -> Kind.Base.GROUP;
          case ROWS -> Kind.Base.ROWS;
        };
    boolean closed = type == Type.CHOICE || type == Type.CHOICES;
    return new Kind(base, false, closed ? List.copyOf(options) : List.of());
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
