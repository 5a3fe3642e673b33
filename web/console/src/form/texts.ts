import { json } from '../access';
import { call } from '../api';
import { readOrBlank, type PublishedFile } from './files';

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

/** The file of texts in a language, as it is published; blank if there is none. */
export const fileOfTexts = (form: string, language: string) =>
  readOrBlank(`/texts/${form}/${encodeURIComponent(language)}`);

/** True if a file has comments, which are lost where it is written anew. */
export const hasComments = ({ text }: PublishedFile) => /^\s*#/m.test(text);

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

/** Publishes texts, if those that are published now are the ones that were looked at. */
export async function putTexts(
  form: string,
  language: string,
  tree: Tree,
  tag: string,
): Promise<void> {
  await call(`/texts/${form}/${encodeURIComponent(language)}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', ...(tag && { 'If-Match': tag }) },
    body: JSON.stringify(tree),
  });
}
