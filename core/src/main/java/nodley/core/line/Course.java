package nodley.core.line;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import nodley.core.expression.Expression;
import nodley.core.expression.Path;
import nodley.core.expression.EvaluationContext;
import nodley.core.expression.LookupUnavailable;
import nodley.core.form.Condition;
import nodley.core.form.Display;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Rule;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.name.Near;
import nodley.core.name.Pointer;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;

/** One submission on its way: the values so far, and what has been found against them. */
final class Course {

  /** So many are told; whoever sends more has not made a slip. */
  private static final int MAX_UNKNOWN = 100;

  private static final int MAX_SUGGESTIONS = 20;

  private final Form form;
  private final Context context;
  private final Lookups facts;
  private final Optional<Set<String>> only;
  private final LocalDate today;
  private final FieldStates root;
  private final List<FieldError> overall = new ArrayList<>();
  private final List<FieldError> unknown = new ArrayList<>();
  private final List<String> unasked = new ArrayList<>();
  private final Validator judgement = new Validator(this);
  private Input.Encoding door = Input.Encoding.JSON;

  /** False as long as no field has been refused at all, so that nobody need look. */
  private boolean refused;

  /**
   * Begins a course.
   *
   * @param only dotted paths of the fields that the verdict is to speak of; empty for all
   */
  Course(Form form, Context context, Lookups facts, Optional<Set<String>> only) {
    this.form = form;
    this.context = context;
    this.facts = facts;
    this.only = only;
    this.today = context.today(form);
    this.root =
        new FieldStates(
            form.fields(),
            null,
            -1,
            context.edited().map(Context.Edited::values).orElse(Values.NONE));
  }

  /** Looked for only where there is something to say. */
  private Sentences sentences() {
    return Sentences.of(form);
  }

  Lookups facts() {
    return facts;
  }

  Context context() {
    return context;
  }

  LocalDate today() {
    return today;
  }

  // ---- read

  Course read(Input input) {
    door = input.door();
    new Binder(this, door, new ValueReader(door, context.zone(form), context.mode() == Mode.ADD))
        .read(root, input.members());
    return this;
  }

  // ---- tidy

  Course tidy() {
    tidy(root);
    new DependentFields(this, door).settle(form, root);
    return this;
  }

  private void tidy(FieldStates scope) {
    for (FieldState slot : scope.slots()) {
      Value tidied = Tidy.of(slot.field, slot.value);
      if (tidied != slot.value) {
        slot.value = tidied;
        if (tidied instanceof Value.Unread) {
          refuse(slot, "bad-input");
        }
      }
      for (FieldStates inside : slot.inside) {
        tidy(inside);
      }
    }
  }

  /** Whether a condition holds for a field; {@code otherwise} if nobody can be asked now. */
  boolean holds(Condition condition, FieldState slot, boolean otherwise) {
    if (condition.when().isEmpty()) {
      return condition.always();
    }
    try {
      return condition.holds(scene(slot.scope));
    } catch (LookupUnavailable e) {
      unasked(slot);
      return otherwise;
    }
  }

  /** What an expression of a field comes to; null if nobody can be asked now: it is open. */
  Value value(Expression expression, FieldState slot) {
    return value(expression, slot, scene(slot.scope));
  }

  /** The same where the expression sees more than what is around the field. */
  Value value(Expression expression, FieldState slot, EvaluationContext scene) {
    try {
      return expression.value(scene);
    } catch (LookupUnavailable e) {
      unasked(slot);
      return null;
    }
  }

  void unasked(FieldState slot) {
    String pointer = slot.pointer();
    if (isSpokenOf(slot) && !unasked.contains(pointer)) {
      unasked.add(pointer);
    }
  }

  /** What expressions of the form itself see. */
  EvaluationContext scene() {
    return scene(root);
  }

  /** What expressions of fields side by side see. */
  EvaluationContext scene(FieldStates scope) {
    return scope.scene(this);
  }

  // ---- judge

  Course judge() {
    judgement.judge(form, root);
    return this;
  }

  // ---- ask

