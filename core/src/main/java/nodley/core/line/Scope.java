package nodley.core.line;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import nodley.core.form.Fields;
import nodley.core.name.Pointer;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** The slots of fields side by side: those of the form, of a group, or of one row. */
final class Scope {

  private final Map<String, Slot> slots = new LinkedHashMap<>();
  private final Scope outer;
  private final Slot owner;
  private final int row;

  /** What a record keeps for these fields. */
  Scope(Fields fields, Slot owner, int row, Values kept) {
    this.owner = owner;
    this.outer = owner == null ? null : owner.scope;
    this.row = row;
    fields.forEach(field -> slots.put(field.name(), new Slot(field, this, kept.get(field.name()))));
  }

  Collection<Slot> slots() {
    return slots.values();
  }

  Optional<Slot> find(String name) {
    return Optional.ofNullable(slots.get(name));
  }

  /** The field of the form that the scope is inside of, at the top level. */
  Optional<Slot> owner() {
    return Optional.ofNullable(owner);
  }

  Scope outer() {
    return outer;
  }

  /** Rows are counted as they are returned. */
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
      Slot slot = here == null ? null : here.slots.get(path.get(i));
      here = slot == null || slot.inside.isEmpty() ? null : slot.inside.getFirst();
    }
    return here == null ? null : here.slots.get(path.getLast());
  }

  /** The slots of a declared field, one for each row around it. */
  void each(List<String> path, int from, List<Slot> found) {
    Slot slot = slots.get(path.get(from));
    if (from == path.size() - 1) {
      found.add(slot);
    } else {
      slot.inside.forEach(scope -> scope.each(path, from + 1, found));
    }
  }

  List<Slot> each(List<String> path) {
    List<Slot> found = new ArrayList<>();
    each(path, 0, found);
    return found;
  }

  Values values() {
    Map<String, Value> values = new LinkedHashMap<>();
    slots.forEach((name, slot) -> values.put(name, slot.whole()));
    return new Values(values);
  }
}
