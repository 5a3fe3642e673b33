import type { Field, Json, Values } from './description';
import type { Problem } from './service';
import type { Slot } from './slots';
import { put } from './tree';

/** A field that somebody else saved otherwise than it is typed here. */
export interface Difference {
  name: string;
  field: Field;
  theirs: Json;
  yours: Json;
}

/** What only they changed is taken over, what only you changed stays; what is left is told. */
export function merge(
  slots: Slot[],
  values: Values,
  fields: NonNullable<Problem['fields']>,
): { values: Values; conflict: Difference[] } {
  const conflict: Difference[] = [];
  let merged = values;
  for (const { pointer, base, theirs, yours } of fields) {
    const slot = slots.find((it) => it.pointer === pointer);
    const is = (other: Json) => JSON.stringify(base) === JSON.stringify(other);
    if (slot && is(yours)) {
      merged = put(merged, slot.name, theirs ?? '');
    } else if (slot && !is(theirs)) {
      conflict.push({ name: slot.name, field: slot.field, theirs, yours });
    }
  }
  return { values: merged, conflict };
}
