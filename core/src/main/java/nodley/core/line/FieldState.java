package nodley.core.line;

import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import nodley.core.form.Field;
import nodley.core.form.Type;
import nodley.core.name.Pointer;
import nodley.core.value.Raw;
import nodley.core.value.Value;
import nodley.core.value.Values;

/** The place of one field in one submission: its value on the way, and what stands against it. */
final class FieldState {

  private static final FieldStates[] NOTHING = {};

  final Field field;
  final FieldStates scope;

  /** What the record that is edited keeps here; blank when one is added. */
  final Value kept;

  /** Not sent at all, which is not the same as sent empty. */
  boolean absent = true;

  boolean hidden;
  Value value = Value.BLANK;

  /** At most one: the first. */
  FieldError error;

  /** How many rows were sent, blank ones too. */
  int sentRows;

  /** A group has one scope inside, rows as many as are not blank; other fields have none. */
  FieldStates[] inside = NOTHING;

  FieldState(Field field, FieldStates scope, Value kept) {
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
      inside = NOTHING;
      sentRows = 0;
    }
    for (FieldStates scope : inside) {
      for (FieldState slot : scope.slots()) {
        slot.hide();
      }
    }
  }

  /** The value with what is inside; a group or rows without anything in them are blank. */
  Value whole() {
    return whole(true);
  }

  /** The same without secrets, which are never told. */
  Value openly() {
    return field.isSecret() ? Value.BLANK : whole(false);
  }

  /** The same with blank rows where they were sent, so that the places of rows are as sent. */
  Value asSent() {
    if (field.isSecret()) {
      return Value.BLANK;
    }
    if (inside.length == 0 && sentRows == 0 || value instanceof Value.Unread) {
      return openly();
    }
    if (field.type() == Type.GROUP) {
      Values values = inside[0].valuesAsSent();
      return values.isBlank() ? Value.BLANK : new Value.Group(values);
    }
    Values[] rows = new Values[Math.max(sentRows, inside.length)];
    Arrays.fill(rows, Values.NONE);
    for (FieldStates scope : inside) {
      rows[scope.row()] = scope.valuesAsSent();
    }
    return new Value.Rows(List.of(rows));
  }

  private Value whole(boolean secrets) {
    if (field.type().isScalar() || value instanceof Value.Unread) {
      return value;
    }
    if (field.type() == Type.GROUP) {
      Values values = inside.length == 0 ? Values.NONE : inside[0].values(secrets);
      return values.isBlank() ? Value.BLANK : new Value.Group(values);
    }
    if (inside.length == 0) {
      return Value.BLANK;
    }
    Values[] rows = new Values[inside.length];
    for (int i = 0; i < rows.length; i++) {
      rows[i] = inside[i].values(secrets);
    }
    return new Value.Rows(List.of(rows));
  }

  /** True if {@link #whole} is blank, without making it. */
  boolean isBlank() {
    if (field.type().isScalar() || value instanceof Value.Unread) {
      return value == Value.BLANK;
    }
    return inside.length == 0 || field.type() == Type.GROUP && inside[0].isBlank();
  }

  /**
   * What rules and expressions see of a group or rows: whether there is anything, and how many
   * rows.
   */
  Value outline() {
    return field.type().isScalar() || value instanceof Value.Unread ? value : outlineOfInside();
  }

  private Value outlineOfInside() {
    if (isBlank()) {
      return Value.BLANK;
    }
    return field.type() == Type.GROUP ? SOME : bare(inside.length);
  }

  private static final Value SOME = new Value.Group(Values.NONE);
  private static final Value[] FEW = new Value[20];

  static {
    Arrays.setAll(FEW, count -> new Value.Rows(Collections.nCopies(count, Values.NONE)));
  }

  private static Value bare(int count) {
    return count < FEW.length
        ? FEW[count]
        : new Value.Rows(Collections.nCopies(count, Values.NONE));
  }

  boolean hasError() {
    if (error != null) {
      return true;
    }
    for (FieldStates scope : inside) {
      if (scope.hasError()) {
        return true;
      }
    }
    return false;
  }

  /** True if nothing but white space and empty lists arrived. */
  static boolean isEmpty(Raw raw) {
    return switch (raw) {
      case Raw.Null _ -> true;
      case Raw.Text text -> Tidy.isBlank(text.text());
      case Raw.Many many -> areEmpty(many.items());
      case Raw.Members members -> areEmpty(members.members());
      case Raw.Number _, Raw.Bool _ -> false;
    };
  }

  private static boolean areEmpty(Collection<Raw> raws) {
    for (Raw raw : raws) {
      if (!isEmpty(raw)) {
        return false;
      }
    }
    return true;
  }

  /** That a row says which one it is does not fill it. */
  private static boolean areEmpty(Map<String, Raw> members) {
    for (Map.Entry<String, Raw> member : members.entrySet()) {
      if (!isEmpty(member.getValue()) && !member.getKey().equals(Values.ROW)) {
        return false;
      }
    }
    return true;
  }

  /** The members of what arrived for a group or a row. */
  static Map<String, Raw> members(Raw raw) {
    return raw instanceof Raw.Members members ? members.members() : new LinkedHashMap<>();
  }
}
