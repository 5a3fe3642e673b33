import Big from 'big.js';
import type { Field, Json } from './description';
import { tidy, trim } from './tidy';

/** What a typed value came to: a value of the field's type, blank, or unread. */
export type Read =
  | { kind: 'blank' }
  | { kind: 'text'; text: string }
  | { kind: 'number'; number: Big }
  | { kind: 'boolean'; yes: boolean }
  | { kind: 'date'; date: string }
  | { kind: 'unread'; typed: Json };

const BLANK: Read = { kind: 'blank' };
const PLAIN_NUMBER = /^-?(\d+(\.\d+)?|\.\d+)$/;
const MAX_NUMBER_TEXT = 1000;
const MAX_INTEGER = new Big('9007199254740991');
/** NUL and unpaired surrogates. */
const UNKEEPABLE = /[\0\p{Surrogate}]/gu;
const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;

/** Reads and tidies one value, as the service does with JSON. */
export function read(field: Field, typed: Json): Read {
  if (typed === null || typed === undefined || typed === '') {
    return BLANK;
  }
  const unread: Read = { kind: 'unread', typed };
  if (typeof typed === 'object') {
    return Object.keys(typed).length === 0 ? BLANK : unread;
  }
  if (typeof typed === 'boolean') {
    return field.type === 'boolean' ? { kind: 'boolean', yes: typed } : unread;
  }
  if (typeof typed === 'number') {
    return Number.isFinite(typed) ? (number(field, new Big(typed)) ?? unread) : unread;
  }
  if (typed.search(UNKEEPABLE) >= 0) {
    return unread;
  }
  return text(field, typed) ?? unread;
}

function text(field: Field, typed: string): Read | undefined {
  switch (field.type) {
    case 'text':
    case 'email':
    case 'choice':
    case 'record': {
      const tidied = tidy(typed, field.tidy);
      return tidied === '' ? BLANK : { kind: 'text', text: tidied };
    }
    default: {
      const trimmed = trim(typed);
      return trimmed === '' ? BLANK : scalar(field, trimmed);
    }
  }
}

function scalar(field: Field, trimmed: string): Read | undefined {
  switch (field.type) {
    case 'integer':
    case 'decimal':
      return trimmed.length <= MAX_NUMBER_TEXT && PLAIN_NUMBER.test(trimmed)
        ? number(field, new Big(trimmed))
        : undefined;
    case 'date':
      return isDate(trimmed) ? { kind: 'date', date: trimmed } : undefined;
    default:
      return undefined;
  }
}

function number(field: Field, number: Big): Read | undefined {
  const fits =
    field.type === 'decimal' ||
    (field.type === 'integer' && number.round(0).eq(number) && number.abs().lte(MAX_INTEGER));
  return fits ? { kind: 'number', number } : undefined;
}

/** `YYYY-MM-DD`, years 0001 to 9999, proleptic Gregorian. */
function isDate(text: string): boolean {
  const parts = DATE.exec(text);
  if (!parts || parts[1] === '0000') {
    return false;
  }
  const [year, month, day] = parts.slice(1).map(Number) as [number, number, number];
  const leap = (year % 4 === 0 && year % 100 !== 0) || year % 400 === 0;
  const days = [31, leap ? 29 : 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31][month - 1];
  return days !== undefined && day >= 1 && day <= days;
}

/** The value in standard form, as sentences and controls show it: `61.5`, `2027-03-01`. */
export function shown(value: Read): string {
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
    case 'unread':
      return String(value.typed);
  }
}

/** The value as JSON carries it; what could not be read goes as it was typed. */
export function json(value: Read): Json {
  switch (value.kind) {
    case 'blank':
      return null;
    case 'number':
      return value.number.toNumber();
    case 'boolean':
      return value.yes;
    case 'unread':
      return typeof value.typed === 'string'
        ? value.typed.replace(UNKEEPABLE, '\uFFFD')
        : value.typed;
    default:
      return shown(value);
  }
}

/** A kept value as a person reads it: an option's label, yes or no, a number with its unit. */
export function display(field: Field, value: Json): string {
  if (value === null || value === undefined || value === '') {
    return 'nothing';
  }
  if (typeof value === 'boolean') {
    return value ? 'yes' : 'no';
  }
  const text = field.options?.find((option) => option.value === value)?.label ?? String(value);
  return field.unit ? `${text} ${field.unit}` : text;
}
