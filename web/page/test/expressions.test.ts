import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { expect, it } from 'vitest';
import { Submission } from '../src/rules/submission';
import type { Description, Expression, Values } from '../src/description';
import { evaluate } from '../src/rules/expression';
import { shown } from '../src/rules/value';

interface Trees {
  values: Values;
  description: Description;
  trees: { expression: string; tree: Expression; expected: string }[];
}

// Every example of docs/expressions.md; the core's build has written their trees (FilesForOthers).
const file = resolve(import.meta.dirname, '../../../core/target/corpus/expressions/trees.json');
const { values, description, trees } = JSON.parse(readFileSync(file, 'utf8')) as Trees;
const context = { now: '2027-03-01T12:00:00Z', today: '2027-03-01' };

it.each(trees.map((one) => [one.expression, one] as const))('%s', (_, { tree, expected }) => {
  const submission = new Submission(description, values, context);
  const evaluation = submission.contextOf(submission.root.states.values().next().value!);
  expect(shown(evaluate(tree, evaluation))).toBe(expected);
});
