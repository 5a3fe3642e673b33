import { expect, it } from 'vitest';
import { DE } from '../src/languages/de';
import { ES } from '../src/languages/es';
import { STATES } from '../src/deliveries';
import { VERDICTS } from '../src/attempts/attempts';
import { t } from '../src/words';

const SOURCES = import.meta.glob<string>(['../src/**/*.{ts,tsx}', '!../src/languages/*'], {
  query: '?raw',
  import: 'default',
  eager: true,
});

/** Every text that stands in a call of `t`. */
function texts(): string[] {
  return Object.values(SOURCES)
    .flatMap((source) => [...source.matchAll(/\bt\(\s*'((?:[^'\\]|\\.)*)'/g)])
    .map(([, text]) => text!.replaceAll("\\'", "'"));
}

/** What is said by a word of the service. */
const WORDS = [...VERDICTS, ...STATES, 'add', 'edit', 'check'];

const names = (text: string) => (text.match(/\{\w+\}/g) ?? []).sort();

it.each([
  ['German', DE],
  ['Spanish', ES],
])('says everything in %s, with the same names', (_, dictionary) => {
  const all = [...new Set([...texts(), ...WORDS])];
  expect(all.length).toBeGreaterThan(300);
  expect(all.filter((text) => !(text in dictionary))).toEqual([]);
  expect(Object.keys(dictionary).filter((text) => !all.includes(text))).toEqual([]);
  for (const [text, said] of Object.entries(dictionary)) {
    expect(names(said), text).toEqual(names(text));
    expect(said.trim()).not.toBe('');
  }
});

it('puts in place of names what is given, and nothing else', () => {
  expect(t('{a} of {b}', { a: '{b}', b: 2 })).toBe('{b} of 2');
  expect(t('{a}', {})).toBe('{a}');
});
