package nodley.core.submission;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.expression.LookupUnavailable;
import nodley.core.expression.Path;
import nodley.core.form.Condition;
import nodley.core.form.Field;

/**
 * Builds the verdict of a submission from the last stage: the values that were covered, the errors,
 * the fields that a live check leaves open, and the conditions that the page should follow. Decides
 * nothing itself. For one submission and one thread.
 */
final class Verdicts {

  private final Request request;
  private final FieldStates root;
  private final Problems problems;
  private final List<Proposal> proposals;

  private Verdicts(Asked asked) {
    this.request = asked.request();
    this.root = asked.root();
    this.problems = asked.problems();
    this.proposals = asked.proposals();
  }

  static Verdict of(Asked asked) {
    return new Verdicts(asked).verdict();
  }

  private Verdict verdict() {
    List<FieldError> errors = problems.list();
    return new Verdict(
        CoveredFields.of(root, request.only(), !errors.isEmpty()),
        errors,
        problems.open(),
        conditions(),
        proposals);
  }

  /** Returns the results of conditions that a page cannot evaluate, by the field's pointer. */
  private Map<String, Map<String, Boolean>> conditions() {
    List<Path> paths = request.form().fields().forServer();
    Map<String, Map<String, Boolean>> all = LinkedHashMap.newLinkedHashMap(paths.size());
    for (Path path : paths) {
      root.each(path, state -> addConditions(state, all));
    }
    return all;
  }

  private void addConditions(FieldState state, Map<String, Map<String, Boolean>> all) {
    if (!request.covers(state)) {
      return;
    }
    Field.Presence presence = state.field.presence();
    Map<String, Boolean> results = LinkedHashMap.newLinkedHashMap(3);
    if (presence.shown().isForServer() && isShownKnown(state)) {
      results.put("shown", !state.hidden);
    } else {
      evaluate(state, "shown", presence.shown(), results);
    }
    evaluate(state, "required", presence.required(), results);
    evaluate(state, "editable", presence.editable(), results);
    if (!results.isEmpty()) {
      all.put(state.pointer(), results);
    }
  }

  /** Returns true if nothing was left open, and no group or rows around the field are hidden. */
  private boolean isShownKnown(FieldState state) {
    return problems.open().isEmpty()
        && state.siblings.owner().filter(owner -> owner.hidden).isEmpty();
  }

  private void evaluate(
      FieldState state, String name, Condition condition, Map<String, Boolean> results) {
    if (!condition.isForServer()) {
      return;
    }
    try {
      results.put(name, condition.holds(state.siblings.context(request)));
    } catch (LookupUnavailable e) {
      // The field is open already, if an earlier stage needed the condition.
    }
  }
}
