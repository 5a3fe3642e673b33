import BigJs, { type Big } from 'big.js';
import type { Field, Json, Values } from '../description';

/** Exact decimals; a quotient is rounded half-even, 20 places after the point. */
export const Decimal = BigJs();
Decimal.DP = 20;
Decimal.RM = 2;

/** A value once it is read as its field's type. */
export type Value =
  | { kind: 'blank' }
  | { kind: 'text'; text: string }
  | { kind: 'number'; number: Big }
  | { kind: 'boolean'; yes: boolean }
  | { kind: 'date'; date: string }
  | { kind: 'time'; time: string }
  | { kind: 'datetime'; ms: number }
  | { kind: 'chosen'; options: string[] }
  | { kind: 'group'; values: Record<string, Value> }
  | { kind: 'rows'; rows: Record<string, Value>[] }
  /** What a person typed; or, exactly, what an expression came to that no field can hold. */
  | { kind: 'unread'; typed: Json; exact?: Big };

export const BLANK: Value = { kind: 'blank' };

export function text(of: string): Value {
  return of === '' ? BLANK : { kind: 'text', text: of };
}

export function number(of: Big | number | string): Value {
  return { kind: 'number', number: new Decimal(of) };
}

export function bool(yes: boolean): Value {
  return { kind: 'boolean', yes };
}

/** NUL and unpaired surrogates. */
export const UNKEEPABLE = /[\0\p{Surrogate}]/gu;

/** False for what no form of can be kept: those, and more marks in a row than any writing has. */
export function isKeepable(text: string): boolean {
  return text.search(UNKEEPABLE) < 0 && !/\p{M}{31}/u.test(text);
}

/** True if both are the same value; exact decimals write themselves as text. */
export function same(a: Value, b: Value): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function blank(value: Value): boolean {
  return value.kind === 'blank';
}

/** Orders two values of one kind: texts by code point. */
export function compare(a: Value, b: Value): number {
  if (a.kind === 'number' && b.kind === 'number') {
    return a.number.cmp(b.number);
  }
  if (a.kind === 'datetime' && b.kind === 'datetime') {
    return a.ms - b.ms;
  }
  return a.kind === b.kind ? byCodePoint(shown(a), shown(b)) : 0;
}

function byCodePoint(a: string, b: string): number {
  const x = [...a];
  const y = [...b];
  for (let i = 0; i < Math.min(x.length, y.length); i++) {
    const difference = x[i]!.codePointAt(0)! - y[i]!.codePointAt(0)!;
    if (difference !== 0) {
      return difference;
    }
  }
  return x.length - y.length;
}

/** The value in standard form, as sentences and controls show it: `61.5`, `2027-03-01`. */
export function shown(value: Value): string {
  switch (value.kind) {
    case 'blank':
      return '';
    case 'text':
      return value.text;
    case 'number':
      return value.number.toFixed();
    case 'boolean':
      return String(value.yes);
    case 'date':
      return value.date;
    case 'time':
      return value.time;
    case 'datetime':
      return new Date(value.ms).toISOString().replace('.000Z', 'Z');
    case 'chosen':
      return value.options.join(', ');
    case 'group':
      return Object.values(value.values)
        .filter((inner) => !blank(inner))
        .map(shown)
        .join(', ');
    case 'rows':
      return String(value.rows.length);
    case 'unread':
      return value.exact?.toFixed() ?? typed(value.typed);
  }
}

function typed(raw: Json): string {
  if (raw === null || raw === undefined) {
    return '';
  }
  if (typeof raw === 'object') {
    return Array.isArray(raw) ? raw.map(typed).join(', ') : '{…}';
  }
  return typeof raw === 'number' && Number.isFinite(raw)
    ? new Decimal(raw).toFixed()
    : String(raw).replace(UNKEEPABLE, '\uFFFD');
}

/** The value as JSON carries it; what could not be read goes as it was typed. */
export function json(value: Value): Json {
  switch (value.kind) {
    case 'blank':
      return null;
    case 'number':
      return value.number.toNumber() + 0;
    case 'boolean':
      return value.yes;
    case 'chosen':
      return value.options;
    case 'group':
      return members(value.values);
    case 'rows':
      return value.rows.map(members);
    case 'unread':
      return wellformed(value.typed);
    default:
      return shown(value);
  }
}

/** Blank values are left out. */
export function members(values: Record<string, Value>): Values {
  return Object.fromEntries(
    Object.entries(values)
      .filter(([, value]) => !blank(value))
      .map(([name, value]) => [name, json(value)]),
  );
}

function wellformed(raw: Json): Json {
  if (typeof raw === 'string') {
    return raw.replace(UNKEEPABLE, '\uFFFD');
  }
  if (Array.isArray(raw)) {
    return raw.map((item) => wellformed(item as Json) ?? null);
  }
  if (raw && typeof raw === 'object') {
    return Object.fromEntries(
      Object.entries(raw).map(([name, item]) => [
        name.replace(UNKEEPABLE, '\uFFFD'),
        wellformed(item as Json),
      ]),
    );
  }
  return raw;
}

/** The text that stands for a value where a person reads it: an option's label, yes or no. */
export function label(field: Field, value: Value): string {
  const called = (option: string) =>
    field.options?.find((it) => it.value === option)?.label ?? option;
  switch (value.kind) {
    case 'boolean':
      return value.yes ? 'yes' : 'no';
    case 'text':
      return field.type === 'secret' ? '' : called(value.text);
    case 'chosen':
      return value.options.map(called).join(', ');
    default:
      return shown(value);
  }
}

/** A kept value as a person reads it; a number with its unit. */
export function display(field: Field, value: Json): string {
  if (value === null || value === undefined || value === '') {
    return 'nothing';
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no';
  }
  if (Array.isArray(value)) {
    return value.map((item) => display(field, item as Json)).join(field.fields ? '; ' : ', ');
  }
  if (typeof value === 'object') {
    return Object.entries(value)
      .flatMap(([name, inner]) => {
        const own = field.fields?.find((it) => it.name === name);
        return own ? display(own, inner as Json) : [];
      })
      .join(', ');
  }
  const called = field.options?.find((option) => option.value === value)?.label ?? String(value);
  return field.unit ? `${called} ${field.unit}` : called;
}

/** True, and neither false nor blank. */
export function isTrue(value: Value): boolean {
  return value.kind === 'boolean' && value.yes;
}
