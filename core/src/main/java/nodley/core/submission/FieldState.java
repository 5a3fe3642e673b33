package nodley.core.submission;

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

/**
 * The state of one field during one submission: its value so far and its first error. A field
 * within rows has one state per row. Confined to the thread that runs the submission; never leaves
 * it.
 */
final class FieldState {

  private static final FieldStates[] NOTHING = {};

  final Field field;
  final FieldStates siblings;

  /** The stored value of an edited record; blank on add. */
  final Value stored;

  /** True if it was not sent at all. Set by {@link Binder}. */
  boolean absent = true;

  /** Set by {@link DependentFields}. */
  boolean hidden;

  Value value = Value.BLANK;

  /** The first error, or null. Set by {@link Problems}, taken back by {@link DependentFields}. */
  FieldError error;

  /** How many rows were sent, blank ones included. */
  int sentRows;

  /** One entry for a group, one for each row that is not blank; none for other fields. */
  FieldStates[] nested = NOTHING;

  FieldState(Field field, FieldStates siblings, Value stored) {
    this.field = field;
    this.siblings = siblings;
    this.stored = stored;
  }

  String pointer() {
    return Pointer.in(siblings.pointer(), field.name());
  }

  /**
   * Hides the field and all nested ones: each becomes blank without an error; rows lose all rows.
   */
  void hide() {
    hidden = true;
    error = null;
    value = Value.BLANK;
    if (field.type() == Type.ROWS) {
      nested = NOTHING;
      sentRows = 0;
    }
    for (FieldStates siblings : nested) {
      for (FieldState state : siblings.states()) {
        state.hide();
      }
    }
  }

  /**
   * Returns the value with nested fields, secrets included. Blank for a group without values and
   * for no rows. Builds new values, except for scalars.
   */
  Value fullValue() {
    return fullValue(true);
  }

  /** The same without secrets: what may be shown. */
  Value publicValue() {
    return field.isSecret() ? Value.BLANK : fullValue(false);
  }

  /** Returns the public value with blank rows where they were sent, so that pointers fit. */
  Value asSent() {
    if (field.isSecret()) {
      return Value.BLANK;
    }
    if (nested.length == 0 && sentRows == 0 || value instanceof Value.Unread) {
      return publicValue();
    }
    if (field.type() == Type.GROUP) {
      Values values = nested[0].valuesAsSent();
      return values.isBlank() ? Value.BLANK : new Value.Group(values);
    }
    Values[] rows = new Values[Math.max(sentRows, nested.length)];
    Arrays.fill(rows, Values.NONE);
    for (FieldStates siblings : nested) {
      rows[siblings.row()] = siblings.valuesAsSent();
    }
    return new Value.Rows(List.of(rows));
  }

  private Value fullValue(boolean secrets) {
    if (field.type().isScalar() || value instanceof Value.Unread) {
      return value;
    }
    if (field.type() == Type.GROUP) {
      Values values = nested.length == 0 ? Values.NONE : nested[0].values(secrets);
      return values.isBlank() ? Value.BLANK : new Value.Group(values);
    }
    if (nested.length == 0) {
      return Value.BLANK;
    }
    Values[] rows = new Values[nested.length];
    for (int i = 0; i < rows.length; i++) {
      rows[i] = nested[i].values(secrets);
    }
    return new Value.Rows(List.of(rows));
  }

  /** Returns true if {@link #fullValue} is blank, without building it. */
  boolean isBlank() {
    if (field.type().isScalar() || value instanceof Value.Unread) {
      return value == Value.BLANK;
    }
    return nested.length == 0 || field.type() == Type.GROUP && nested[0].isBlank();
  }

  /**
   * Returns what rules and expressions can read: the value itself; of a group or rows only whether
   * there is anything, and how many rows.
   */
  Value outline() {
    return field.type().isScalar() || value instanceof Value.Unread ? value : outlineOfNested();
  }

  private Value outlineOfNested() {
    if (isBlank()) {
      return Value.BLANK;
    }
    return field.type() == Type.GROUP ? SOME : bare(nested.length);
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
    for (FieldStates siblings : nested) {
      if (siblings.hasError()) {
        return true;
      }
    }
    return false;
  }

  /** Returns true if only white space and empty lists were sent. */
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

  /** A row that has only its identity is empty. */
  private static boolean areEmpty(Map<String, Raw> members) {
    for (Map.Entry<String, Raw> member : members.entrySet()) {
      if (!isEmpty(member.getValue()) && !member.getKey().equals(Values.ROW)) {
        return false;
      }
    }
    return true;
  }

  /** Returns the members that were sent for a group or a row. */
  static Map<String, Raw> members(Raw raw) {
    return raw instanceof Raw.Members members ? members.members() : new LinkedHashMap<>();
  }
}
