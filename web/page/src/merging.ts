import type { Field, Json, Values } from './description';
import type { Accepted, Problem } from './service';
import type { Slot } from './slots';

function own(members: Values, name: string): Json {
  return Object.hasOwn(members, name) ? members[name] : undefined;
}

/** A field that somebody else saved otherwise than it is typed here. */
export interface Difference {
  name: string;
  field: Field;
  theirs: Json;
  yours: Json;
}

type Fields = NonNullable<Problem['fields']>;

/** Alike, whatever kept rows they say they are, and whatever blank rows stand between. */
const is = (a: Json, b: Json) => {
  const [x, y] = [a, b].map((it) =>
    JSON.stringify(it, (name, inner: unknown) =>
      name === '_row' ? undefined : Array.isArray(inner) ? inner.filter(isFilled) : inner,
    ),
  );
  return x === y || (isNothing(x) && isNothing(y));
};

const isFilled = (row: unknown) => JSON.stringify(row) !== '{}';

const isNothing = (text: string | undefined) => !text || text === 'null' || text === '[]';

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
  }, values);
}

/** The same of a form that was just saved: its new rows have numbers from now on. */
export function renumbered(
  rows: Record<string, number>,
  values: Values,
  slots: Slot[],
  put: (values: Values, name: string, value: Json) => Values,
): Values {
  // A blank row between would shift them; then they are found by what they hold.
  const inOrder = slots.every(({ inside }) =>
    inside.every(({ row }, i) => !row || row.place === i),
  );
  return inOrder ? numbered({ rows, values }, put) : values;
}

/** The value at a name that no rows are on the way to. */
function reach(values: Values, name: string): Json {
  return (
    name.split('.').reduce<Json>((here, step) => own((here ?? {}) as Values, step), values) ?? null
  );
}

/** Where a record, what it was before, and what is typed differ; or where it was changed. */
export function differing(
  slots: Slot[],
  base: Values,
  theirs: Values,
  yours: Values,
  changed = false,
): Fields {
  return slots
    .filter(({ name, field }) => !name.includes('[') && (!field.fields || field.type === 'rows'))
    .map(({ pointer, name }) => ({
      pointer,
      base: reach(base, name),
      theirs: reach(theirs, name),
      yours: reach(yours, name),
    }))
    .filter((it) => !is(it.base, it.theirs) || (!changed && !is(it.base, it.yours)));
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

/** What only they changed is taken over, what only you changed stays; what is left is told. */
export function merge(
  slots: Slot[],
  fields: Fields,
): { taken: [name: string, value: Json][]; conflict: Difference[] } {
  const taken: [string, Json][] = [];
  const conflict: Difference[] = [];
  for (const { pointer, base, theirs, yours } of fields) {
    const slot = slots.find((it) => it.pointer === pointer);
    if (slot && is(base, yours)) {
      taken.push([slot.name, theirs ?? '']);
    } else if (slot && !is(base, theirs) && !is(theirs, yours)) {
      conflict.push({ name: slot.name, field: slot.field, theirs, yours });
    }
  }
  return { taken, conflict };
}
