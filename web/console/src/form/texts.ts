import { json } from '../access';
import { call } from '../api';

/** One text of a form in a language. */
export interface Text {
  /** Where it stands in a file of texts, such as `fields.rig.label`. */
  key: string;
  state: 'used' | 'missing' | 'unused';
  /** Whose text a person gets to read. */
  from: 'texts' | 'service-texts' | 'form-file' | 'nodley' | 'nowhere';
  text: string;
}

export const languagesOf = async (form: string) =>
  (await json<{ languages: string[] }>(`/texts/${form}`)).languages;

/** The form's own texts in a language; Nodley's own sentences are in no form's hands alone. */
export const textsOf = async (form: string, language: string) =>
  (await json<{ keys: Text[] }>(`/texts/${form}/${encodeURIComponent(language)}/keys`)).keys.filter(
    ({ from }) => from !== 'nodley' && from !== 'service-texts',
  );

/** True if the file of texts has notes that are lost where it is written anew. */
export async function hasNotes(form: string, language: string): Promise<boolean> {
  const text = await (await call(`/texts/${form}/${encodeURIComponent(language)}`)).text();
  return /^\s*#/m.test(text);
}

/** A file of texts, as JSON; numbers are places in a list. */
export type Tree = { [name: string]: Tree | string } | (Tree | string)[];

/** Puts texts by their keys together; those that are blank are left out. */
export function treeOf(texts: Map<string, string>): Tree {
  const root: Tree = {};
  for (const [key, text] of texts) {
    if (text.trim() !== '') {
      put(root, key.split('.'), text);
    }
  }
  return root;
}

function put(into: Tree, [name, ...rest]: string[], text: string): void {
  const holder = into as { [name: string]: Tree | string };
  if (rest.length === 0) {
    holder[name!] = text;
    return;
  }
  if (typeof holder[name!] !== 'object') {
    holder[name!] = /^\d+$/.test(rest[0]!) ? [] : {};
  }
  const inner = holder[name!] as Tree;
  if (Array.isArray(inner)) {
    // What stands before it in the list stays as the form file has it.
    while (inner.length <= Number(rest[0])) {
      inner.push({});
    }
  }
  put(inner, rest, text);
}

export async function putTexts(form: string, language: string, tree: Tree): Promise<void> {
  await json(`/texts/${form}/${encodeURIComponent(language)}`, 'PUT', tree);
}
