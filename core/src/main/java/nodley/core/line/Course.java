package nodley.core.line;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.expression.Expression;
import nodley.core.expression.Scene;
import nodley.core.expression.Unanswered;
import nodley.core.form.Choice;
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
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;

/** One submission on its way: the values so far, and what has been found against them. */
final class Course {

  private static final int MAX_SUGGESTIONS = 20;

  private final Form form;
  private final Context context;
  private final Facts facts;
  private final Optional<Set<String>> only;
  private final LocalDate today;
  private final Sentences sentences;
  private final Scope root;
  private final List<FieldError> overall = new ArrayList<>();
  private final List<FieldError> unknown = new ArrayList<>();
  private final List<String> unasked = new ArrayList<>();
  private Input.Door door = Input.Door.JSON;

  /**
   * Begins a course.
   *
   * @param only dotted paths of the fields that the verdict is to speak of; empty for all
   */
  Course(Form form, Context context, Facts facts, Optional<Set<String>> only) {
    this.form = form;
    this.context = context;
    this.facts = facts;
    this.only = only;
    this.today = context.today(form);
    this.sentences = Sentences.in(form.language());
    this.root =
        new Scope(
            form.fields(),
            null,
            -1,
            context.edited().map(Context.Edited::values).orElse(Values.NONE));
  }

  Facts facts() {
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
    read(root, input.members(), new Reading(door, context.zone(form)));
    return this;
  }

  private void read(Scope scope, Map<String, Raw> members, Reading reading) {
    int known = 0;
    for (Slot slot : scope.slots()) {
      Raw raw = members.get(slot.field.name());
      known += raw == null ? 0 : 1;
      read(slot, raw, reading);
    }
    if (known == members.size()) {
      return;
    }
    boolean top = scope == root;
    for (String name : members.keySet()) {
      boolean own = top && door == Input.Door.FORM && name.startsWith("_");
      if (scope.find(name).isEmpty() && !own) {
        refuseUnknown(scope, name);
      }
    }
  }

  private void read(Slot slot, Raw raw, Reading reading) {
    slot.absent = raw == null;
    switch (slot.field.type()) {
      case GROUP -> readGroup(slot, raw, reading);
      case ROWS -> readRows(slot, raw, reading);
      default -> slot.value = reading.of(slot.field, raw);
    }
    if (slot.value instanceof Value.Unread) {
      refuse(slot, "bad-input");
    }
  }

  private void readGroup(Slot slot, Raw raw, Reading reading) {
    if (raw != null && !(raw instanceof Raw.Members) && !raw.isBlank()) {
      slot.value = new Value.Unread(raw);
      return;
    }
    Values kept = slot.kept instanceof Value.Group(Values values) ? values : Values.NONE;
    Scope inside = new Scope(slot.field.fields(), slot, -1, kept);
    slot.inside = List.of(inside);
    read(inside, Slot.members(raw), reading);
  }

  /** Rows in which nothing was typed are left out, and not counted. */
  private void readRows(Slot slot, Raw raw, Reading reading) {
    List<Raw> rows = raw instanceof Raw.Many(List<Raw> items) ? items : List.of();
    boolean right =
        raw == null
            || raw.isBlank()
            || raw instanceof Raw.Many
                && rows.stream()
                    .allMatch(it -> it instanceof Raw.Members || it instanceof Raw.Null);
    if (!right) {
      slot.value = new Value.Unread(raw);
      return;
    }
    List<Values> kept = slot.kept instanceof Value.Rows(List<Values> values) ? values : List.of();
    List<Scope> inside = new ArrayList<>();
    for (Raw row : rows) {
      if (!Slot.isEmpty(row)) {
        int index = inside.size();
        Values before = index < kept.size() ? kept.get(index) : Values.NONE;
        Scope scope = new Scope(slot.field.fields(), slot, index, before);
        inside.add(scope);
        read(scope, Slot.members(row), reading);
      }
    }
    slot.inside = inside;
  }

  // ---- tidy

  Course tidy() {
    tidy(root);
    settle();
    return this;
  }

  private static void tidy(Scope scope) {
    for (Slot slot : scope.slots()) {
      slot.value = Tidy.of(slot.field, slot.value);
      slot.inside.forEach(Course::tidy);
    }
  }

  // ---- settle: what the fields that depend on others come to, each after those it depends on

