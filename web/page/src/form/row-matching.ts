import type { Field, Json, Values } from '../description';

/** Pairs of rows that are compared for what they have in common; beyond, only exact ones match. */
const MOST_PAIRS = 40_000;

/**
 * The kept row that each submitted row of an edit is, as the service decides it: the one that its
 * `_row` names; else one that is exactly alike; else the one that has more than half of its values
 * in common. What is left is a new row.
 *
 * @returns places of kept rows; undefined for a new one
 */
export function matchRows(field: Field, sent: Values[], kept: Values[]): (number | undefined)[] {
  const matches: (number | undefined)[] = sent.map(() => undefined);
  const open = new Set(sent.keys());
  const left = new Set(kept.keys());
  const match = (i: number, row: number) => {
    matches[i] = row;
    open.delete(i);
    left.delete(row);
  };
  for (const [i, { _row }] of sent.entries()) {
    if (plain(_row)) {
      const row = [...left].find((it) => plain(kept[it]!._row) === plain(_row));
      open.delete(i);
      if (row !== undefined) {
        match(i, row);
      }
    }
  }
  const before = kept.map((row) => told(field.fields!, row));
  const now = sent.map((row) => told(field.fields!, row));
  for (const i of [...open]) {
    const row = [...left].find((it) => alike(before[it]!, now[i]!));
    if (row !== undefined) {
      match(i, row);
    }
  }
  if (sent.length * kept.length <= MOST_PAIRS) {
    for (const i of [...open]) {
      let best: number | undefined;
      let most = 0;
      for (const row of left) {
        const common = inCommon(before[row]!, now[i]!);
        if (2 * common > Math.max(before[row]!.size, now[i]!.size) && common > most) {
          best = row;
          most = common;
        }
      }
      if (best !== undefined) {
        match(i, best);
      }
    }
  }
  return matches;
}

/** The values that sender and service both know of a row, in one way of writing. */
function told(fields: Field[], row: Values): Map<string, string> {
  return new Map(
    fields
      .filter(({ name, type }) => type !== 'secret' && Object.hasOwn(row, name))
      .map(({ name }): [string, string] => [name, plain(row[name])])
      .filter(([, text]) => text),
  );
}

function inCommon(a: Map<string, string>, b: Map<string, string>): number {
  return [...a].filter(([name, text]) => b.get(name) === text).length;
}

function alike(a: Map<string, string>, b: Map<string, string>): boolean {
  return a.size === b.size && inCommon(a, b) === a.size;
}

function plain(value: Json): string {
  if (value === null || value === undefined || value === false) {
    return '';
  }
  if (typeof value === 'object') {
    const inside = Array.isArray(value)
      ? (value as Json[])
      : Object.entries(value)
          .filter(([name]) => name !== '_row')
          .sort(([a], [b]) => (a < b ? -1 : 1))
          .map(([, inner]) => inner as Json);
    return inside.map(plain).filter(Boolean).join('\n');
  }
  return String(value);
}
