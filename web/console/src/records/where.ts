import type { Field } from 'nodley-page';

/** One condition that is built from controls: a field, how it is compared, and with what. */
export interface Condition {
  field: string;
  how: How;
  value: string;
}

export const HOWS = ['=', '!=', '<', '<=', '>', '>=', 'has', 'blank', 'filled'] as const;
export type How = (typeof HOWS)[number];

/** No text in an expression stands for such a value. */
const WITHOUT_LITERAL = /^(record|datetime|time)$/;

const ORDERED = /^(integer|decimal|date)$/;

/** How a field can be compared, the usual way first; nothing if there is no such control for it. */
export function howsOf({ type, compute }: Field): How[] {
  if (type === 'choices') {
    return ['has', 'blank', 'filled'];
  }
  if (/^(secret|file|group|rows)$/.test(type) || WITHOUT_LITERAL.test(type)) {
    return WITHOUT_LITERAL.test(type) ? ['blank', 'filled'] : [];
  }
  if (type === 'boolean') {
    return compute ? ['='] : ['=', 'blank', 'filled'];
  }
  return ORDERED.test(type)
    ? ['=', '!=', '<', '<=', '>', '>=', 'blank', 'filled']
    : ['=', '!=', 'blank', 'filled'];
}

/** The fields that can be filtered by, those of groups by their paths. */
export function filterable(fields: Field[], before = ''): { path: string; field: Field }[] {
  return fields.flatMap((field) =>
    field.type === 'group'
      ? filterable(field.fields ?? [], `${before}${field.name}.`)
      : field.kept !== false && howsOf(field).length > 0
        ? [{ path: before + field.name, field }]
        : [],
  );
}

export function needsValue(how: How): boolean {
  return how !== 'blank' && how !== 'filled';
}

/** The expression that all of some conditions make; those without a value yet say nothing. */
export function expressionOf(conditions: Condition[], fields: Field[]): string {
  const types = new Map(filterable(fields).map(({ path, field }) => [path, field.type]));
  return conditions
    .filter(({ how, value }) => !needsValue(how) || value !== '')
    .map(({ field, how, value }) => {
      switch (how) {
        case 'blank':
          return `${field} is blank`;
        case 'filled':
          return `not (${field} is blank)`;
        case 'has':
          return `${field} has ${quoted(value)}`;
        default:
          return `${field} ${how} ${literal(types.get(field) ?? 'text', value)}`;
      }
    })
    .join(' and ');
}

function literal(type: string, value: string): string {
  switch (type) {
    case 'integer':
    case 'decimal':
    case 'boolean':
      return value;
    case 'date':
      return `date(${quoted(value)})`;
    default:
      return quoted(value);
  }
}

function quoted(text: string): string {
  return `"${text.replace(/["\\]/g, '\\$&')}"`;
}

const PATH = '[a-z][A-Za-z0-9_]*(?:\\.[a-z][A-Za-z0-9_]*)*';
const TEXT = '"(?:[^"\\\\]|\\\\.)*"';
const PART = new RegExp(
  `^(?:not \\((?<filled>${PATH}) is blank\\)|(?<blank>${PATH}) is blank|` +
    `(?<field>${PATH}) (?<how>=|!=|<=|<|>=|>|has) (?:date\\((?<date>${TEXT})\\)|(?<text>${TEXT})|(?<bare>-?[0-9.]+|true|false)))` +
    `(?: and |$)`,
);

/** The conditions that make an expression; nothing if it says more than controls can. */
export function conditionsOf(expression: string, fields: Field[]): Condition[] | undefined {
  const known = new Set(filterable(fields).map(({ path }) => path));
  const conditions: Condition[] = [];
  let rest = expression.trim();
  while (rest) {
    const groups = PART.exec(rest)?.groups;
    const field = groups?.filled ?? groups?.blank ?? groups?.field;
    if (!groups || !field || !known.has(field)) {
      return undefined;
    }
    const text = groups.date ?? groups.text;
    conditions.push({
      field,
      how: groups.filled ? 'filled' : groups.blank ? 'blank' : (groups.how as How),
      value: text === undefined ? (groups.bare ?? '') : text.slice(1, -1).replace(/\\(.)/g, '$1'),
    });
    rest = rest.slice(PART.exec(rest)![0].length);
  }
  return conditions;
}
