package nodley.core.submission;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import nodley.core.expression.Path;
import nodley.core.form.Field;
import nodley.core.form.Fields;
import nodley.core.name.Pointer;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * The states of sibling fields: those of the form, of a group, or of one row. Confined to the
 * thread that runs the submission.
 */
final class FieldStates {

  private final Fields fields;
  private final FieldState[] states;
  private final FieldStates outer;
  private final FieldState owner;
  private final int row;

  /** Identity of the stored row that this row is; 0 for others. */
  private final long storedRow;

  /** True for a row that is not stored yet. */
  private final boolean isNew;

  /** Null until an expression is evaluated here. */
  private FieldContext context;

  /**
   * Makes the states of some fields, without values yet.
   *
   * @param row index of a row as it was sent, from 0; −1 for others
   * @param stored what an edited record has stored of these fields
   */
  FieldStates(Fields fields, FieldState owner, int row, Values stored) {
    this.owner = owner;
    this.outer = owner == null ? null : owner.siblings;
    this.row = row;
    this.storedRow = stored.row();
    this.isNew = row >= 0 && stored == Values.NONE;
    this.fields = fields;
    states = new FieldState[fields.size()];
    boolean bare = stored == Values.NONE;
    for (int i = 0; i < states.length; i++) {
      Field field = fields.at(i);
      states[i] = new FieldState(field, this, bare ? Value.BLANK : stored.get(field.name()));
    }
  }

  /** Makes the states of a form's own fields, with what an edited record has stored. */
  static FieldStates of(Request request) {
    return new FieldStates(
        request.form().fields(),
        null,
        -1,
        request.context().edited().map(Context.Edited::values).orElse(Values.NONE));
  }

  /** Returns the states in the form's order; the array must not be changed. */
  FieldState[] states() {
    return states;
  }

  /** Returns what expressions of these fields can read; made once. */
  FieldContext context(Request request) {
    if (context == null) {
      context = new FieldContext(request, this);
    }
    return context;
  }

  /** The fields that these are the states of. */
  Fields fields() {
    return fields;
  }

  /** Returns the state of one of them; empty if there is no such field. */
  Optional<FieldState> find(String name) {
    return Optional.ofNullable(get(name));
  }

  /** Returns the state of a sibling; null if there is no such field. */
  private FieldState get(String name) {
    int position = fields.position(name);
    return position < 0 ? null : states[position];
  }

  /** Returns the group or rows field that these are nested in; empty for the form's own. */
  Optional<FieldState> owner() {
    return Optional.ofNullable(owner);
  }

  /** Returns the siblings at an outer level; 0 returns these. */
  FieldStates up(int count) {
    FieldStates here = this;
    for (int i = 0; i < count; i++) {
      here = here.outer;
    }
    return here;
  }

  /** Returns true if the fields at a path have their stored values. */
  boolean isUnchanged(Path path) {
    for (FieldState state : each(path)) {
      if (!state.fullValue().equals(state.stored)) {
        return false;
      }
    }
    return true;
  }

  FieldStates outer() {
    return outer;
  }

  boolean isRow() {
    return row >= 0;
  }

  /** Returns the index of a row as it was sent. */
  int row() {
    return row;
  }

  /** Returns true unless these fields are in a row that is not stored yet. */
  boolean isKept() {
    return !isNew && (outer == null || outer.isKept());
  }

  /** Returns the JSON pointer of these fields (RFC 6901), with rows counted as they were sent. */
  String pointer() {
    if (owner == null) {
      return Pointer.ROOT;
    }
    return row < 0 ? owner.pointer() : owner.pointer() + "/" + row;
  }

  /** Returns the state of a field by its path through groups; null if there is none. */
  FieldState at(List<String> path) {
    FieldStates here = this;
    for (int i = 0; i < path.size() - 1; i++) {
      FieldState state = here == null ? null : here.get(path.get(i));
      here = state == null || state.nested.length == 0 ? null : state.nested[0];
    }
    return here == null ? null : here.get(path.getLast());
  }

  /** The same, by the positions that an expression has resolved. */
  FieldState at(Path path) {
    FieldStates here = this;
    for (int i = 0; i < path.length() - 1; i++) {
      FieldState state = here.states[path.place(i)];
      if (state.nested.length == 0) {
        return null;
      }
      here = state.nested[0];
    }
    return here.states[path.place(path.length() - 1)];
  }

  /** Calls back for the state of a field in each of the rows around it. */
  void each(Path path, Consumer<FieldState> action) {
    each(path, 0, action);
  }

  private void each(Path path, int from, Consumer<FieldState> action) {
    FieldState state = states[path.place(from)];
    if (from == path.length() - 1) {
      action.accept(state);
    } else {
      for (FieldStates siblings : state.nested) {
        siblings.each(path, from + 1, action);
      }
    }
  }

  /** Returns the states of a field, one for each row around it. */
  List<FieldState> each(Path path) {
    if (path.length() == 1) {
      return List.of(states[path.place(0)]);
    }
    List<FieldState> found = new ArrayList<>();
    each(path, found::add);
    return found;
  }

  /** Returns true if a field, or one nested in it, has an error in any row. */
  boolean hasError(Path path) {
    if (path.length() == 1) {
      return states[path.place(0)].hasError();
    }
    for (FieldState state : each(path)) {
      if (state.hasError()) {
        return true;
      }
    }
    return false;
  }

  /** Returns the state of a field in the first row; null if there is no row. */
  FieldState first(Path path) {
    if (path.length() == 1) {
      return states[path.place(0)];
    }
    List<FieldState> states = each(path);
    return states.isEmpty() ? null : states.getFirst();
  }

  /** Returns the values of all fields, nested ones and secrets included. */
  Values values() {
    return values(true);
  }

  /** The same; without secrets these are blank. */
  Values values(boolean secrets) {
    Value[] values = new Value[states.length];
    for (int i = 0; i < states.length; i++) {
      values[i] = secrets ? states[i].fullValue() : states[i].publicValue();
    }
    return fields.values(values).ofRow(storedRow);
  }

  /** Returns the values without secrets, with blank rows where they were sent. */
  Values valuesAsSent() {
    Value[] values = new Value[states.length];
    for (int i = 0; i < states.length; i++) {
      values[i] = states[i].asSent();
    }
    return fields.values(values).ofRow(storedRow);
  }

  /** Returns true if no field has a value, at any depth. */
  boolean isBlank() {
    for (FieldState state : states) {
      if (!state.isBlank()) {
        return false;
      }
    }
    return true;
  }

  /** Returns true if any field has an error, at any depth. */
  boolean hasError() {
    for (FieldState state : states) {
      if (state.hasError()) {
        return true;
      }
    }
    return false;
  }
}
