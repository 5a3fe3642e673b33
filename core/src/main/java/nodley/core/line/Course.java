package nodley.core.line;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.input.Input;
import nodley.core.name.Near;
import nodley.core.name.Pointer;
import nodley.core.value.Value;
import nodley.core.value.Values;
import nodley.core.value.Wellformed;

/** One submission on its way: the values so far, and what has been found against them. */
final class Course {

  private static final int MAX_SUGGESTIONS = 20;

  private final Form form;
  private final Context context;
  private final List<Field> fields;
  private final boolean whole;
  private final Map<String, Value> values = new LinkedHashMap<>();
  private final Map<String, FieldError> errors = new LinkedHashMap<>();
  private final List<FieldError> unknown = new ArrayList<>();
  private final List<String> unasked = new ArrayList<>();

  Course(Form form, Context context, Optional<Set<String>> only) {
    this.form = form;
    this.context = context;
    this.whole = only.isEmpty();
    this.fields =
        form.fields().stream()
            .filter(field -> only.isEmpty() || only.get().contains(field.name()))
            .toList();
  }

  Course read(Input input) {
    for (Field field : fields) {
      Value value = Reading.of(field, input.get(field.name()), input.door());
      boolean absent = value.isBlank() && input.get(field.name()).isEmpty();
      if (absent && context.mode() == Mode.ADD) {
        value = field.first().orElse(value);
      }
      values.put(field.name(), value);
      if (value instanceof Value.Unread) {
        refuse(field, "bad-input");
      }
    }
    if (whole) {
      input.members().keySet().stream()
          .filter(name -> form.field(name).isEmpty())
          .filter(name -> input.door() == Input.Door.JSON || !name.startsWith("_"))
          .forEach(this::refuseUnknown);
    }
    return this;
  }

  Course tidy() {
    for (Field field : fields) {
      if (values.get(field.name()) instanceof Value.Text(String text)) {
        String tidied = Tidy.of(text, field.tidying());
        values.put(field.name(), tidied.isEmpty() ? Value.BLANK : new Value.Text(tidied));
      }
    }
    return this;
  }

  Course judge() {
    for (Field field : fields) {
      if (!errors.containsKey(field.name())) {
        Rules.fault(field, values.get(field.name())).ifPresent(code -> refuse(field, code));
      }
    }
    return this;
  }

  Course ask(Facts facts) {
    Map<String, Value> candidates = new LinkedHashMap<>();
    for (Field field : fields) {
      Value value = values.get(field.name());
      if (errors.containsKey(field.name()) || value.isBlank()) {
        continue;
      }
      if (field.refersTo().isPresent()) {
        askExists(field, value.shown(), facts);
      }
      if (field.unique().isPresent() && !errors.containsKey(field.name())) {
        candidates.put(field.name(), value);
      }
    }
    if (!candidates.isEmpty()) {
      askTaken(candidates, facts);
    }
    return this;
  }

  private void askExists(Field field, String id, Facts facts) {
    Optional<Boolean> exists = facts.exists(field.refersTo().get(), id);
    if (exists.isEmpty()) {
      unasked.add(Pointer.of(field.name()));
    } else if (!exists.get()) {
      refuse(field, "no-such-record");
    }
  }

  private void askTaken(Map<String, Value> candidates, Facts facts) {
    Optional<Set<String>> taken = facts.taken(form, candidates, context.record());
    if (taken.isEmpty()) {
      candidates.keySet().forEach(name -> unasked.add(Pointer.of(name)));
    } else {
      taken.get().forEach(name -> refuse(form.field(name).orElseThrow(), "taken"));
    }
  }

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
    Verdict verdict = verdict();
    if (!verdict.isAccepted()) {
      return new Ended<>(this, Optional.empty());
    }
    return switch (keep.keep(verdict.values())) {
      case Keep.Kept<R>(R record) -> new Ended<>(this, Optional.of(record));
      case Keep.Clash<R>(Set<String> taken, Set<String> missing) -> {
        missing.forEach(name -> refuse(form.field(name).orElseThrow(), "no-such-record"));
        taken.forEach(name -> refuse(form.field(name).orElseThrow(), "taken"));
        yield new Ended<>(this, Optional.empty());
      }
    };
  }

  Verdict verdict() {
    List<FieldError> inOrder = new ArrayList<>();
    for (Field field : fields) {
      Optional.ofNullable(errors.get(field.name())).ifPresent(inOrder::add);
    }
    inOrder.addAll(unknown);
    return new Verdict(new Values(values), inOrder, unasked);
  }

  /** The first error of a field stands; it is the only one. */
  private void refuse(Field field, String code) {
    errors.putIfAbsent(
        field.name(), Sentences.ENGLISH.error(field, code, values.get(field.name())));
  }

  private void refuseUnknown(String name) {
    String shown = Wellformed.of(name);
    // Beyond a few it is no slip of the pen, and looking for what was meant costs time.
    Optional<String> near =
        unknown.size() < MAX_SUGGESTIONS ? Near.to(name, form.byName().keySet()) : Optional.empty();
    String meant = near.map(it -> " Did you mean \"" + it + "\"?").orElse("");
    unknown.add(
        new FieldError(
            Pointer.of(name),
            "unknown-field",
            "The form has no field \"" + shown + "\"." + meant,
            Map.of("value", shown)));
  }
}
