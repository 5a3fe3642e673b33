package nodley.core.file;

import nodley.core.expression.Names;
import nodley.core.form.Form;

/** What an expression about the records of a form can name. */
public final class Reachable {

  private Reachable() {}

  /**
   * The fields of a form, and behind its references those of other forms.
   *
   * @param surroundings the other forms there are
   */
  public static Names in(Form form, Surroundings surroundings) {
    return new FieldNames(form.fields(), surroundings);
  }
}
