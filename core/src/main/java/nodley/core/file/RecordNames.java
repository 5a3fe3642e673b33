package nodley.core.file;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import nodley.core.expression.Expression;
import nodley.core.expression.ExpressionType;
import nodley.core.expression.Names;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * The names that expressions about the records of a form may use: its fields, and behind its
 * references those of other forms; and when a record was added, last edited and confirmed, unless
 * the form has a field of that name.
 */
public final class RecordNames implements Names {

  /** When a record was added. */
  public static final String CREATED_AT = "createdAt";

  /** When it was added or last edited. */
  public static final String UPDATED_AT = "updatedAt";

  /** When its address was confirmed; blank until then. */
  public static final String CONFIRMED_AT = "confirmedAt";

  private final Form form;
  private final Names fields;

  private RecordNames(Form form, Names fields) {
    this.form = form;
    this.fields = fields;
  }

  /**
   * Those of a form.
   *
   * @param registry the other forms there are
   * @param known tells which fields, here or there, can be named; the others are as if they were
   *     not there
   */
  public static Names in(Form form, FormRegistry registry, Predicate<Field> known) {
    return new RecordNames(form, new FieldNames(form.fields(), registry, known));
  }

  /** Returns the names that are no fields. */
  public static List<String> own(Form form) {
    return form.confirmation().isPresent()
        ? List.of(CREATED_AT, UPDATED_AT, CONFIRMED_AT)
        : List.of(CREATED_AT, UPDATED_AT);
  }

  /** True if an expression reads a name that is no field. */
  public static boolean readsOwn(Form form, Expression expression) {
    return expression.reads().stream().anyMatch(it -> form.field(it.names().getFirst()).isEmpty());
  }

  /** Returns the values of a record with those of the names that are no fields. */
  public static Values with(Map<String, Value> own, Values values) {
    Map<String, Value> all = new LinkedHashMap<>(own);
    all.putAll(values.byName());
    return new Values(all);
  }

  @Override
  public Optional<Found> find(String name) {
    if (form.field(name).isPresent() || !own(form).contains(name)) {
      return fields.find(name);
    }
    return Optional.of(
        new Found(
            ExpressionType.of(ExpressionType.Base.DATETIME),
            0,
            Optional.empty(),
            Optional.empty(),
            false,
            false));
  }

  @Override
  public Collection<String> all() {
    List<String> all = new ArrayList<>(fields.all());
    own(form).stream().filter(it -> form.field(it).isEmpty()).forEach(all::add);
    return all;
  }

  @Override
  public Optional<Names> outer() {
    return Optional.empty();
  }
}
