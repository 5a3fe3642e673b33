import { fileRefs } from './file-refs';
import type { Field, Json, Values } from '../description';
import type { Accepted } from '../net/service';
import type { FieldState } from '../rules/field-states';

function own(members: Values, name: string): Json {
  return Object.hasOwn(members, name) ? members[name] : undefined;
}

/** A field that somebody else saved otherwise than it is typed here. */
export interface Difference {
  name: string;
  field: Field;
  /** What the field is called; in rows, with the row that it is in. */
  label: string;
  theirs: Json;
  yours: Json;
}

/** What two people saved and typed, brought together. */
export interface Merged {
  values: Values;
  /** What both have changed, each otherwise; the values have it as it was typed. */
  conflict: Difference[];
}

/** Alike, whatever kept rows they say they are, and whatever blank rows stand between. */
const is = (a: Json, b: Json) => {
  const [x, y] = [a, b].map((it) =>
    JSON.stringify(it, (name, inner: unknown) =>
      name === '_row' ? undefined : Array.isArray(inner) ? inner.filter(isFilled) : inner,
    ),
  );
  return x === y || (isNothing(x) && isNothing(y));
};

const isFilled = (row: unknown) => !/^(\{\}|null|"")$/.test(JSON.stringify(row));

const isNothing = (text: string | undefined) => !text || /^(null|\[\]|\{\}|"")$/.test(text);

