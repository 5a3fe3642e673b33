import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Description, Values } from '../src/description';
import { judge } from '../src/judge';

interface Case {
  why: string;
  in?: Values;
  values: Values;
  errors: Record<string, string>;
  say?: Record<string, string>;
}

const root = resolve(import.meta.dirname, '../../..');
const read = (path: string) => JSON.parse(readFileSync(resolve(root, path), 'utf8')) as unknown;
const files = readdirSync(resolve(root, 'corpus')).filter((name) => name.endsWith('.json'));

// The descriptions are those that the core has just written in its half of the same run.
describe.each(files)('%s', (name) => {
  const { cases } = read(`corpus/${name}`) as { cases: Case[] };
  const description = read(`core/target/corpus/${name}`) as Description;
  const json = cases.filter((one) => one.in);

  it.each(json.map((one) => [one.why, one] as const))('%s', (_, one) => {
    const verdict = judge(description, one.in!);
    const by = (key: 'code' | 'detail') =>
      Object.fromEntries(verdict.errors.map((error) => [error.pointer.slice(2), error[key]]));
    expect(by('code')).toEqual(one.errors);
    expect(positive(verdict.values)).toEqual(positive(one.values));
    expect(by('detail')).toMatchObject(one.say ?? {});
  });
});

/** JSON knows no minus zero that differs from zero. */
function positive(values: Values): Values {
  return Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, value === 0 ? 0 : value]),
  );
}
