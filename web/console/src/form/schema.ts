import schema from '../../../../docs/form-file.schema.json';

/** A part of a JSON Schema, as far as an editor looks at it. */
interface Part {
  $ref?: string;
  properties?: Record<string, Part>;
  additionalProperties?: Part | boolean;
  items?: Part;
  anyOf?: Part[];
  allOf?: Part[];
  enum?: unknown[];
  const?: unknown;
  type?: string | string[];
}

const ROOT = schema as unknown as Part & { $defs: Record<string, Part> };

/** What can stand where somebody types. */
export interface Offer {
  /** How many characters before the place it takes the place of. */
  typed: string;
  words: string[];
  /** True if the words are keys, which a colon follows. */
  keys: boolean;
}

/** Where a place in a YAML text is: the keys around it, and whether a key or a value stands there. */
export interface Place {
  path: string[];
  /** The type of the innermost field around it. */
  fieldType: string;
  /** The keys that there are beside it. */
  beside: string[];
  typed: string;
  /** The key whose value is typed; empty where a key is. */
  key: string;
}

const KEY = /^(\s*)((?:- )*)([A-Za-z][\w-]*)\s*:(.*)$/;

/**
 * Finds where the end of a text is. Blocks by their indentation, and flow mappings within a line; what is written otherwise
 * is not understood, and nothing is offered there.
 */
export function placeIn(before: string): Place {
  const lines = before.split('\n');
  const last = lines.pop()!;
  const around: { indent: number; key: string; beside: string[]; type: string }[] = [];
  for (const line of lines) {
    const match = KEY.exec(line);
    if (match) {
      put(around, match);
    }
  }
  const current = KEY.exec(last);
  const indent = current ? current[1]!.length + current[2]!.length : last.search(/\S|$/);
  while (around.length && around.at(-1)!.indent >= indent) {
    const left = around.pop()!;
    if (left.indent === indent) {
      around.push(left);
      break;
    }
  }
  const siblings = around.at(-1)?.indent === indent ? around.pop() : undefined;
  const path = around.map(({ key }) => key);
  const type = siblings?.type ?? '';
  if (!current) {
    return {
      path,
      fieldType: type,
      beside: siblings?.beside ?? [],
      typed: /[\w-]*$/.exec(last)![0],
      key: '',
    };
  }
  return within(current[4]!, [...path, current[3]!], '');
}

function put(
  around: { indent: number; key: string; beside: string[]; type: string }[],
  [, blanks, dashes, key, rest]: RegExpExecArray,
): void {
  const indent = blanks!.length + dashes!.length;
  while (around.length && around.at(-1)!.indent > indent) {
    around.pop();
  }
  const siblings = around.at(-1)?.indent === indent && !dashes ? around.pop() : undefined;
  const type = key === 'type' ? rest!.trim() : (siblings?.type ?? '');
  around.push({ indent, key: key!, beside: [...(siblings?.beside ?? []), key!], type });
}

/** Goes into the flow mappings of what follows a key. */
function within(rest: string, path: string[], type: string): Place {
  const open = rest.indexOf('{');
  if (open < 0 || closes(rest.slice(open))) {
    const key = path.at(-1)!;
    return {
      path: path.slice(0, -1),
      fieldType: type,
      beside: [],
      typed: /[\w-]*$/.exec(rest)![0],
      key,
    };
  }
  const parts = split(rest.slice(open + 1));
  const own = /(?:^|,)\s*type\s*:\s*(\w+)\s*(?:,|$)/.exec(parts.slice(0, -1).join(',') + ',')?.[1];
  const tail = parts.pop()!;
  const colon = tail.indexOf(':');
  if (colon < 0) {
    return {
      path,
      fieldType: own ?? '',
      beside: parts.map((it) => it.split(':')[0]!.trim()),
      typed: /[\w-]*$/.exec(tail)![0],
      key: '',
    };
  }
  return within(tail.slice(colon + 1), [...path, tail.slice(0, colon).trim()], own ?? '');
}

/** True if what begins with a brace closes it again. */
function closes(text: string): boolean {
  return text.length > 1 && split(text.slice(1)) !== undefined && depth(text) === 0;
}

function depth(text: string): number {
  return (text.match(/[{[]/g) ?? []).length - (text.match(/[}\]]/g) ?? []).length;
}

/** What stands between the commas of a flow mapping, those inside other brackets aside. */
function split(text: string): string[] {
  const parts = [''];
  let level = 0;
  for (const letter of text) {
    level += '{['.includes(letter) ? 1 : '}]'.includes(letter) ? -1 : 0;
    if (letter === ',' && level === 0) {
      parts.push('');
    } else {
      parts[parts.length - 1] += letter;
    }
  }
  return parts;
}

/** The parts of the schema that a value at a path may be by. */
function partsAt(path: string[], fieldType: string): Part[] {
  let parts: Part[] = [ROOT];
  for (const [index, key] of path.entries()) {
    const isLast = index === path.length - 1;
    parts = parts
      .flatMap((part) => alternatives(part))
      .flatMap((part) => {
        const inside = part.properties?.[key] ?? part.additionalProperties;
        return inside && typeof inside === 'object' ? [inside] : [];
      });
    if (isLast) {
      break;
    }
  }
  return parts.flatMap((part) => alternatives(part, fieldType));
}

/** A part with all that it refers to; of a field, what its type has, or all types where it has none yet. */
function alternatives(part: Part, fieldType = ''): Part[] {
  if (part.$ref) {
    const name = part.$ref.replace('#/$defs/', '');
    if (name === 'field') {
      const own = ROOT.$defs[`field-${fieldType}`];
      return own
        ? alternatives(own)
        : Object.keys(ROOT.$defs)
            .filter((it) => it.startsWith('field-'))
            .flatMap((it) => alternatives(ROOT.$defs[it]!));
    }
    return alternatives(ROOT.$defs[name]!, fieldType);
  }
  return [
    part,
    ...(part.anyOf ?? []).flatMap((it) => alternatives(it, fieldType)),
    ...(part.allOf ?? []).flatMap((it) => alternatives(it, fieldType)),
    ...(part.items ? alternatives(part.items, fieldType) : []),
  ];
}

/** What can stand at the end of a text; nothing where the schema says nothing of it. */
export function offerAt(before: string): Offer {
  const place = placeIn(before);
  const parts = partsAt(place.path, place.fieldType);
  if (!place.key) {
    const keys = parts.flatMap((part) => Object.keys(part.properties ?? {}));
    return {
      typed: place.typed,
      keys: true,
      words: unique(keys).filter((key) => !place.beside.includes(key)),
    };
  }
  const values = parts
    .map((part) => part.properties?.[place.key])
    .filter((it) => it !== undefined)
    .flatMap((it) => alternatives(it))
    .flatMap(
      (it) => it.enum ?? (it.const !== undefined ? [it.const] : isFlag(it) ? [true, false] : []),
    );
  return { typed: place.typed, keys: false, words: unique(values.map(String)) };
}

function isFlag({ type }: Part): boolean {
  return type === 'boolean' || (Array.isArray(type) && type.includes('boolean'));
}

function unique(words: string[]): string[] {
  return [...new Set(words)];
}
