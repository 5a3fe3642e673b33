import Big from 'big.js';
import type { Description, Field, FieldError, Json, Values } from './description';
import { json, read, shown, type Read } from './read';
import { fault, length } from './rules';

/** The outcome of a judgement: what was judged, tidied, and at most one error for a field. */
export interface Verdict {
  values: Values;
  errors: FieldError[];
}

/** One field's part of a verdict. */
export interface Judged {
  value: Json;
  /** The value in standard form, as a control shows it. */
  shown: string;
  error?: FieldError;
}

/** Judges one value by the rules that can run here. */
export function judgeField(field: Field, typed: Json): Judged {
  const value = read(field, typed);
  const code = fault(field, value);
  const judged: Judged = { value: json(value), shown: shown(value) };
  if (code) {
    judged.error = { pointer: pointer(field), code, detail: sentence(field, code, value) };
  }
  return judged;
}

/** Judges a whole submission; what only the server knows is not part of it. */
export function judge(description: Description, typed: Values): Verdict {
  const verdict: Verdict = { values: {}, errors: [] };
  for (const field of description.fields) {
    const given = Object.hasOwn(typed, field.name) ? typed[field.name] : undefined;
    const { value, error } = judgeField(field, given === undefined ? field.default : given);
    if (value !== null) {
      verdict.values[field.name] = value;
    }
    if (error) {
      verdict.errors.push(error);
    }
  }
  return verdict;
}

/** The pointer of a field. Names of fields need no escaping. */
export function pointer(field: Field): string {
  return `#/${field.name}`;
}

/** Fills a field's sentence, all in one pass, so that a typed brace stays a brace. */
export function sentence(field: Field, key: string, value: Read): string {
  const text = shown(value);
  const limits = key.startsWith('too-') ? field.length : field.range;
  const known: Record<string, Json> = {
    label: field.label,
    value: text,
    min: limits?.min,
    max: key === 'too-precise' ? 15 : limits?.max,
    step: field.step,
    base: field.base,
    count: length(text),
  };
  return (field.say[key] ?? key).replace(/\{([^{}]*)\}/g, (_, name: string) => {
    const argument = Object.hasOwn(known, name) ? known[name] : undefined;
    return typeof argument === 'number' ? new Big(argument).toFixed() : String(argument ?? '');
  });
}
