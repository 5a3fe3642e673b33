import reference from '../../../../docs/form-file.md?raw';
import { placeIn } from './schema';

const ROW = /^\|(.*)\|$/;

/** What the reference says of keys and types, by the heading of its section: the one place where it is written. */
const SECTIONS = new Map(
  reference
    .split(/^## /m)
    .slice(1)
    .map((section) => [section.slice(0, section.indexOf('\n')), tables(section)]),
);

/** The rows of a section's tables: what is told of each name in code. */
function tables(section: string): Map<string, string> {
  const told = new Map<string, string>();
  let column = 1;
  for (const line of section.split('\n')) {
    const cells = ROW.exec(line)?.[1]!
      // A bar within code is written with a backslash.
      .split(/(?<!\\)\|/)
      .map((it) => it.trim());
    if (!cells) {
      continue;
    }
    if (cells[0] === 'key' || cells[0] === 'type') {
      column = Math.max(1, cells.indexOf('what it says'));
    }
    for (const [, name] of cells[0]!.matchAll(/`([\w-]+)`/g)) {
      told.set(name!, plain(cells[column] ?? ''));
    }
  }
  return told;
}

/** Without the marks of links and code. */
function plain(text: string): string {
  return text
    .replaceAll(/\[([^\]]*)\]\([^)]*\)/g, '$1')
    .replaceAll(/`([^`]*)`/g, '$1')
    .replaceAll('\\|', '|');
}

/** What a word of a form file means where it stands: the text before it, and the word. */
export function meaningOf(before: string, word: string): string | undefined {
  const { path, key } = placeIn(before);
  if (key) {
    return key === 'type' ? SECTIONS.get('Types')?.get(word) : undefined;
  }
  return keysAt(path)?.get(word);
}

/** What keys of a mapping at a path mean. */
function keysAt(path: string[]): Map<string, string> | undefined {
  if (path.length === 0) {
    return SECTIONS.get('Keys of a form');
  }
  if (path.at(-1) === 'unique') {
    return SECTIONS.get('What stands only once');
  }
  return path.at(-2) === 'fields' ? SECTIONS.get('Keys of a field') : undefined;
}
