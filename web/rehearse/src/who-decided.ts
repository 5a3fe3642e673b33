import { say } from './words';

/** Errors that only the service can tell: they hang on what is kept there. */
const OF_SERVICE = new Set([
  'no-such-record',
  'no-such-upload',
  'not-editable',
  'file-type',
  'file-harmful',
  'unknown-field',
]);

/** Of each error who has decided it, and where in the form file its field stands. */
export async function whoDecided(
  errors: { pointer: string; code: string }[],
  file: () => Promise<string>,
): Promise<string[]> {
  if (errors.length === 0) {
    return [];
  }
  const lines = (await file()).split('\n');
  return [
    `${say('who-decided')}:`,
    ...errors.map(({ pointer, code }) => {
      const line = lineOf(pointer, lines);
      const where = line === undefined ? '' : `, ${say('line')} ${line}`;
      return `  ${pointer} ${code}: ${decider(code)}${where}`;
    }),
  ];
}

function decider(code: string): string {
  if (code === 'taken' || code === 'held') {
    return say('by-index');
  }
  if (code.startsWith('ask-')) {
    return say('by-asked');
  }
  return OF_SERVICE.has(code) ? say('by-service') : say('by-page');
}

/** The line of the field that a pointer leads to, from 1; nothing where several lines could be it. */
export function lineOf(pointer: string, lines: string[]): number | undefined {
  const names = pointer.split('/').filter((it) => it !== '#' && !/^\d+$/.test(it));
  const field = names.at(-1);
  if (field === undefined) {
    return undefined;
  }
  const found = lines.flatMap((text, index) =>
    new RegExp(`^\\s+(?:- )?(?:[\\w-]+: *\\{ *fields: *\\{ *)?["']?${field}["']?\\s*:`).test(text)
      ? [index + 1]
      : [],
  );
  return found.length === 1 ? found[0] : undefined;
}
