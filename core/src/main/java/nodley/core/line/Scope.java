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
final class Scope {

  private final Fields fields;
  private final Slot[] slots;
  private final Scope outer;
  private final Slot owner;
  private final int row;

  /** Which kept row it is, if it is one; 0 otherwise. */
  private final long keptRow;

  /** True of a row that no kept one is. */
  private final boolean isNew;

  /** What expressions here see; null until one asks. */
  private SlotScene scene;

  /**
   * Begins with what a record keeps for these fields.
   *
   * @param row the place of a row in what was sent, from 0 up; −1 for others
   */
  Scope(Fields fields, Slot owner, int row, Values kept) {
    this.owner = owner;
    this.outer = owner == null ? null : owner.scope;
    this.row = row;
    this.keptRow = kept.row();
    this.isNew = row >= 0 && kept == Values.NONE;
    this.fields = fields;
    slots = new Slot[fields.size()];
    boolean bare = kept == Values.NONE;
    for (int i = 0; i < slots.length; i++) {
      Field field = fields.at(i);
      slots[i] = new Slot(field, this, bare ? Value.BLANK : kept.get(field.name()));
    }
  }

  /** All of them, in the form's order; not to be changed. */
  Slot[] slots() {
    return slots;
  }

  SlotScene scene(Course course) {
    if (scene == null) {
      scene = new SlotScene(course, this);
    }
    return scene;
  }

  Fields fields() {
    return fields;
  }

  Optional<Slot> find(String name) {
    return Optional.ofNullable(get(name));
  }

  /** The slot of a field side by side; null where there is none. */
  private Slot get(String name) {
    int position = fields.position(name);
    return position < 0 ? null : slots[position];
  }

  /** The field of the form that the scope is inside of, at the top level. */
  Optional<Slot> owner() {
    return Optional.ofNullable(owner);
  }

  /** The scope so many steps outwards. */
  Scope up(int count) {
    Scope here = this;
    for (int i = 0; i < count; i++) {
      here = here.outer;
    }
    return here;
  }

  /** True if the fields at a path are as the edited record keeps them. */
  boolean isUnchanged(Path path) {
    for (Slot slot : each(path)) {
      if (!slot.whole().equals(slot.kept)) {
        return false;
      }
    }
    return true;
  }

  Scope outer() {
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
  Slot at(List<String> path) {
    Scope here = this;
    for (int i = 0; i < path.size() - 1; i++) {
      Slot slot = here == null ? null : here.get(path.get(i));
      here = slot == null || slot.inside.length == 0 ? null : slot.inside[0];
    }
    return here == null ? null : here.get(path.getLast());
  }

  /** The same, by the places that an expression knows. */
  Slot at(Path path) {
    Scope here = this;
    for (int i = 0; i < path.length() - 1; i++) {
      Slot slot = here.slots[path.place(i)];
      if (slot.inside.length == 0) {
        return null;
      }
      here = slot.inside[0];
    }
    return here.slots[path.place(path.length() - 1)];
  }

  /** Does something with the slot of a field, in each of the rows around it. */
  void each(Path path, Consumer<Slot> action) {
    each(path, 0, action);
  }

  private void each(Path path, int from, Consumer<Slot> action) {
    Slot slot = slots[path.place(from)];
    if (from == path.length() - 1) {
      action.accept(slot);
    } else {
      for (Scope scope : slot.inside) {
        scope.each(path, from + 1, action);
      }
    }
  }

  /** The slots of a field, one for each row around it. */
  List<Slot> each(Path path) {
    if (path.length() == 1) {
      return List.of(slots[path.place(0)]);
    }
    List<Slot> found = new ArrayList<>();
    each(path, found::add);
    return found;
  }

  /** True if an error stands at a declared field, in whatever row, or inside it. */
  boolean hasError(Path path) {
    if (path.length() == 1) {
      return slots[path.place(0)].hasError();
    }
    for (Slot slot : each(path)) {
      if (slot.hasError()) {
        return true;
      }
    }
    return false;
  }

  /** The slot of a declared field, that of the first row; null where there is no row. */
  Slot first(Path path) {
    if (path.length() == 1) {
      return slots[path.place(0)];
    }
    List<Slot> slots = each(path);
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
    for (Slot slot : slots) {
      if (!slot.isBlank()) {
        return false;
      }
    }
    return true;
  }

  /** True if an error stands at any field, however deep. */
  boolean hasError() {
    for (Slot slot : slots) {
      if (slot.hasError()) {
        return true;
      }
    }
    return false;
  }
}
