import type { Submission } from './submission';
import type { Expression } from '../description';
import { fit, read } from './value-reader';
import { FieldStates, type FieldState } from './field-states';
import { BLANK, same, type Value } from './value';

/**
 * Resolves `shown`, `editable`, `default` and `compute`, in dependency order: each field after those
 * that it depends on; a field that is not shown is blank from then on.
 */
export class DependentFields {
  constructor(private readonly course: Submission) {}

  settle(paths: string[]): void {
    for (const path of paths) {
      this.course.root.each(path.split('.')).forEach((slot) => this.#settleOne(slot));
    }
  }

  #settleOne(slot: FieldState): void {
    const { field } = slot;
    if (slot.hidden) {
      return;
    }
    if (!this.course.holds('shown', field.shown ?? true, slot, true)) {
      slot.hide();
      return;
    }
    if (field.compute !== undefined) {
      this.#compute(slot, field.compute);
      return;
    }
    slot.editable = this.course.holds('editable', field.editable ?? true, slot, true);
    if (slot.absent && this.course.mode === 'add') {
      slot.value = this.#first(slot);
    } else if (!slot.editable) {
      const standing = this.course.mode === 'add' ? this.#first(slot) : slot.kept;
      if (!slot.absent && !same(slot.whole(), standing)) {
        this.course.refuse(slot, 'not-editable');
      }
      if (!field.fields) {
        slot.value = standing;
      } else if (slot.absent) {
        this.#restore(slot);
      }
    }
  }

  /** A group or rows that may not be edited keep what they have, all of it. */
  #restore(slot: FieldState): void {
    const sets =
      slot.kept.kind === 'rows'
        ? slot.kept.rows
        : slot.field.type === 'group'
          ? [slot.kept.kind === 'group' ? slot.kept.values : {}]
          : [];
    slot.sentRows = sets.length;
    slot.inside = sets.map((kept, index) => {
      const pointer = slot.field.type === 'rows' ? `${slot.pointer}/${index}` : slot.pointer;
      const name = slot.field.type === 'rows' ? `${slot.name}[${index}].` : `${slot.name}.`;
      const row = slot.field.type === 'rows' ? { place: index, sent: [] } : undefined;
      const scope = new FieldStates(slot.field.fields!, pointer, slot.scope, kept, name, row);
      for (const inner of scope.slots.values()) {
        inner.value = inner.field.fields ? BLANK : inner.kept;
        if (inner.field.fields) {
          this.#restore(inner);
        }
      }
      return scope;
    });
  }

  #first(slot: FieldState): Value {
    const { field } = slot;
    if (field.defaultTo === undefined) {
      return read(field, field.default, this.course.zone);
    }
    const value = this.course.evaluate('default', field.defaultTo, slot);
    return value ? fit(field, value) : this.#told(slot);
  }

  /** The value that the service has told, tidied as it came; blank as long as it has not. */
  #told(slot: FieldState): Value {
    const { tidy: _, ...untidied } = slot.field;
    return read(untidied, this.course.decided[slot.pointer]?.value, this.course.zone);
  }

  #compute(slot: FieldState, tree: Expression): void {
    const sent = slot.value;
    slot.error = undefined;
    slot.editable = false;
    const value = this.course.evaluate('compute', tree, slot);
    slot.value = value ? fit(slot.field, value) : this.#told(slot);
    const old = this.course.mode === 'edit' && same(sent, slot.kept);
    if (value && !slot.absent && !same(sent, slot.value) && !old) {
      this.course.refuse(slot, 'not-editable');
    }
  }
}
