/** What `GET /api/forms/{form}` tells of a form: all that a page needs to show it and to judge. */
export interface Description {
  form: string;
  revision: number;
  label: string;
  title: { add: string; edit: string; list: string };
  /** The template of a record's name, such as `{name} · {callSign}`. */
  called?: string;
  access: Record<'add' | 'see' | 'edit' | 'remove', 'anyone' | 'signed-in'>;
  fields: Field[];
}

export type Type =
  'text' | 'email' | 'integer' | 'decimal' | 'boolean' | 'date' | 'choice' | 'record';

export type Control =
  'text' | 'textarea' | 'email' | 'number' | 'checkbox' | 'date' | 'radio' | 'select';

export interface Field {
  name: string;
  type: Type;
  control: Control;
  label: string;
  help?: string;
  placeholder?: string;
  unit?: string;
  required: boolean;
  default?: Json;
  tidy: Tidying;
  length?: Span<number>;
  /** Numbers, or dates as text. */
  range?: Span<number | string>;
  step?: number;
  /** Where steps are counted from. */
  base?: number;
  /** Source of a RegExp with the `u` flag, for the whole value. */
  pattern?: string;
  options?: Option[];
  unique?: boolean;
  /** The form whose records a field of type record points at. */
  refersTo?: string;
  /** The sentences, by code, before `{label}`, `{value}` and the limits are filled in. */
  say: Record<string, string>;
}

export interface Tidying {
  trim: boolean;
  squeeze?: 'all' | 'in-line';
  case?: 'lower' | 'upper';
  /** Source of a RegExp that matches one character that stays. */
  keep?: string;
}

export interface Span<T> {
  min?: T;
  max?: T;
}

export interface Option {
  value: string;
  label: string;
}

/** A value as it is typed or sent; blank is null, undefined, empty text, `[]` and `{}`. */
export type Json = string | number | boolean | null | undefined | object;

export type Values = Record<string, Json>;

/** One reason for a refusal. */
export interface FieldError {
  /** A JSON Pointer into the values, as a fragment: `#/callSign`. */
  pointer: string;
  code: string;
  detail: string;
}
