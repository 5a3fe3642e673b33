import type { Json, Values } from '../description';

/** What the files are called that values refer to. */
export const NAMES = new Map<string, string>();

/** Values of a record in which each file is what refers to it in a submission. */
export function fileRefs(values: Values): Values {
  return refs(values) as Values;
}

function refs(value: Json): Json {
  if (Array.isArray(value)) {
    return (value as Json[]).map(refs);
  }
  if (value === null || typeof value !== 'object') {
    return value;
  }
  const { sha256, name, href } = value as Record<string, Json>;
  if (typeof sha256 === 'string' && typeof name === 'string' && typeof href === 'string') {
    const ref = `sha256:${sha256}`;
    NAMES.set(ref, name);
    return ref;
  }
  return Object.fromEntries(
    Object.entries(value as Values).map(([key, inner]) => [key, refs(inner)]),
  );
}
