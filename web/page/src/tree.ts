import type { Field, Json, Values } from './description';

/** The member of a name; what all objects inherit, such as `toString`, is none. */
export function own<T>(members: Record<string, T>, name: string): T | undefined {
  return Object.hasOwn(members, name) ? members[name] : undefined;
}

/** The steps of a name as a page writes it: `crew[0].name` is crew, 0, name. */
export function steps(name: string): (string | number)[] {
  // Most fields stand at the top, and their names are one step.
  return /[.[]/.test(name)
    ? [...name.matchAll(/(\w+)|\[(\d+)\]/g)].map(([, word, index]) =>
        word === undefined ? Number(index) : word,
      )
    : [name];
}

/** The value at a name; nothing where the tree does not reach. */
export function at(values: Values, name: string): Json {
  return steps(name).reduce<Json>((here, step) => {
    const inside = here as Record<string | number, Json> | null | undefined;
    return inside && typeof inside === 'object' && Object.hasOwn(inside, step)
      ? inside[step]
      : undefined;
  }, values);
}

/** A copy of the tree with another value at a name; what is missing on the way is made. */
export function put(values: Values, name: string, value: Json): Values {
  return place(values, steps(name), value) as Values;
}

function place(here: Json, [step, ...rest]: (string | number)[], value: Json): Json {
  if (step === undefined) {
    return value;
  }
  const inside = here && typeof here === 'object' ? here : undefined;
  const copy: Record<string | number, Json> | Json[] =
    typeof step === 'number'
      ? [...((Array.isArray(inside) ? inside : []) as Json[])]
      : { ...(inside as Values | undefined) };
  if (Array.isArray(copy)) {
    while (copy.length < (step as number)) {
      copy.push({});
    }
  }
  (copy as Record<string | number, Json>)[step] = place(
    (copy as Record<string | number, Json>)[step],
    rest,
    value,
  );
  return copy;
}

/** The same without what untouched rows hold: a box that is not ticked says nothing by itself. */
export function typed(values: Values): Values {
  return Object.fromEntries(Object.entries(values).map(([name, it]) => [name, touched(it)]));
}

function touched(value: Json): Json {
  if (Array.isArray(value)) {
    return value.map((row: Json) =>
      row && typeof row === 'object' && isSilent(row) ? {} : touched(row),
    );
  }
  return value && typeof value === 'object' ? typed(value as Values) : value;
}

function isSilent(value: Json): boolean {
  return value && typeof value === 'object'
    ? Object.entries(value).every(([name, it]) => name === '_row' || isSilent(it as Json))
    : value === false || value === null || value === undefined || value === '';
}

/** The declared field of a name, whatever the row; nothing where there is none. */
export function fieldAt(fields: Field[] | undefined, name: string): Field | undefined {
  const [first, ...rest] = name.replace(/\[\d+\]/g, '').split('.');
  const field = fields?.find((it) => it.name === first);
  return rest.length ? fieldAt(field?.fields, rest.join('.')) : field;
}
