import type { StageContext } from './stage-context';
import type { Expression } from '../description';
import { fit, read } from './value-reader';
import { FieldStates, type FieldState } from './field-states';
import { BLANK, same, type Value } from './value';

/**
 * Resolves `shown`, `editable`, `default` and `compute`, in dependency order: each field after those
 * that it depends on; a field that is not shown is blank from then on.
 */
export class DependentFields {
  constructor(private readonly run: StageContext) {}

  settle(paths: string[]): void {
    for (const path of paths) {
      this.run.root.each(path.split('.')).forEach((state) => this.#settleOne(state));
    }
  }

  #settleOne(state: FieldState): void {
    const { field } = state;
    if (state.hidden) {
      return;
    }
    if (!this.run.holds('shown', field.shown ?? true, state, true)) {
      state.hide();
      return;
    }
    if (field.compute !== undefined) {
      this.#compute(state, field.compute);
      return;
    }
    state.editable = this.run.holds('editable', field.editable ?? true, state, true);
    if (state.absent && this.run.mode === 'add') {
      state.value = this.#first(state);
    } else if (!state.editable) {
      const standing = this.run.mode === 'add' ? this.#first(state) : state.kept;
      if (!state.absent && !same(state.whole(), standing)) {
        this.run.refuse(state, 'not-editable');
      }
      if (!field.fields) {
        state.value = standing;
      } else if (state.absent) {
        this.#restore(state);
      }
    }
  }

  /** A group or rows that may not be edited keep what they have, all of it. */
  #restore(state: FieldState): void {
    const sets =
      state.kept.kind === 'rows'
        ? state.kept.rows
        : state.field.type === 'group'
          ? [state.kept.kind === 'group' ? state.kept.values : {}]
          : [];
    state.sentRows = sets.length;
    state.inside = sets.map((kept, index) => {
      const pointer = state.field.type === 'rows' ? `${state.pointer}/${index}` : state.pointer;
      const name = state.field.type === 'rows' ? `${state.name}[${index}].` : `${state.name}.`;
      const row = state.field.type === 'rows' ? { place: index, sent: [] } : undefined;
      const siblings = new FieldStates(
        state.field.fields!,
        pointer,
        state.siblings,
        kept,
        name,
        row,
      );
      for (const inner of siblings.states.values()) {
        inner.value = inner.field.fields ? BLANK : inner.kept;
        if (inner.field.fields) {
          this.#restore(inner);
        }
      }
      return siblings;
    });
  }

  #first(state: FieldState): Value {
    const { field } = state;
    if (field.defaultTo === undefined) {
      return read(field, field.default, this.run.zone);
    }
    const value = this.run.evaluate('default', field.defaultTo, state);
    return value ? fit(field, value) : this.#told(state);
  }

  /** The value that the service has told, tidied as it came; blank as long as it has not. */
  #told(state: FieldState): Value {
    const { tidy: _, ...untidied } = state.field;
    return read(untidied, this.run.decided[state.pointer]?.value, this.run.zone);
  }

  #compute(state: FieldState, tree: Expression): void {
    const sent = state.value;
    state.error = undefined;
    state.editable = false;
    const value = this.run.evaluate('compute', tree, state);
    state.value = value ? fit(state.field, value) : this.#told(state);
    const old = this.run.mode === 'edit' && same(sent, state.kept);
    if (value && !state.absent && !same(sent, state.value) && !old) {
      this.run.refuse(state, 'not-editable');
    }
  }
}
