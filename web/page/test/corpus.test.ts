import { readdirSync, readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { describe, expect, it } from 'vitest';
import type { Description, Values } from '../src/description';
import { more } from '../src/extras';
import { judge } from '../src/rules/verdict';

await more();

interface Case {
  why: string;
  in?: Values;
  before?: Values;
  values: Values;
  errors: Record<string, string>;
  say?: Record<string, string>;
}

const root = resolve(import.meta.dirname, '../../..');
const read = (path: string) => JSON.parse(readFileSync(resolve(root, path), 'utf8')) as unknown;
const files = readdirSync(resolve(root, 'corpus')).filter((name) => name.endsWith('.json'));

const NOW = { now: '2027-03-01T12:00:00Z', today: '2027-03-01' };

// The descriptions are those of the core, as its build has written them (FilesForOthers).
describe.each(files)('%s', (name) => {
  const { cases } = read(`corpus/${name}`) as { cases: Case[] };
  const description = read(`core/target/corpus/${name}`) as Description;
  const json = cases.filter((one) => one.in);

  it.each(json.map((one) => [one.why, one] as const))('%s', (_, one) => {
    const before = one.before && judge(description, one.before, NOW).values;
    const context = before ? { mode: 'edit' as const, before } : {};
    const verdict = judge(description, one.in!, { ...NOW, ...context });
    const by = (key: 'code' | 'detail') =>
      Object.fromEntries(
        verdict.errors.map((error) => [error.pointer.replace(/^#\//, ''), error[key]]),
      );
    expect(by('code')).toEqual(one.errors);
    expect(positive(verdict.values)).toEqual(positive(one.values));
    expect(by('detail')).toMatchObject(one.say ?? {});
  });
});

/** JSON knows no minus zero that differs from zero. */
function positive(values: Values): Values {
  return JSON.parse(JSON.stringify(values)) as Values;
}
