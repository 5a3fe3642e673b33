import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { Ajv2020, type ErrorObject } from 'ajv/dist/2020';
import formats, { type FormatsPlugin } from 'ajv-formats';
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

/** The cases of a file that its schema speaks of; the rest needs a clock, a rule, or characters that JSON Schema has no words for. */
function spokenOf(name: string, schema: object): Case[] {
  const { cases } = read(`corpus/${name}`) as { cases: Case[] };
  const isWhole = !JSON.stringify(schema).includes('Not said here');
  return cases.filter(({ values, errors }) => {
    const codes = Object.values(errors);
    // A character that cannot be kept has its stand-in by now.
    const isPlain = !/\uFFFD|\p{M}{31}/u.test(JSON.stringify(values));
    return codes.length === 0 || (isWhole && isPlain && codes.every((code) => SAID.includes(code)));
  });
}

// The schemas are those of the core, as its build has written them (FilesForOthers).
const suites = files
  .map((name) => [name, read(`core/target/corpus/schema/${name}`)] as const)
  .map(([name, schema]) => [name, schema, spokenOf(name, schema)] as const)
  .filter(([, , cases]) => cases.length > 0);

// The package is CommonJS, whose default export stands in the module's.
const addFormats = (formats as unknown as { default: FormatsPlugin }).default;

describe.each(suites)('%s', (_name, schema, cases) => {
  const ajv = new Ajv2020({ strict: false, allErrors: true, ownProperties: true });
  addFormats(ajv);
  const valid = ajv.compile(schema);

  it.each(cases.map((one) => [one.why, one] as const))('%s', (_, { values, errors }) => {
    valid(values);
    const found = (valid.errors ?? []).map(pointer);
    const expected = Object.keys(errors);
    expect(expected.length > 0 || found.length === 0).toBe(true);
    expected.forEach((it) =>
      expect(
        found.some((at) => isSameBranch(at, it)),
        it,
      ).toBe(true),
    );
  });
});

it('speaks of most cases', () => {
  expect(suites.flatMap(([, , cases]) => cases).length).toBeGreaterThan(500);
});

/** Where an error of Ajv stands, such as `crew/0/name`. */
function pointer({ instancePath, params }: ErrorObject): string {
  const { missingProperty, additionalProperty } = params as Record<string, string | undefined>;
  const path = instancePath.split('/').slice(1);
  return [...path, missingProperty ?? additionalProperty ?? []].flat().join('/');
}

/** A group that is absent is missing itself in a schema; an item of a list is wrong by itself there. */
function isSameBranch(one: string, other: string): boolean {
  return `${one}/`.startsWith(`${other}/`) || `${other}/`.startsWith(`${one}/`);
}
