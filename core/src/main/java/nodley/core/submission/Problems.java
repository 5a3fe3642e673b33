package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Ask;
import nodley.core.form.Field;
import nodley.core.form.Rule;
import nodley.core.form.Unique;
import nodley.core.name.Near;
import nodley.core.name.Pointer;
import nodley.core.value.Value;
import nodley.core.value.Wellformed;

/**
 * Errors and open fields of one submission. It alone sets {@link FieldState#error}, and a field has
 * at most one: the first. Confined to the thread that runs the submission.
 */
final class Problems {

  /** Maximum number of unknown names that are reported. */
  private static final int MAX_UNKNOWN = 100;

  /** Maximum number of unknown names that get a suggestion, which costs time. */
  private static final int MAX_SUGGESTIONS = 20;

  private final Request request;
  private final FieldStates root;
  private final List<FieldError> ofForm = new ArrayList<>();
  private final List<FieldError> unknown = new ArrayList<>();
  private final List<String> open = new ArrayList<>();

  /** False as long as no field has been rejected at all, so that nobody need look for one. */
  private boolean rejected;

  Problems(Request request, FieldStates root) {
    this.request = request;
    this.root = root;
  }

  private Sentences sentences() {
    return Sentences.of(request.form());
  }

  /** Rejects the value of a field, unless the field has an error already. */
  void reject(FieldState state, String code) {
    if (state.error == null) {
      reject(state, code, state.fullValue());
    }
  }

  /**
   * Rejects a field, unless it has an error already.
   *
   * @param value what the error names: the value of the field, or a part of it
   */
  void reject(FieldState state, String code, Value value) {
    if (state.error != null) {
      return;
    }
    rejected = true;
    // Nobody reads the sentence of a field that the verdict does not cover.
    state.error =
        request.covers(state)
            ? sentences().error(state, code, value, root, request.today(), request.context().now())
            : new FieldError(state.pointer(), code, "", Map.of());
  }

  /**
   * Rejects a value that another record has, unless the field has an error already.
   *
   * @param free similar values that no record has
   */
  void rejectTaken(FieldState state, Unique unique, List<String> free) {
    if (state.error == null) {
      rejected = true;
      state.error = sentences().taken(state, unique, free, root);
    }
  }

  /**
   * Rejects by what a service outside has against it.
   *
   * @param at the field that has the error; null, or a hidden one, for the form as a whole
   */
  void rejectAsked(Ask ask, FieldState at, AskReply.Objection objection) {
    reject(at, sentences().askRefused(ask, isOfForm(at) ? null : at, objection, root));
  }

  /**
   * Rejects because a service outside did not answer.
   *
   * @param at the field that it was asked about; null for the form as a whole
   */
  void rejectUnanswered(Ask ask, FieldState at) {
    reject(at, sentences().askUnanswered(ask, at, root));
  }

  private void reject(FieldState at, FieldError error) {
    if (isOfForm(at)) {
      ofForm.add(error);
    } else if (at.error == null) {
      rejected = true;
      at.error = error;
    }
  }

  /** Returns what is said of a value that was proposed when a field was asked about. */
  String filledIn(FieldState about) {
    return sentences().filledIn(about, root);
  }

  /** Returns true if an error of a rule would be kept: its field has none, or it is the form's. */
  static boolean isFree(FieldState at) {
    return isOfForm(at) || at.error == null;
  }

  private static boolean isOfForm(FieldState at) {
    return at == null || at.hidden;
  }

  /**
   * Rejects by a rule.
   *
   * @param at the field that has the error; null, or a hidden one, for the form as a whole
   * @param parameters what the rule's parameters are, for its sentence
   */
  void reject(Rule rule, FieldState at, Map<String, Value> parameters) {
    reject(at, sentences().rule(rule, at, parameters, root));
  }

  /** Rejects a name that no field has among these siblings. */
  void rejectUnknown(FieldStates siblings, String name) {
    if (unknown.size() >= MAX_UNKNOWN) {
      return;
    }
    String shown = Wellformed.of(name);
    List<String> known =
        siblings.fields().list().stream().filter(it -> !it.isHidden()).map(Field::name).toList();
    Optional<String> near =
        unknown.size() < MAX_SUGGESTIONS
            ? Near.nested(name, known).or(() -> Near.to(name, known))
            : Optional.empty();
    unknown.add(
        new FieldError(
            Pointer.in(siblings.pointer(), name),
            "unknown-field",
            sentences().unknownField(shown, near),
            Map.of("value", shown)));
  }

  /** The errors of names that no field has. */
  List<FieldError> unknownNames() {
    return List.copyOf(unknown);
  }

  /**
   * Reports that something of a field could not be looked up now: it is neither right nor wrong.
   */
  void leaveOpen(FieldState state) {
    String pointer = state.pointer();
    if (request.covers(state) && !open.contains(pointer)) {
      open.add(pointer);
    }
  }

  /** Reports that something is asked about the form as a whole, and was not yet. */
  void leaveFormOpen() {
    if (request.only().isEmpty()) {
      open.add(Pointer.ROOT);
    }
  }

  /** Pointers of the fields that are open, each once. */
  List<String> open() {
    return open;
  }

  /** Returns true if any field has been rejected; its error may have been taken back since. */
  boolean hasRejected() {
    return rejected;
  }

  /** Returns true if the submission cannot be saved. */
  boolean areAny() {
    return rejected && root.hasError() || !ofForm.isEmpty() || !unknown.isEmpty();
  }

  /** Returns the errors that the verdict covers: of fields in their order, then of the form. */
  List<FieldError> list() {
    List<FieldError> errors = new ArrayList<>();
    if (rejected) {
      collect(root, errors);
    }
    if (request.only().isEmpty()) {
      errors.addAll(ofForm);
      errors.addAll(unknown);
    }
    return errors;
  }

  private void collect(FieldStates siblings, List<FieldError> errors) {
    for (FieldState state : siblings.states()) {
      if (state.error != null && request.covers(state)) {
        errors.add(state.error);
      }
      for (FieldStates nested : state.nested) {
        collect(nested, errors);
      }
    }
  }
}
