/** What `GET /api/forms/{form}` tells of a form: all that a page needs to show it and to judge. */
export interface Description {
  form: string;
  revision: number;
  /** The language of the sentences, a BCP 47 tag. */
  language?: string;
  label: string;
  title: { add: string; edit: string; list: string };
  /** The template of a record's name, such as `{name} · {callSign}`. */
  called?: string;
  /** The dotted path of the field whose address is confirmed by mail. */
  confirms?: string;
  /** `one` if there is only one record. */
  records?: 'one' | 'one-each';
  intro?: string;
  layout?: 'side' | 'inline' | 'columns';
  steps?: { name: string; title: string; fields: string[] }[];
  /** Whose drafts are; left out if none are kept. */
  draft?: 'own' | 'joint';
  sections?: { name: string; title: string; fields: string[] }[];
  access: Record<'add' | 'see' | 'edit' | 'remove', string | string[]>;
  /** The time zone of local times and of `today`, where the form reads a clock. */
  zone?: string;
  /** The service's date and moment, where the form's rules read them. */
  today?: string;
  now?: string;
  /** What the page says besides errors. */
  words: Record<Word, Message>;
  fields: Field[];
  rules?: Rule[];
  /** Dotted paths of the fields that depend on others, each after those that it depends on. */
  settling?: string[];
}

export type Word =
  | 'mend'
  | 'saving'
  | 'row.less'
  | 'row.up'
  | 'counter'
  | 'counter.over'
  | 'tidied'
  | 'understood'
  | 'dropped'
  | 'found'
  | 'file.sending'
  | 'file.done'
  | 'file.waiting'
  | 'file.failed'
  | 'file.remove'
  | 'file.stop'
  | 'file.removed'
  | 'draft.kept'
  | 'draft.unkept'
  | 'draft.full'
  | 'draft.merged'
  | 'step.of'
  | 'elsewhere'
  | 'removed'
  | 'reload'
  | 'sent'
  | 'unreached'
  | 'asking-service'
  | 'unasked-service'
  | 'changed'
  | 'conflict.retry'
  | 'conflict.line'
  | 'conflict.take'
  | 'unknown-field'
  | 'unknown-field.near';

export type Type =
  | 'text'
  | 'email'
  | 'url'
  | 'phone'
  | 'secret'
  | 'integer'
  | 'decimal'
  | 'boolean'
  | 'date'
  | 'time'
  | 'datetime'
  | 'choice'
  | 'choices'
  | 'file'
  | 'record'
  | 'group'
  | 'rows';

export type Control =
  | 'text'
  | 'textarea'
  | 'email'
  | 'url'
  | 'phone'
  | 'secret'
  | 'number'
  | 'slider'
  | 'checkbox'
  | 'switch'
  | 'date'
  | 'time'
  | 'datetime'
  | 'radio'
  | 'select'
  | 'search'
  | 'checkboxes'
  | 'file'
  | 'group'
  | 'rows';

export interface Field {
  name: string;
  type: Type;
  control: Control;
  /** When it is judged and asked about; left out, as the person leaves it. */
  check?: 'typing' | 'submit';
  /** The address of the page that adds may fill it in. */
  prefill?: true;
  label: string;
  help?: string;
  placeholder?: string;
  unit?: string;
  /** What the button says that adds a row. */
  add?: string;
  required: Condition;
  /** Left out: always. */
  shown?: Condition;
  editable?: Condition;
  default?: Json;
  defaultTo?: Expression;
  suggest?: Expression;
  compute?: Expression;
  /** Not to be kept by a browser. */
  masked?: true;
  /** False for a field that steers the form and is not stored. */
  kept?: boolean;
  tidy?: Tidying;
  length?: Span<number>;
  /** Literals, or `["today", days]`, `["today", days, months]`, or `["now"]`. */
  range?: Span<End>;
  step?: number;
  /** Where steps are counted from. */
  base?: number;
  decimals?: number;
  /** Source of a RegExp with the `u` flag, for the whole value. */
  pattern?: string;
  count?: Span<number>;
  size?: Span<number>;
  accept?: string[];
  options?: Option[];
  /**
   * What only the service judges: `options` of which there are too many to be here, and a `pattern`
   * that could hold a browser up.
   */
  onService?: ('options' | 'pattern')[];
  /** Which options are offered; of a reference, which records, and only the service can tell. */
  where?: Expression;
  /** True for the value alone; else what takes part, for each unique whose error stands here. */
  unique?: true | Unique[];
  /** Others are asked about the value, by the service: what it depends on besides. */
  ask?: Pick<Unique, 'reads' | 'early'>;
  /** The form whose records a field of type record points at. */
  refersTo?: string;
  /** The neighbour that is typed here once more. */
  repeats?: string;
  rules?: Rule[];
  /** What is inside a group or each row. */
  fields?: Field[];
  /** The sentences, by code. */
  say: Record<string, Sentence>;
}

export interface Unique {
  /** The paths of the other values that must not all be the same. */
  with?: string[];
  /** It counts only while this holds. */
  when?: Expression;
  /** The paths that `when` reads. */
  reads?: string[];
  /** True if `when` sees the fields of the form, not those beside its field. */
  ofForm?: true;
  /** False if it is answered at submission only. */
  early?: false;
  /** True if it is set aside for the page in which it was found free. */
  hold?: true;
}

/** True, false, or an expression. */
export type Condition = Expression;

/** A literal, or an array whose first item says what it is; see docs/expressions.md. */
export type Expression = string | number | boolean | null | readonly unknown[];

export type End = string | number | readonly ['today', number, number?] | readonly ['now'];

export interface Rule {
  must: Expression;
  /** The paths it reads; a leading `^` for each scope further out. */
  reads: string[];
  /** It reads today or now. */
  clock?: boolean;
  at?: string;
  say?: Sentence;
  /** What else its sentence names: the parameters of a part. */
  with?: Record<string, Expression>;
}

/**
 * Text with `{names}`; or, where it has variants, a list of texts, `["name"]`, `["select", name,
 * {yes: […]}]` and `["plural", name, {one: […]}, rules]`; or one of both with a link.
 */
export type Sentence = Message | { text: Message; link: { text: Message; href: string } };
export type Message = string | readonly Piece[];
export type Piece =
  string | readonly [string] | readonly [string, string, Record<string, Piece[]>, PluralRules?];

/**
 * The plural rules of a language (UTS #35, part 3) by category: alternatives, of each the relations
 * that all hold. A browser's own rules may be of another year.
 */
export type PluralRules = Record<string, Relation[][]>;

/** Whether an operand, modulo a number, is in one of some spans. */
export type Relation = readonly [
  operand: 'n' | 'i' | 'v' | 'f',
  modulus: number,
  yes: boolean,
  ...spans: [from: number, to: number][],
];

export interface Tidying {
  trim: boolean;
  squeeze?: 'all' | 'in-line';
  case?: 'lower' | 'upper';
  /** Puts https:// before a bare host. */
  scheme?: boolean;
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
  /** False if it is there only for records that have it already. */
  offered?: boolean;
  /** What `where` can ask of it. */
  marks?: Record<string, Json>;
}

/** A value as it is typed or sent; blank is null, undefined, empty text, `[]` and `{}`. */
export type Json = string | number | boolean | null | undefined | object;

export type Values = Record<string, Json>;

/** One reason for a refusal. */
export interface FieldError {
  /** A JSON Pointer into the values, as a fragment: `#/callSign`, `#/crew/2/name`. */
  pointer: string;
  code: string;
  detail: string;
  link?: { text: string; href: string };
}
