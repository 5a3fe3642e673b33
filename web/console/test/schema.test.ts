import { expect, it } from 'vitest';
import { offerAt } from '../src/form/schema';

const words = (text: string) => offerAt(text).words;

it('offers the keys of a form at its beginning, but for those that are there', () => {
  const offered = offerAt('form: vessel\nti');
  expect(offered.typed).toBe('ti');
  expect(offered.keys).toBe(true);
  expect(offered.words).toContain('title');
  expect(offered.words).toContain('fields');
  expect(offered.words).not.toContain('form');
});

it('offers the types of fields', () => {
  const text = 'form: vessel\nfields:\n  name:\n    type: ';
  expect(words(text)).toEqual(expect.arrayContaining(['text', 'decimal', 'rows']));
  expect(words('form: a\nfields:\n  name: { type: te')).toContain('text');
});

it('offers what goes with the type, in a block and in a line', () => {
  const block = 'form: a\nfields:\n  depth:\n    type: decimal\n    de';
  expect(words(block)).toContain('decimals');
  expect(words(block)).not.toContain('multiline');
  const line = 'form: a\nfields:\n  note: { type: text, m';
  expect(words(line)).toContain('multiline');
  expect(words(line)).not.toContain('decimals');
  expect(words(line)).not.toContain('type');
});

it('offers the words of a key', () => {
  expect(words('form: a\nrecords: ')).toEqual(['many', 'one', 'one-each', 'none']);
  expect(words('form: a\nfields:\n  a: { type: text, required: ')).toEqual(
    expect.arrayContaining(['true', 'false']),
  );
  expect(words('form: a\nfields:\n  a: { type: email, confirm: { else: ')).toEqual([
    'keep',
    'remove',
  ]);
});

it('finds its way out of what is closed, and into lists', () => {
  expect(words('form: a\nfields:\n  a: { type: text }\n  b:\n    type: date\nac')).toContain(
    'access',
  );
  expect(words('form: a\ndeliver:\n  - to: office\n    o')).toContain('on');
  expect(
    words('form: a\nfields:\n  who:\n    type: rows\n    fields:\n      name:\n        type: '),
  ).toContain('text');
});

it('offers nothing where a text is free', () => {
  expect(words('form: ')).toEqual([]);
  expect(words('form: a\nfields:\n  a: { type: text, label: Na')).toEqual([]);
});
