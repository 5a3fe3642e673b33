package nodley.core.line;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** Station one, read: what arrived goes to its slots, and makes the scopes of groups and rows. */
final class Arrival {

  private final Course course;
  private final Input.Door door;
  private final Reading reading;

  Arrival(Course course, Input.Door door, Reading reading) {
    this.course = course;
    this.door = door;
    this.reading = reading;
  }

  void read(Scope scope, Map<String, Raw> members) {
    int known = 0;
    Iterator<Map.Entry<String, Raw>> arriving = members.entrySet().iterator();
    Map.Entry<String, Raw> next = arriving.hasNext() ? arriving.next() : null;
    for (Slot slot : scope.slots()) {
      String name = slot.field.name();
      Raw raw;
      // Most come in the order of the form, and need not be looked for.
      if (next != null && next.getKey().equals(name)) {
        raw = next.getValue();
        next = arriving.hasNext() ? arriving.next() : null;
      } else {
        raw = members.get(name);
      }
      known += raw == null ? 0 : 1;
      read(slot, raw);
    }
    if (known == members.size()) {
      return;
    }
    boolean top = scope.outer() == null;
    for (String name : members.keySet()) {
      boolean own = top && door == Input.Door.FORM && name.startsWith("_");
      if (scope.find(name).isEmpty() && !own) {
        course.refuseUnknown(scope, name);
      }
    }
  }

  private void read(Slot slot, Raw raw) {
    slot.absent = raw == null;
    switch (slot.field.type()) {
      case GROUP -> readGroup(slot, raw);
      case ROWS -> readRows(slot, raw);
      default -> slot.value = reading.of(slot.field, raw);
    }
    if (slot.value instanceof Value.Unread) {
      course.refuse(slot, "bad-input");
    }
  }

  private void readGroup(Slot slot, Raw raw) {
    if (raw != null && !(raw instanceof Raw.Members) && !raw.isBlank()) {
      slot.value = new Value.Unread(raw);
      return;
    }
    Values kept = slot.kept instanceof Value.Group(Values values) ? values : Values.NONE;
    Scope inside = new Scope(slot.field.fields(), slot, -1, kept);
    slot.inside = new Scope[] {inside};
    read(inside, Slot.members(raw));
  }

  /** Rows in which nothing was typed are left out, and not counted. */
  private void readRows(Slot slot, Raw raw) {
    List<Raw> rows = raw instanceof Raw.Many(List<Raw> items) ? items : List.of();
    boolean right = raw == null || raw.isBlank() || raw instanceof Raw.Many;
    for (Raw row : rows) {
      right = right && (row instanceof Raw.Members || row instanceof Raw.Null);
    }
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
        read(scope, Slot.members(row));
      }
    }
    slot.inside = inside.toArray(Scope[]::new);
  }
}
