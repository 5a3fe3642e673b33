import type { Submission } from './submission';
import type { Expression, Rule, Values } from '../description';
import { evaluate, fieldsRead, literal, type EvaluationContext } from './expression';
import { fault, matches } from './rules';
import type { FieldStates, FieldState } from './field-states';
import { counts, uniques } from './unique-keys';
import { isTrue, same, shown, type Value } from './value';

/**
 * Validates each value by itself, then fields that repeat others, then rules
 * over several. Says which fields without an error have something that only the service knows.
 */
export class Validator {
  constructor(private readonly course: Submission) {}

  whole(rules: Rule[]): void {
    const { root } = this.course;
    this.#judge(root);
    this.#repeats(root);
    this.#rules(root);
    rules.forEach((rule, index) =>
      this.#rule(`rule ${index}`, rule, root, rule.at ? root.at(rule.at.split('.')) : undefined),
    );
    this.#ask();
  }

  #judge(scope: FieldStates): void {
    for (const slot of scope.slots.values()) {
      if (!slot.hidden) {
        if (!slot.error) {
          const code = this.#fault(slot);
          if (code) {
            this.course.refuse(slot, code);
          }
        }
        slot.inside.forEach((inside) => this.#judge(inside));
      }
    }
  }

  #fault(slot: FieldState): string | undefined {
    const value = slot.whole();
    if (this.#isMissing(slot, value)) {
      return 'value-missing';
    }
    const own = slot.field.fields
      ? fault(slot.field, value, slot.kept, this.course.clock)
      : this.course.memory.of(`fault ${slot.name}`, [value, slot.kept], () =>
          fault(slot.field, value, slot.kept, this.course.clock),
        );
    return own ?? this.#notAnOption(slot);
  }

  #isMissing(slot: FieldState, value: Value): boolean {
    const { required } = slot.field;
    const blank = value.kind === 'blank' || (value.kind === 'boolean' && !value.yes);
    return (
      blank &&
      required !== false &&
      !this.#keepsSecret(slot) &&
      this.course.holds('required', required, slot, false)
    );
  }

  /** True if a value must be there just now. */
  isRequired(slot: FieldState): boolean {
    return (
      !this.#keepsSecret(slot) && this.course.holds('required', slot.field.required, slot, false)
    );
  }

  /** In an edit a blank secret keeps the kept one, and need not be typed twice; a new row has none. */
  #keepsSecret(slot: FieldState): boolean {
    const { field } = slot;
    if (field.type !== 'secret' || this.course.mode === 'add' || !slot.scope.isKept) {
      return false;
    }
    const first = field.repeats && slot.scope.slots.get(field.repeats);
    return first ? first.value.kind === 'blank' : field.kept !== false;
  }

  #notAnOption(slot: FieldState): string | undefined {
    const { type } = slot.field;
    const chosen =
      slot.value.kind === 'text' && type === 'choice'
        ? [slot.value.text]
        : slot.value.kind === 'chosen' && type === 'choices'
          ? slot.value.options
          : [];
    return !slot.field.options || chosen.every((option) => this.isOffered(slot, option))
      ? undefined
      : 'not-an-option';
  }

  /** What is no longer offered, or where, stays right for a record that has it already. */
  isOffered(slot: FieldState, value: string): boolean {
    const { field, kept } = slot;
    const option = field.options?.find((it) => it.value === value);
    const had =
      kept.kind === 'text'
        ? kept.text === value
        : kept.kind === 'chosen' && kept.options.includes(value);
    if (!option || option.offered === false) {
      return had;
    }
    if (field.where === undefined || (had && this.#stands(slot, field.where))) {
      return true;
    }
    const own: Values = { value: option.value, label: option.label, ...option.marks };
    const around = this.course.scene(slot);
    const scene: EvaluationContext = {
      ...around,
      get: (up, path) => (up === 0 ? literal(own[path[0]!]) : around.get(up - 1, path)),
      each: (up, path) => (up === 0 ? [] : around.each(up - 1, path)),
    };
    const offered = this.course.evaluate(`where ${value}`, field.where, slot, scene);
    return offered ? isTrue(offered) : true;
  }

  /** True in an edit if nothing changed that `where` looks at outside the option. */
  #stands(slot: FieldState, where: Expression): boolean {
    return (
      this.course.mode === 'edit' &&
      fieldsRead(where)
        .filter(([up]) => up > 0)
        .every(([up, ...path]) => slot.scope.up(up - 1).isUnchanged(path))
    );
  }

  /** What is typed twice must be alike, once there is something to repeat. */
  #repeats(scope: FieldStates): void {
    for (const slot of scope.slots.values()) {
      const first = slot.field.repeats && scope.slots.get(slot.field.repeats);
      const judged = first && !slot.hidden && !slot.error && !first.error;
      if (judged && !same(slot.value, first.value)) {
        this.course.refuse(slot, 'not-repeated');
      }
      slot.inside.forEach((inside) => this.#repeats(inside));
    }
  }

  #rules(scope: FieldStates): void {
    for (const slot of scope.slots.values()) {
      if (!slot.hidden) {
        slot.field.rules?.forEach((rule, index) =>
          this.#rule(
            `${slot.name} rule ${index}`,
            rule,
            scope,
            rule.at ? scope.at(rule.at.split('.')) : slot,
          ),
        );
        slot.inside.forEach((inside) => this.#rules(inside));
      }
    }
  }

  #rule(key: string, rule: Rule, scope: FieldStates, at: FieldState | undefined): void {
    const read = rule.reads.flatMap((path) => slotsRead(scope, path));
    const settled =
      rule.clock &&
      this.course.mode === 'edit' &&
      read.every((slot) => same(slot.whole(), slot.kept));
    if (settled || read.some((slot) => slot.error)) {
      return;
    }
    const asked = at ?? read[0];
    const scene = this.course.sceneOf(scope);
    const verdict = asked
      ? this.course.evaluate(key, rule.must, asked, scene)
      : evaluate(rule.must, scene);
    if (verdict?.kind !== 'boolean' || verdict.yes) {
      return;
    }
    const given = Object.entries(rule.with ?? {}).map(([name, tree]) => [
      name,
      evaluate(tree, scene),
    ]);
    const error = this.course.telling.rule(rule, at, Object.fromEntries(given));
    if (!at || at.hidden) {
      this.course.overall.push(error);
    } else {
      at.error ??= error;
    }
  }

  /** What only the service knows about a value that nothing stands against. */
  #ask(): void {
    for (const slot of this.course.root.all()) {
      const { field } = slot;
      const beyond =
        field.pattern !== undefined &&
        slot.value.kind === 'text' &&
        matches(field.pattern, slot.value.text) === undefined;
      const asks =
        field.refersTo ||
        field.onService ||
        field.type === 'file' ||
        beyond ||
        uniques(field).some((unique) => counts(this.course, slot, unique));
      if (asks && !slot.error && slot.value.kind !== 'blank') {
        slot.unasked = true;
      }
    }
  }

  /** The first of the chosen options that is not offered, for its sentence. */
  culprit(slot: FieldState): string {
    return slot.value.kind === 'chosen'
      ? (slot.value.options.find((it) => !this.isOffered(slot, it)) ?? '')
      : shown(slot.value);
  }
}

/** The slots that a path of an expression reads, with all that is in them. */
function slotsRead(scope: FieldStates, path: string): FieldState[] {
  const up = path.lastIndexOf('^') + 1;
  const read = scope.up(up).each(path.slice(up).split('.'));
  return read.flatMap((slot) => [slot, ...slot.inside.flatMap((inside) => [...inside.all()])]);
}