  /** Asks about everything; a live check leaves out what is answered at submission only. */
  Course ask(boolean early) {
    for (Path path : form.fields().references()) {
      root.each(path, this::askReference);
    }
    if (!form.uniques().isEmpty()) {
      askTaken(UniqueKeys.of(this, form, root).asked(early, this::isSpokenOf));
    }
    return this;
  }

  /** True if there is a value, nothing stands against it, and it is asked about at all. */
  private boolean isOpen(FieldState slot) {
    return slot.error == null && slot.value != Value.BLANK && isSpokenOf(slot);
  }

  private void askReference(FieldState slot) {
    if (!isOpen(slot)) {
      return;
    }
    if (slot.field.type() == Type.FILE) {
      refuse(slot, "no-such-upload");
    } else {
      askRecord(slot);
    }
  }

  private void askRecord(FieldState slot) {
    Optional<Optional<Display.Found>> answer =
        facts.record(slot.field.refersTo().orElseThrow(), ((Value.Text) slot.value).text());
    if (answer.isEmpty()) {
      unasked(slot);
    } else if (answer.get().isEmpty()) {
      refuse(slot, "no-such-record");
    } else if (!(slot.value.equals(slot.kept) && judgement.stands(slot))
        && !judgement.meets(slot, answer.get().get().values())) {
      refuse(slot, "not-an-option");
    }
  }

  private void askTaken(UniqueKeys claims) {
    if (claims.list().isEmpty()) {
      return;
    }
    claims.refuse(claims.repeated());
    facts
        .taken(form, claims.list(), context.record())
        .ifPresentOrElse(claims::refuse, claims::leaveOpen);
    claims.refuseHeld(facts.held(form, claims.list()));
  }

  /** What the values as they are claim for themselves alone. */
  List<UniqueKey> claims() {
    return UniqueKeys.of(this, form, root).list();
  }

  Validator judgement() {
    return judgement;
  }

  List<FieldState> slots(List<String> path) {
    return root.each(form.fields().path(path));
  }

  // ---- keep

  /** The end of the way: kept, or not. */
  record Ended<R>(Course course, Optional<R> record) {

    Answer<R> answer() {
      return record
          .<Answer<R>>map(Answer.Accepted::new)
          .orElseGet(() -> new Answer.Refused<>(course.verdict()));
    }
  }

  /** Keeps what nothing stands against; a store that knows better at the last moment refuses. */
  <R> Ended<R> keep(RecordSink<R> keep) {
    if (refused && root.hasError() || !overall.isEmpty() || !unknown.isEmpty()) {
      return new Ended<>(this, Optional.empty());
    }
    UniqueKeys claims = UniqueKeys.of(this, form, root);
    return switch (keep.keep(root.values(), claims.list())) {
      case RecordSink.Kept<R>(R record) -> new Ended<>(this, Optional.of(record));
      case RecordSink.Clash<R>(Set<Integer> taken, Set<Integer> held, Set<String> missing) -> {
        missing.forEach(
            path ->
                slots(List.of(path.split("\\."))).stream()
                    .filter(slot -> !slot.value.isBlank())
                    .forEach(slot -> refuse(slot, "no-such-record")));
        claims.refuse(taken);
        claims.refuseHeld(held);
        yield new Ended<>(this, Optional.empty());
      }
    };
  }

  // ---- answer

  Verdict verdict() {
    List<FieldError> errors = new ArrayList<>();
    if (refused) {
      collect(root, errors);
    }
    if (only.isEmpty()) {
      errors.addAll(overall);
      errors.addAll(unknown);
    }
    List<Path> forServer = form.fields().forServer();
    Map<String, Map<String, Boolean>> decided = LinkedHashMap.newLinkedHashMap(forServer.size());
    for (Path path : forServer) {
      root.each(path, slot -> decide(slot, decided));
    }
    return new Verdict(CoveredFields.of(root, only, !errors.isEmpty()), errors, unasked, decided);
  }

