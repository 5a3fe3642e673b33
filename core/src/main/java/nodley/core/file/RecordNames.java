package nodley.core.file;

import java.util.function.Predicate;
import nodley.core.expression.Names;
import nodley.core.form.Field;
import nodley.core.form.Form;

/** Creates symbol tables for expressions about the records of a form. */
public final class RecordNames {

  private RecordNames() {}

  /**
   * The fields of a form, and behind its references those of other forms.
   *
   * @param registry the other forms there are
   * @param known tells which fields, here or there, can be named; the others are as if they were
   *     not there
   */
  public static Names in(Form form, FormRegistry registry, Predicate<Field> known) {
    return new FieldNames(form.fields(), registry, known);
  }
}
