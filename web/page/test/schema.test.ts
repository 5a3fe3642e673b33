import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Ajv2020 } from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import { describe, expect, it } from 'vitest';

interface Case {
  why: string;
  values: object;
  errors: Record<string, string>;
}

/** What JSON Schema can say of a value by itself; what a rule or a clock says, it cannot. */
const SAID = [
  'value-missing',
  'bad-input',
  'type-mismatch',
  'too-short',
  'too-long',
  'pattern-mismatch',
  'not-an-option',
  'too-few',
  'too-many',
  'unknown-field',
];

const root = resolve(import.meta.dirname, '../../..');
const read = (path: string) => JSON.parse(readFileSync(resolve(root, path), 'utf8')) as object;
const files = readdirSync(resolve(root, 'corpus')).filter((name) => name.endsWith('.json'));

// The schemas are those that the core has just written in its half of the same run.
describe.each(files)('%s', (name) => {
  const { cases } = read(`corpus/${name}`) as { cases: Case[] };
  const schema = read(`core/target/corpus/schema/${name}`);
  const comments = JSON.stringify(schema);
  const ajv = new Ajv2020({ strict: false, allErrors: true, ownProperties: true });
  addFormats.default(ajv);
  const valid = ajv.compile(schema);

  it.each(cases.map((one) => [one.why, one] as const))('%s', (_, one) => {
    const codes = Object.values(one.errors);
    if (codes.length === 0) {
      valid(one.values);
      expect(valid.errors ?? []).toEqual([]);
    } else if (
      codes.every((code) => SAID.includes(code)) &&
      !comments.includes('Not said here') &&
      // A character that cannot be kept has its stand-in by now.
      // What no form of can be kept is no text, which a schema has no words for.
      !/\uFFFD|\p{M}{31}/u.test(JSON.stringify(one.values))
    ) {
      expect(valid(one.values)).toBe(false);
    }
  });
});
