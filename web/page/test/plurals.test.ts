import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Message } from '../src/description';
import { fill } from '../src/rules/message';
import { number } from '../src/rules/value';

interface Case {
  language: string;
  ordinal: boolean;
  message: Message;
  expected: Record<string, string>;
}

// The core's build has written them (FilesForOthers).
const file = resolve(import.meta.dirname, '../../../core/target/corpus/plurals.json');
const cases = JSON.parse(readFileSync(file, 'utf8')) as Case[];

describe('plural categories, by the rules that come with a sentence', () => {
  it.each(cases.map((one) => [one.language, one.ordinal ? 'ordinal' : 'cardinal', one] as const))(
    '%s, %s',
    (_language, _kind, { message, expected }) => {
      const chosen = Object.keys(expected).map((plain) => [
        plain,
        fill(message, { text: String, value: () => number(plain) }),
      ]);
      expect(Object.fromEntries(chosen)).toEqual(expected);
    },
  );

  it('are those of all languages', () => {
    expect(cases.length).toBeGreaterThan(300);
  });
});
