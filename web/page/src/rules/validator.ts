import type { StageContext } from './stage-context';
import type { Expression, Rule, Values } from '../description';
import { evaluate, fieldsRead, literal, type EvaluationContext } from './expression';
import { fault, matches } from './rules';
import type { FieldStates, FieldState } from './field-states';
import { counts, questions } from './unique-keys';
import { isTrue, same, shown, type Value } from './value';

/**
 * Validates each value by itself, then fields that repeat others, then rules
 * over several. Says which fields without an error have something that only the service knows.
 */
export class Validator {
  constructor(private readonly run: StageContext) {}

  whole(rules: Rule[]): void {
    const { root } = this.run;
    this.#judge(root);
    this.#repeats(root);
    this.#rules(root);
    rules.forEach((rule, index) =>
      this.#rule(`rule ${index}`, rule, root, rule.at ? root.at(rule.at.split('.')) : undefined),
    );
    this.#ask();
  }

  #judge(siblings: FieldStates): void {
    for (const state of siblings.states.values()) {
      if (!state.hidden) {
        if (!state.error) {
          const code = this.#fault(state);
          if (code) {
            this.run.refuse(state, code);
          }
        }
        state.inside.forEach((inside) => this.#judge(inside));
      }
    }
  }

  #fault(state: FieldState): string | undefined {
    const value = state.whole();
    if (this.#isMissing(state, value)) {
      return 'value-missing';
    }
    const own = state.field.fields
      ? fault(state.field, value, state.kept, this.run.clock)
      : this.run.memory.of(`fault ${state.name}`, [value, state.kept], () =>
          fault(state.field, value, state.kept, this.run.clock),
        );
    return own ?? this.#notAnOption(state);
  }

  #isMissing(state: FieldState, value: Value): boolean {
    const { required } = state.field;
    const blank = value.kind === 'blank' || (value.kind === 'boolean' && !value.yes);
    return (
      blank &&
      required !== false &&
      !this.#keepsSecret(state) &&
      this.run.holds('required', required, state, false)
    );
  }

  /** True if a value must be there just now. */
  isRequired(state: FieldState): boolean {
    return (
      !this.#keepsSecret(state) && this.run.holds('required', state.field.required, state, false)
    );
  }

  /** In an edit a blank secret keeps the kept one, and need not be typed twice; a new row has none. */
  #keepsSecret(state: FieldState): boolean {
    const { field } = state;
    if (field.type !== 'secret' || this.run.mode === 'add' || !state.siblings.isKept) {
      return false;
    }
    const first = field.repeats && state.siblings.states.get(field.repeats);
    return first ? first.value.kind === 'blank' : field.kept !== false;
  }

  #notAnOption(state: FieldState): string | undefined {
    const { type } = state.field;
    const chosen =
      state.value.kind === 'text' && type === 'choice'
        ? [state.value.text]
        : state.value.kind === 'chosen' && type === 'choices'
          ? state.value.options
          : [];
    return !state.field.options || chosen.every((option) => this.isOffered(state, option))
      ? undefined
      : 'not-an-option';
  }

  /** What is no longer offered, or where, stays right for a record that has it already. */
  isOffered(state: FieldState, value: string): boolean {
    const { field, kept } = state;
    const option = field.options?.find((it) => it.value === value);
    const had =
      kept.kind === 'text'
        ? kept.text === value
        : kept.kind === 'chosen' && kept.options.includes(value);
    if (!option || option.offered === false) {
      return had;
    }
    if (field.where === undefined || (had && this.#stands(state, field.where))) {
      return true;
    }
    const own: Values = { value: option.value, label: option.label, ...option.marks };
    const around = this.run.contextOf(state);
    const context: EvaluationContext = {
      ...around,
      get: (up, path) => (up === 0 ? literal(own[path[0]!]) : around.get(up - 1, path)),
      each: (up, path) => (up === 0 ? [] : around.each(up - 1, path)),
    };
    const offered = this.run.evaluate(`where ${value}`, field.where, state, context);
    return offered ? isTrue(offered) : true;
  }

  /** True in an edit if nothing changed that `where` looks at outside the option. */
  #stands(state: FieldState, where: Expression): boolean {
    return (
      this.run.mode === 'edit' &&
      fieldsRead(where)
        .filter(([up]) => up > 0)
        .every(([up, ...path]) => state.siblings.up(up - 1).isUnchanged(path))
    );
  }

  /** What is typed twice must be alike, once there is something to repeat. */
  #repeats(siblings: FieldStates): void {
    for (const state of siblings.states.values()) {
      const first = state.field.repeats && siblings.states.get(state.field.repeats);
      const judged = first && !state.hidden && !state.error && !first.error;
      if (judged && !same(state.value, first.value)) {
        this.run.refuse(state, 'not-repeated');
      }
      state.inside.forEach((inside) => this.#repeats(inside));
    }
  }

  #rules(siblings: FieldStates): void {
    for (const state of siblings.states.values()) {
      if (!state.hidden) {
        state.field.rules?.forEach((rule, index) =>
          this.#rule(
            `${state.name} rule ${index}`,
            rule,
            siblings,
            rule.at ? siblings.at(rule.at.split('.')) : state,
          ),
        );
        state.inside.forEach((inside) => this.#rules(inside));
      }
    }
  }

  #rule(key: string, rule: Rule, siblings: FieldStates, at: FieldState | undefined): void {
    const read = rule.reads.flatMap((path) => slotsRead(siblings, path));
    const settled =
      rule.clock &&
      this.run.mode === 'edit' &&
      read.every((state) => same(state.whole(), state.kept));
    if (settled || read.some((state) => state.error)) {
      return;
    }
    const asked = at ?? read[0];
    const context = this.run.contextIn(siblings);
    const verdict = asked
      ? this.run.evaluate(key, rule.must, asked, context)
      : evaluate(rule.must, context);
    if (verdict?.kind !== 'boolean' || verdict.yes) {
      return;
    }
    const given = Object.entries(rule.with ?? {}).map(
      ([name, tree]) => [name, evaluate(tree, context)] as const,
    );
    const error = this.run.sentences.rule(rule, at, Object.fromEntries(given));
    if (!at || at.hidden) {
      this.run.overall.push(error);
    } else {
      at.error ??= error;
    }
  }

  /** What only the service knows about a value that nothing stands against. */
  #ask(): void {
    for (const state of this.run.root.all()) {
      const { field } = state;
      const beyond =
        field.pattern !== undefined &&
        state.value.kind === 'text' &&
        matches(field.pattern, state.value.text) === undefined;
      const asks =
        field.refersTo ||
        field.onService ||
        field.type === 'file' ||
        beyond ||
        questions(field).some((unique) => counts(this.run, state, unique));
      if (asks && !state.error && state.value.kind !== 'blank') {
        state.unasked = true;
      }
    }
  }

  /** The first of the chosen options that is not offered, for its sentence. */
  culprit(state: FieldState): string {
    return state.value.kind === 'chosen'
      ? (state.value.options.find((it) => !this.isOffered(state, it)) ?? '')
      : shown(state.value);
  }
}

/** The states that a path of an expression reads, with all that is in them. */
function slotsRead(siblings: FieldStates, path: string): FieldState[] {
  const up = path.lastIndexOf('^') + 1;
  const read = siblings.up(up).each(path.slice(up).split('.'));
  return read.flatMap((state) => [state, ...state.inside.flatMap((inside) => [...inside.all()])]);
}
