package nodley.core.line;

import java.util.ArrayList;
import java.util.List;
import nodley.core.expression.Expression;
import nodley.core.expression.Path;
import nodley.core.form.Field;
import nodley.core.form.Form;
import nodley.core.form.Mode;
import nodley.core.form.Type;
import nodley.core.input.Input;
import nodley.core.value.Value;
import nodley.core.value.Values;

/**
 * The end of tidying: what the fields that depend on others come to. Each is settled after those
 * that it depends on; a field that is not shown is blank from then on.
 */
final class DependentFields {

  private final Course course;
  private final Input.Encoding door;
  private final boolean adding;

  DependentFields(Course course, Input.Encoding door) {
    this.course = course;
    this.door = door;
    this.adding = course.context().mode() == Mode.ADD;
  }

  void settle(Form form, FieldStates root) {
    for (Path path : form.settling()) {
      root.each(path, this::settle);
    }
  }

  private void settle(FieldState slot) {
    if (slot.hidden) {
      return;
    }
    Field field = slot.field;
    if (!course.holds(field.presence().shown(), slot, true)) {
      slot.hide();
      return;
    }
    if (field.source().compute().isPresent()) {
      compute(slot);
      return;
    }
    boolean editable = course.holds(field.presence().editable(), slot, true);
    if (slot.absent && adding) {
      // In form encoding a box that is not ticked is absent; where that is not what is meant by
      // itself, there is a default, and a page says that the box is not ticked.
      boolean unticked =
          field.type() == Type.BOOLEAN
              && door == Input.Encoding.FORM
              && editable
              && !field.source().hasDefault();
      if (!unticked) {
        slot.value = first(slot);
      }
    } else if (!editable) {
      Value standing = adding ? first(slot) : slot.kept;
      if (!slot.absent && !slot.whole().equals(standing)) {
        course.refuse(slot, "not-editable");
      }
      if (field.type().isScalar()) {
        slot.value = standing;
      } else if (slot.absent) {
        restore(slot);
      }
    }
  }

  /** A group or rows that may not be edited keep what they have, all of it. */
  private static void restore(FieldState slot) {
    if (slot.field.type() == Type.ROWS) {
      List<Values> kept = slot.kept instanceof Value.Rows(List<Values> rows) ? rows : List.of();
      List<FieldStates> inside = new ArrayList<>();
      for (Values row : kept) {
        inside.add(new FieldStates(slot.field.fields(), slot, inside.size(), row));
      }
      slot.inside = inside.toArray(FieldStates[]::new);
      slot.sentRows = inside.size();
    }
    for (FieldStates scope : slot.inside) {
      for (FieldState each : scope.slots()) {
        each.value = each.field.type().isScalar() ? each.kept : Value.BLANK;
        each.error = null;
        if (each.field.type() == Type.GROUP && each.inside.length == 0) {
          Values kept = each.kept instanceof Value.Group(Values values) ? values : Values.NONE;
          each.inside = new FieldStates[] {new FieldStates(each.field.fields(), each, -1, kept)};
        }
        restore(each);
      }
    }
  }

  private Value first(FieldState slot) {
    Field.Source source = slot.field.source();
    if (source.computed().isEmpty()) {
      return source.literal().orElse(Value.BLANK);
    }
    Value value = course.value(source.computed().get(), slot);
    return value == null ? Value.BLANK : Coercion.to(slot.field, value);
  }

  /** Another value than the computed one is refused; the kept one may come back in an edit. */
  private void compute(FieldState slot) {
    Value sent = slot.value;
    Expression compute = slot.field.source().compute().orElseThrow();
    slot.error = null;
    Value value = course.value(compute, slot);
    if (value == null) {
      slot.value = Value.BLANK;
      return;
    }
    slot.value = Coercion.to(slot.field, value);
    boolean old = !adding && sent.equals(slot.kept);
    if (!slot.absent && !sent.equals(slot.value) && !old) {
      course.refuse(slot, "not-editable");
    }
  }
}