/** A record's values, in which each row says which one it is. */
export function numbered(
  { values, rows = {} }: Pick<Accepted, 'values' | 'rows'>,
  put: (values: Values, name: string, value: Json) => Values,
): Values {
  return Object.entries(rows).reduce<Values>((all, [pointer, row]) => {
    const name = pointer
      .slice(2)
      .replace(/\/(\d+)/g, '[$1]')
      .replace(/\//g, '.');
    return put(all, `${name}._row`, row);
  }, fileRefs(values));
}

/** The same of a form that was just saved: its new rows have numbers from now on. */
export function renumbered(
  rows: Record<string, number>,
  values: Values,
  states: FieldState[],
  put: (values: Values, name: string, value: Json) => Values,
): Values {
  // A blank row between would shift them; then they are found by what they hold.
  const inOrder = states.every(({ inside }) =>
    inside.every(({ row }, i) => !row || row.place === i),
  );
  return inOrder ? numbered({ rows, values }, put) : values;
}

/** The labels of the fields in which two versions of a record differ. */
export function changed(fields: Field[], before: Values, after: Values): string[] {
  return fields.flatMap((field): string[] => {
    const [old, now] = [before, after].map((it) => own(it, field.name));
    if (field.type === 'group') {
      return changed(field.fields!, (old ?? {}) as Values, (now ?? {}) as Values);
    }
    return is(old, now) ? [] : [field.label];
  });
}

/** What is sent of an edit: only what has changed (JSON Merge Patch, RFC 7396). */
export function patch(before: Values, values: Values): Values {
  const isSet = (it: Json) => it && typeof it === 'object' && !Array.isArray(it);
  return Object.fromEntries(
    Object.entries(values)
      .filter(([name, value]) => !is(own(before, name), value))
      .map(([name, value]) => [
        name,
        isSet(own(before, name)) && isSet(value)
          ? patch(before[name] as Values, value as Values)
          : value,
      ]),
  );
}

/**
 * Brings together what somebody else has saved and what is typed here: field by field, in rows by
 * the row that each one says it is. What only one side has changed stands.
 *
 * @param base what both began from
 * @param yours what is typed, as it would be sent
 * @param typed the same as it stands in the controls
 * @param at how names begin, and labels, inside of others
 */
export function merge(
  fields: Field[],
  base: Values,
  theirs: Values,
  yours: Values,
  typed: Values,
  at = { name: '', label: '' },
): Merged {
  const conflict: Difference[] = [];
  const values = { ...typed };
  for (const field of fields) {
    const [b, t, y] = [base, theirs, yours].map((it) => own(it, field.name));
    const name = at.name + field.name;
    const label = at.label + field.label;
    if (field.compute !== undefined || (field.type !== 'group' && (is(b, t) || is(t, y)))) {
      continue;
    }
    const all = [b, t, y, own(typed, field.name)];
    if (field.type === 'group') {
      const [from, their, your, here] = all.map((it) => (it || {}) as Values);
      const place = { ...at, name: `${name}.` };
      const inside = merge(field.fields!, from!, their!, your!, here!, place);
      values[field.name] = inside.values;
      conflict.push(...inside.conflict);
    } else if (is(b, y)) {
      values[field.name] = t ?? '';
    } else if (field.type === 'choices') {
      values[field.name] = options(b, t, y);
    } else {
      const together =
        field.type === 'rows' ? rows(field, all.map(list), { name, label }) : undefined;
      values[field.name] = together?.rows ?? own(typed, field.name);
      conflict.push(
        ...(together?.conflict ?? [{ name, field, label, theirs: t ?? null, yours: filled(y) }]),
      );
    }
  }
  return { values, conflict };
}

const filled = (it: Json) => (Array.isArray(it) ? it.filter(isFilled) : (it ?? null));

const list = (it: Json) => (it || []) as Values[];

/** What they chose besides, without what they chose no longer. */
function options(base: Json, theirs: Json, yours: Json): Json {
  const [b, t, y] = [base, theirs, yours].map((it) => list(it) as Json[] as string[]);
  return [
    ...y!.filter((it) => t!.includes(it) || !b!.includes(it)),
    ...t!.filter((it) => !b!.includes(it) && !y!.includes(it)),
  ];
}

/**
 * Rows are brought together one by one; nothing if it is not known which is which, or if one side
 * has changed a row that the other has removed.
 */
function rows(
  field: Field,
  [base, theirs, yours, typed]: Values[][],
  at: { name: string; label: string },
): { rows: Values[]; conflict: Difference[] } | undefined {
  const [from, their] = [base!, theirs!].map((all) => new Map(all.map((row) => [id(row), row])));
  if (from!.has('') || their!.has('')) {
    return undefined;
  }
  const here = yours!
    .map((row, i) => ({ row, typed: typed![i] ?? {}, id: id(row) }))
    .filter((it) => isFilled(it.row));
  const ids = new Set(here.map((it) => it.id));
  const gone = [...from!].filter(([id]) => !ids.has(id));
  if (gone.some(([id, row]) => their!.has(id) && !is(their!.get(id), row))) {
    return undefined;
  }
  // Their order stands where it was not changed here.
  const order = (all: Iterable<string>) => [...all].filter((it) => from!.has(it) && ids.has(it));
  if (String(order(ids)) === String(order(from!.keys()))) {
    const places = [...their!.keys()];
    const place = (id: string) => (places.includes(id) ? places.indexOf(id) : places.length);
    here.sort((a, b) => place(a.id) - place(b.id));
  }
  const all: Values[] = [];
  const conflict: Difference[] = [];
  for (const { row, typed, id } of here) {
    const [old, now] = [from!.get(id), their!.get(id)];
    if (old && now) {
      const merged = merge(field.fields!, old, now, row, typed, {
        name: `${at.name}[${all.length}].`,
        label: `${at.label} ${all.length + 1}: `,
      });
      all.push(merged.values);
      conflict.push(...merged.conflict);
    } else if (!old) {
      all.push(typed);
    } else if (!is(old, row)) {
      return undefined;
    } // Else they have removed it, and it was not changed here.
  }
  all.push(...[...their!].filter(([id]) => !from!.has(id) && !ids.has(id)).map(([, row]) => row));
  return { rows: all, conflict };
}

/** Which kept row a row says it is; empty for a new one. */
function id({ _row }: Values): string {
  return String(_row ?? '');
}
