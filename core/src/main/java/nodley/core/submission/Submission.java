package nodley.core.submission;

import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Form;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * Runs submissions through their stages: bind, tidy, resolve dependent fields, validate, look up,
 * ask, save. There is no other way in; a live check runs the same stages except the last. Stateless
 * and safe for many threads; a call runs on the caller's thread.
 */
public final class Submission {

  private Submission() {}

  /** Validates, looks up and saves. */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Lookups lookups, RecordSink<R> sink) {
    return send(form, input, context, lookups, sink, Steps.UNTIMED);
  }

  /**
   * Validates, looks up and saves.
   *
   * @param sink called once, if there is no error
   * @param steps measures how long each step takes; lookups measure themselves
   */
  public static <R> Answer<R> send(
      Form form, Input input, Context context, Lookups lookups, RecordSink<R> sink, Steps steps) {
    Request request = Request.of(form, input, context, lookups, Optional.empty());
    Asked asked = asked(validated(request, steps), false);
    steps.skip();
    return SaveStage.save(asked, sink);
  }

  /** Validates and looks up, as far as a live check does; saves nothing. */
  public static Verdict check(Form form, Input input, Context context, Lookups lookups) {
    return check(form, input, context, lookups, Optional.empty());
  }

  /**
   * Validates and looks up some fields.
   *
   * @param only dotted paths of the fields that the verdict covers, such as {@code contact.email};
   *     empty for all
   */
  public static Verdict check(
      Form form, Input input, Context context, Lookups lookups, Optional<Set<String>> only) {
    return check(form, input, context, lookups, only, Steps.UNTIMED);
  }

  /** The same, measuring how long each step takes. */
  public static Verdict check(
      Form form,
      Input input,
      Context context,
      Lookups lookups,
      Optional<Set<String>> only,
      Steps steps) {
    Request request = Request.of(form, input, context, lookups, only);
    return Verdicts.of(asked(validated(request, steps), true));
  }

  /**
   * Returns an error for each name in some values that no field of the form has; judges nothing
   * else.
   */
  public static List<FieldError> unknownNames(Form form, Input input, Context context) {
    Request request = Request.of(form, input, context, Lookups.NONE, Optional.empty());
    return Binder.bind(request).problems().unknownNames();
  }

  /** Binds, tidies and resolves what was typed, for a page that shows it again; judges nothing. */
  public static PageValues forPage(Form form, Input input, Context context, Lookups lookups) {
    Request request = Request.of(form, input, context, lookups, Optional.empty());
    Tidied tidied = Tidier.tidy(Binder.bind(request));
    Values typed = tidied.root().valuesAsSent();
    Map<String, Value> values = new LinkedHashMap<>();
    Set<String> hidden = new HashSet<>();
    for (FieldState state : DependentFields.resolve(tidied).root().states()) {
      String name = state.field.name();
      values.put(name, state.hidden ? typed.get(name) : state.asSent());
      if (state.hidden) {
        hidden.add(name);
      }
    }
    return new PageValues(new Values(values), hidden);
  }

  private static Asked asked(Validated validated, boolean live) {
    return AskStage.ask(LookupStage.lookUp(validated, live), live);
  }

  private static Validated validated(Request request, Steps steps) {
    Bound bound = Binder.bind(request);
    steps.done("read");
    Resolved resolved = DependentFields.resolve(Tidier.tidy(bound));
    steps.done("tidy");
    Validated validated = Validator.validate(resolved);
    steps.done("judge");
    return validated;
  }

  /**
   * Returns the unique keys that stored values have.
   *
   * @param context of an edit of the record
   */
  public static List<UniqueKey> keys(Form form, Values stored, Context context) {
    Input input = new Input(Raw.of(stored).members(), Input.Encoding.JSON);
    Request request = Request.of(form, input, context, Lookups.NONE, Optional.empty());
    Resolved resolved = DependentFields.resolve(Tidier.tidy(Binder.bind(request)));
    return UniqueKeys.of(request, resolved.root()).list();
  }
}