  /** What the conditions come to that a page cannot work out; one that cannot be asked is left. */
  private void decide(FieldState slot, Map<String, Map<String, Boolean>> decided) {
    if (!isSpokenOf(slot)) {
      return;
    }
    Field.Presence presence = slot.field.presence();
    Map<String, Boolean> conditions = LinkedHashMap.newLinkedHashMap(3);
    if (presence.shown().isForServer() && isSettled(slot)) {
      conditions.put("shown", !slot.hidden);
    } else {
      decide(slot, "shown", presence.shown(), conditions);
    }
    decide(slot, "required", presence.required(), conditions);
    decide(slot, "editable", presence.editable(), conditions);
    if (!conditions.isEmpty()) {
      decided.put(slot.pointer(), conditions);
    }
  }

  /** True if it is known whether the field is shown: nothing was left open, nor hid it before. */
  private boolean isSettled(FieldState slot) {
    return unasked.isEmpty() && slot.scope.owner().filter(owner -> owner.hidden).isEmpty();
  }

  private void decide(
      FieldState slot, String what, Condition condition, Map<String, Boolean> conditions) {
    if (!condition.isForServer()) {
      return;
    }
    try {
      conditions.put(what, condition.holds(scene(slot.scope)));
    } catch (LookupUnavailable e) {
      // It is among the unasked, if the judgement needed it.
    }
  }

  private void collect(FieldStates scope, List<FieldError> errors) {
    for (FieldState slot : scope.slots()) {
      if (slot.error != null && isSpokenOf(slot)) {
        errors.add(slot.error);
      }
      for (FieldStates inside : slot.inside) {
        collect(inside, errors);
      }
    }
  }

  private boolean isSpokenOf(FieldState slot) {
    return only.isEmpty() || CoveredFields.speaksOf(slot, only.get());
  }

  /** True if an error stands at any field. */
  boolean hasRefused() {
    return refused;
  }

  /** The first error of a field stands; it is the only one. */
  void refuse(FieldState slot, String code) {
    if (slot.error == null && !isSpokenOf(slot)) {
      // Nobody will read it; it only has to stand in the way of questions.
      refused = true;
      slot.error = new FieldError(slot.pointer(), code, "", Map.of());
    } else if (slot.error == null) {
      refused = true;
      Value value =
          code.equals("not-an-option") ? new Value.Text(judgement.culprit(slot)) : slot.whole();
      slot.error = sentences().error(slot, code, value, root, today, context.now());
    }
  }

  /** Somebody else has what was to be unique. */
  void refuseTaken(FieldState slot, UniqueKey claim) {
    if (slot.error == null) {
      refused = true;
      List<String> free =
          claim.unique().alternatives()
              ? new Alternatives(form, facts, context.record()).free(slot, claim)
              : List.of();
      slot.error = sentences().taken(slot, claim.unique(), free, root);
    }
  }

  /** A rule's error stands at its field, or at the form where it has none that is shown. */
  void refuse(Rule rule, FieldState at, FieldStates scope) {
    if (at == null || at.hidden) {
      overall.add(sentences().rule(rule, at, given(rule, scope), root));
    } else if (at.error == null) {
      refused = true;
      at.error = sentences().rule(rule, at, given(rule, scope), root);
    }
  }

  /** What the parameters of a part come to, for its sentence; what cannot be asked is blank. */
  private Map<String, Value> given(Rule rule, FieldStates scope) {
    Map<String, Value> given = new TreeMap<>();
    rule.with()
        .forEach(
            (name, expression) -> {
              try {
                given.put(name, expression.value(scene(scope)));
              } catch (LookupUnavailable e) {
                given.put(name, Value.BLANK);
              }
            });
    return given;
  }

  void refuseUnknown(FieldStates scope, String name) {
    if (unknown.size() >= MAX_UNKNOWN) {
      return;
    }
    String shown = Wellformed.of(name);
    List<String> known = scope.fields().list().stream().map(Field::name).toList();
    // Beyond a few it is no slip of the pen, and looking for what was meant costs time.
    Optional<String> near =
        unknown.size() < MAX_SUGGESTIONS ? Near.to(name, known) : Optional.empty();
    unknown.add(
        new FieldError(
            Pointer.in(scope.pointer(), name),
            "unknown-field",
            sentences().unknownField(shown, near),
            Map.of("value", shown)));
  }
}
