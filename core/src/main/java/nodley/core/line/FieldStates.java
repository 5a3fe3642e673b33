package nodley.core.line;

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

/** The slots of fields side by side: those of the form, of a group, or of one row. */
final class FieldStates {

  private final Fields fields;
  private final FieldState[] slots;
  private final FieldStates outer;
  private final FieldState owner;
  private final int row;

  /** Which kept row it is, if it is one; 0 otherwise. */
  private final long keptRow;

  /** True of a row that no kept one is. */
  private final boolean isNew;

  /** What expressions here see; null until one asks. */
  private FieldContext scene;

  /**
   * Begins with what a record keeps for these fields.
   *
   * @param row the place of a row in what was sent, from 0 up; −1 for others
   */
  FieldStates(Fields fields, FieldState owner, int row, Values kept) {
    this.owner = owner;
    this.outer = owner == null ? null : owner.scope;
    this.row = row;
    this.keptRow = kept.row();
    this.isNew = row >= 0 && kept == Values.NONE;
    this.fields = fields;
    slots = new FieldState[fields.size()];
    boolean bare = kept == Values.NONE;
    for (int i = 0; i < slots.length; i++) {
      Field field = fields.at(i);
      slots[i] = new FieldState(field, this, bare ? Value.BLANK : kept.get(field.name()));
    }
  }

  /** All of them, in the form's order; not to be changed. */
  FieldState[] slots() {
    return slots;
  }

  FieldContext scene(Course course) {
    if (scene == null) {
      scene = new FieldContext(course, this);
    }
    return scene;
  }

  Fields fields() {
    return fields;
  }

  Optional<FieldState> find(String name) {
    return Optional.ofNullable(get(name));
  }

  /** The slot of a field side by side; null where there is none. */
  private FieldState get(String name) {
    int position = fields.position(name);
    return position < 0 ? null : slots[position];
  }

  /** The field of the form that the scope is inside of, at the top level. */
  Optional<FieldState> owner() {
    return Optional.ofNullable(owner);
  }

  /** The scope so many steps outwards. */
  FieldStates up(int count) {
    FieldStates here = this;
    for (int i = 0; i < count; i++) {
      here = here.outer;
    }
    return here;
  }

  /** True if the fields at a path are as the edited record keeps them. */
  boolean isUnchanged(Path path) {
    for (FieldState slot : each(path)) {
      if (!slot.whole().equals(slot.kept)) {
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

  /** The place of a row in what was sent. */
  int row() {
    return row;
  }

  /** True if a record that is edited has these fields already: they are in no row that is new. */
  boolean isKept() {
    return !isNew && (outer == null || outer.isKept());
  }

  /** Rows are counted as they were sent. */
  String pointer() {
    if (owner == null) {
      return Pointer.ROOT;
    }
    return row < 0 ? owner.pointer() : owner.pointer() + "/" + row;
  }

  /** The slot of a field behind the names of the groups around it; null where there is none. */
  FieldState at(List<String> path) {
    FieldStates here = this;
    for (int i = 0; i < path.size() - 1; i++) {
      FieldState slot = here == null ? null : here.get(path.get(i));
      here = slot == null || slot.inside.length == 0 ? null : slot.inside[0];
    }
    return here == null ? null : here.get(path.getLast());
  }

  /** The same, by the places that an expression knows. */
  FieldState at(Path path) {
    FieldStates here = this;
    for (int i = 0; i < path.length() - 1; i++) {
      FieldState slot = here.slots[path.place(i)];
      if (slot.inside.length == 0) {
        return null;
      }
      here = slot.inside[0];
    }
    return here.slots[path.place(path.length() - 1)];
  }

  /** Does something with the slot of a field, in each of the rows around it. */
  void each(Path path, Consumer<FieldState> action) {
    each(path, 0, action);
  }

  private void each(Path path, int from, Consumer<FieldState> action) {
    FieldState slot = slots[path.place(from)];
    if (from == path.length() - 1) {
      action.accept(slot);
    } else {
      for (FieldStates scope : slot.inside) {
        scope.each(path, from + 1, action);
      }
    }
  }

  /** The slots of a field, one for each row around it. */
  List<FieldState> each(Path path) {
    if (path.length() == 1) {
      return List.of(slots[path.place(0)]);
    }
    List<FieldState> found = new ArrayList<>();
    each(path, found::add);
    return found;
  }

  /** True if an error stands at a declared field, in whatever row, or inside it. */
  boolean hasError(Path path) {
    if (path.length() == 1) {
      return slots[path.place(0)].hasError();
    }
    for (FieldState slot : each(path)) {
      if (slot.hasError()) {
        return true;
      }
    }
    return false;
  }

  /** The slot of a declared field, that of the first row; null where there is no row. */
  FieldState first(Path path) {
    if (path.length() == 1) {
      return slots[path.place(0)];
    }
    List<FieldState> slots = each(path);
    return slots.isEmpty() ? null : slots.getFirst();
  }

  /** The values of all fields, with what is inside them. */
  Values values() {
    return values(true);
  }

  /** The same; secrets are blank unless they are asked for. */
  Values values(boolean secrets) {
    Value[] values = new Value[slots.length];
    for (int i = 0; i < slots.length; i++) {
      values[i] = secrets ? slots[i].whole() : slots[i].openly();
    }
    return fields.values(values).ofRow(keptRow);
  }

  /** The values of all fields but secrets, with blank rows where they were sent. */
  Values valuesAsSent() {
    Value[] values = new Value[slots.length];
    for (int i = 0; i < slots.length; i++) {
      values[i] = slots[i].asSent();
    }
    return fields.values(values).ofRow(keptRow);
  }

  /** True if no field has a value, however deep. */
  boolean isBlank() {
    for (FieldState slot : slots) {
      if (!slot.isBlank()) {
        return false;
      }
    }
    return true;
  }

  /** True if an error stands at any field, however deep. */
  boolean hasError() {
    for (FieldState slot : slots) {
      if (slot.hasError()) {
        return true;
      }
    }
    return false;
  }
}