  private void settle() {
    for (Form.Placed placed : form.settling()) {
      for (Slot slot : root.each(placed.path())) {
        settle(slot);
      }
    }
  }

  private void settle(Slot slot) {
    if (slot.hidden) {
      return;
    }
    Scene scene = new SlotScene(this, slot.scope);
    Field field = slot.field;
    if (!holds(field.presence().shown(), scene, slot, true)) {
      slot.hide();
      return;
    }
    if (field.source().compute().isPresent()) {
      compute(slot, scene);
      return;
    }
    boolean editable = holds(field.presence().editable(), scene, slot, true);
    boolean adding = context.mode() == Mode.ADD;
    if (slot.absent && adding) {
      // In form encoding an absent box is not ticked; whether it was there, nobody can tell.
      boolean unticked = field.type() == Type.BOOLEAN && door == Input.Door.FORM && editable;
      if (!unticked) {
        slot.value = first(slot, scene);
      }
    } else if (!editable) {
      Value standing = adding ? first(slot, scene) : slot.kept;
      if (!slot.absent && !slot.whole().equals(standing)) {
        refuse(slot, "not-editable");
      }
      if (field.type().isScalar()) {
        slot.value = standing;
      } else if (slot.absent) {
        restore(slot);
      }
    }
  }

  /** A group or rows that may not be edited keep what they have, all of it. */
  private static void restore(Slot slot) {
    if (slot.field.type() == Type.ROWS) {
      List<Values> kept = slot.kept instanceof Value.Rows(List<Values> rows) ? rows : List.of();
      List<Scope> inside = new ArrayList<>();
      for (Values row : kept) {
        inside.add(new Scope(slot.field.fields(), slot, inside.size(), row));
      }
      slot.inside = inside;
    }
    for (Scope scope : slot.inside) {
      for (Slot each : scope.slots()) {
        each.value = each.field.type().isScalar() ? each.kept : Value.BLANK;
        each.error = null;
        if (each.field.type() == Type.GROUP && each.inside.isEmpty()) {
          Values kept = each.kept instanceof Value.Group(Values values) ? values : Values.NONE;
          each.inside = List.of(new Scope(each.field.fields(), each, -1, kept));
        }
        restore(each);
      }
    }
  }

  private Value first(Slot slot, Scene scene) {
    Field.Source source = slot.field.source();
    if (source.computed().isEmpty()) {
      return source.literal().orElse(Value.BLANK);
    }
    try {
      return Fitting.to(slot.field, source.computed().get().value(scene));
    } catch (Unanswered e) {
      unasked(slot);
      return Value.BLANK;
    }
  }

  private void compute(Slot slot, Scene scene) {
    Value sent = slot.value;
    boolean given = !slot.absent;
    slot.error = null;
    try {
      slot.value = Fitting.to(slot.field, slot.field.source().compute().orElseThrow().value(scene));
    } catch (Unanswered e) {
      unasked(slot);
      slot.value = Value.BLANK;
      return;
    }
    boolean old = context.mode() == Mode.EDIT && sent.equals(slot.kept);
    if (given && !sent.equals(slot.value) && !old) {
      refuse(slot, "not-editable");
    }
  }

  private boolean holds(Condition condition, Scene scene, Slot slot, boolean otherwise) {
    if (condition.when().isEmpty()) {
      return condition.always();
    }
    try {
      return condition.holds(scene);
    } catch (Unanswered e) {
      unasked(slot);
      return otherwise;
    }
  }

  private void unasked(Slot slot) {
    String pointer = slot.pointer();
    if (isSpokenOf(slot) && !unasked.contains(pointer)) {
      unasked.add(pointer);
    }
  }

  /** What expressions of the form itself see. */
  Scene scene() {
    return new SlotScene(this, root);
  }

  // ---- judge

  Course judge() {
    judge(root);
    repeats(root);
    rules(root);
    form.rules()
        .forEach(rule -> judge(rule, root, rule.at().isEmpty() ? null : root.at(rule.at())));
    return this;
  }

  private void judge(Scope scope) {
    for (Slot slot : scope.slots()) {
      if (slot.hidden) {
        continue;
      }
      if (slot.error == null) {
        String code = fault(slot);
        if (code != null) {
          refuse(slot, code);
        }
      }
      for (Scope inside : slot.inside) {
        judge(inside);
      }
    }
  }

