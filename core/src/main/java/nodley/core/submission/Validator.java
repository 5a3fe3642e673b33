package nodley.core.submission;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiPredicate;
import nodley.core.expression.Expression;
import nodley.core.expression.LookupUnavailable;
import nodley.core.expression.Path;
import nodley.core.form.Condition;
import nodley.core.form.Rule;
import nodley.core.form.Type;
import nodley.core.value.Value;

/**
 * Fourth stage: validates each value by itself, then fields that repeat others, then the rules over
 * several. Sets errors only; nothing is looked up except by expressions.
 */
final class Validator {

  private final Request request;
  private final Problems problems;
  private final Evaluator evaluator;
  private final OptionCheck options;

  private Validator(Request request, Problems problems) {
    this.request = request;
    this.problems = problems;
    this.evaluator = new Evaluator(request, problems);
    this.options = new OptionCheck(request, evaluator);
  }

  static Validated validate(Resolved resolved) {
    new Validator(resolved.request(), resolved.problems()).validate(resolved.root());
    return new Validated(resolved.request(), resolved.root(), resolved.problems());
  }

  private void validate(FieldStates root) {
    validateEach(root);
    compareRepeats(root);
    applyFieldRules(root);
    for (Rule rule : request.form().rules()) {
      apply(rule, root, rule.at().isEmpty() ? null : root.at(rule.at()));
    }
  }

  private void validateEach(FieldStates siblings) {
    for (FieldState state : siblings.states()) {
      if (state.hidden) {
        continue;
      }
      if (state.error == null) {
        String code = firstError(state);
        if (code != null) {
          reject(state, code);
        }
      }
      for (FieldStates nested : state.nested) {
        validateEach(nested);
      }
    }
  }

  /** Returns the code of the first error of a value by itself; null if it has none. */
  private String firstError(FieldState state) {
    Value value = state.outline();
    if (isMissing(state, value)) {
      return "value-missing";
    }
    String code =
        Rules.fault(state.field, value, state.stored, request.today(), request.context().now());
    return code == null ? notAnOption(state) : code;
  }

  private boolean isMissing(FieldState state, Value value) {
    Condition required = state.field.presence().required();
    boolean blank = value == Value.BLANK || value instanceof Value.Bool bool && !bool.value();
    if (!blank || required.isNever() || keepsSecret(state)) {
      return false;
    }
    return evaluator.holds(required, state, false);
  }

  /**
   * Returns true for a blank secret in an edit: the stored one stays, and need not be typed twice.
   * A new row has none.
   */
  private boolean keepsSecret(FieldState state) {
    if (!state.field.isSecret() || request.isAdd() || !state.siblings.isKept()) {
      return false;
    }
    return state
        .field
        .repeats()
        .flatMap(state.siblings::find)
        .map(other -> other.value.isBlank())
        .orElse(state.field.isKept());
  }

  private String notAnOption(FieldState state) {
    Type type = state.field.type();
    if (state.field.options().source().isPresent()) {
      // Somebody else's table is asked once nothing stands against the value.
      return null;
    }
    boolean offered =
        type == Type.CHOICE && state.value instanceof Value.Text text
            ? options.isOffered(state, text.text())
            : type != Type.CHOICES
                || !(state.value instanceof Value.Chosen chosen)
                || areOffered(state, chosen.options());
    return offered ? null : "not-an-option";
  }

  private boolean areOffered(FieldState state, List<String> chosen) {
    for (String option : chosen) {
      if (!options.isOffered(state, option)) {
        return false;
      }
    }
    return true;
  }

  /** Rejects what is not the same as the field that it repeats, once both are without errors. */
  private void compareRepeats(FieldStates siblings) {
    if (!siblings.fields().hasRepeats()) {
      return;
    }
    for (FieldState state : siblings.states()) {
      Optional<FieldState> first = state.field.repeats().flatMap(siblings::find);
      boolean judged =
          first.isPresent() && !state.hidden && state.error == null && first.get().error == null;
      if (judged && !state.value.equals(first.get().value)) {
        problems.reject(state, "not-repeated");
      }
      for (FieldStates nested : state.nested) {
        compareRepeats(nested);
      }
    }
  }

  private void applyFieldRules(FieldStates siblings) {
    if (!siblings.fields().hasRules()) {
      return;
    }
    for (FieldState state : siblings.states()) {
      if (!state.hidden) {
        for (Rule rule : state.field.rules()) {
          apply(rule, siblings, rule.at().isEmpty() ? state : siblings.at(rule.at()));
        }
        for (FieldStates nested : state.nested) {
          applyFieldRules(nested);
        }
      }
    }
  }

  /**
   * Applies a rule, unless a field that it reads has an error already; or unless, in an edit of a
   * rule that reads the clock, none of them has changed.
   */
  private void apply(Rule rule, FieldStates siblings, FieldState at) {
    boolean old = rule.must().readsClock() && !request.isAdd();
    boolean idle =
        problems.hasRejected() && readsAny(rule, siblings, FieldStates::hasError)
            || old && !readsAny(rule, siblings, (from, path) -> !from.isUnchanged(path));
    if (!idle && fails(rule, siblings, at) && Problems.isFree(at)) {
      problems.reject(rule, at, parameters(rule, siblings));
    }
  }

  /** Returns true if the predicate is true for any of the fields that a rule reads. */
  private static boolean readsAny(
      Rule rule, FieldStates siblings, BiPredicate<FieldStates, Path> is) {
    for (Expression.Read read : rule.must().reads()) {
      if (is.test(siblings.up(read.up()), read.path())) {
        return true;
      }
    }
    return false;
  }

  /**
   * Returns true if a rule is broken. If a lookup is unavailable it is not, and the field that
   * would have the error is reported as open, or else the first one that the rule reads.
   */
  private boolean fails(Rule rule, FieldStates siblings, FieldState at) {
    try {
      return rule.must().fails(evaluator.context(siblings));
    } catch (LookupUnavailable e) {
      FieldState asked = at;
      for (Expression.Read read : rule.must().reads()) {
        asked = asked == null ? siblings.up(read.up()).first(read.path()) : asked;
      }
      if (asked != null) {
        problems.leaveOpen(asked);
      }
      return false;
    }
  }

  /**
   * Returns the parameters of a part's rule, for its sentence; blank if a lookup is unavailable.
   */
  private Map<String, Value> parameters(Rule rule, FieldStates siblings) {
    Map<String, Value> parameters = new TreeMap<>();
    rule.with()
        .forEach(
            (name, expression) -> {
              try {
                parameters.put(name, expression.value(evaluator.context(siblings)));
              } catch (LookupUnavailable e) {
                parameters.put(name, Value.BLANK);
              }
            });
    return parameters;
  }

  private void reject(FieldState state, String code) {
    if (code.equals("not-an-option")) {
      problems.reject(state, code, options.firstNotOffered(state));
    } else {
      problems.reject(state, code);
    }
  }
}
