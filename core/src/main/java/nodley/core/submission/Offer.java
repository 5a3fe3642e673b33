package nodley.core.submission;

import java.util.List;
import java.util.Optional;
import nodley.core.form.Choice;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Values;

/** Which options or records one field offers, given the other values of a submission. */
public final class Offer {

  private final OptionCheck options;
  private final Optional<FieldState> state;

  private Offer(OptionCheck options, Optional<FieldState> state) {
    this.options = options;
    this.state = state;
  }

  /**
   * Returns what one field offers. Binds, tidies and resolves the input, but validates nothing.
   *
   * @param path of the field; one within rows is taken in their first row
   * @param input the values of other fields, as far as they are known
   */
  public static Offer of(
      Form form, List<String> path, Input input, Context context, Lookups lookups) {
    Request request = Request.of(form, input, context, lookups, Optional.empty());
    Resolved resolved = DependentFields.resolve(Tidier.tidy(Binder.bind(request)));
    var options = new OptionCheck(request, new Evaluator(request, resolved.problems()));
    return new Offer(options, resolved.root().each(form.fields().path(path)).stream().findFirst());
  }

  /** Returns whether an option of a choice is offered. */
  public boolean includes(Choice choice) {
    return state.map(it -> options.isOffered(it, choice.value())).orElse(choice.offered());
  }

  /** Returns whether a record with these values is offered to a reference. */
  public boolean includes(Values record) {
    return state.map(it -> options.meetsWhere(it, record)).orElse(true);
  }
}
