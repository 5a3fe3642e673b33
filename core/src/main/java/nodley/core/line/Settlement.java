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
final class Settlement {

  private final Course course;
  private final Input.Door door;
  private final boolean adding;

  Settlement(Course course, Input.Door door) {
    this.course = course;
    this.door = door;
    this.adding = course.context().mode() == Mode.ADD;
  }

  void settle(Form form, Scope root) {
    for (Path path : form.settling()) {
      root.each(path, this::settle);
    }
  }

  private void settle(Slot slot) {
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
              && door == Input.Door.FORM
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
  private static void restore(Slot slot) {
    if (slot.field.type() == Type.ROWS) {
      List<Values> kept = slot.kept instanceof Value.Rows(List<Values> rows) ? rows : List.of();
      List<Scope> inside = new ArrayList<>();
      for (Values row : kept) {
        inside.add(new Scope(slot.field.fields(), slot, inside.size(), row));
      }
      slot.inside = inside.toArray(Scope[]::new);
      slot.sentRows = inside.size();
    }
    for (Scope scope : slot.inside) {
      for (Slot each : scope.slots()) {
        each.value = each.field.type().isScalar() ? each.kept : Value.BLANK;
        each.error = null;
        if (each.field.type() == Type.GROUP && each.inside.length == 0) {
          Values kept = each.kept instanceof Value.Group(Values values) ? values : Values.NONE;
          each.inside = new Scope[] {new Scope(each.field.fields(), each, -1, kept)};
        }
        restore(each);
      }
    }
  }

  private Value first(Slot slot) {
    Field.Source source = slot.field.source();
    if (source.computed().isEmpty()) {
      return source.literal().orElse(Value.BLANK);
    }
    Value value = course.value(source.computed().get(), slot);
    return value == null ? Value.BLANK : Fitting.to(slot.field, value);
  }

  /** Another value than the computed one is refused; the kept one may come back in an edit. */
  private void compute(Slot slot) {
    Value sent = slot.value;
    Expression compute = slot.field.source().compute().orElseThrow();
    slot.error = null;
    Value value = course.value(compute, slot);
    if (value == null) {
      slot.value = Value.BLANK;
      return;
    }
    slot.value = Fitting.to(slot.field, value);
    boolean old = !adding && sent.equals(slot.kept);
    if (!slot.absent && !sent.equals(slot.value) && !old) {
      course.refuse(slot, "not-editable");
    }
  }
}
