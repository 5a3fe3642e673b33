import type { Field, FieldError, Json, Values } from '../description';
import type { Difference } from './merging';
import type { Accepted, Service } from '../net/service';
import type { FieldState as RuleState } from '../rules/field-states';
import { json, shown } from '../rules/value';

/** Where the early question about a value stands. */
export type Asked = 'not' | 'asking' | 'free' | 'unanswered';

/** One field of an opened form. */
export interface FieldState {
  field: Field;
  /** As typed; once the field was left, as tidied. */
  value: Json;
  error?: FieldError;
  asked: Asked;
  /** The state of the early question in words; empty if there is nothing to say. */
  said: string;
  /** The form's rules leave it out just now. */
  hidden: boolean;
  /** Its value may be changed; computed ones may not. */
  editable: boolean;
  required: boolean;
  /** How long the text is, where the page counts it. */
  length?: number | undefined;
  /** The values of the options that are offered just now, where they depend on other fields. */
  offered?: string[] | undefined;
}

/** The first thing that happens to an opened form is `opened`, the last `closed`. */
export type Moment =
  | 'opened'
  | 'changed'
  | 'checked'
  | 'complete'
  | 'sending'
  | 'refused'
  | 'accepted'
  | 'failed'
  | 'closed';

/** What a form looks like at one moment; each change makes a new one. */
export interface FormState {
  /** By name as in a page: `contact.email`, `crew[0].name`. */
  fields: Record<string, FieldState>;
  /** Errors that belong to no field here. */
  others: string[];
  /** A submission was refused, here or by the service. */
  refused: boolean;
  /** A submission is under way. */
  working: boolean;
  /** Nothing is missing, nothing is wrong, and nothing is being asked. */
  complete: boolean;
  /** It takes so long that a person should be told. */
  slow: boolean;
  /** What somebody else has saved just now: the labels of the fields, none if it was removed. */
  elsewhere?: string[] | undefined;
  /** Somebody else saved the record meanwhile. */
  conflict?: Difference[] | undefined;
}

export interface OpenOptions {
  mode: 'add' | 'edit';
  /** The first values; in an edit, the record's. */
  values: Values;
  /** In an edit: the record's id and version. */
  record?: string;
  version?: number;
  /** In an edit: what the record keeps, where the first values are something else. */
  before?: Values;
  /** Errors that the page came with. */
  errors?: FieldError[];
  service?: Service;
  /** What this opening is called, so that what is sent from it twice is kept once. */
  key?: string;
  /**
   * Does what a submission does, in place of adding or editing. A `Refusal` that it throws is shown
   * at its fields; what else it throws, above them all.
   *
   * @param key what the submission is called: the same when it is sent again
   */
  send?: (values: Values, key: string) => Promise<Accepted | void>;
  /** After so many milliseconds (300) a person is told that something is under way. */
  slow?: number;
  /** In an edit: whether to be told when somebody else saves the record. */
  follow?: boolean;
}

export type Outcome =
  { kind: 'accepted'; record: Accepted } | { kind: 'refused' } | { kind: 'ignored' };

/** True if nothing would be drawn otherwise. */
export function isSame(a: FieldState, b: FieldState): boolean {
  const plain = ['field', 'asked', 'said', 'hidden', 'editable', 'required', 'length'] as const;
  const deep = ['value', 'error', 'offered'] as const;
  return (
    plain.every((it) => a[it] === b[it]) &&
    deep.every((it) => a[it] === b[it] || JSON.stringify(a[it]) === JSON.stringify(b[it]))
  );
}

/** The value as a control shows it. */
export function control(ruleState: RuleState): Json {
  const { value } = ruleState;
  return value.kind === 'boolean' || value.kind === 'chosen' || value.kind === 'unread'
    ? json(value)
    : shown(value);
}
