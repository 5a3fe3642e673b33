import { Refusal, type Problem } from 'nodley-page';
import { json } from '../access';
import { call } from '../api';

/** What is wrong at a place of a form file, in the reader's words. */
export interface FileError {
  line: number;
  column: number;
  pointer: string;
  code: string;
  detail: string;
  suggestion?: string;
}

export interface Warning {
  pointer: string;
  code: string;
  detail: string;
}

/** A file as it is published. */
export interface PublishedFile {
  text: string;
  type: string;
  /** Says later which text was looked at. */
  tag: string;
}

/** What publishing does, or would do. */
export interface Published {
  revision: number;
  change: 'new' | 'revised' | 'unchanged';
  changes: { form: string; field: string; change: string; detail: string }[];
  objections: Objection[];
  fallsShort: Objection[];
  warnings: Warning[];
}

export interface Objection {
  form: string;
  field: string;
  detail: string;
  count?: number;
}

export interface Revision {
  revision: number;
  publishedAt: string;
  current: boolean;
}

/** What can be published: a form, or what forms share. */
export type Kind = 'forms' | SharedKind;
export type SharedKind = 'lists' | 'parts' | 'themes';
export const SHARED: readonly SharedKind[] = ['lists', 'parts', 'themes'];

/** Which file it is. */
export interface Place {
  kind: Kind;
  name: string;
}

const path = ({ kind, name }: Place) => `/${kind}/${name}`;

/** Reads a file; blank if there is none. */
export async function readOrBlank(from: string): Promise<PublishedFile> {
  try {
    return await read(from);
  } catch (failure) {
    if (failure instanceof Refusal && failure.problem.status === 404) {
      return { text: '', type: 'application/yaml', tag: '' };
    }
    throw failure;
  }
}

async function read(from: string): Promise<PublishedFile> {
  const reply = await call(from);
  return {
    text: await reply.text(),
    type: reply.headers.get('Content-Type') ?? 'application/yaml',
    tag: reply.headers.get('ETag') ?? '',
  };
}

export const fileOf = (place: Place) =>
  read(place.kind === 'forms' ? `${path(place)}/file` : path(place));
/** What is published of a shared file; blank if nothing is. */
export const sharedFileOf = (kind: SharedKind, name: string) => readOrBlank(path({ kind, name }));
export const revisionOf = (form: string, revision: number) =>
  read(`/forms/${form}/revisions/${revision}`);

const sent = (text: string, type: string, tag = ''): RequestInit => ({
  body: text,
  headers: { 'Content-Type': type, ...(tag && { 'If-Match': tag }) },
});

/** What is wrong in a text, as the service's reader has it. */
export async function lint(place: Place, text: string, type: string): Promise<FileError[]> {
  if (place.kind === 'forms') {
    const reply = await call(`${path(place)}/lint`, { method: 'POST', ...sent(text, type) });
    return ((await reply.json()) as { errors: FileError[] }).errors;
  }
  try {
    await preview(place, { text, type, tag: '' });
    return [];
  } catch (failure) {
    const problem = failure instanceof Refusal ? failure.problem : undefined;
    const errors = (problem as unknown as { errors?: FileError[] } | undefined)?.errors;
    if (errors || problem?.status === 409) {
      // What stands against publishing is told when it is looked at.
      return errors ?? [];
    }
    throw failure;
  }
}

export async function preview(place: Place, { text, type }: PublishedFile): Promise<Published> {
  const reply = await call(`${path(place)}/preview`, { method: 'POST', ...sent(text, type) });
  return outcome(await reply.json());
}

/** Of what forms share there are no revisions, and no warnings. */
const outcome = (json: unknown): Published => ({
  revision: 0,
  warnings: [],
  ...(json as Partial<Published> & Pick<Published, 'change' | 'changes'>),
  objections: (json as Partial<Published>).objections ?? [],
  fallsShort: (json as Partial<Published>).fallsShort ?? [],
});

/** How somebody would meet the page of a form. */
export interface Meeting {
  mode: 'add' | 'edit';
  language: string;
  theme: string;
}

/** The HTML of a form's page as the service draws it, from a text that need not be published. */
export async function pageOf(
  form: string,
  text: string,
  type: string,
  { mode, language, theme }: Meeting,
): Promise<string> {
  const query = new URLSearchParams({
    mode,
    ...(language && { lang: language }),
    ...(theme && { theme }),
  });
  const reply = await fetch(`/rehearsal/pages/${form}?${query}`, {
    method: 'POST',
    credentials: 'same-origin',
    ...sent(text, type),
  });
  if (!reply.ok) {
    throw new Refusal((await reply.json()) as Problem);
  }
  return reply.text();
}

/** What a form file can be begun from, by the media type that says so. */
export const SOURCES = ['text/csv', 'application/schema+json', 'text/html'] as const;

/** A form file begun from data, a schema or a page. */
export async function beginFrom(form: string, source: Blob, type: string): Promise<string> {
  const reply = await call(`/forms/${form}/begin`, {
    method: 'POST',
    body: source,
    headers: { 'Content-Type': type },
  });
  return reply.text();
}

/** A table of a database that the settings name. */
export interface SourceTable {
  source: string;
  table: string;
}

/** All tables, and the databases that do not answer. */
export const sourceTables = () =>
  json<{ tables: SourceTable[]; away: string[] }>('/sources/tables');

/** A form file begun from a table. */
export async function beginFromTable(form: string, table: SourceTable): Promise<string> {
  const query = new URLSearchParams({ ...table });
  const reply = await call(`/forms/${form}/begin?${query}`, { method: 'POST' });
  return reply.text();
}

/** Publishes a text, if the one that is published now is the one that was looked at. */
export async function publish(
  place: Place,
  { text, type, tag }: PublishedFile,
  force: boolean,
): Promise<Published> {
  const reply = await call(`${path(place)}${force ? '?force=rules' : ''}`, {
    method: 'PUT',
    ...sent(text, type, tag),
  });
  return outcome(await reply.json());
}

/** The names of what is shared, each with the forms that use it. */
export async function shared(kind: SharedKind): Promise<{ name: string; uses: string[] }[]> {
  const told = await json<Record<string, string[]> & { uses: Record<string, string[]> }>(
    `/${kind}`,
  );
  return (told[kind] ?? []).map((name) => ({ name, uses: told.uses[name] ?? [] }));
}

export const revisions = async (form: string) =>
  (await json<{ revisions: Revision[] }>(`/forms/${form}/revisions`)).revisions;
export const backTo = (form: string, revision: number) =>
  json<Published>(`/forms/${form}/revisions/${revision}/current`, 'PUT');
