/** A field as somebody describes it who does not know form files yet. */
export interface Described {
  label: string;
  type: (typeof TYPES)[number];
  required: boolean;
  /** What can be chosen, with commas between; of a choice. */
  options: string;
}

export const TYPES = [
  'text',
  'integer',
  'decimal',
  'date',
  'boolean',
  'email',
  'choice',
  'file',
] as const;

/** The form file of what somebody described; fields without a label are left out. */
export function fileOfAnswers(name: string, title: string, fields: Described[]): string {
  const taken = new Set<string>();
  const lines = fields
    .filter(({ label }) => label.trim() !== '')
    .map(({ label, type, required, options }) => {
      const keys = [
        `type: ${type}`,
        `label: ${quoted(label)}`,
        ...(required ? ['required: true'] : []),
        ...(type === 'choice' ? [`options: ${choices(options)}`] : []),
      ];
      return `  ${nameOf(label, taken)}: { ${keys.join(', ')} }`;
    });
  const all = title.trim() === '' ? name.replaceAll('-', ' ') : title.trim();
  return [
    `form: ${name}`,
    `title: ${quoted(all)}`,
    'access: { add: anyone }',
    'fields:',
    ...lines,
    '',
  ].join('\n');
}

/** Texts in YAML as JSON has them, which is a part of it. */
const quoted = (text: string) => JSON.stringify(text.trim());

function choices(options: string): string {
  const all = options
    .split(',')
    .map((it) => it.trim())
    .filter((it) => it !== '');
  const taken = new Set<string>();
  return all.length === 0
    ? '[]'
    : `{ ${all.map((label) => `${nameOf(label, taken)}: ${quoted(label)}`).join(', ')} }`;
}

/** "Name of the boat" is nameOfTheBoat; what has no letters of the alphabet is called by its place. */
function nameOf(label: string, taken: Set<string>): string {
  const words = label
    .normalize('NFD')
    .replaceAll(/[^A-Za-z0-9\s-]/g, '')
    .split(/[\s-]+/)
    .filter((it) => it !== '');
  const joined = words
    .map((it, index) =>
      index === 0 ? it.toLowerCase() : it[0]!.toUpperCase() + it.slice(1).toLowerCase(),
    )
    .join('')
    .slice(0, 40);
  const first = /^[a-z]/.test(joined) ? joined : `field${joined}`;
  let name = first;
  for (let number = 2; taken.has(name); number++) {
    name = `${first}${number}`;
  }
  taken.add(name);
  return name;
}
