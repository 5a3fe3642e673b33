package nodley.core.submission;

import java.time.LocalDate;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;

/**
 * What one submission is: what was sent, and what it is judged by. Immutable; made once, and handed
 * from stage to stage.
 *
 * @param only dotted paths of the fields that the verdict covers; empty for all
 * @param today the date in the form's time zone when the submission began
 */
record Request(
    Form form,
    Input input,
    Context context,
    Lookups lookups,
    Optional<Set<String>> only,
    LocalDate today) {

  static Request of(
      Form form, Input input, Context context, Lookups lookups, Optional<Set<String>> only) {
    return new Request(form, input, context, lookups, only, context.today(form));
  }

  boolean isAdd() {
    return context.mode() == Mode.ADD;
  }

  /** Returns true if the verdict covers the field, or a group or rows that it is in. */
  boolean covers(FieldState state) {
    return only.isEmpty() || CoveredFields.covers(state, only.get());
  }
}
