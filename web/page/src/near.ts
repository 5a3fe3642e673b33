import type { Say } from './rules/message';

const MAX_LENGTH = 100;

/**
 * Where a field is that the form does not have, as a JSON Pointer in a fragment (RFC 6901, section 6), and what is said of it,
 * with the one that was probably meant.
 */
export function unknownField(say: Say, parent: string, name: string, known: string[]) {
  const shown = name.replace(/[\0\p{Surrogate}]/gu, '\uFFFD');
  const meant = nested(shown, known) ?? near(shown, known);
  const token = shown.replaceAll('~', '~0').replaceAll('/', '~1');
  return {
    pointer: `${parent}/${encodeURI(token).replaceAll('#', '%23')}`,
    detail: meant
      ? say('unknown-field.near', { name: shown, near: meant })
      : say('unknown-field', { name: shown }),
  };
}

/** The name of a nested value as form encoding has it here, where it was written `crew[0][name]` or `crew.0.name`. */
function nested(name: string, known: string[]): string | undefined {
  const here = name
    .replace(/\[([A-Za-z][A-Za-z0-9_]*)\]/g, '.$1')
    .replace(/\.([0-9]+)(?=[.[]|$)/g, '[$1]');
  const outermost = here.replace(/[.[].*/s, '');
  return name.length <= MAX_LENGTH && here !== name && known.includes(outermost) ? here : undefined;
}

/**
 * The nearest of the known names, by the number of letters added, dropped, changed or swapped with
 * their neighbour; at most a third of the letters may differ, and one always may.
 */
function near(name: string, known: string[]): string | undefined {
  if (name === '' || name.length > MAX_LENGTH) {
    return undefined;
  }
  const most = Math.max(1, Math.floor(plain(name).length / 3));
  let best: string | undefined;
  let least = most + 1;
  for (const other of known) {
    const far = distance(plain(name), plain(other));
    if (far < least) {
      best = other;
      least = far;
    }
  }
  return best;
}

function plain(name: string): string {
  return name.toLowerCase().replace(/[-_]/g, '');
}

/** Optimal string alignment distance. */
function distance(a: string, b: string): number {
  const d: number[][] = [];
  for (let i = 0; i <= a.length; i++) {
    d.push([]);
    for (let j = 0; j <= b.length; j++) {
      if (i === 0 || j === 0) {
        d[i]!.push(i + j);
        continue;
      }
      const change = a[i - 1] === b[j - 1] ? 0 : 1;
      let least = Math.min(d[i - 1]![j]! + 1, d[i]![j - 1]! + 1, d[i - 1]![j - 1]! + change);
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1]) {
        least = Math.min(least, d[i - 2]![j - 2]! + 1);
      }
      d[i]!.push(least);
    }
  }
  return d[a.length]![b.length]!;
}
