import { describe, expect, it } from 'vitest';
import type { Field, Json, Values } from '../src/description';
import { changed, merge } from '../src/merging';

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

const row = (_row: number, name: string, age: number): Values => ({ _row, name, age });
const ANN = row(1, 'Ann', 40);
const BOB = row(2, 'Bob', 30);
const CY = row(3, 'Cy', 20);
const NEW: Values = { name: 'Dee' };

/** What is brought together of one field, and the names of what both have changed. */
function merged(name: string, base: Json, theirs: Json, yours: Json): [Json, ...string[]] {
  const [b, t, y] = [base, theirs, yours].map((it) => ({ [name]: it }) as Values);
  const { values, conflict } = merge(FIELDS, b!, t!, y!, y!);
  return [values[name], ...conflict.map((it) => it.name)];
}

describe('fields', () => {
  it.each([
    ['only theirs', 'a', 'b', 'a', ['b']],
    ['only yours', 'a', 'a', 'c', ['c']],
    ['both alike', 'a', 'b', 'b', ['b']],
    ['both', 'a', 'b', 'c', ['c', 'note']],
    ['theirs, where nothing was', undefined, 'b', '', ['b']],
    ['yours, where nothing was', undefined, null, 'c', ['c']],
    ['theirs is blank now', 'a', null, 'a', ['']],
  ] as const)('%s', (_, base, theirs, yours, told) => {
    expect(merged('note', base, theirs, yours)).toEqual(told);
  });
});

describe('choices', () => {
  it.each([
    [['a'], ['a', 'b'], ['a', 'c'], ['a', 'c', 'b']],
    [['a', 'b'], ['b'], ['a', 'b', 'c'], ['b', 'c']],
    [['a', 'b'], ['a'], ['b'], []],
  ])('%j, theirs %j, yours %j', (base, theirs, yours, told) => {
    expect(merged('tools', base, theirs, yours)).toEqual([told]);
  });
});

it('brings groups together field by field', () => {
  const base = { town: 'Sel', zip: '1' };
  expect(merged('home', base, { town: 'Ost', zip: '1' }, { town: 'Sel', zip: '2' })).toEqual([
    { town: 'Ost', zip: '2' },
  ]);
  expect(merged('home', base, { town: 'Ost', zip: '1' }, { town: 'Wes', zip: '1' })).toEqual([
    { town: 'Wes', zip: '1' },
    'home.town',
  ]);
});

describe('rows', () => {
  const age = (of: Values, age: number) => ({ ...of, age });

  it.each([
    ['they removed two', [ANN, BOB, CY], [ANN], [ANN, BOB, CY], [[ANN]]],
    [
      'they removed two, you changed the other',
      [ANN, BOB, CY],
      [ANN],
      [age(ANN, 41), BOB, CY],
      [[age(ANN, 41)]],
    ],
    [
      'each changed another row',
      [ANN, BOB],
      [age(ANN, 41), BOB],
      [ANN, age(BOB, 31)],
      [[age(ANN, 41), age(BOB, 31)]],
    ],
    [
      'each changed another field of one row',
      [ANN],
      [{ ...ANN, name: 'Anna' }],
      [age(ANN, 41)],
      [[{ ...age(ANN, 41), name: 'Anna' }]],
    ],
    [
      'both changed the same field',
      [BOB, ANN],
      [BOB, age(ANN, 42)],
      [BOB, age(ANN, 41)],
      [[BOB, age(ANN, 41)], 'crew[1].age'],
    ],
    ['both added one', [ANN], [ANN, BOB], [ANN, NEW], [[ANN, NEW, BOB]]],
    ['you removed one, they added one', [ANN, BOB], [ANN, BOB, CY], [BOB], [[BOB, CY]]],
    [
      'they put them in another order',
      [ANN, BOB],
      [BOB, ANN],
      [age(ANN, 41), BOB],
      [[BOB, age(ANN, 41)]],
    ],
    ['you did', [ANN, BOB], [ANN, age(BOB, 31)], [BOB, ANN], [[age(BOB, 31), ANN]]],
    ['they changed what you removed', [ANN, BOB], [ANN, age(BOB, 31)], [ANN], [[ANN], 'crew']],
    [
      'you changed what they removed',
      [ANN, BOB],
      [ANN],
      [ANN, age(BOB, 31)],
      [[ANN, age(BOB, 31)], 'crew'],
    ],
    [
      'nobody knows which is which',
      [{ name: 'A' }],
      [{ name: 'B' }],
      [{ name: 'C' }],
      [[{ name: 'C' }], 'crew'],
    ],
    ['blank ones in between', [ANN], [ANN, BOB], [{}, age(ANN, 41), {}], [[age(ANN, 41), BOB]]],
  ] as const)('%s', (_, base, theirs, yours, told) => {
    expect(merged('crew', base as Json, theirs as Json, yours as Json)).toEqual(told);
  });

  it('are called by their place in a conflict', () => {
    const [b, t, y] = [40, 42, 41].map((age) => ({ crew: [BOB, { ...ANN, age }] }));
    expect(merge(FIELDS, b!, t!, y!, y!).conflict).toMatchObject([
      { label: 'CREW 2: AGE', theirs: 42, yours: 41 },
    ]);
  });
});

it('leaves computed values alone', () => {
  expect(merged('fee', 3, 4, 3)).toEqual([3]);
});

it('names the fields in which two versions differ', () => {
  const before = { note: 'a', home: { town: 'x', zip: '1' }, crew: [ANN] };
  const after = { note: 'a', home: { town: 'y', zip: '1' }, crew: [{ name: 'Ann', age: 40 }] };
  expect(changed(FIELDS, before, after)).toEqual(['TOWN']);
});
