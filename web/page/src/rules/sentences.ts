import type { Field, FieldError, Rule, Sentence } from '../description';
import { endAt, isTooLong, length, type Clock } from './rules';
import { told, type Arguments } from './message';
import type { FieldStates, FieldState } from './field-states';
import { own } from '../tree';
import { BLANK, label, number, shown, text, type Value } from './value';

/** What a sentence may name in braces besides label, value and the form's own fields. */
const LIMITS = ['min', 'max', 'step', 'base', 'count'];

/** Builds errors, and the texts of early checks, from the sentences of the form. */
export class Sentences {
  constructor(
    private readonly root: FieldStates,
    private readonly clock: Clock,
  ) {}

  /** The error of a field about a value. */
  error(state: FieldState, code: string, value: Value): FieldError {
    const { field } = state;
    const decimals = code === 'too-precise' && !isTooLong(value);
    const key = decimals ? 'too-precise.decimals' : code;
    const say = field.say[key] ?? field.say[code] ?? code;
    return this.#told(state.pointer, code, say, field, value, this.#limits(field, key, value));
  }

  /** The error of a rule, at its field or, where it has none that is shown, at the whole form. */
  rule(rule: Rule, at: FieldState | undefined, given: Record<string, Value>): FieldError {
    const say = rule.say ?? at?.field.say.rule ?? 'rule';
    return !at || at.hidden
      ? this.#told('#', 'rule', say, undefined, BLANK, given)
      : this.#told(at.pointer, 'rule', say, at.field, at.value, given);
  }

  /** What is said of an early question: asking, free, unanswered. */
  said(state: FieldState, phase: string): string {
    const say = state.field.say[phase] ?? '';
    return this.#told(state.pointer, phase, say, state.field, state.value, {}).detail;
  }

  #limits(field: Field, key: string, value: Value): Record<string, Value> {
    const ends = (span: { min?: number; max?: number } = {}): Record<string, Value> => ({
      ...(span.min !== undefined && { min: number(span.min) }),
      ...(span.max !== undefined && { max: number(span.max) }),
    });
    switch (key) {
      case 'too-short':
      case 'too-long':
        return { ...ends(field.length), count: number(length(shown(value))) };
      case 'too-few':
      case 'too-many': {
        const count =
          value.kind === 'chosen'
            ? value.options.length
            : value.kind === 'rows'
              ? value.rows.length
              : 0;
        return { ...ends(field.count), count: number(count) };
      }
      case 'range-underflow':
      case 'range-overflow': {
        const { min, max } = field.range ?? {};
        const isNumber = field.type === 'integer' || field.type === 'decimal';
        const end = (it: NonNullable<typeof min>) =>
          isNumber ? number(it as number) : endAt(field, it, this.clock);
        return {
          ...(min !== undefined && { min: end(min) }),
          ...(max !== undefined && { max: end(max) }),
        };
      }
      case 'step-mismatch':
        return { step: number(field.step!), base: number(field.base ?? 0) };
      case 'too-precise':
        return { max: number(15) };
      case 'too-precise.decimals':
        return { max: number(field.decimals!) };
      default:
        return {};
    }
  }

  #told(
    pointer: string,
    code: string,
    sentence: Sentence,
    field: Field | undefined,
    value: Value,
    limits: Record<string, Value>,
  ): FieldError {
    const known: Record<string, Value> = {
      ...limits,
      label: text(field?.label ?? ''),
      value: field?.type === 'secret' ? BLANK : value,
    };
    const state = (name: string) =>
      own(known, name) || LIMITS.includes(name) ? undefined : this.root.states.get(name);
    const given = (name: string) => own(known, name) ?? state(name)?.value ?? BLANK;
    const args: Arguments = {
      text: (name) => {
        const told = state(name);
        return told ? label(told.field, told.value) : shown(given(name));
      },
      value: given,
    };
    return { pointer, code, ...told(sentence, args) };
  }
}
