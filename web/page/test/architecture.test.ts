import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import { expect, it } from 'vitest';

const WEB = resolve(import.meta.dirname, '../..');
const SOURCES = ['page', 'react', 'rehearse', 'console'].map((it) => join(WEB, it, 'src'));

/** The files that each file imports from beside it, types too; what `import()` loads later is left out. */
function imports(): Map<string, string[]> {
  const files = SOURCES.flatMap((source) =>
    readdirSync(source, { recursive: true, encoding: 'utf8' })
      .filter((it) => /\.tsx?$/.test(it))
      .map((it) => join(source, it)),
  );
  return new Map(
    files.map((file) => {
      const text = readFileSync(file, 'utf8');
      const froms = text.matchAll(/^(?:import|export|\}) ?[^;']*?(?:from )?'(\.[^']*)';$/gm);
      const targets = [...froms].map(([, path]) => {
        const target = resolve(dirname(file), path!);
        const found = ['', '.ts', '.tsx', '/index.ts'].map((it) => target + it);
        return files.find((it) => found.includes(it)) ?? target;
      });
      return [file, targets];
    }),
  );
}

/** A way from a file back to itself; nothing if there is none. */
function cycle(graph: Map<string, string[]>): string[] {
  const done = new Set<string>();
  const visit = (file: string, way: string[]): string[] => {
    if (way.includes(file)) {
      return [...way.slice(way.indexOf(file)), file];
    }
    if (done.has(file)) {
      return [];
    }
    const found = (graph.get(file) ?? []).map((it) => visit(it, [...way, file]));
    done.add(file);
    return found.find((it) => it.length) ?? [];
  };
  return [...graph.keys()].map((it) => visit(it, [])).find((it) => it.length) ?? [];
}

const short = (file: string) => relative(WEB, file);

it('has no files that import each other in a circle', () => {
  expect(cycle(imports()).map(short)).toEqual([]);
});

it.each([
  // Each folder, and what it may import of the other folders of the page runtime.
  ['rules', ['rules']],
  ['net', ['net', 'rules']],
  ['form', ['form', 'net', 'rules']],
])('%s imports no folder above it', (folder, allowed) => {
  const root = join(WEB, 'page/src');
  const wrong = [...imports()]
    .filter(([file]) => file.startsWith(join(root, folder)))
    .flatMap(([file, targets]) => targets.map((target) => [file, target] as const))
    .filter(([, target]) => dirname(target) !== root)
    .filter(([, target]) => !allowed.some((it) => target.startsWith(join(root, it))))
    .map(([file, target]) => `${short(file)} → ${short(target)}`);
  expect(wrong).toEqual([]);
});

it('finds the imports of a file', () => {
  const found = imports().get(join(WEB, 'page/src/rules/submission.ts'))!.map(short);
  expect(found).toContain('page/src/rules/validator.ts');
  expect(found).toContain('page/src/description.ts');
});

it('gives short names to no member that JSON, programs or other packages read', () => {
  const page = join(WEB, 'page');
  const config = readFileSync(join(page, 'vite.config.ts'), 'utf8');
  const list = /const OWN_MEMBERS = \[(.*?)\];/s.exec(config)![1]!;
  const own = [...list.matchAll(/'(\w+)'/g)].map(([, name]) => name!);
  expect(own).toContain('submission');
  const outward = [
    'description.ts',
    'form/state.ts',
    'form/open-form.ts',
    'net/service.ts',
    'net/pass.ts',
  ]
    .map((file) => readFileSync(join(page, 'src', file), 'utf8'))
    .join('\n');
  const others = SOURCES.slice(1)
    .flatMap((source) => readdirSync(source, { encoding: 'utf8' }).map((it) => join(source, it)))
    .filter((it) => /\.tsx?$/.test(it))
    .map((file) => readFileSync(file, 'utf8'))
    .join('\n');
  const declared = (name: string) =>
    new RegExp(`^  (?:readonly |async |get )?${name}\\??(?:\\(|:| = \\()`, 'm').test(outward);
  const read = (name: string) => new RegExp(`(?:opened|form|field)\\.${name}\\b`).test(others);
  expect(own.filter((name) => declared(name) || read(name))).toEqual([]);
});
