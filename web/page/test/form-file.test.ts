import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020';
import { expect, it } from 'vitest';

const root = resolve(import.meta.dirname, '../../..');
const read = (path: string) => JSON.parse(readFileSync(resolve(root, path), 'utf8')) as object;
const ajv = new Ajv2020({ strict: false, allErrors: true });
const valid = ajv.compile(read('docs/form-file.schema.json'));

const corpus = readdirSync(resolve(root, 'corpus')).filter((name) => name.endsWith('.json'));

it.each(corpus)('takes the form file of %s', (name) => {
  const { form } = read(`corpus/${name}`) as { form: object };
  expect(valid(form), JSON.stringify(valid.errors)).toBe(true);
});

const field = (keys: object) => ({ form: 'boat', fields: { a: keys } });

it.each([
  ['a misspelt key of a form', { form: 'boat', feilds: {} }],
  ['no fields', { form: 'boat' }],
  ['a name that cannot be', { form: 'Boat', fields: { a: { type: 'text' } } }],
  ['a field that cannot be called so', { form: 'boat', fields: { A: { type: 'text' } } }],
  ['a field without a type', field({ label: 'A' })],
  ['a type that is not there', field({ type: 'txt' })],
  ['a misspelt key of a field', field({ type: 'text', lenght: '2..' })],
  ['a key of another type', field({ type: 'integer', length: '2..' })],
  ['a control of another type', field({ type: 'choice', options: ['a'], control: 'text' })],
  ['a condition that is a list', field({ type: 'text', required: [] })],
  ['a code that is not there', field({ type: 'text', say: { missing: 'x' } })],
  ['a rule without a condition', { ...field({ type: 'text' }), rules: [{ at: 'a' }] }],
  ['a group of no fields', field({ type: 'group', fields: {} })],
  ['an inner key that is misspelt', field({ type: 'rows', fields: { b: { tpye: 'text' } } })],
])('refuses %s', (_, file) => {
  expect(valid(file)).toBe(false);
});
