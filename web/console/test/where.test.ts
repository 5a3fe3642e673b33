import type { Field } from 'nodley-page';
import { expect, it } from 'vitest';
import { conditionsOf, expressionOf, filterable, howsOf } from '../src/records/where';

const field = (name: string, type: string, more: object = {}) =>
  ({ name, type, label: name, control: 'text', required: false, ...more }) as unknown as Field;

const FIELDS = [
  field('name', 'text'),
  field('length', 'decimal'),
  field('built', 'date'),
  field('insured', 'boolean'),
  field('services', 'choices'),
  field('berth', 'record'),
  field('owner', 'group', { fields: [field('email', 'email'), field('pin', 'secret')] }),
  field('crew', 'rows', { fields: [field('who', 'text')] }),
  field('agreed', 'boolean', { kept: false }),
];

it('filters by what is kept as one value', () => {
  expect(filterable(FIELDS).map(({ path }) => path)).toEqual([
    'name',
    'length',
    'built',
    'insured',
    'services',
    'berth',
    'owner.email',
  ]);
});

// By the grammar of docs/expressions.md.
it.each([
  ['name', '=', 'Grey Heron', 'name = "Grey Heron"'],
  ['name', '!=', 'a "b" \\ c', 'name != "a \\"b\\" \\\\ c"'],
  ['length', '>=', '10.5', 'length >= 10.5'],
  ['built', '<', '2020-01-31', 'built < date("2020-01-31")'],
  ['insured', '=', 'true', 'insured = true'],
  ['services', 'has', 'fuel', 'services has "fuel"'],
  ['berth', 'blank', '', 'berth is blank'],
  ['owner.email', 'filled', '', 'not (owner.email is blank)'],
] as const)('%s %s %s', (path, how, value, expression) => {
  const condition = { field: path, how, value };
  expect(expressionOf([condition], FIELDS)).toBe(expression);
  expect(conditionsOf(expression, FIELDS)).toEqual([condition]);
});

it('joins conditions, and takes them apart again', () => {
  const conditions = [
    { field: 'name', how: '=', value: 'x and y' },
    { field: 'length', how: '<', value: '12' },
    { field: 'built', how: 'filled', value: '' },
  ] as const;
  const text = 'name = "x and y" and length < 12 and not (built is blank)';
  expect(expressionOf([...conditions], FIELDS)).toBe(text);
  expect(conditionsOf(text, FIELDS)).toEqual(conditions);
});

it('says nothing of a condition without a value', () => {
  expect(expressionOf([{ field: 'name', how: '=', value: '' }], FIELDS)).toBe('');
});

it.each([
  'length > 3 or name = "a"',
  'nosuch = 1',
  'length > other',
  'count(crew) > 2',
  'name = "a" and',
])('leaves %s to the expression', (text) => {
  expect(conditionsOf(text, FIELDS)).toBeUndefined();
});

it('offers what a type can be compared by', () => {
  expect(howsOf(field('a', 'time'))).toEqual(['blank', 'filled']);
  expect(howsOf(field('a', 'secret'))).toEqual([]);
  expect(howsOf(field('a', 'choice'))).toContain('=');
});
