package nodley.core.line;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Predicate;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.name.Pointer;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** The place of one field in one submission: its value on the way, and what stands against it. */
final class Slot {

  final Field field;
  final Scope scope;

  /** What the record that is edited keeps here; blank when one is added. */
  final Value kept;

  /** Not sent at all, which is not the same as sent empty. */
  boolean absent;

  boolean hidden;
  Value value = Value.BLANK;

  /** At most one: the first. */
  FieldError error;

  /** A group has one scope inside, rows as many as there are rows; other fields have none. */
  List<Scope> inside = List.of();

  Slot(Field field, Scope scope, Value kept) {
    this.field = field;
    this.scope = scope;
    this.kept = kept;
  }

  String pointer() {
    return Pointer.in(scope.pointer(), field.name());
  }

  /** A field that is not shown is blank, with all that is in it. */
  void hide() {
    hidden = true;
    error = null;
    value = Value.BLANK;
    if (field.type() == Type.ROWS) {
      inside = List.of();
    }
    inside.forEach(scope -> scope.slots().forEach(Slot::hide));
  }

  /** The value with what is inside; a group or rows without anything in them are blank. */
  Value whole() {
    return whole(slot -> true);
  }

  /** The same without secrets, which are never told. */
  Value openly() {
    return whole(slot -> !slot.field.isSecret());
  }

  private Value whole(Predicate<Slot> told) {
    if (value instanceof Value.Unread || field.type().isScalar()) {
      return value;
    }
    List<Values> sets = new ArrayList<>();
    for (Scope scope : inside) {
      Map<String, Value> values = new LinkedHashMap<>();
      scope.slots().stream()
          .filter(told)
          .forEach(slot -> values.put(slot.field.name(), slot.whole(told)));
      sets.add(new Values(values));
    }
    if (field.type() == Type.ROWS) {
      return sets.isEmpty() ? Value.BLANK : new Value.Rows(sets);
    }
    return sets.isEmpty() || sets.getFirst().isBlank()
        ? Value.BLANK
        : new Value.Group(sets.getFirst());
  }

  /** True if nothing but white space and empty lists arrived. */
  static boolean isEmpty(Raw raw) {
    return switch (raw) {
      case Raw.Null _ -> true;
      case Raw.Text(String text) -> Tidy.trim(text).isEmpty();
      case Raw.Many(List<Raw> items) -> items.stream().allMatch(Slot::isEmpty);
      case Raw.Members(Map<String, Raw> members) ->
          members.values().stream().allMatch(Slot::isEmpty);
      case Raw.Number _, Raw.Bool _ -> false;
    };
  }

  /** The members of what arrived for a group or a row. */
  static Map<String, Raw> members(Raw raw) {
    return raw instanceof Raw.Members(Map<String, Raw> members) ? members : new LinkedHashMap<>();
  }
}
