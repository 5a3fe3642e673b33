import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Field, Json, Values } from '../src/description';
import { changed, merge } from '../src/form/merging';

function field(name: string, type: Field['type'], fields?: Field[]): Field {
  const more = fields && { fields };
  return {
    name,
    type,
    control: 'text',
    label: name.toUpperCase(),
    required: false,
    say: {},
    ...more,
  };
}

const FIELDS = [
  field('note', 'text'),
  field('tools', 'choices'),
  field('home', 'group', [field('town', 'text'), field('zip', 'text')]),
  field('crew', 'rows', [field('name', 'text'), field('age', 'integer')]),
  { ...field('fee', 'integer'), compute: 3 },
];

const ANN: Values = { _row: 1, name: 'Ann', age: 40 };
const BOB: Values = { _row: 2, name: 'Bob', age: 30 };

interface Case {
  why: string;
  field: string;
  base: Json;
  theirs: Json;
  yours: Json;
  merged: Json;
  conflicts: string[];
}

/** The same cases as the core's. */
const CASES = JSON.parse(
  readFileSync(resolve(import.meta.dirname, '../../../corpus/merging/cases.json'), 'utf8'),
) as Case[];

describe('as the corpus says', () => {
  it.each(CASES)('$why', ({ field, base, theirs, yours, merged, conflicts }) => {
    const [b, t, y] = [base, theirs, yours].map((it) => ({ [field]: it }));
    const { values, conflict } = merge(FIELDS, b!, t!, y!, y!);
    expect(values[field]).toEqual(merged);
    expect(conflict.map((it) => pointer(it.name))).toEqual(conflicts);
  });
});

function pointer(name: string): string {
  return `#/${name.replace(/\[(\d+)]/g, '/$1').replace(/\./g, '/')}`;
}

it('calls rows by their place in a conflict', () => {
  const [b, t, y] = [40, 42, 41].map((age) => ({ crew: [BOB, { ...ANN, age }] }));
  expect(merge(FIELDS, b!, t!, y!, y!).conflict).toMatchObject([
    { label: 'CREW 2: AGE', theirs: 42, yours: 41 },
  ]);
});

it('names the fields in which two versions differ', () => {
  const before = { note: 'a', home: { town: 'x', zip: '1' }, crew: [ANN] };
  const after = { note: 'a', home: { town: 'y', zip: '1' }, crew: [{ name: 'Ann', age: 40 }] };
  expect(changed(FIELDS, before, after)).toEqual(['TOWN']);
});