  private String fault(Slot slot) {
    Value value = slot.outline();
    if (isMissing(slot, value)) {
      return "value-missing";
    }
    String code = Rules.fault(slot.field, value, slot.kept, today, context.now());
    return code == null ? notAnOption(slot) : code;
  }

  private boolean isMissing(Slot slot, Value value) {
    Condition required = slot.field.presence().required();
    boolean blank = value.isBlank() || value instanceof Value.Bool(boolean yes) && !yes;
    if (!blank || required.isNever() || keepsSecret(slot)) {
      return false;
    }
    return holds(required, new SlotScene(this, slot.scope), slot, false);
  }

  /** In an edit a blank secret keeps the kept one, and need not be typed twice. */
  private boolean keepsSecret(Slot slot) {
    if (!slot.field.isSecret() || context.mode() == Mode.ADD) {
      return false;
    }
    return slot.field
        .repeats()
        .flatMap(slot.scope::find)
        .map(other -> other.value.isBlank())
        .orElse(slot.field.isKept());
  }

  private String notAnOption(Slot slot) {
    if (slot.field.type() != Type.CHOICE && slot.field.type() != Type.CHOICES) {
      return null;
    }
    List<String> chosen =
        switch (slot.value) {
          case Value.Text(String text) when slot.field.type() == Type.CHOICE -> List.of(text);
          case Value.Chosen(List<String> options) when slot.field.type() == Type.CHOICES -> options;
          default -> List.of();
        };
    for (String option : chosen) {
      if (!isOffered(slot, option)) {
        return "not-an-option";
      }
    }
    return null;
  }

  /** The first of the chosen options that is not offered, for its sentence. */
  private String culprit(Slot slot) {
    return slot.value instanceof Value.Chosen(List<String> options)
        ? options.stream().filter(it -> !isOffered(slot, it)).findFirst().orElse("")
        : slot.value.shown();
  }

  /** What is no longer offered, or where, stays right for a record that has it already. */
  boolean isOffered(Slot slot, String option) {
    Choice choice = slot.field.options().find(option).orElse(null);
    if (choice == null || !choice.offered()) {
      return switch (slot.kept) {
        case Value.Text(String text) -> text.equals(option);
        case Value.Chosen(List<String> options) -> options.contains(option);
        default -> false;
      };
    }
    return slot.field.options().where().isEmpty() || meets(slot, choice.marks());
  }

  boolean meets(Slot slot, Values option) {
    Scene scene = new OptionScene(option, new SlotScene(this, slot.scope));
    try {
      return slot.field.options().where().orElseThrow().holds(scene);
    } catch (Unanswered e) {
      unasked(slot);
      return true;
    }
  }

  /** What is typed twice must be alike, once there is something to repeat. */
  private void repeats(Scope scope) {
    for (Slot slot : scope.slots()) {
      Optional<Slot> first = slot.field.repeats().flatMap(scope::find);
      boolean judged =
          first.isPresent() && !slot.hidden && slot.error == null && first.get().error == null;
      if (judged && !slot.value.equals(first.get().value)) {
        refuse(slot, "not-repeated");
      }
      slot.inside.forEach(this::repeats);
    }
  }

  private void rules(Scope scope) {
    for (Slot slot : scope.slots()) {
      if (!slot.hidden) {
        for (Rule rule : slot.field.rules()) {
          judge(rule, scope, rule.at().isEmpty() ? slot : scope.at(rule.at()));
        }
        slot.inside.forEach(this::rules);
      }
    }
  }

  private void judge(Rule rule, Scope scope, Slot at) {
    Slot first = null;
    boolean unchanged = rule.must().readsClock() && context.mode() == Mode.EDIT;
    for (Expression.Path path : rule.must().paths()) {
      Scope from = scope;
      for (int up = path.up(); up > 0; up--) {
        from = from.outer();
      }
      for (Slot read : from.each(path.names())) {
        if (read.hasError()) {
          return;
        }
        first = first == null ? read : first;
        unchanged = unchanged && read.whole().equals(read.kept);
      }
    }
    if (unchanged) {
      return;
    }
    try {
      if (!rule.must().fails(new SlotScene(this, scope))) {
        return;
      }
    } catch (Unanswered e) {
      Slot asked = at != null ? at : first;
      if (asked != null) {
        unasked(asked);
      }
      return;
    }
    if (at == null || at.hidden) {
      overall.add(sentences.rule(rule, at, root));
    } else if (at.error == null) {
      at.error = sentences.rule(rule, at, root);
    }
  }

  // ---- ask

