package nodley.core.line;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import nodley.core.input.Input;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** Station one, read: what arrived goes to its slots, and makes the scopes of groups and rows. */
final class Binder {

  /** What plain pages call their buttons; a browser sends the one that was pressed. */
  private static final Set<String> BUTTONS = Set.of("submit", "button");

  private final Course course;
  private final Input.Encoding door;
  private final ValueReader reading;

  Binder(Course course, Input.Encoding door, ValueReader reading) {
    this.course = course;
    this.door = door;
    this.reading = reading;
  }

  void read(FieldStates scope, Map<String, Raw> members) {
    FieldState[] slots = scope.slots();
    List<String> unknown = List.of();
    int next = 0;
    for (Map.Entry<String, Raw> member : members.entrySet()) {
      int place = scope.fields().position(member.getKey(), next);
      if (place < 0) {
        unknown = unknown.isEmpty() ? new ArrayList<>() : unknown;
        unknown.add(member.getKey());
      } else {
        slots[place].absent = false;
        read(slots[place], member.getValue());
        next = place + 1;
      }
    }
    for (FieldState slot : slots) {
      if (slot.absent) {
        read(slot, null);
      }
    }
    boolean top = scope.outer() == null;
    for (String name : unknown) {
      boolean own =
          top && door == Input.Encoding.FORM && (name.startsWith("_") || BUTTONS.contains(name))
              || scope.isRow() && name.equals(Values.ROW);
      if (!own) {
        course.refuseUnknown(scope, name);
      }
    }
  }

  private void read(FieldState slot, Raw raw) {
    switch (slot.field.type()) {
      case GROUP -> readGroup(slot, raw);
      case ROWS -> readRows(slot, raw);
      default -> slot.value = reading.of(slot.field, raw);
    }
    if (slot.value instanceof Value.Unread) {
      course.refuse(slot, "bad-input");
    }
  }

  private void readGroup(FieldState slot, Raw raw) {
    if (raw != null && !(raw instanceof Raw.Members) && !raw.isBlank()) {
      slot.value = new Value.Unread(raw);
      return;
    }
    Values kept = slot.kept instanceof Value.Group(Values values) ? values : Values.NONE;
    FieldStates inside = new FieldStates(slot.field.fields(), slot, -1, kept);
    slot.inside = new FieldStates[] {inside};
    read(inside, FieldState.members(raw));
  }

  /** Rows in which nothing was typed are left out; pointers count them all the same. */
  private void readRows(FieldState slot, Raw raw) {
    List<Raw> rows = raw instanceof Raw.Many(List<Raw> items) ? items : List.of();
    boolean right = raw == null || raw.isBlank() || raw instanceof Raw.Many;
    for (Raw row : rows) {
      right = right && (row instanceof Raw.Members || row instanceof Raw.Null);
    }
    if (!right) {
      slot.value = new Value.Unread(raw);
      return;
    }
    slot.sentRows = rows.size();
    FieldStates[] inside = new FieldStates[rows.size()];
    Values[] before = kept(slot, rows);
    int count = 0;
    for (int i = 0; i < inside.length; i++) {
      if (!FieldState.isEmpty(rows.get(i))) {
        Values kept = before == null ? Values.NONE : before[count];
        FieldStates scope = new FieldStates(slot.field.fields(), slot, i, kept);
        inside[count++] = scope;
        read(scope, FieldState.members(rows.get(i)));
      }
    }
    slot.inside = count == inside.length ? inside : Arrays.copyOf(inside, count);
  }

  /** The kept row of each row that is not blank; null where none is kept. */
  private static Values[] kept(FieldState slot, List<Raw> rows) {
    if (!(slot.kept instanceof Value.Rows(List<Values> kept))) {
      return null;
    }
    List<Map<String, Raw>> sent = new ArrayList<>(rows.size());
    for (Raw row : rows) {
      if (!FieldState.isEmpty(row)) {
        sent.add(FieldState.members(row));
      }
    }
    return RowMatching.of(slot.field, sent, kept);
  }
}
