import type { Big } from 'big.js';
import type { End, Field, Span } from '../description';
import { moment, moved } from './dates';
import { isNewer, WHITE } from './tidy';
import { compare, same, type Value } from './value';

/** HTML, "valid email address". */
const EMAIL =
  /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$/;
/** What an address must look like besides being one for the parser of the URL Standard. */
const URL_WITH_HOST = new RegExp(
  `^https?://(?:[^/?#@${WHITE}]*@)?[^/?#@<>\\\\^\`{|}"%${WHITE}]+(?:[/?#][^${WHITE}]*)?$`,
  'i',
);
const PHONE = /^\+?[0-9]{7,15}$/;
const MAX_DIGITS = 15;

/** The moment of judging. */
export interface Clock {
  today: string;
  now: number;
}

/** How many code points a text has. */
export function length(text: string): number {
  return [...text].length;
}

/** What an end of a range comes to at a moment. */
export function endAt(field: Field, end: End, clock: Clock): Value {
  if (typeof end === 'object') {
    return end[0] === 'now'
      ? { kind: 'datetime', ms: clock.now }
      : { kind: 'date', date: moved(clock.today, end[1], end[2]) ?? clock.today };
  }
  switch (field.type) {
    case 'date':
      return { kind: 'date', date: String(end) };
    case 'time':
      return { kind: 'time', time: String(end) };
    default:
      return { kind: 'datetime', ms: moment(String(end), 'UTC')! };
  }
}

/** The code of the first rule that the value by itself does not meet; the server's order. */
export function fault(field: Field, value: Value, kept: Value, clock: Clock): string | undefined {
  switch (value.kind) {
    case 'unread':
      return 'bad-input';
    case 'blank':
      return ofCount(field.count, 0);
    case 'chosen':
      return ofCount(field.count, value.options.length);
    case 'rows':
      return ofCount(field.count, value.rows.length);
    case 'text':
      return ofText(field, value.text);
    case 'number':
      return ofNumber(field, value.number);
    case 'date':
    case 'time':
    case 'datetime':
      return ofClock(field, value, same(value, kept), clock);
    default:
      return undefined;
  }
}

function ofCount(span: Span<number> | undefined, count: number): string | undefined {
  if (span?.min !== undefined && count < span.min) {
    return 'too-few';
  }
  return span?.max !== undefined && count > span.max ? 'too-many' : undefined;
}

function ofText(field: Field, text: string): string | undefined {
  const form = { email: EMAIL, url: URL_WITH_HOST, phone: PHONE }[field.type as 'email'];
  // The browser's own parser is that of the URL Standard.
  if (form && (!form.test(text) || (field.type === 'url' && !URL.canParse(text)))) {
    return 'type-mismatch';
  }
  const count = length(text);
  if (field.length?.min !== undefined && count < field.length.min) {
    return 'too-short';
  }
  if (field.length?.max !== undefined && count > field.length.max) {
    return 'too-long';
  }
  return matches(field.pattern ?? '', text) === false ? 'pattern-mismatch' : undefined;
}

function ofNumber(field: Field, number: Big): string | undefined {
  if (field.type === 'decimal' && number.c.length > MAX_DIGITS) {
    return 'too-precise';
  }
  if (field.range?.min !== undefined && number.cmp(field.range.min as number) < 0) {
    return 'range-underflow';
  }
  if (field.range?.max !== undefined && number.cmp(field.range.max as number) > 0) {
    return 'range-overflow';
  }
  if (field.decimals !== undefined && number.c.length - 1 - number.e > field.decimals) {
    return 'too-precise';
  }
  const { step, base = 0 } = field;
  return step !== undefined && !number.minus(base).mod(step).eq(0) ? 'step-mismatch' : undefined;
}

function ofClock(field: Field, value: Value, kept: boolean, clock: Clock): string | undefined {
  const beyond = (end: End | undefined, side: number) =>
    end !== undefined &&
    !(kept && typeof end === 'object') &&
    compare(value, endAt(field, end, clock)) * side > 0;
  if (beyond(field.range?.min, -1)) {
    return 'range-underflow';
  }
  return beyond(field.range?.max, 1) ? 'range-overflow' : undefined;
}

/** True if the number has more significant digits than are kept, so that decimals are no matter. */
export function isTooLong(value: Value): boolean {
  return value.kind === 'number' && value.number.c.length > MAX_DIGITS;
}

const MAX_PATTERN_LENGTH = 1000;

/**
 * Whether a text matches a pattern as a whole. A browser's patterns may take long on texts that are
 * made for it, and its tables may be older than the service's: beyond 1 000 code points, or with a
 * character that it does not know before a category, it is undefined, and the service judges.
 */
export function matches(pattern: string, text: string): boolean | undefined {
  return length(text) > MAX_PATTERN_LENGTH || isNewer(pattern, text)
    ? undefined
    : new RegExp(pattern, 'u').test(text);
}
