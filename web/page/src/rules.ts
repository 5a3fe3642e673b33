import Big from 'big.js';
import type { Field } from './description';
import type { Read } from './read';

/** HTML, "valid email address". */
const EMAIL =
  /^[a-zA-Z0-9.!#$%&'*+/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$/;
const MAX_DIGITS = 15;
/** A browser's patterns may take long on long values; beyond this the server alone judges them. */
const MAX_PATTERN_LENGTH = 1000;

/** How many code points a text has. */
export function length(text: string): number {
  return [...text].length;
}

/** The code of the first rule that the value does not meet: the same order as on the server. */
export function fault(field: Field, value: Read): string | undefined {
  switch (value.kind) {
    case 'blank':
      return field.required ? 'value-missing' : undefined;
    case 'boolean':
      return field.required && !value.yes ? 'value-missing' : undefined;
    case 'text':
      return ofText(field, value.text);
    case 'number':
      return ofNumber(field, value.number);
    case 'date':
      return ofDate(field, value.date);
    case 'unread':
      return 'bad-input';
  }
}

function ofText(field: Field, text: string): string | undefined {
  if (field.type === 'email' && !EMAIL.test(text)) {
    return 'type-mismatch';
  }
  const count = length(text);
  if (field.length?.min !== undefined && count < field.length.min) {
    return 'too-short';
  }
  if (field.length?.max !== undefined && count > field.length.max) {
    return 'too-long';
  }
  if (field.pattern && count <= MAX_PATTERN_LENGTH && !new RegExp(field.pattern, 'u').test(text)) {
    return 'pattern-mismatch';
  }
  const offered = field.type !== 'choice' || field.options?.some((option) => option.value === text);
  return offered ? undefined : 'not-an-option';
}

function ofNumber(field: Field, number: Big): string | undefined {
  if (field.type === 'decimal' && number.c.length > MAX_DIGITS) {
    return 'too-precise';
  }
  if (field.range?.min !== undefined && number.lt(field.range.min)) {
    return 'range-underflow';
  }
  if (field.range?.max !== undefined && number.gt(field.range.max)) {
    return 'range-overflow';
  }
  if (
    field.step !== undefined &&
    !number
      .minus(field.base ?? 0)
      .mod(field.step)
      .eq(0)
  ) {
    return 'step-mismatch';
  }
  return undefined;
}

/** Dates in standard form compare as text. */
function ofDate(field: Field, date: string): string | undefined {
  if (field.range?.min !== undefined && date < String(field.range.min)) {
    return 'range-underflow';
  }
  if (field.range?.max !== undefined && date > String(field.range.max)) {
    return 'range-overflow';
  }
  return undefined;
}
