import type { Big } from 'big.js';
import type { Field, Json } from '../description';
import { isDate, moment, time } from './dates';
import { tidy, tidyPhone, trim } from './tidy';
import { BLANK, bool, Decimal, isKeepable, text, type Value } from './value';

const PLAIN_NUMBER = /^-?(\d+(\.\d+)?|\.\d+)$/;
const MAX_NUMBER_TEXT = 1000;
const MAX_INTEGER = new Decimal('9007199254740991');
/** No number has its first or last digit further from the point than this. */
const MAX_PLACES = 100;
const WRITTEN = ['text', 'email', 'url', 'phone', 'secret', 'choice', 'record', 'file'];

/** True for what counts as nothing: absent, null, empty text, `[]` and `{}`. */
export function isBlank(typed: Json): boolean {
  return (
    typed === null ||
    typed === undefined ||
    typed === '' ||
    (typeof typed === 'object' && Object.keys(typed).length === 0)
  );
}

/** Reads the value of a field without fields inside, as the service does with JSON. */
export function read(field: Field, typed: Json, zone: string): Value {
  if (isBlank(typed)) {
    return BLANK;
  }
  const unread: Value = { kind: 'unread', typed };
  if (field.type === 'choices' || (field.type === 'file' && field.count)) {
    return (Array.isArray(typed) ? chosen(typed as Json[]) : undefined) ?? unread;
  }
  switch (typeof typed) {
    case 'boolean':
      return field.type === 'boolean' ? bool(typed) : unread;
    case 'number':
      return Number.isFinite(typed) ? (fitting(field, new Decimal(typed)) ?? unread) : unread;
    case 'string':
      return isKeepable(typed) ? (fromText(field, typed, zone) ?? unread) : unread;
    default:
      return unread;
  }
}

/** Blank items are left out, and each option counts once. */
function chosen(items: Json[]): Value | undefined {
  const options: string[] = [];
  for (const item of items) {
    if (item === null) {
      continue;
    }
    if (typeof item !== 'string' || !isKeepable(item)) {
      return undefined;
    }
    const option = tidy(item, { trim: true });
    if (option && !options.includes(option)) {
      options.push(option);
    }
  }
  return options.length ? { kind: 'chosen', options } : BLANK;
}

function fromText(field: Field, typed: string, zone: string): Value | undefined {
  if (WRITTEN.includes(field.type)) {
    return tidied(field, text(typed));
  }
  const trimmed = trim(typed);
  if (trimmed === '') {
    return BLANK;
  }
  switch (field.type) {
    case 'integer':
    case 'decimal':
      return trimmed.length <= MAX_NUMBER_TEXT && PLAIN_NUMBER.test(trimmed)
        ? fitting(field, new Decimal(trimmed))
        : undefined;
    case 'date':
      return isDate(trimmed) ? { kind: 'date', date: trimmed } : undefined;
    case 'time': {
      const at = time(trimmed);
      return at === undefined ? at : { kind: 'time', time: at };
    }
    case 'datetime': {
      const at = moment(trimmed, zone);
      return at === undefined ? at : { kind: 'datetime', ms: at };
    }
    default:
      return undefined;
  }
}

/** Tidies a value of a field; text of which nothing stays is blank. */
function tidied(field: Field, value: Value): Value {
  if (value.kind !== 'text' || !field.tidy) {
    return value;
  }
  const tidy1 = tidy(value.text, field.tidy);
  return text(field.type === 'phone' ? tidyPhone(tidy1) : tidy1);
}

/** The number as a value, if the field can hold it. */
function fitting(field: Field, number: Big): Value | undefined {
  const last = number.c.length - 1 - number.e;
  const fits =
    (field.type === 'decimal' && last <= MAX_PLACES && number.e < MAX_PLACES) ||
    (field.type === 'integer' && number.round(0).eq(number) && number.abs().cmp(MAX_INTEGER) <= 0);
  return fits ? { kind: 'number', number } : undefined;
}

/** Brings what an expression comes to into a field: its digits, its tidying. */
export function fit(field: Field, value: Value): Value {
  if (value.kind === 'number') {
    const rounded = field.type === 'decimal' ? value.number.prec(15, 2) : value.number;
    const exact = value.number;
    return fitting(field, rounded) ?? { kind: 'unread', typed: exact.toNumber(), exact };
  }
  return tidied(field, value);
}