  Course ask() {
    Map<String, Value> candidates = new LinkedHashMap<>();
    askRecords(root);
    for (Form.Placed placed : form.uniqueFields()) {
      Slot slot = root.at(placed.path());
      if (slot != null && isOpen(slot)) {
        candidates.put(placed.dotted(), slot.value);
      }
    }
    if (!candidates.isEmpty()) {
      askTaken(candidates);
    }
    return this;
  }

  /** True if there is a value, nothing stands against it, and it is asked about at all. */
  private boolean isOpen(Slot slot) {
    return slot.error == null && !slot.value.isBlank() && isSpokenOf(slot);
  }

  private void askRecords(Scope scope) {
    for (Slot slot : scope.slots()) {
      if (slot.field.refersTo().isPresent() && isOpen(slot)) {
        askRecord(slot);
      }
      if (slot.field.type() == Type.FILE && isOpen(slot)) {
        refuse(slot, "no-such-upload");
      }
      slot.inside.forEach(this::askRecords);
    }
  }

  private void askRecord(Slot slot) {
    Optional<Optional<Display.Found>> answer =
        facts.record(slot.field.refersTo().orElseThrow(), slot.value.shown());
    if (answer.isEmpty()) {
      unasked(slot);
    } else if (answer.get().isEmpty()) {
      refuse(slot, "no-such-record");
    } else if (slot.field.options().where().isPresent()
        && !slot.value.equals(slot.kept)
        && !meets(slot, answer.get().get().values())) {
      refuse(slot, "not-an-option");
    }
  }

  private void askTaken(Map<String, Value> candidates) {
    Optional<Set<String>> taken = facts.taken(form, candidates, context.record());
    if (taken.isEmpty()) {
      candidates.keySet().forEach(path -> unasked(slot(path)));
    } else {
      taken.get().forEach(path -> refuse(slot(path), "taken"));
    }
  }

  List<Slot> slots(List<String> path) {
    return root.each(path);
  }

  private Slot slot(String path) {
    return root.at(List.of(path.split("\\.")));
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
  <R> Ended<R> keep(Keep<R> keep) {
    if (!verdict().isAccepted()) {
      return new Ended<>(this, Optional.empty());
    }
    return switch (keep.keep(root.values())) {
      case Keep.Kept<R>(R record) -> new Ended<>(this, Optional.of(record));
      case Keep.Clash<R>(Set<String> taken, Set<String> missing) -> {
        missing.forEach(
            path ->
                root.each(List.of(path.split("\\."))).stream()
                    .filter(slot -> !slot.value.isBlank())
                    .forEach(slot -> refuse(slot, "no-such-record")));
        taken.forEach(path -> refuse(slot(path), "taken"));
        yield new Ended<>(this, Optional.empty());
      }
    };
  }

  // ---- answer

  Verdict verdict() {
    List<FieldError> errors = new ArrayList<>();
    collect(root, errors);
    if (only.isEmpty()) {
      errors.addAll(overall);
      errors.addAll(unknown);
    }
    return new Verdict(Spoken.of(root, only), errors, unasked);
  }

  private void collect(Scope scope, List<FieldError> errors) {
    for (Slot slot : scope.slots()) {
      if (slot.error != null && isSpokenOf(slot)) {
        errors.add(slot.error);
      }
      slot.inside.forEach(inside -> collect(inside, errors));
    }
  }

  private boolean isSpokenOf(Slot slot) {
    return only.isEmpty() || Spoken.speaksOf(slot, only.get());
  }

  /** The first error of a field stands; it is the only one. */
  private void refuse(Slot slot, String code) {
    if (slot.error == null) {
      Value value = code.equals("not-an-option") ? new Value.Text(culprit(slot)) : slot.whole();
      slot.error = sentences.error(slot, code, value, root, today, context.now());
    }
  }

  private void refuseUnknown(Scope scope, String name) {
    String shown = Wellformed.of(name);
    List<String> known = scope.slots().stream().map(slot -> slot.field.name()).toList();
    // Beyond a few it is no slip of the pen, and looking for what was meant costs time.
    Optional<String> near =
        unknown.size() < MAX_SUGGESTIONS ? Near.to(name, known) : Optional.empty();
    unknown.add(
        new FieldError(
            Pointer.in(scope.pointer(), name),
            "unknown-field",
            sentences.unknownField(shown, near),
            Map.of("value", shown)));
  }
}
