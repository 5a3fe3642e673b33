import type { Field, Json, Values } from './description';
import type { Problem } from './service';
import type { Slot } from './slots';
import { at, put } from './tree';
import { json } from './value';

/** A field that somebody else saved otherwise than it is typed here. */
export interface Difference {
  name: string;
  field: Field;
  theirs: Json;
  yours: Json;
}

type Fields = NonNullable<Problem['fields']>;

const is = (a: Json, b: Json) => JSON.stringify(a) === JSON.stringify(b);

/** Where a record, what it was before, and what is typed differ; or where it was changed. */
export function differing(slots: Slot[], base: Values, theirs: Values, changed = false): Fields {
  return slots
    .filter(({ name, field }) => !name.includes('[') && (!field.fields || field.type === 'rows'))
    .map((slot) => ({
      pointer: slot.pointer,
      base: at(base, slot.name) ?? null,
      theirs: at(theirs, slot.name) ?? null,
      yours: json(slot.whole()),
    }))
    .filter((it) => !is(it.base, it.theirs) || (!changed && !is(it.base, it.yours)));
}

/** What is sent of an edit: only what has changed (JSON Merge Patch, RFC 7396). */
export function patch(before: Values, values: Values): Values {
  const isSet = (it: Json) => it && typeof it === 'object' && !Array.isArray(it);
  return Object.fromEntries(
    Object.entries(values)
      .filter(([name, value]) => !is(before[name] ?? null, value ?? null))
      .map(([name, value]) => [
        name,
        isSet(before[name]) && isSet(value)
          ? patch(before[name] as Values, value as Values)
          : value,
      ]),
  );
}

/** What only they changed is taken over, what only you changed stays; what is left is told. */
export function merge(
  slots: Slot[],
  values: Values,
  fields: Fields,
): { values: Values; conflict: Difference[] } {
  const conflict: Difference[] = [];
  let merged = values;
  for (const { pointer, base, theirs, yours } of fields) {
    const slot = slots.find((it) => it.pointer === pointer);
    if (slot && is(base, yours)) {
      merged = put(merged, slot.name, theirs ?? '');
    } else if (slot && !is(base, theirs) && !is(theirs, yours)) {
      conflict.push({ name: slot.name, field: slot.field, theirs, yours });
    }
  }
  return { values: merged, conflict };
}
